// The order in which channels are worked out in a frame: each after those that it reads; cycles are refused.
#include <algorithm>

#include <fmt/format.h>

#include "core/feel/feel.hpp"
#include "core/feel/goal_source.hpp"
#include "core/feel/reading.hpp"

namespace stasis {
namespace {

/// The channels that turn the camera or say how large the picture is, but not where it is: what a placed eye adds to
/// them of its own comes after all that is followed.
std::vector<std::size_t> view_channels(const Picture& picture) {
  std::vector<std::size_t> channels;
  for (const auto& one : {picture.yaw, picture.pitch, picture.roll, picture.lens_channel, picture.height_channel,
                          picture.width_channel, picture.distance, picture.side})
    if (one) channels.push_back(*one);
  return channels;
}

/// True if the channel's goal depends on how the camera is turned or how much it sees.
bool reads_view(const Feel& feel, const Channel& channel) {
  const Follow& follow = *channel.follow;
  const auto in_picture = [&](std::size_t track) { return feel.tracks[track].in != TrackPlace::world; };
  return follow.offset_frame == AxisFrame::view || follow.damping_frame == AxisFrame::view
         || (follow.zone && follow.zone->measure != DeadZone::Measure::units) || in_picture(follow.track)
         || (follow.second && in_picture(*follow.second));
}

/// Channels whose value of this frame a channel's goal is made from.
std::vector<std::size_t> read_by(const Feel& feel, const Channel& channel) {
  std::vector<std::size_t> read;
  for (const auto& formula : channel.formula)
    if (formula)
      for (const std::size_t v : formula->variables()) {
        const FormulaVariable& variable = feel.variables[v];
        if (variable.kind == FormulaVariable::Kind::smooth || variable.kind == FormulaVariable::Kind::goal)
          read.push_back(variable.component.channel);
      }
  if (channel.follow) {
    if (channel.follow->weight_channel) read.push_back(channel.follow->weight_channel->channel);
    if (channel.follow->zone && channel.follow->zone->times_channel)
      read.push_back(channel.follow->zone->times_channel->channel);
    if (reads_view(feel, channel))
      for (const std::size_t view : view_channels(feel.picture)) read.push_back(view);
  }
  const Picture& picture = feel.picture;
  if (channel.is_placed || (channel.obstacles && channel.obstacles->has_ray))
    for (const auto& one : {picture.focus, picture.yaw, picture.pitch, picture.side})
      if (one) read.push_back(*one);
  if (channel.is_placed) read.push_back(*picture.distance);
  return read;
}

/// The places that the view of a channel which goes by it hangs on.
std::vector<std::size_t> places_of_view(const Feel& feel, std::size_t channel) {
  std::vector<std::size_t> places;
  if (!feel.channels[channel].follow || !reads_view(feel, feel.channels[channel]) || !is_view_from_a_place(feel))
    return places;
  for (const auto& place : {feel.picture.position, feel.picture.focus})
    if (place) places.push_back(*place);
  return places;
}

/// True if a channel's value of a frame is made from another one's of that frame, or would be.
bool hangs_on(const Feel& feel, std::size_t channel, std::size_t other) {
  std::vector<std::uint8_t> seen(feel.channels.size());
  std::vector<std::size_t> left{channel};
  while (!left.empty()) {
    const std::size_t one = left.back();
    left.pop_back();
    if (one == other) return true;
    if (std::exchange(seen[one], 1) != 0) continue;
    for (const std::size_t read : read_by(feel, feel.channels[one])) left.push_back(read);
    for (const std::size_t place : places_of_view(feel, one)) left.push_back(place);
  }
  return false;
}

/// Orders the channels; a cycle is reported with its whole way round.
class Order {
public:
  explicit Order(Reading& reading) : reading_(reading), state_(reading.feel.channels.size(), State::fresh) {}

  void find() {
    for (std::size_t c = 0; c < state_.size(); ++c) visit(c);
    if (!broken_) reading_.feel.order = std::move(order_);
  }

private:
  enum class State : std::uint8_t { fresh, open, done };

  void visit(std::size_t c) {
    if (state_[c] == State::done || broken_) return;
    if (state_[c] == State::open) return report(c);
    state_[c] = State::open;
    way_.push_back(c);
    for (const std::size_t read : read_by(reading_.feel, reading_.feel.channels[c])) visit(read);
    // A view that hangs on the channel is that of one frame ago.
    for (const std::size_t place : places_of_view(reading_.feel, c))
      if (!hangs_on(reading_.feel, place, c)) visit(place);
    way_.pop_back();
    state_[c] = State::done;
    order_.push_back(c);
  }

  void report(std::size_t c) {
    broken_ = true;
    std::string round;
    for (auto at = std::find(way_.begin(), way_.end(), c); at != way_.end(); ++at)
      round += reading_.feel.channels[*at].name + " reads ";
    const std::string& name = reading_.feel.channels[c].name;
    const Node* channels = reading_.document.find("channel");
    const Node* channel = channels != nullptr ? channels->find(name) : nullptr;
    for (const Profile& profile : reading_.feel.profiles)
      for (const Profile::Driven& driven : profile.driven)
        if (driven.component.channel == c) return report_profile(profile, round + name);
    const char* key = "follow";
    for (const char* const other : {"obstacles", "placed", "formula"})
      if (channel != nullptr && channel->find(other) != nullptr) key = other;
    const Node* formula = channel != nullptr ? channel->find(key) : nullptr;
    reading_.report("feel.formula_cycle", joined_path(joined_path("channel", name), key),
                    formula != nullptr ? formula->where : Position{},
                    fmt::format("a channel cannot depend on itself in one frame: {}{}", round, name),
                    "Let one of them read a channel that does not depend on it.");
  }

  void report_profile(const Profile& profile, const std::string& round) {
    const Node* node = reading_.document.find("profile")->find(profile.name);
    reading_.report("feel.formula_cycle", joined_path("profile", profile.name), node->where,
                    fmt::format("a channel cannot depend on itself in one frame: {}", round),
                    "Let a profile drive channels that its driver does not depend on.");
  }

  Reading& reading_;
  std::vector<State> state_;
  std::vector<std::size_t> way_, order_;
  bool broken_ = false;
};

} // namespace

void read_order(Reading& reading) {
  if (!reading.problems.empty()) return;
  bool any = false;
  for (std::size_t c = 0; c < reading.feel.channels.size(); ++c) any = any || is_led(reading.feel, c);
  if (any) Order(reading).find();
}

} // namespace stasis
