// A command's own arguments: declared, parsed, explained. The only place that knows the command-line library.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "cli/command.hpp"

namespace CLI {
class App;
}

namespace stasis::cli {

class Call {
public:
  /// \param command as it is typed, "stasis run"; \param footer a worked example.
  Call(const std::string& command, const std::string& answers, const std::string& footer);
  ~Call();
  Call(const Call&) = delete;
  Call& operator=(const Call&) = delete;

  /// An argument without a name, in order.
  void positional(const std::string& name, std::string& target, const std::string& meaning, bool required);
  /// Arguments without a name, as many as come.
  void positionals(const std::string& name, std::vector<std::string>& target, const std::string& meaning);
  /// An option with one value; given twice, it is an error.
  void option(const std::string& names, std::string& target, const std::string& meaning);
  /// -o of a command that writes several files: a folder. What means no folder to another command, - and none, is
  /// refused: it would be made, by a name that is hard to get rid of.
  void folder(std::string& target, const std::string& meaning);
  /// An option whose value is one of a few words.
  void choice(const std::string& names, std::string& target, const std::vector<std::string>& words,
              const std::string& meaning);
  /// An option that may be repeated, one value each time.
  void repeated(const std::string& names, std::vector<std::string>& target, const std::string& meaning);
  /// An option that is followed by two values.
  void pair(const std::string& names, std::vector<std::string>& target, const std::string& meaning);
  void flag(const std::string& names, bool& target, const std::string& meaning);

  /// Something comes back when the command must not go on: help was asked for (and printed to `out`), or the call is
  /// wrong (explained on `err`).
  std::optional<Exit> parse(const Arguments& arguments, Streams streams);

  /// After parse(): which of these options stood in the call, in the order in which they came, once for each time.
  std::vector<std::string> order_of(const std::vector<std::string>& options) const;

private:
  std::unique_ptr<CLI::App> app_;
};

/// The number that an option was given, within bounds; explained on `err` where it is not.
// many: an option, its text, and what is allowed
tl::expected<double, Exit> number_option(const std::string& name, const std::string& text, double low, double high,
                                         bool whole, Output& err);

} // namespace stasis::cli
