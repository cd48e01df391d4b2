// Profiles: goals of channels read from a driving channel.
#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class ProfileReader {
public:
  ProfileReader(Reading& reading, const Entry& entry, const std::string& path)
      : reading_(reading), entry_(entry), reader_(entry.value, *find_section("profile"), path, reading.problems) {}

  void read() {
    if (entry_.value.table() == nullptr) return;
    Profile profile;
    profile.name = entry_.key;
    const auto text = reader_.text("driver");
    const auto driver = text ? component_named(reading_, reader_, "driver", *text) : std::nullopt;
    const auto roundness = reader_.number("roundness");
    if (!driver || !roundness) return;
    profile.driver = *driver;
    profile.roundness = *roundness;
    if (!read_knots(profile) || driven_.empty()) return;
    FormulaVariable variable;
    variable.component = profile.driver;
    reading_.feel.variables.push_back(variable);
    const std::size_t number = reading_.feel.variables.size() - 1;
    for (auto& [component, knots] : driven_) drive(profile, component, std::move(knots), number);
    reading_.feel.profiles.push_back(std::move(profile));
  }

private:
  bool read_knots(const Profile& profile) {
    const Node* list = reader_.find("knots");
    const std::string path = joined_path(reader_.path(), "knots");
    if (list == nullptr) return false;
    if (list->list() == nullptr || list->list()->size() < 2) {
      reading_.report("feel.not_a_list", path, list->where,
                      fmt::format("expected a list of two knots at least, found {}",
                                  list->list() != nullptr ? fmt::format("{}", list->list()->size())
                                                          : std::string(kind_in_words(*list))),
                      "A knot is a table such as { at = -20, height = 0.6, distance = 3 }.");
      return false;
    }
    const std::size_t before = reading_.problems.size();
    std::optional<double> last;
    for (std::size_t i = 0; i < list->list()->size(); ++i) {
      const std::string place = fmt::format("{}[{}]", path, i);
      const Node& node = (*list->list())[i];
      SectionReader knot(node, *find_section("profile.knot"), place, reading_.problems);
      if (node.table() == nullptr) continue;
      const auto at = knot.number("at", reading_.feel.channels[profile.driver.channel].unit);
      if (!at) continue;
      if (last && *at <= *last)
        reading_.report("feel.points", joined_path(place, "at"), knot.where("at"),
                        fmt::format("knots must ascend, but {} is not after {}", *at, *last));
      last = *at;
      for (const Entry& value : *node.table())
        if (value.key != "at") read_value(knot, value, *at, place);
    }
    return reading_.problems.size() == before;
  }

  /// `value.key` is a channel, or one component of it.
  void read_value(SectionReader& knot, const Entry& value, double at, const std::string& place) {
    const auto component = component_named(reading_, knot, value.key, value.key);
    if (!component) return;
    static constexpr KeySpec spec{.key = "value", .kind = ValueKind::number, .unit = UnitKind::channel};
    const auto number = knot.number_of(value.value, spec, joined_path(place, value.key),
                                       reading_.feel.channels[component->channel].unit);
    if (!number
        || !is_in_space(reading_, joined_path(place, value.key), value.value.where,
                        reading_.feel.channels[component->channel], *number))
      return;
    auto known = std::find_if(driven_.begin(), driven_.end(), [&](const auto& one) { return one.first == *component; });
    if (known == driven_.end()) known = driven_.insert(driven_.end(), {*component, {}});
    known->second.push_back({at, *number});
  }

  void drive(Profile& profile, ComponentRef component, std::vector<ProfileKnot> knots, std::size_t variable) {
    Channel& channel = reading_.feel.channels[component.channel];
    const std::string name = component_name(channel, component.component);
    const bool follows = channel.follow && channel.follow->follows(component.component);
    if (channel.formula[component.component] || follows)
      return reading_.report("feel.two_owners", reader_.path(), entry_.where,
                             fmt::format("{} already has a goal of its own, by {}", name,
                                         follows ? "what it follows" : "its formula or another profile"),
                             "Leave it out of one of them.");
    auto curve = std::make_shared<const ProfileCurve>(std::move(knots), profile.roundness);
    profile.driven.push_back({component, curve});
    channel.formula[component.component] = Formula::of_curve(variable, std::move(curve));
    can_follow(reading_, channel, reader_.path(), entry_.where);
  }

  Reading& reading_;
  const Entry& entry_;
  SectionReader reader_;
  std::vector<std::pair<ComponentRef, std::vector<ProfileKnot>>> driven_;
};

} // namespace

void read_profiles(Reading& reading) {
  reading.each("profile",
               [&](const Entry& entry, const std::string& path) { ProfileReader(reading, entry, path).read(); });
}

} // namespace stasis
