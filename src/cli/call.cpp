#include "cli/call.hpp"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// The library names an unknown option but not the one that was meant.
std::string nearest_option(const CLI::App& app, const std::string& message) {
  const auto at = message.find("--");
  if (at == std::string::npos || message.find("not expected") == std::string::npos) return {};
  const std::string typed = message.substr(at, message.find_first_of(" =\n", at) - at);
  std::vector<std::string> names;
  for (const CLI::Option* option : app.get_options())
    for (const std::string& name : option->get_lnames()) names.push_back("--" + name);
  for (const Manner& manner : manners()) names.emplace_back(manner.option);
  const std::vector<std::string_view> views(names.begin(), names.end());
  const auto close = nearest(typed, views);
  return close && *close != typed ? fmt::format(" Did you mean {}?", *close) : "";
}

CLI::Validator not_empty() {
  return {[](std::string& value) { return value.empty() ? std::string("a value is missing: it is empty") : ""; }, ""};
}

/// The library counts values where a person has written an option twice.
std::string in_our_words(const std::string& message) {
  constexpr std::string_view missing = ": 1 required TEXT missing";
  if (message.ends_with(missing)) return message.substr(0, message.size() - missing.size()) + ": its value is missing";
  constexpr std::string_view counted = ": At Most 1 required but received ";
  const auto at = message.find(counted);
  if (at == std::string::npos) return message;
  return fmt::format("{} is given {} times; it takes one value", message.substr(0, at),
                     message.substr(at + counted.size()));
}

} // namespace

Call::Call(const std::string& command, const std::string& answers, const std::string& footer)
    : app_(std::make_unique<CLI::App>(answers, command)) {
  app_->footer(footer);
}

Call::~Call() = default;

void Call::positional(const std::string& name, std::string& target, const std::string& meaning, bool required) {
  app_->add_option(name, target, meaning)->required(required)->capture_default_str();
}

void Call::positionals(const std::string& name, std::vector<std::string>& target, const std::string& meaning) {
  app_->add_option(name, target, meaning);
}

void Call::option(const std::string& names, std::string& target, const std::string& meaning) {
  app_->add_option(names, target, meaning)->check(not_empty())->capture_default_str();
}

void Call::choice(const std::string& names, std::string& target, const std::vector<std::string>& words,
                  const std::string& meaning) {
  const std::vector<std::string_view> views(words.begin(), words.end());
  const auto one_of = [words](std::string& word) {
    const std::vector<std::string_view> known(words.begin(), words.end());
    if (std::find(words.begin(), words.end(), word) != words.end()) return std::string();
    const auto close = nearest(word, known);
    return fmt::format("\"{}\" is not one of {}{}", printable(word, 40), listed(known, "or"),
                       close ? fmt::format("; did you mean {}?", *close) : "");
  };
  app_->add_option(names, target, fmt::format("{}: {}", meaning, listed(views, "or")))
      ->check(CLI::Validator(one_of, ""))
      ->capture_default_str();
}

void Call::repeated(const std::string& names, std::vector<std::string>& target, const std::string& meaning) {
  app_->add_option(names, target, meaning + " (may be repeated)")
      ->type_size(1)
      ->allow_extra_args(false)
      ->check(not_empty());
}

void Call::pair(const std::string& names, std::vector<std::string>& target, const std::string& meaning) {
  app_->add_option(names, target, meaning)->expected(2)->check(not_empty());
}

void Call::flag(const std::string& names, bool& target, const std::string& meaning) {
  app_->add_flag(names, target, meaning);
}

void Call::folder(std::string& target, const std::string& meaning) {
  const CLI::Validator is_folder(
      [](const std::string& typed) {
        return typed != "-" && typed != "none"
                   ? std::string()
                   : fmt::format("expected a folder, found \"{0}\": files go there. --figure none draws nothing; a "
                                 "folder of that name is ./{0}",
                                 typed);
      },
      "");
  app_->add_option("-o,--out", target, meaning)->check(not_empty())->check(is_folder)->capture_default_str();
}

std::optional<Exit> Call::parse(const Arguments& arguments, Streams streams) {
  Arguments reversed(arguments.rbegin(), arguments.rend()); // the order in which the library takes them
  try {
    app_->parse(std::move(reversed));
  } catch (const CLI::CallForHelp&) {
    streams.out.write(app_->help());
    return Exit::fine;
  } catch (const CLI::ParseError& error) {
    const std::string message = printable(in_our_words(error.what()), 300);
    print_error(fmt::format("{}{}{} `{} --help` shows what it takes.", message,
                            message.ends_with('.') || message.ends_with('?') ? "" : ".", nearest_option(*app_, message),
                            app_->get_name()),
                streams.err);
    return Exit::bad_input;
  }
  return std::nullopt;
}

std::vector<std::string> Call::order_of(const std::vector<std::string>& options) const {
  std::vector<std::string> order;
  for (const CLI::Option* option : app_->parse_order())
    for (const std::string& name : options)
      if (option->check_name(name)) order.push_back(name);
  return order;
}

// many: an option, its text, and what is allowed
tl::expected<double, Exit> number_option(const std::string& name, const std::string& text, double low, double high,
                                         bool whole, Output& err) {
  const auto number = read_number(text);
  if (number && *number >= low && *number <= high && (!whole || *number == std::floor(*number))) return *number;
  print_error(fmt::format("{}: expected {} from {} to {}, found \"{}\".", name, whole ? "a whole number" : "a number",
                          shortest(low), shortest(high), printable(text, 40)),
              err);
  return tl::unexpected(Exit::bad_input);
}

} // namespace stasis::cli
