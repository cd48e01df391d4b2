// Settings, wants, silenced warnings.
#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Finds the channel, or the shake, and the measure that "fov.settling_time" names. \returns false, with a problem, if
/// there is none.
bool resolve_measure(Reading& reading, SectionReader& reader, const std::string& text, Want& want) {
  const auto dot = text.find('.');
  const std::string owner = text.substr(0, dot);
  const auto channel = index_of(reading.feel.channels, owner);
  want.shake = index_of(reading.feel.shakes, owner);
  const Node* shakes = reading.document.find("shake");
  if (!want.shake && shakes != nullptr && shakes->find(owner) != nullptr) return false; // wrong, and reported
  want.is_of_camera = !channel && !want.shake && owner == "camera";
  if (!channel && !want.shake && !want.is_of_camera) {
    auto known = names_of(reading.feel.channels);
    for (const Shake& shake : reading.feel.shakes) known.push_back(shake.name);
    reading.report_unknown(joined_path(reader.path(), "measure"), reader.where("measure"), NameKind::channel, owner,
                           known);
    return false;
  }
  want.channel = channel.value_or(0);
  want.measure = dot == std::string::npos ? "" : text.substr(dot + 1);
  const std::string_view kind = want.shake ? "a shake" : want.is_of_camera ? "the camera" : "a channel";
  const auto known = want.shake          ? reading.vocabulary.of_shake(reading.feel, *want.shake)
                     : want.is_of_camera ? reading.vocabulary.of_camera(reading.feel)
                                         : reading.vocabulary.of_channel(reading.feel.channels[*channel]);
  if (want.is_of_camera && known.empty()) {
    reader.report("feel.unknown_measure", "measure",
                  "[picture] places no eye in space, so nothing of the camera can be measured",
                  "Name the channels that place it: focus and distance, or a position of three components.");
    return false;
  }
  std::vector<std::string_view> views(known.begin(), known.end());
  for (const std::string& name : known)
    if (name == want.measure) return true;
  if (want.measure.empty()) {
    reader.report("feel.unknown_measure", "measure", fmt::format("\"{}\" names {} and no measure of it", owner, kind),
                  fmt::format("Write {}.{}, or another of {}.", owner, views.front(), listed(views, "or")));
    return false;
  }
  const auto close = nearest(want.measure, views);
  reader.report("feel.unknown_measure", "measure",
                fmt::format("there is no measure \"{}\" of {}", printable(want.measure, 60), kind),
                close ? fmt::format("Did you mean {}.{}?", owner, *close) : fmt::format("Known: {}.", listed(views)));
  return false;
}

/// A silenced warning of a name that is none would silence nothing, and say nothing.
void check_warning(Reading& reading, SectionReader& reader, const std::string& code) {
  const auto codes = reading.vocabulary.warnings();
  if (codes.empty() || std::find(codes.begin(), codes.end(), code) != codes.end()) return;
  reader.report("feel.unknown_warning", "warning", fmt::format("there is no warning \"{}\"", printable(code, 60)),
                known_names(code, codes));
}

void read_want(Reading& reading, const Node& node, const std::string& path) {
  SectionReader reader(node, *find_section("want"), path, reading.problems);
  if (node.table() == nullptr) return;
  Want want;
  const std::size_t before = reading.problems.size();
  if (const auto measure = reader.text("measure")) resolve_measure(reading, reader, *measure, want);
  const auto at_most = reader.number("at_most"), at_least = reader.number("at_least"), near = reader.number("near"),
             within = reader.number("within");
  want.rule = at_most ? WantRule::at_most : at_least ? WantRule::at_least : WantRule::near;
  want.bound = at_most ? *at_most : at_least ? *at_least : near.value_or(0.0);
  want.within = within.value_or(0.0);
  if (reader.has("take"))
    if (const auto take = reader.name("take"))
      want.take = reading.resolve(reader, "take", *take, reading.feel.takes, NameKind::take);
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
