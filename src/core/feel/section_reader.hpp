// Reads one table of a document against its section of the key table: unknown keys, kinds, units, bounds, choices.
// Every fault becomes a Problem; reading goes on, so that several are reported together.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/key_table.hpp"

namespace stasis {

/// "motion.soft" + "frequency" -> "motion.soft.frequency".
std::string joined_path(std::string_view parent, std::string_view key);
/// The same in place. \param path of the parent, which becomes that of the key
void append_key(std::string& path, std::string_view key);

class SectionReader {
public:
  /// Checks at once that `node` is a table with known keys only, that required keys are there, and that exactly one
  /// of the section's alternatives is given.
  SectionReader(const Node& node, const SectionSpec& section, std::string path, Problems& problems);

  bool has(std::string_view key) const noexcept { return node_.find(key) != nullptr; }
  const Node* find(std::string_view key) const noexcept { return node_.find(key); }
  const Node& node() const noexcept { return node_; }
  const std::string& path() const noexcept { return path_; }
  /// True if nothing has been reported since this reader began: no key is missing, unknown or wrong.
  bool is_whole() const noexcept { return problems_.size() == problems_before_; }
  /// The place of the key's value, or of the table where the key is absent.
  Position where(std::string_view key) const noexcept;

  /// The number under `key` in the key's unit (or `own_unit` for channel values), its default, or nothing.
  std::optional<double> number(std::string_view key, std::string_view own_unit = {});
  std::optional<std::string> text(std::string_view key);
  std::optional<std::string> choice(std::string_view key);
  /// True or false.
  std::optional<bool> flag(std::string_view key);
  /// A list of texts; nothing where it is absent or wrong.
  std::optional<std::vector<std::string>> texts(std::string_view key);
  const SectionSpec& section() const noexcept { return section_; }
  /// The text of a reference, unresolved.
  std::optional<std::string> name(std::string_view key) { return text(key); }
  /// One number or a list of 1 to 3.
  std::optional<std::vector<double>> components(std::string_view key, std::string_view own_unit = {});

  /// A number of a kind given by `spec` read from any node; records a problem under `path` where it is not one.
  std::optional<double> number_of(const Node& node, const KeySpec& spec, const std::string& path,
                                  std::string_view own_unit);
  /// As components(), from any node.
  std::optional<std::vector<double>> components_of(const Node& node, const KeySpec& spec, const std::string& path,
                                                   std::string_view own_unit);

  void report(std::string_view code, std::string_view key, std::string message, std::string hint = {});
  void report_at(std::string_view code, std::string path, Position where, std::string message, std::string hint = {});

private:
  void check_keys();
  void check_required();
  void check_alternatives();
  std::string too_many_hint(const std::vector<std::string_view>& found,
                            const std::vector<std::vector<std::string_view>>& sets) const;
  bool is_meant(std::string_view key) const noexcept;
  std::optional<double> quantity_of(const std::string& text, const Node& node, const KeySpec& spec,
                                    const std::string& path, std::string_view own_unit);

  const Node& node_;
  const SectionSpec& section_;
  std::string path_;
  Problems& problems_;
  std::size_t problems_before_;
  std::vector<std::string_view> meant_; ///< keys that unknown ones are taken for; not reported as missing too
};

/// The bounds of a key in words: "greater than 0 and at most 1000000 s".
std::string bounds_in_words(const KeySpec& spec, std::string_view own_unit);

} // namespace stasis
