#include "io/junit_xml.hpp"

#include <algorithm>
#include <pugixml.hpp>
#include <sstream>

#include "core/text.hpp"

namespace stasis::io {
namespace {

struct Totals {
  int tests = 0, failures = 0, errors = 0;
  double seconds = 0.0;

  void add(const CheckedCase& one) {
    ++tests;
    errors += one.is_broken ? 1 : 0;
    failures += one.holds || one.is_broken ? 0 : 1;
    seconds += one.seconds;
  }
  void add(const Totals& others) {
    tests += others.tests;
    failures += others.failures;
    errors += others.errors;
    seconds += others.seconds;
  }
  void write(pugi::xml_node node) const {
    node.prepend_attribute("time") = shortest(seconds).c_str();
    node.prepend_attribute("errors") = errors;
    node.prepend_attribute("failures") = failures;
    node.prepend_attribute("tests") = tests;
  }
};

} // namespace

std::string junit_xml(const std::string& feel, const std::vector<CheckedCase>& cases) {
  constexpr std::size_t longest = 10'000;
  pugi::xml_document document;
  auto declaration = document.append_child(pugi::node_declaration);
  declaration.append_attribute("version") = "1.0";
  declaration.append_attribute("encoding") = "UTF-8";
  document.append_child(pugi::node_comment).set_value("written by stasis check");
  auto root = document.append_child("testsuites");
  std::vector<std::string> suites;
  for (const CheckedCase& one : cases)
    if (std::find(suites.begin(), suites.end(), one.suite) == suites.end()) suites.push_back(one.suite);
  Totals all;
  for (const std::string& suite : suites) {
    auto node = root.append_child("testsuite");
    Totals own;
    for (const CheckedCase& one : cases) {
      if (one.suite != suite) continue;
      own.add(one);
      auto test = node.append_child("testcase");
      test.append_attribute("classname") = printable(suite, longest).c_str();
      test.append_attribute("name") = printable(one.name, longest).c_str();
      test.append_attribute("time") = shortest(one.seconds).c_str();
      if (one.holds && !one.is_broken) continue;
      test.append_child(one.is_broken ? "error" : "failure").append_attribute("message") =
          printable(one.message, longest).c_str();
    }
    own.write(node);
    node.prepend_attribute("name") = printable(suite, longest).c_str();
    all.add(own);
  }
  all.write(root);
  root.prepend_attribute("name") = printable(feel, longest).c_str();
  std::ostringstream text;
  document.save(text, "  ");
  return text.str();
}

} // namespace stasis::io
