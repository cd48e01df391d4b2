#include "io/junit_xml.hpp"

#include <algorithm>
#include <pugixml.hpp>
#include <sstream>

#include "core/text.hpp"

namespace stasis::io {

std::string junit_xml(const std::string& feel, const std::vector<CheckedCase>& cases) {
  constexpr std::size_t longest = 10'000;
  pugi::xml_document document;
  auto declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  document.append_child(pugi::node_comment).set_value("written by stasis check");
  auto root = document.append_child("testsuites");
  root.append_attribute("name") = printable(feel, longest).c_str();
  std::vector<std::string> suites;
  for (const CheckedCase& one : cases)
    if (std::find(suites.begin(), suites.end(), one.suite) == suites.end()) suites.push_back(one.suite);
  for (const std::string& suite : suites) {
    auto node = root.append_child("testsuite");
    int tests = 0, failures = 0;
    for (const CheckedCase& one : cases) {
      if (one.suite != suite) continue;
      ++tests;
      auto test = node.append_child("testcase");
      test.append_attribute("classname") = printable(suite, longest).c_str();
      test.append_attribute("name") = printable(one.name, longest).c_str();
      if (one.holds) continue;
      ++failures;
      test.append_child("failure").append_attribute("message") = printable(one.message, longest).c_str();
    }
    node.prepend_attribute("failures") = failures;
    node.prepend_attribute("tests") = tests;
    node.prepend_attribute("name") = printable(suite, longest).c_str();
  }
  std::ostringstream text;
  document.save(text, "  ");
  return text.str();
}

} // namespace stasis::io
