#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

class ChannelReader {
public:
  ChannelReader(Reading& reading, const Entry& entry, const std::string& path)
      : reading_(reading), reader_(entry.value, *find_section("channel"), path, reading.problems) {
    channel_.name = entry.key;
  }

  Channel read() {
    channel_.range.fill({-unbounded, unbounded});
    if (reader_.node().table() == nullptr) return channel_;
    channel_.unit = reader_.text("unit").value_or("");
    constexpr std::size_t longest_unit = 16;
    if (printable(channel_.unit, longest_unit) != channel_.unit)
      reader_.report("feel.unit", "unit", fmt::format("a unit is one line of at most {} characters", longest_unit));
    read_space();
    read_rest_and_range();
    read_settle_band();
    read_snap();
    channel_.runs_on = reader_.choice("runs_on") == "clock" ? RunsOn::clock : RunsOn::game;
    channel_.motion = read_motion_choices(reading_, reader_.find("motion"), joined_path(reader_.path(), "motion"),
                                          channel_, channel_.name + ".motion");
    return channel_;
  }

private:
  void read_space() {
    const auto word = reader_.choice("space");
    if (word == "ratio") channel_.space.space = Space::ratio;
    if (word != "zoom" && word != "turn") return;
    const auto unit = find_unit(channel_.unit);
    if (!unit || unit->kind != UnitKind::angle) {
      reader_.report("feel.space_unit", "space",
                     fmt::format("the space {} is for angles; the channel {}", *word,
                                 channel_.unit.empty()
                                     ? "has no unit"
                                     : fmt::format("has the unit \"{}\"", printable(channel_.unit, 20))),
                     "Give the channel unit = \"deg\" (or rad), or use another space.");
      return;
    }
    channel_.space.space = word == "zoom" ? Space::zoom : Space::turn;
    channel_.space.radians_per_unit = radians(convert(1.0, *unit, *find_unit("deg")));
    channel_.space.units_per_turn = convert(1.0, *find_unit("turn"), *unit);
  }

  void read_rest_and_range() {
    const auto rest = reader_.components("rest", channel_.unit);
    if (!rest) return count_components();
    channel_.components = rest->size();
    std::copy(rest->begin(), rest->end(), channel_.rest.begin());
    for (const double value : *rest)
      if (!is_in_space(reading_, joined_path(reader_.path(), "rest"), reader_.where("rest"), channel_, value)) break;
    if (!read_range()) return;
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const auto [low, high] = channel_.range[i];
      if (channel_.rest[i] >= low && channel_.rest[i] <= high) continue;
      reader_.report("feel.rest_outside_range", "rest",
                     fmt::format("the resting value {} lies outside the range {} to {}", channel_.rest[i], low, high),
                     "Everything returns to the resting value, so it must be inside.");
    }
  }

  /// A number that is refused is a component all the same: what else names the components is not at fault.
  void count_components() {
    const Node* node = reader_.find("rest");
    const NodeList* list = node == nullptr ? nullptr : node->list();
    if (list != nullptr && !list->empty() && list->size() <= most_components) channel_.components = list->size();
  }

  bool read_range() {
    const Node* node = reader_.find("range");
    if (node == nullptr) return true;
    const NodeList* pair = node->list();
    if (pair == nullptr || pair->size() != 2) {
      reader_.report("feel.range", "range", "expected a list of two, the lowest and the highest value",
                     channel_.components > 1 ? "By component each of the two is a list: " + range_by_component() : "");
      return false;
    }
    const KeySpec& spec = *find_key(*find_section("channel"), "range");
    const auto lows = reader_.components_of((*pair)[0], spec, reader_.path() + ".range[0]", channel_.unit);
    const auto highs = reader_.components_of((*pair)[1], spec, reader_.path() + ".range[1]", channel_.unit);
    if (!lows || !highs) return false;
    for (const auto* side : {&lows, &highs})
      if ((*side)->size() != 1 && (*side)->size() != channel_.components) {
        reader_.report(
            "feel.component_count", "range",
            fmt::format("the channel has {} components, this bound has {}", channel_.components, (*side)->size()));
        return false;
      }
    for (std::size_t i = 0; i < channel_.components; ++i) {
      channel_.range[i] = {(*lows)[lows->size() == 1 ? 0 : i], (*highs)[highs->size() == 1 ? 0 : i]};
      const auto [low, high] = channel_.range[i];
      if (!is_in_space(reading_, reader_.path() + ".range", node->where, channel_, high)) return false;
      if (low < high) continue;
      reader_.report("feel.range", "range", fmt::format("the lowest value {} is not below the highest {}", low, high));
      return false;
    }
    return true;
  }

  /// A range of several components as it is written, with a component's number where it can be told from what is there.
  std::string range_by_component() const {
    const Node* node = reader_.find("range");
    std::vector<const Node*> pairs; // one by component, however they were written
    if (const NodeList* list = node->list())
      for (const Node& one : *list) pairs.push_back(&one);
    if (const NodeTable* table = node->table())
      for (const Entry& one : *table) pairs.push_back(&one.value);
    const bool told =
        pairs.size() == channel_.components && std::all_of(pairs.begin(), pairs.end(), [](const Node* one) {
          return one->list() != nullptr && one->list()->size() == 2;
        });
    std::string ends[2];
    for (std::size_t end = 0; end < 2; ++end)
      for (std::size_t i = 0; i < channel_.components; ++i)
        ends[end] += (i == 0 ? "" : ", ") + (told ? number_in_words((*pairs[i]->list())[end]) : std::string(".."));
    return fmt::format("range = [[{}], [{}]].", ends[0], ends[1]);
  }

  static std::string number_in_words(const Node& node) {
    if (const auto* whole = std::get_if<std::int64_t>(&node.value)) return fmt::format("{}", *whole);
    if (const auto* real = std::get_if<double>(&node.value)) return shortest(*real);
    return "..";
  }

  void read_snap() {
    if (!reader_.has("snap")) return;
    channel_.snap = reader_.number("snap", channel_.unit);
    if (channel_.space.space != Space::linear)
      reader_.report("feel.snap", "snap", "only a channel of the space linear can be rounded to a grid");
  }

  void read_settle_band() {
    const Node* node = reader_.find("settle_band");
    if (node == nullptr) return;
    KeySpec spec = *find_key(*find_section("channel"), "settle_band");
    const auto percent = node->text() != nullptr ? parse_quantity(*node->text()) : std::nullopt;
    channel_.settle_band.absolute = node->text() != nullptr && !(percent && percent->unit.kind == UnitKind::percent);
    if (channel_.settle_band.absolute) spec.unit = UnitKind::channel;
    if (const auto size = reader_.number_of(*node, spec, joined_path(reader_.path(), "settle_band"), channel_.unit))
      channel_.settle_band.size = *size;
  }

  Reading& reading_;
  SectionReader reader_;
  Channel channel_;
};

} // namespace

bool is_in_space(Reading& reading, const std::string& path, Position where, const Channel& channel, double value) {
  const OpenInterval allowed = domain(channel.space);
  if (value > allowed.low && value < allowed.high) return true;
  const bool zoom = channel.space.space == Space::zoom;
  reading.report("feel.outside_space", path, where,
                 fmt::format("{}{}{} cannot {}", value, channel.unit.empty() ? "" : " ", channel.unit,
                             zoom ? "be a field of view" : "lie in the space ratio"),
                 zoom ? fmt::format("In the space zoom every value lies between 0 and {} {}, both excluded.{}",
                                    readable(allowed.high, 4), channel.unit,
                                    channel.unit == "rad" && value > allowed.high && value < 180.0
                                        ? " For degrees: unit = \"deg\"."
                                        : "")
                      : "In the space ratio every value is above 0.");
  return false;
}

void read_channels(Reading& reading) {
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    if (reading.feel.channels.size() == most_channels)
      reading.report("feel.too_many", path, entry.where,
                     fmt::format("a feel holds at most {} channels", most_channels));
    else
      reading.feel.channels.push_back(ChannelReader(reading, entry, path).read());
  });
}

} // namespace stasis
