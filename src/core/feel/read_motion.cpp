#include "core/feel/read_motion.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/generic_words.hpp"
#include "core/feel/reader_for.hpp"
#include "core/motion/spring_design.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::optional<Motion> read_cut(Reading&, SectionReader&) { return Cut{}; }

std::optional<Motion> read_glide(Reading&, SectionReader& reader) {
  if (const auto half_life = reader.number("half_life")) return Glide{rate_of_half_life(*half_life)};
  if (const auto constant = reader.number("time_constant")) return Glide{rate_of_time_constant(*constant)};
  if (const auto rate = reader.number("rate")) return Glide{*rate};
  if (const auto time = reader.number("settling_time"))
    return Glide{rate_of_settling_time(*time, default_settle_share)};
  const auto fraction = reader.number("per_frame"), fps = reader.number("at_fps");
  if (fraction && fps) return Glide{rate_of_fraction(*fraction, *fps)};
  return std::nullopt;
}

/// Refuses a spring whose frequency, however it was given, is beyond what `frequency` itself may be.
std::optional<Motion> checked_spring(SectionReader& reader, std::string_view key, SpringDesign design, bool gap) {
  const Bounds bounds = find_key(*find_section("motion.spring"), "frequency")->bounds;
  if (design.frequency_hz >= bounds.low && design.frequency_hz <= bounds.high && design.damping_ratio <= 1e4)
    return Spring{angular_frequency(design.frequency_hz), design.damping_ratio, gap};
  reader.report(
      "feel.out_of_bounds", key,
      fmt::format("this makes a spring of {} Hz and ratio {}; a spring has {} to {} Hz and at most ratio 10000",
                  readable(design.frequency_hz, 4), readable(design.damping_ratio, 4), bounds.low, bounds.high));
  return std::nullopt;
}

std::optional<Motion> read_spring(Reading& reading, SectionReader& reader) {
  const bool gap = reader.choice("resist") == "gap";
  if (reader.has("mass") && !reader.has("stiffness")) {
    reader.report("feel.too_many_keys", "mass", "a mass goes with stiffness and damping only",
                  "Give either frequency and damping_ratio, or settling_time and overshoot.");
    return std::nullopt;
  }
  if (reader.has("stiffness")) {
    const auto stiffness = reader.number("stiffness"), damping = reader.number("damping"), mass = reader.number("mass");
    if (!stiffness || !damping || !mass) return std::nullopt;
    return checked_spring(reader, "stiffness", design_of_stiffness(*stiffness, *damping, *mass), gap);
  }
  if (reader.has("settling_time")) {
    const auto time = reader.number("settling_time"), overshoot = reader.number("overshoot");
    if (!overshoot && reader.has("overshoot") && reading.problems.back().code == "feel.out_of_bounds")
      reading.problems.back().hint = "No spring does that. The nearest are overshoot = 0 (ratio 1: none at all) and "
                                     "overshoot = 99 (ratio 0.0032: it hardly ever settles).";
    if (!time || !overshoot) return std::nullopt;
    return checked_spring(reader, "settling_time", design_of_settling(*time, *overshoot / 100.0, default_settle_share),
                          gap);
  }
  const auto frequency = reader.number("frequency"), ratio = reader.number("damping_ratio");
  if (!frequency || !ratio) return std::nullopt;
  return Spring{angular_frequency(*frequency), *ratio, gap};
}

Handover handover_named(std::string_view word) noexcept {
  return word == "pro_rata"       ? Handover::pro_rata
         : word == "carry"        ? Handover::carry
         : word == "finish_first" ? Handover::finish_first
                                  : Handover::restart;
}

std::optional<Motion> read_ease(Reading& reading, SectionReader& reader) {
  const auto duration = reader.number("duration"), delay = reader.number("delay"), repeat = reader.number("repeat");
  const auto text = reader.text("curve");
  const auto back = reader.flag("there_and_back");
  const auto word = reader.choice("handover");
  const auto floor = reader.has("brake_at_least") ? reader.number("brake_at_least") : std::optional(0.0);
  const Handover handover = handover_named(word.value_or("restart"));
  if (reader.has("brake_at_least") && handover != Handover::carry)
    reader.report("feel.too_many_keys", "brake_at_least", "this goes with handover = \"carry\" only");
  if (handover != Handover::restart && (repeat.value_or(1) > 1 || back.value_or(false)))
    reader.report("feel.too_many_keys", "handover",
                  fmt::format("a move that repeats or returns starts afresh at each new goal, so {} cannot be", *word),
                  "Leave handover out, or repeat and there_and_back.");
  if (!text) return std::nullopt;
  auto curve = read_curve(reading, *text, joined_path(reader.path(), "curve"), reader.where("curve"));
  if (!curve || !duration || !delay || !repeat || !back || !floor) return std::nullopt;
  return Ease{*duration, std::move(*curve), handover, *delay, static_cast<int>(*repeat), *back, *floor};
}

std::optional<Motion> read_pace(Reading&, SectionReader& reader) {
  const auto speed = reader.number("speed");
  if (!reader.has("acceleration")) return speed ? std::optional<Motion>(pace_at_once(*speed)) : std::nullopt;
  const auto acceleration = reader.number("acceleration");
  if (!speed || !acceleration) return std::nullopt;
  return Pace{*speed, *acceleration};
}

/// Every key that a rule takes is there, and none of another rule.
bool has_keys_of_rule(SectionReader& reader, std::string_view rule) {
  const auto& all = reader.section().asks;
  const auto meant = std::find_if(all.begin(), all.end(), [&](const AskedKeys& one) { return one.value == rule; });
  bool whole = true;
  for (const std::string_view key : keys_in(meant->needs))
    if (!reader.has(key)) {
      whole = false;
      reader.report("feel.missing_key", key, fmt::format("the rule {} takes {}", rule, key));
    }
  for (const ExcludedKey& other : excluded_by(reader.section(), *meant)) {
    if (!reader.has(other.key)) continue;
    whole = false;
    reader.report("feel.too_many_keys", other.key,
                  fmt::format("{} belongs to the rule {}, and this is {}", other.key, other.value, rule));
  }
  return whole;
}

std::optional<FrameRule> read_fraction(SectionReader& reader) {
  const auto fraction = reader.number("fraction");
  return fraction ? std::optional<FrameRule>(FractionRule{*fraction}) : std::nullopt;
}

std::optional<FrameRule> read_product(SectionReader& reader) {
  const auto rate = reader.number("rate");
  if (!rate) return std::nullopt;
  return ProductRule{*rate, reader.flag("clamp").value_or(false)};
}

std::optional<FrameRule> read_amount(SectionReader& reader) {
  const auto amount = reader.number("amount");
  return amount ? std::optional<FrameRule>(AmountRule{*amount}) : std::nullopt;
}

std::optional<FrameRule> read_spring_step(SectionReader& reader) {
  const auto stiffness = reader.number("stiffness"), damping = reader.number("damping");
  const bool explicit_step = reader.choice("method") == "explicit";
  if (!stiffness || !damping) return std::nullopt;
  return SpringStepRule{*stiffness, *damping, !explicit_step};
}

using ReadRule = std::optional<FrameRule> (*)(SectionReader&);
constexpr ReaderOf<ReadRule> rule_readers[] = {
    {"fraction", read_fraction}, {"product", read_product}, {"amount", read_amount}, {"spring_step", read_spring_step}};

std::optional<Motion> read_per_frame(Reading&, SectionReader& reader) {
  const auto word = reader.choice("rule");
  const auto fps = reader.number("at_fps");
  if (!word || !has_keys_of_rule(reader, *word) || !fps) return std::nullopt;
  auto rule = reader_for<ReadRule>(rule_readers, *word)(reader);
  return rule ? std::optional<Motion>(PerFrame{*rule, *fps}) : std::nullopt;
}

/// Adds what begins when its goal jumps; a problem in words where it cannot stand there.
template<class Head> std::string add_head(Chain& chain, const Head& head) {
  if (!chain.head && chain.links.empty()) {
    chain.head = head;
    return {};
  }
  const std::string_view kind = kind_of(head);
  return fmt::format(
      "{} {} can only come first: it starts when its goal jumps, and the output of another stage does not jump",
      kind == "ease" ? "an" : "a", kind);
}

std::string add_link(Chain& chain, const Link& link) {
  chain.links.push_back(link);
  if (chain.links.size() <= most_links) return {};
  return fmt::format("at most {} glides and springs can stand in a row", most_links);
}

/// Adds one stage to the chain; a problem in words where it cannot stand there.
std::string add_stage(Chain& chain, const Motion& stage) {
  const auto add = Overloaded{
      [](const Cut&) { return std::string(); },
      [&](const Glide& glide) { return add_link(chain, glide); },
      [&](const Spring& spring) { return add_link(chain, spring); },
      [&](const Ease& ease) { return add_head(chain, ease); },
      [&](const Pace& pace) { return add_head(chain, pace); },
      [&](const Chain& inner) {
        if (inner.head || !inner.links.empty()) return std::string("stages cannot hold other stages");
        chain.delay += inner.delay; // a delay may stand anywhere in a row with the same result
        return std::string();
      },
      [](const PerFrame&) { return std::string("a per-frame rule cannot be one of several stages"); },
      [](const Led&) { return std::string("a sequence cannot be one of several stages"); },
  };
  return std::visit(add, stage);
}

std::optional<Motion> read_stages(Reading& reading, SectionReader& reader) {
  const Node* node = reader.find("stages");
  if (node == nullptr) return std::nullopt;
  const std::string path = joined_path(reader.path(), "stages");
  if (node->list() == nullptr || node->list()->empty()) {
    reading.report("feel.not_a_list", path, node->where,
                   fmt::format("expected a list of motions, found {}",
                               node->list() != nullptr ? "an empty one" : kind_in_words(*node)));
    return std::nullopt;
  }
  Chain chain;
  bool whole = true;
  for (std::size_t i = 0; i < node->list()->size(); ++i) {
    const Node& one = (*node->list())[i];
    const std::string place = fmt::format("{}[{}]", path, i);
    std::optional<Motion> stage;
    if (one.table() != nullptr) {
      stage = read_motion(reading, one, place);
    } else if (const auto* name = one.text()) {
      if (const auto found = index_of(reading.feel.motions, *name)) {
        stage = reading.feel.motions[*found].motion;
        reading.feel.used_names.push_back(*name);
      } else if (const Node* all = reading.document.find("motion");
                 all != nullptr && all->find(*name) != nullptr && !reading.is_broken(*name)) {
        // Rows of stages are read last, so it is one of them.
        reading.report("feel.stages", place, one.where,
                       fmt::format("{} has stages itself, and stages cannot hold other stages", *name),
                       "Write its stages out here.");
      } else if (!reading.is_broken(*name))
        reading.report_unknown(place, one.where, NameKind::motion, *name, names_of(reading.feel.motions));
    } else {
      reading.report(
          "feel.motion", place, one.where,
          fmt::format("expected the name of a motion or a table with its kind, found {}", kind_in_words(one)));
    }
    const std::string fault = stage ? add_stage(chain, *stage) : std::string();
    if (!fault.empty()) reading.report("feel.stages", place, one.where, fault);
    whole = whole && stage && fault.empty();
  }
  return whole ? std::optional<Motion>(std::move(chain)) : std::nullopt;
}

std::optional<Motion> read_delay(Reading&, SectionReader& reader) {
  const auto delay = reader.number("delay");
  return delay ? std::optional<Motion>(Chain{*delay, std::nullopt, {}}) : std::nullopt;
}

using ReadMotion = std::optional<Motion> (*)(Reading&, SectionReader&);
constexpr ReaderOf<ReadMotion> motion_readers[] = {{"motion.cut", read_cut},       {"motion.glide", read_glide},
                                                   {"motion.spring", read_spring}, {"motion.ease", read_ease},
                                                   {"motion.pace", read_pace},     {"motion.per_frame", read_per_frame},
                                                   {"motion.stages", read_stages}, {"motion.delay", read_delay}};

bool is_stages(const Entry& entry) noexcept {
  const Node* kind = entry.value.find("kind");
  return kind != nullptr && kind->text() != nullptr && *kind->text() == "stages";
}

/// Pairs [time, value], the times brought to 0..1.
std::optional<Curve> read_points(Reading& reading, const Node& node, const std::string& path) {
  constexpr std::size_t most_points = 10'000;
  const NodeList* list = node.list();
  if (list == nullptr || list->size() < 2 || list->size() > most_points) {
    reading.report(
        "feel.points", path, node.where,
        fmt::format("expected 2 to {} pairs [time, value], or the name of a CSV file, found {}", most_points,
                    list != nullptr ? fmt::format("a list of {}", list->size()) : std::string(kind_in_words(node))));
    return std::nullopt;
  }
  static constexpr KeySpec coordinate{.key = "point", .kind = ValueKind::number};
  const Node nothing{NodeTable{}, node.where};
  SectionReader reader(nothing, *find_section("variant"), path, reading.problems);
  std::vector<CurveKnot> knots;
  for (std::size_t i = 0; i < list->size(); ++i) {
    const Node& pair = (*list)[i];
    const std::string place = fmt::format("{}[{}]", path, i);
    if (pair.list() == nullptr || pair.list()->size() != 2) {
      reading.report("feel.points", place, pair.where,
                     fmt::format("expected a pair [time, value], found {}", kind_in_words(pair)));
      return std::nullopt;
    }
    const auto time = reader.number_of((*pair.list())[0], coordinate, place, "");
    const auto value = reader.number_of((*pair.list())[1], coordinate, place, "");
    if (!time || !value) return std::nullopt;
    if (!knots.empty() && !(*time > knots.back().time)) {
      reading.report("feel.points", place, pair.where,
                     fmt::format("times must ascend, but {} is not after {}", *time, knots.back().time));
      return std::nullopt;
    }
    knots.push_back({*time, *value});
  }
  return through_times(std::move(knots));
}

} // namespace

std::optional<Curve> read_curve(Reading& reading, const std::string& text, const std::string& path, Position where) {
  if (const auto named = index_of(reading.feel.curves, trimmed(text))) return reading.feel.curves[*named].curve;
  if (reading.is_broken(text)) return std::nullopt;
  auto curve = parse_curve(text);
  if (curve) return std::move(*curve);
  const auto known = names_of(reading.feel.curves);
  const auto close = nearest(trimmed(text), known);
  reading.report("feel.curve", path, where,
                 fmt::format("\"{}\" is not a curve: {}", printable(text, 80), curve.error()),
                 close ? fmt::format("Did you mean {}?", *close) : written_instead(WordFor::curve, text));
  return std::nullopt;
}

std::optional<Motion> read_motion(Reading& reading, const Node& node, const std::string& path) {
  const Node* kind = node.find("kind");
  const SectionSpec* section =
      kind != nullptr && kind->text() != nullptr ? find_section("motion." + *kind->text()) : nullptr;
  if (section == nullptr) {
    report_kind(reading, node, path, "motion.cut");
    return std::nullopt;
  }
  const std::size_t before = reading.problems.size();
  SectionReader reader(node, *section, path, reading.problems);
  auto motion = reader_for<ReadMotion>(motion_readers, section->id)(reading, reader);
  return reading.problems.size() == before ? motion : std::nullopt;
}

void read_curves(Reading& reading) {
  reading.each("curve", [&](const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("curve"), path, reading.problems);
    std::optional<Curve> curve;
    if (const Node* points = reader.find("points")) curve = read_points(reading, *points, joined_path(path, "points"));
    if (reader.has("shape"))
      if (const auto text = reader.text("shape"))
        curve = read_curve(reading, *text, joined_path(path, "shape"), reader.where("shape"));
    if (curve)
      reading.feel.curves.push_back({entry.key, std::move(*curve)});
    else
      reading.broken.push_back(entry.key);
  });
}

void read_motions(Reading& reading) {
  // Stages name other motions, so they come after them.
  for (const bool stages : {false, true})
    reading.each("motion", [&](const Entry& entry, const std::string& path) {
      if (is_stages(entry) != stages) return;
      if (auto motion = read_motion(reading, entry.value, path))
        reading.feel.motions.push_back({entry.key, std::move(*motion), false});
      else
        reading.broken.push_back(entry.key);
    });
}

} // namespace stasis
