// Settings, wants, silenced warnings.
#include <fmt/format.h>

#include "core/feel/measure_name.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Finds what "fov.settling_time" names, with a problem if there is nothing of that name.
void resolve_measure(Reading& reading, SectionReader& reader, const std::string& text, Want& want) {
  const Node* shakes = reading.document.find("shake");
  const std::string owner = text.substr(0, text.find('.'));
  const bool is_faulty_shake =
      shakes != nullptr && shakes->find(owner) != nullptr && !index_of(reading.feel.shakes, owner);
  if (is_faulty_shake || reading.lacks_channels()) return; // it has been reported
  auto named = measure_named(reading.feel, reading.vocabulary, text);
  if (named)
    want = std::move(*named);
  else
    reader.report(named.error().code, "measure", named.error().message, named.error().hint);
}

/// A silenced warning of a name that is none would silence nothing, and say nothing.
void check_warning(Reading& reading, SectionReader& reader, const std::string& code) {
  const auto codes = reading.vocabulary.warnings();
  if (codes.empty() || std::find(codes.begin(), codes.end(), code) != codes.end()) return;
  reader.report("feel.unknown_warning", "warning", fmt::format("there is no warning \"{}\"", printable(code, 60)),
                known_names(code, codes));
}

/// Keys that go with some of a want's rules only.
void check_company(SectionReader& reader) {
  const bool is_baseline = reader.has("baseline"), has_width = is_baseline || reader.has("near");
  if (has_width && !reader.has("within"))
    reader.report("feel.missing_key", "within", "the key within is missing",
                  is_baseline ? "How far the take may stray from the baseline; 0 for not at all."
                              : "How far from near it may be.");
  if (!has_width && reader.has("within"))
    reader.report("feel.too_many_keys", "within", "within goes with near or baseline only");
  if (!is_baseline && !reader.has("measure"))
    reader.report("feel.missing_key", "measure", "the key measure is missing from [[want]]",
                  std::string(find_key(*find_section("want"), "measure")->meaning));
  if (is_baseline && reader.has("measure"))
    reader.report("feel.too_many_keys", "measure", "measure and baseline do not go together",
                  "A want needs a measure, or a stored trace.");
  if (!is_baseline && reader.has("column"))
    reader.report("feel.too_many_keys", "column", "column goes with baseline only");
}

void read_baseline(Reading& reading, SectionReader& reader, double within) {
  Baseline baseline{0, reader.text("baseline").value_or(""), reader.text("column").value_or(""), within};
  if (reader.has("take")) {
    if (const auto take = reader.name("take"))
      baseline.take = reading.resolve(reader, "take", *take, reading.feel.takes, NameKind::take).value_or(0);
  } else if (reading.feel.takes.size() != 1) {
    reader.report("feel.missing_key", "take", "the key take is missing",
                  "A baseline belongs to one take, and the feel has several.");
  }
  if (trimmed(baseline.file).empty())
    reader.report("feel.baseline", "baseline", "expected the name of a file beside the feel");
  reading.feel.baselines.push_back(std::move(baseline));
}

void read_want(Reading& reading, const Node& node, const std::string& path) {
  SectionReader reader(node, *find_section("want"), path, reading.problems);
  if (node.table() == nullptr) return;
  check_company(reader);
  Want want;
  const std::size_t before = reading.problems.size();
  if (const auto measure = reader.text("measure")) resolve_measure(reading, reader, *measure, want);
  const auto at_most = reader.number("at_most"), at_least = reader.number("at_least"), near = reader.number("near"),
             within = reader.number("within");
  want.rule = at_most ? WantRule::at_most : at_least ? WantRule::at_least : WantRule::near;
  want.bound = at_most ? *at_most : at_least ? *at_least : near.value_or(0.0);
  want.within = within.value_or(0.0);
  if (reader.has("baseline")) return read_baseline(reading, reader, want.within);
  if (reader.has("take"))
    if (const auto take = reader.name("take"))
      want.take = reading.resolve(reader, "take", *take, reading.feel.takes, NameKind::take).value_or(0);
  want.every_take = !reader.has("take");
  if (reading.problems.size() == before) reading.feel.wants.push_back(std::move(want));
}

} // namespace

void read_settings(Reading& reading) {
  reading.each("setting", [&](const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("setting"), path, reading.problems);
    if (entry.value.table() == nullptr) return;
    Setting setting;
    setting.name = entry.key;
    setting.value = reader.number("value").value_or(0.0);
    setting.unit = reader.text("unit").value_or("");
    const Node* range = reader.find("range");
    if (range == nullptr || range->list() == nullptr || range->list()->size() != 2) {
      if (range != nullptr)
        reader.report("feel.range", "range", "expected a list of two, the lowest and the highest value");
      return;
    }
    const KeySpec& spec = *find_key(*find_section("setting"), "value");
    const auto low = reader.number_of((*range->list())[0], spec, path + ".range[0]", "");
    const auto high = reader.number_of((*range->list())[1], spec, path + ".range[1]", "");
    if (!low || !high) return;
    setting.low = *low;
    setting.high = *high;
    if (!(setting.low < setting.high))
      reader.report("feel.range", "range", fmt::format("the lowest value {} is not below the highest {}", *low, *high));
    else if (setting.value < setting.low || setting.value > setting.high)
      reader.report("feel.rest_outside_range", "value",
                    fmt::format("the value {} lies outside the range {} to {}", setting.value, *low, *high));
    reading.feel.settings.push_back(std::move(setting));
  });
}

void read_wants(Reading& reading) {
  reading.each_of_list("want", [&](const Node& node, const std::string& path) { read_want(reading, node, path); });
}

void read_silences(Reading& reading) {
  reading.each_of_list("silence", [&](const Node& node, const std::string& path) {
    SectionReader reader(node, *find_section("silence"), path, reading.problems);
    if (node.table() == nullptr) return;
    Silenced silenced{reader.text("warning").value_or(""), reader.text("about").value_or(""),
                      reader.text("reason").value_or("")};
    if (reader.has("warning")) check_warning(reading, reader, silenced.code);
    if (reader.has("reason") && trimmed(silenced.reason).empty())
      reader.report("feel.reason", "reason", "a silenced warning needs a reason", "Say why it is meant to be so.");
    reading.feel.silenced.push_back(std::move(silenced));
  });
}

} // namespace stasis
