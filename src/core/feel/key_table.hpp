// The one table of everything that a feel may say. Validation, the JSON Schema and docs/feel-reference.md all read
// it, so that the three cannot disagree.
#pragma once

#include <cstdint>
#include <limits>
#include <span>
#include <string_view>
#include <vector>

#include "core/units.hpp"

namespace stasis {

enum class ValueKind : std::uint8_t {
  number,          ///< a number in the key's unit, or a text such as "110 ms"
  integer,         ///< a whole number
  text,            ///< any text
  file,            ///< the name of a file beside the feel
  measure,         ///< whose measure, and which: "fov.settling_time"
  choice,          ///< one of a few words
  name,            ///< the name of something else in the feel
  components,      ///< a number, or a list of 2 or 3
  pair,            ///< a list of two numbers, low then high, each a number or (per component) a list
  band,            ///< a number in per cent of a move, or a text in the channel's own unit
  motion,          ///< the name of a motion, a motion written in place, or a table of them by component
  curve,           ///< an easing function as text, or the name of a curve
  formula,         ///< a formula as text, or a table of them by component
  flag,            ///< true or false
  motions,         ///< a list of names of motions, or motions written in place
  moving,          ///< as motion, or a table of them by channel
  points,          ///< a list of pairs, time and value, or the name of a CSV file with two columns
  texts,           ///< a list of texts
  texts_by_name,   ///< a table of texts
  numbers_by_name, ///< a table of numbers
  places,          ///< a list of lists of numbers
  strength,        ///< a number, or a text
  weight,          ///< a number, or the name of a channel
  follow,          ///< the name of a track, or a table described by `section`
  table,           ///< a table described by `section`
  tables,          ///< named tables, each described by `section`
  list,            ///< a list of tables, each described by `section`
};

/// The kinds of things that a feel names.
enum class NameKind : std::uint8_t {
  none,
  channel,
  motion,
  pose,
  control,
  take,
  curve,
  setting,
  variant,
  group,
  change,
  track,
  shake,
  obstacle,
  sequence
};

struct Bounds {
  double low = -std::numeric_limits<double>::infinity();
  double high = std::numeric_limits<double>::infinity();
  bool low_excluded = false;
  bool high_excluded = false;
};

struct KeySpec {
  std::string_view key;
  ValueKind kind = ValueKind::text;
  UnitKind unit = UnitKind::none;
  Bounds bounds = {};
  std::string_view fallback = {}; ///< the default, as it would be typed; empty if there is none
  bool required = false;
  std::string_view choices = {}; ///< "a|b|c"
  NameKind names = NameKind::none;
  std::string_view section = {}; ///< of tables: the id of their section; "motion." means "by the key `kind`"
  std::string_view meaning = {};
  std::size_t at_least = 0; ///< of lists: how many at least
};

/// What one key asks of those beside it. Readers say more about it than a table could; editors, the reference and the
/// readers of per-frame rules go by this.
struct AskedKeys {
  std::string_view key;
  std::string_view value = {};  ///< "a|b": when it is one of these, given or by default; empty: whenever it is there
  std::string_view needs = {};  ///< "a + b": what stands beside it then
  std::string_view allows = {}; ///< "a + b": what may; what other values of the key need or allow may not
  std::string_view says = {};   ///< "space = turn": what another key then is, given or by default
};

struct SectionSpec {
  std::string_view id;
  std::string_view heading; ///< how it is written in a feel: "[motion.NAME]"
  std::string_view meaning;
  std::span<const KeySpec> keys;
  /// Sets of keys of which exactly one is given, "a + b | c": each set's keys joined by "+". Empty if there are none.
  std::string_view exactly_one = {};
  /// What the keys are that no KeySpec names: nothing may stand there, names of channels whose values are goals, paths
  /// of values in the feel, or names of channels whose values are names of tracks.
  enum class OtherKeys : std::uint8_t { none, channels, paths, tracks } other_keys = OtherKeys::none;
  /// What to write where keys of several of the sets are given; empty: which sets there are.
  std::string_view instead_of_many = {};
  std::span<const AskedKeys> asks = {};
};

/// All sections, the whole document ("feel") first.
std::span<const SectionSpec> all_sections() noexcept;
/// The section of that id, or null.
const SectionSpec* find_section(std::string_view id) noexcept;
const KeySpec* find_key(const SectionSpec& section, std::string_view key) noexcept;

/// The keys that "a + b" joins; none of an empty text.
std::vector<std::string_view> keys_in(std::string_view sum);
/// A key that one value of another goes with, and so none of the others.
struct ExcludedKey {
  std::string_view key, value;
};
/// What does not stand beside what is asked, in the table's order.
std::vector<ExcludedKey> excluded_by(const SectionSpec& section, const AskedKeys& asked);

/// "channel", "motion", ... for messages.
std::string_view name_kind_in_words(NameKind kind) noexcept;

/// Largest sizes that a feel may have; refused beyond, with a message.
inline constexpr std::size_t most_document_bytes = std::size_t{4} << 20;
inline constexpr std::size_t most_channels = 64;
inline constexpr std::size_t most_cues = 100'000;
inline constexpr double longest_take = 86'400.0;    ///< s, a day
inline constexpr double most_frames = 20'000'000.0; ///< a take of an hour at 5 kHz

} // namespace stasis
