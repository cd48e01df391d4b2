// How long the range alone holds a channel's output, inside frames too.
#pragma once

#include <vector>

#include "core/measure/channel_frame.hpp"

namespace stasis {

class LimitWatch {
public:
  explicit LimitWatch(const Channel& channel);

  /// True if the range has an end at which it may hold.
  bool has_limits() const noexcept { return has_limits_; }
  /// Takes in a whole frame.
  void follow(const ChannelFrame& frame);
  /// Takes in a frame of `dt` seconds in which the value stands.
  void follow_standing(const Components& states, double dt);
  /// s for which a component at least was held so far.
  double time() const noexcept { return time_; }

private:
  bool is_beyond(std::size_t component, double state) const noexcept {
    return state < limits_[component].low || state > limits_[component].high;
  }
  bool is_held(const ChannelInstant& now) const noexcept;

  std::size_t components_;
  std::array<ComponentRange, most_components> limits_{}; // in the space; infinite where there is none
  bool has_limits_ = false;
  std::vector<double> cuts_;
  double time_ = 0.0;
};

/// The ends of a component's output range in the channel's space; infinite where they cannot be met.
ComponentRange limits_in_space(const Channel& channel, std::size_t component) noexcept;
/// The first of a block's rows in which a goal lies at an end of what the space can hold, where the range has none.
std::optional<std::size_t> row_at_end_of_space(const Channel& channel, const ChannelBlock& columns, std::size_t rows);

} // namespace stasis
