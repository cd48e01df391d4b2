#include "cli/help_text.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/version.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// Text as it stands on a page: a line that begins with a point or an apostrophe would be an order, and so would a
/// backslash.
std::string plain_roff(std::string_view line) {
  std::string out = line.starts_with('.') || line.starts_with('\'') ? "\\&" : "";
  for (const char c : line) {
    if (c == '\\')
      out += "\\e";
    else if (c == '-')
      out += "\\-";
    else
      out += c;
  }
  return out;
}

void add_lines(std::string& page, std::string_view text) {
  page += ".nf\n";
  for (const std::string_view line : split(text, '\n')) page += plain_roff(line) + "\n";
  page += ".fi\n";
}

} // namespace

std::string help_of(const Command& command, const Output& like) {
  std::string text;
  {
    Output kept(text, like);
    command.run({"--help"}, {kept, kept});
  }
  return text;
}

std::vector<HelpOption> options_in(const std::string& help) {
  std::vector<HelpOption> options;
  for (const std::string_view line : split(help, '\n')) {
    if (!line.starts_with("  -")) continue;
    const std::string_view words = trimmed(line);
    const std::string_view names = words.substr(0, words.find(' '));
    HelpOption option;
    for (const std::string_view name : split(names, ',')) option.names.emplace_back(name);
    const std::string_view rest = trimmed(words.substr(names.size()));
    option.takes_value = rest.starts_with("TEXT");
    options.push_back(std::move(option));
  }
  return options;
}

std::string manual_page(const Command* command, const Output& like) {
  const std::string name = command != nullptr ? fmt::format("stasis-{}", command->name) : "stasis";
  std::string page = fmt::format(".\\\" Written by `stasis schema --manual`.\n.TH {} 1 \"\" \"Stasis {}\" \"Stasis\"\n",
                                 name, version);
  page += fmt::format(".SH NAME\n{} \\- {}\n", name,
                      plain_roff(command != nullptr ? command->answers : "tune how camera values change over time"));
  if (command != nullptr) {
    page += ".SH DESCRIPTION\n";
    add_lines(page, help_of(*command, like));
    return page + ".SH SEE ALSO\n.BR stasis (1)\n";
  }
  page += ".SH SYNOPSIS\n.B stasis\nCOMMAND [arguments]\n.SH COMMANDS\n";
  for (const Command& one : all_commands())
    page += fmt::format(".TP\n.BR stasis\\-{} (1)\n{}\n", one.name, plain_roff(one.answers));
  return page
         + ".SH EXIT STATUS\n.nf\n0  fine\n1  a want or a check does not hold\n2  the call or an input is wrong\n3  a "
           "file "
           "could not be read or written\n4  an error in Stasis itself\n.fi\n";
}

} // namespace stasis::cli
