#include "core/search/feel_words.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include <fmt/format.h>

#include "core/curve/curve.hpp"
#include "core/feel/key_table.hpp"
#include "core/feel/motion_at.hpp"
#include "core/motion/spring_design.hpp"
#include "core/search/other_kind.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

using Of = FeelWord::Of;

constexpr std::array words{
    FeelWord{.word = "snappier", .effect = "settles in 0.8 of the time, overshoot held", .times = 0.8},
    FeelWord{
        .word = "heavier", .effect = "takes 1.25 times as long to set off and to rise, overshoot held", .times = 1.25},
    FeelWord{.word = "calmer",
             .effect = "peak acceleration 0.7 times, end values held",
             .times = 1.1952286093343936,
             .of_acceleration = true},
    FeelWord{.word = "livelier", .effect = "3 points more overshoot, rise held", .points = 3.0},
    FeelWord{.word = "softer start",
             .effect = "no kick at the start, settling held",
             .soft_start = true,
             .has_amount = false},
    FeelWord{
        .word = "no wobble", .effect = "no overshoot, settling held", .without_overshoot = true, .has_amount = false},
    FeelWord{.word = "lag more", .effect = "lags 1.25 times as far behind what moves", .times = 1.25},
    FeelWord{.word = "lag less", .effect = "lags 0.8 times as far behind what moves", .times = 0.8},
    FeelWord{.of = Of::space,
             .word = "same near and far",
             .effect = "moves by factors, so that near and far feel alike",
             .has_amount = false},
    FeelWord{.of = Of::shake,
             .word = "punchier",
             .effect = "peak 1.25 times, half-life 0.8 times",
             .peak = 1.25,
             .half_life = 0.8},
    FeelWord{.of = Of::shake, .word = "longer", .effect = "half-life 1.3 times, peak held", .half_life = 1.3},
    FeelWord{.of = Of::shake, .word = "rougher", .effect = "main frequency 1.25 times", .frequency = 1.25},
    FeelWord{.of = Of::shake, .word = "smoother", .effect = "main frequency 0.8 times", .frequency = 0.8},
};

/// A number of a document: plain, or with its unit as a text.
struct WrittenNumber {
  double value = 0.0;
  std::string unit; ///< as it was written; empty: a plain number

  std::string text(double other) const {
    const std::string number = five_digits(other);
    return unit.empty() ? number : fmt::format("\"{} {}\"", number, unit);
  }
};

/// Collects changes; remembers the first reason why something cannot be changed.
class Changes {
public:
  const std::string& why_not() const noexcept { return why_not_; }
  std::vector<ValueChange> take() { return std::move(changes_); }
  void refuse(std::string reason) {
    if (why_not_.empty()) why_not_ = std::move(reason);
  }

  /// The number at a key of a table; nothing where it does not stand there, or is a setting's.
  std::optional<WrittenNumber> number(const Node& table, const std::string& path, std::string_view key) {
    const Node* node = table.find(key);
    if (node == nullptr) return std::nullopt;
    if (const auto* real = std::get_if<double>(&node->value)) return WrittenNumber{*real, ""};
    if (const auto* whole = std::get_if<std::int64_t>(&node->value))
      return WrittenNumber{static_cast<double>(*whole), ""};
    if (const std::string* text = node->text())
      if (const auto lead = read_leading_number(trimmed(*text)))
        return WrittenNumber{lead->value, std::string(trimmed(lead->rest))};
    if (const Node* setting = node->find("setting"); setting != nullptr && setting->text() != nullptr)
      refuse(fmt::format("{}.{} is the setting {}, which the player may change: set setting.{}.value instead", path,
                         key, *setting->text(), *setting->text()));
    return std::nullopt;
  }

  void put(const std::string& path, std::string_view key, const WrittenNumber& was, double now) {
    const std::string full = fmt::format("{}.{}", path, key);
    const std::string before = was.text(was.value), after = was.text(now);
    const bool is_known =
        std::any_of(changes_.begin(), changes_.end(), [&](const auto& one) { return one.path == full; });
    if (!is_known && before != after) changes_.push_back({full, before, after});
  }
  void add(std::vector<ValueChange> more) {
    for (ValueChange& one : more) changes_.push_back(std::move(one));
  }
  void put_text(std::string path, std::string before, std::string after) {
    changes_.push_back({std::move(path), std::move(before), std::move(after)});
  }
  /// A key, if it stands there, times a factor.
  void multiply(const Node& table, const std::string& path, std::string_view key, double factor) {
    if (const auto was = number(table, path, key)) put(path, key, *was, was->value * factor);
  }

private:
  std::vector<ValueChange> changes_;
  std::string why_not_;
};

std::string kind_at(const Node& table) {
  const Node* kind = table.find("kind");
  return kind != nullptr && kind->text() != nullptr ? *kind->text() : "";
}

/// Where a stage of a motion stands.
std::string stage_path(const Node& stage, const std::string& path, std::size_t s) {
  const std::string* name = stage.text();
  return name != nullptr ? "motion." + *name : fmt::format("{}.stages[{}]", path, s);
}

/// All times of a motion take `k` times as long: speeds shrink by k, accelerations by its square.
void stretch_times(const Node& document, const std::string& path, double k, Changes& changes) {
  const Node* table = node_at(document, path);
  if (table == nullptr || table->table() == nullptr) return;
  const std::string kind = kind_at(*table);
  const auto multiply = [&](std::string_view key, double factor) { changes.multiply(*table, path, key, factor); };
  if (kind == "glide") {
    for (const std::string_view time : {"half_life", "time_constant", "settling_time"}) multiply(time, k);
    multiply("rate", 1.0 / k);
    if (const auto was = changes.number(*table, path, "per_frame"))
      changes.put(path, "per_frame", *was, 1.0 - std::pow(1.0 - was->value, 1.0 / k));
  } else if (kind == "spring") {
    multiply("frequency", 1.0 / k);
    multiply("settling_time", k);
    multiply("stiffness", 1.0 / (k * k));
    multiply("damping", 1.0 / k);
  } else if (kind == "ease") {
    for (const std::string_view time : {"duration", "delay", "brake_at_least"}) multiply(time, k);
  } else if (kind == "pace") {
    multiply("speed", 1.0 / k);
    multiply("acceleration", 1.0 / (k * k));
  } else if (kind == "delay") {
    multiply("delay", k);
  } else if (kind == "stages") {
    const Node* stages = table->find("stages");
    const std::size_t count = stages != nullptr && stages->list() != nullptr ? stages->list()->size() : 0;
    for (std::size_t s = 0; s < count; ++s) {
      stretch_times(document, stage_path((*stages->list())[s], path, s), k, changes);
    }
  } else if (kind == "per_frame") {
    changes.refuse(
        fmt::format("{} does the same on every frame, so its speed depends on the frame rate. Replace it first: "
                    "`stasis rates --write`",
                    path));
  } else {
    changes.refuse(
        fmt::format("{} jumps: it has no time that could be longer or shorter; a glide or a spring has", path));
  }
}

/// A spring of the table as it is written, and how to write another.
class WrittenSpring {
public:
  WrittenSpring(const Node& table, std::string path, Changes& changes)
      : path_(std::move(path)), changes_(changes), frequency_(changes.number(table, path_, "frequency")),
        ratio_(changes.number(table, path_, "damping_ratio")), stiffness_(changes.number(table, path_, "stiffness")),
        damping_(changes.number(table, path_, "damping")), settling_(changes.number(table, path_, "settling_time")),
        overshoot_(changes.number(table, path_, "overshoot")), mass_(changes.number(table, path_, "mass")) {}

  std::optional<SpringDesign> design() const {
    if (frequency_ && ratio_) return SpringDesign{frequency_->value, ratio_->value};
    if (stiffness_ && damping_) return design_of_stiffness(stiffness_->value, damping_->value, mass());
    if (settling_ && overshoot_)
      return design_of_settling(seconds(*settling_), overshoot_->value / 100.0, default_share);
    return std::nullopt;
  }

  void write(const SpringDesign& now) {
    const double w = angular_frequency(now.frequency_hz);
    if (frequency_ && ratio_) {
      changes_.put(path_, "frequency", *frequency_, now.frequency_hz);
      changes_.put(path_, "damping_ratio", *ratio_, now.damping_ratio);
    } else if (stiffness_ && damping_) {
      changes_.put(path_, "stiffness", *stiffness_, w * w * mass());
      changes_.put(path_, "damping", *damping_, 2.0 * now.damping_ratio * w * mass());
    } else if (settling_ && overshoot_) {
      const double factor = settling_->value / seconds(*settling_);
      changes_.put(path_, "settling_time", *settling_, settling_angle(now.damping_ratio, default_share) / w * factor);
      changes_.put(path_, "overshoot", *overshoot_, 100.0 * overshoot_of(now.damping_ratio));
    }
  }

private:
  static constexpr double default_share = 0.02;
  double mass() const { return mass_ ? mass_->value : 1.0; }
  static double seconds(const WrittenNumber& time) {
    const auto unit = find_unit(time.unit);
    return unit ? convert(time.value, *unit, *find_unit("s")) : time.value;
  }

  std::string path_;
  Changes& changes_;
  std::optional<WrittenNumber> frequency_, ratio_, stiffness_, damping_, settling_, overshoot_, mass_;
};

/// The stages of a motion that are no delay: a delay shifts all in time and changes nothing else.
std::vector<std::string> moving_stages(const Node& document, const Node& table, const std::string& path) {
  std::vector<std::string> moving;
  const Node* stages = table.find("stages");
  const NodeList* list = stages != nullptr ? stages->list() : nullptr;
  for (std::size_t s = 0; list != nullptr && s < list->size(); ++s) {
    const std::string stage = stage_path((*list)[s], path, s);
    const Node* one = node_at(document, stage);
    if (one != nullptr && kind_at(*one) != "delay") moving.push_back(stage);
  }
  return moving;
}

/// Why the overshoot of a motion that is no spring cannot be set.
std::string without_own_overshoot(const Node& document, const Node& table, const std::string& path,
                                  const FeelWord& word) {
  const std::string kind = kind_at(table);
  const std::string springs = "kind = \"spring\", settling_time = 0.5, overshoot = 3";
  if (kind == "stages") {
    const std::vector<std::string> stages = moving_stages(document, table, path);
    const bool any_spring = std::any_of(stages.begin(), stages.end(), [&](const std::string& stage) {
      return kind_at(*node_at(document, stage)) == "spring";
    });
    if (any_spring)
      return fmt::format("{} overshoots by all of its stages together, and no single number sets that. `stasis solve` "
                         "finds numbers for it: --want \"CHANNEL.overshoot at_most 3\"",
                         path);
    if (word.without_overshoot) return fmt::format("{} has no spring among its stages, so it never overshoots", path);
  } else if (kind == "ease") {
    return fmt::format(
        "{} is an eased move: its curve decides whether it overshoots, such as \"out back 1.7\". A spring's "
        "overshoot can be set: {}",
        path, springs);
  } else if (word.without_overshoot) {
    return fmt::format("{} does not overshoot: a motion of kind {} never does", path, kind);
  }
  return fmt::format("{} is a motion of kind {}, whose overshoot cannot be set. A spring's can: {}", path, kind,
                     springs);
}

// many: a motion, where it stands, and what to do by how much
void change_overshoot(const Node& document, const std::string& path, const FeelWord& word, double amount,
                      Changes& changes) {
  const Node& table = *node_at(document, path);
  if (kind_at(table) == "stages")
    if (const auto stages = moving_stages(document, table, path);
        stages.size() == 1 && kind_at(*node_at(document, stages[0])) == "spring")
      return change_overshoot(document, stages[0], word, amount, changes);
  if (kind_at(table) != "spring") return changes.refuse(without_own_overshoot(document, table, path, word));
  WrittenSpring spring(table, path, changes);
  const auto was = spring.design();
  if (!was) return;
  SpringDesign now = *was;
  if (word.without_overshoot) {
    if (was->damping_ratio >= 1.0) return changes.refuse(path + " does not overshoot already");
    constexpr double band = 0.02;
    now.damping_ratio = 1.0;
    now.frequency_hz *= settling_angle(1.0, band) / settling_angle(was->damping_ratio, band);
  } else {
    const double share = overshoot_of(was->damping_ratio) + word.points / 100.0 * amount;
    if (share < 0.0 || share >= 0.99)
      return changes.refuse(fmt::format("{} cannot overshoot by {} %", path, concise(100.0 * share, 3)));
    now.damping_ratio = ratio_of_overshoot(share);
    now.frequency_hz *= rise_angle(now.damping_ratio) / rise_angle(was->damping_ratio);
  }
  spring.write(now);
}

void soften_start(const Node& table, const std::string& path, Changes& changes) {
  const std::string kind = kind_at(table);
  if (kind == "spring") return changes.refuse(path + " is a spring: it sets off softly already");
  if (kind == "stages") return changes.refuse(path + " goes through stages, so it sets off softly already");
  if (kind == "pace")
    return changes.refuse(
        table.find("acceleration") != nullptr
            ? path + " is a pace with an acceleration: it sets off softly already"
            : path
                  + " is a pace that is at full speed at once; with an acceleration it sets off softly: acceleration = "
                    "100, in units a second for each second");
  if (kind != "glide" && kind != "ease")
    return changes.refuse(fmt::format("{} is a motion of kind {}; its start cannot be set", path, kind));
  if (kind == "ease")
    return changes.refuse(fmt::format("{} starts as its curve does; one that starts level is \"ease-in-out\" or "
                                      "\"in-out sine\"",
                                      path));
  // Two equal glides in a row are within 2 % when (1 + t) e^-t is, t = 5.834; one when e^-t is, t = 3.912.
  constexpr double of_half_life = 3.9120230054281455 / 5.8339244917990580;
  Changes unsaid; // what keeps its number from being read is not what keeps it from starting softly
  const auto half_life = unsaid.number(table, path, "half_life");
  const std::string each = half_life ? half_life->text(half_life->value * of_half_life) : "..";
  changes.refuse(
      fmt::format("{} is a glide, which always sets off at full speed. Two in a row set off softly and settle in the "
                  "same time: kind = \"stages\", stages = [{{ kind = \"glide\", half_life = {} }}, {{ kind = "
                  "\"glide\", half_life = {} }}]",
                  path, each, each));
}

/// True if a curve has a largest acceleration that is neither nothing nor without bound.
bool has_peak_acceleration(const Curve& curve) {
  constexpr int places = 1000;
  double largest = 0.0;
  for (int k = 0; k <= places; ++k) {
    const double t = static_cast<double>(k) / places;
    for (const Side side : {Side::before, Side::at})
      largest = std::max(largest, std::fabs(evaluate(curve, t, side).bend));
  }
  return std::isfinite(largest) && largest > 0.0;
}

/// What has no peak acceleration, has none that could be less. \returns true if there is one, or it is not known here.
bool look_at_acceleration(const Node& table, const std::string& path, Changes& changes) {
  const std::string kind = kind_at(table);
  if (kind == "pace" && table.find("acceleration") == nullptr) {
    changes.refuse(path
                   + " is a pace that is at full speed at once: it has no peak acceleration. Give it one first: "
                     "acceleration = 100, in units a second for each second");
    return false;
  }
  const Node* written = kind == "ease" ? table.find("curve") : nullptr;
  const std::string* text = written != nullptr ? written->text() : nullptr;
  if (text == nullptr) return true;
  const auto curve = parse_curve(*text);
  if (!curve || has_peak_acceleration(*curve)) return true;
  changes.refuse(
      fmt::format("{} goes by the curve \"{}\", whose acceleration has no peak: its speed jumps, or it has no "
                  "bound. One that has is \"ease-in-out\"",
                  path, printable(*text, 60)));
  return false;
}

void change_shake(const Node& document, const std::string& path, const FeelWord& word, double amount,
                  Changes& changes) {
  const Node* table = node_at(document, path);
  const auto factor = [&](double one) { return std::pow(one, amount); };
  if (const Node* on = table->find("on"); on != nullptr && on->table() != nullptr && word.peak != 1.0)
    for (const Entry& entry : *on->table()) {
      const std::string key = entry.key.find('.') == std::string::npos ? entry.key : fmt::format("\"{}\"", entry.key);
      if (const auto was = changes.number(*on, path + ".on", entry.key))
        changes.put(path + ".on", key, *was, was->value * factor(word.peak));
      const std::size_t count = entry.value.list() != nullptr ? entry.value.list()->size() : 0;
      for (std::size_t i = 0; i < count; ++i) {
        const Node& one = (*entry.value.list())[i];
        const auto* real = std::get_if<double>(&one.value);
        const auto* whole = std::get_if<std::int64_t>(&one.value);
        const double value = real != nullptr ? *real : whole != nullptr ? static_cast<double>(*whole) : 0.0;
        if (value != 0.0)
          changes.put(path + ".on", fmt::format("{}[{}]", key, i), {value, ""}, value * factor(word.peak));
      }
    }
  const Node *wave = table->find("wave"), *decay = table->find("decay");
  const bool is_ring = wave != nullptr && kind_at(*wave) == "ring";
  if (word.half_life != 1.0) {
    if (is_ring)
      changes.multiply(*wave, path + ".wave", "damping_ratio", 1.0 / factor(word.half_life));
    else if (decay == nullptr)
      changes.refuse(path + " does not die away: it is always there");
    else if (kind_at(*decay) == "per_frame")
      changes.refuse(path
                     + " dies away frame by frame; `stasis explain` tells the half-life that is the same everywhere");
    else
      for (const char* const key : {"half_life", "duration"})
        changes.multiply(*decay, path + ".decay", key, factor(word.half_life));
  }
  if (word.frequency == 1.0 || wave == nullptr) return;
  for (const char* const key : {"frequency", "rate"})
    changes.multiply(*wave, path + ".wave", key, factor(word.frequency));
  if (kind_at(*wave) == "stride") changes.multiply(*wave, path + ".wave", "length", 1.0 / factor(word.frequency));
}

/// True if a number, and every number of lists within lists, is above 0; where nothing stands, too.
bool is_above_zero(const Node* node) {
  if (node == nullptr) return true;
  if (const auto* real = std::get_if<double>(&node->value)) return *real > 0.0;
  if (const auto* whole = std::get_if<std::int64_t>(&node->value)) return *whole > 0;
  const NodeList* list = node->list();
  return list == nullptr
         || std::all_of(list->begin(), list->end(), [](const Node& one) { return is_above_zero(&one); });
}

void change_space(const Node& document, std::string_view channel, Changes& changes) {
  const std::string path = fmt::format("channel.{}", channel);
  const Node& table = *node_at(document, path);
  const Node *space = table.find("space"), *unit = table.find("unit");
  const std::string was = space != nullptr && space->text() != nullptr ? *space->text() : "linear";
  const auto known = unit != nullptr && unit->text() != nullptr ? find_unit(*unit->text()) : std::nullopt;
  const bool is_angle = known && known->kind == UnitKind::angle;
  if (was == "ratio" || was == "zoom")
    return changes.refuse(fmt::format("{} moves by factors already: {}", channel, was));
  if (was == "turn") return changes.refuse(fmt::format("{} goes round: such angles have no near and far", channel));
  for (const std::string& motion : motion_paths(document, channel))
    if (const Node* one = node_at(document, motion); one != nullptr && kind_at(*one) == "pace")
      return changes.refuse(
          fmt::format("{} is a pace in units a second; by factors it counts doublings a second, so choose "
                      "its speed again",
                      motion));
  for (const char* const key : {"rest", "range"})
    if (!is_above_zero(table.find(key)))
      return changes.refuse(fmt::format("factors need values above 0, and the {} of {} is not", key, channel));
  changes.put_text(path + ".space", fmt::format("\"{}\"", was), is_angle ? "\"zoom\"" : "\"ratio\"");
}

/// Adds where the motions of a value of the key `motion` stand.
void add_motion_paths(const Node& value, const std::string& path, std::vector<std::string>& paths) {
  if (const std::string* name = value.text()) {
    paths.push_back("motion." + *name);
  } else if (value.find("kind") != nullptr) {
    paths.push_back(path);
  } else if (const NodeTable* table = value.table()) {
    for (const Entry& entry : *table) add_motion_paths(entry.value, path + "." + entry.key, paths);
  }
}

} // namespace

std::span<const FeelWord> feel_words() noexcept { return words; }

const FeelWord* feel_word(std::string_view word) noexcept {
  const auto found = std::find_if(words.begin(), words.end(), [&](const FeelWord& one) { return one.word == word; });
  return found == words.end() ? nullptr : &*found;
}

std::vector<std::string> motion_paths(const Node& document, std::string_view channel) {
  std::vector<std::string> all, paths;
  if (const Node* motion = node_at(document, fmt::format("channel.{}.motion", channel)))
    add_motion_paths(*motion, fmt::format("channel.{}.motion", channel), all);
  for (std::string& path : all)
    if (std::find(paths.begin(), paths.end(), path) == paths.end()) paths.push_back(std::move(path));
  return paths;
}

// many: the feel as text and as read, whose, which word and how much of it
WordChanges changes_by_word(const Node& document, std::string_view name, const FeelWord& word, double amount,
                            const Feel* other_kinds_of) {
  Changes changes;
  switch (word.of) {
  case Of::shake: change_shake(document, fmt::format("shake.{}", name), word, amount, changes); break;
  case Of::space: change_space(document, name, changes); break;
  case Of::motion: {
    const auto paths = motion_paths(document, name);
    if (paths.empty()) changes.refuse(fmt::format("{} has no motion: it jumps; give it one first", name));
    for (const std::string& path : paths) {
      const Node* table = node_at(document, path);
      if (table == nullptr) continue;
      const NamedMotion* motion = other_kinds_of != nullptr ? motion_at(*other_kinds_of, path) : nullptr;
      auto other =
          motion != nullptr ? other_kind(*table, path, motion->motion, word, amount) : std::vector<ValueChange>();
      if (!other.empty())
        changes.add(std::move(other));
      else if (word.soft_start)
        soften_start(*table, path, changes);
      else if (word.points != 0.0 || word.without_overshoot)
        change_overshoot(document, path, word, amount, changes);
      else if (!word.of_acceleration || look_at_acceleration(*table, path, changes))
        stretch_times(document, path, std::pow(word.times, amount), changes);
    }
    break;
  }
  }
  auto found = changes.take();
  if (found.empty())
    return tl::unexpected(changes.why_not().empty() ? std::string("this word changes nothing here")
                                                    : changes.why_not());
  return WordOutcome{std::move(found), changes.why_not()};
}

} // namespace stasis
