// What a channel's own way through a take was like, however its goal came about: how far, how fast, how rough. What
// each number means: docs/measures.md.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/measure/scene_frames.hpp"

namespace stasis {

/// The largest of something, and when that was.
struct Peak {
  double value = 0.0;
  double at = 0.0; ///< s
};

/// Keeps what is larger by more than a rounding: of equal peaks the first.
inline void keep_peak(Peak& peak, double value, double at) noexcept {
  constexpr double alike = 1e-12;
  if (value > peak.value * (1.0 + alike)) peak = {value, at};
}
inline void keep_peak(std::optional<Peak>& peak, double value, double at) noexcept {
  if (!peak) peak.emplace();
  keep_peak(*peak, value, at);
}

struct PathSummary {
  std::array<Peak, most_components> lowest{}, highest{}; ///< in the channel's unit
  std::array<double, most_components> reversals{};
  Peak top_speed;                                 ///< unit/s
  std::optional<Peak> top_acceleration, top_jerk; ///< unit/s2, unit/s3; none of what goes frame by frame only
  std::optional<Peak> top_speed_jump, top_acceleration_jump; ///< unit/s, unit/s2
  double travelled = 0.0;                                    ///< unit: length of the way, jumps included
  double moving_time = 0.0;                                  ///< s
  bool unbounded_speed = false, unbounded_acceleration = false, unbounded_jerk = false;
};

/// Every instant of a summary: when its peaks were.
template<class Visit> void visit_instants(PathSummary& path, Visit visit) {
  for (auto* const peaks : {&path.lowest, &path.highest})
    for (Peak& peak : *peaks) visit(peak.at);
  visit(path.top_speed.at);
  for (auto* const peak : {&path.top_acceleration, &path.top_jerk, &path.top_speed_jump, &path.top_acceleration_jump})
    if (*peak) visit((*peak)->at);
}

/// Follows a channel's output, range included, frame after frame, on the motions' own closed forms.
class PathMeter {
public:
  explicit PathMeter(const Channel& channel);

  /// Where the take begins: the value of its first row, at rest.
  void begin(const Components& value);
  /// Takes in a frame that begins at `time`, s. \param joined value and its derivatives go on from the frame before.
  void follow(const ChannelFrame& frame, double time, bool joined);
  /// Takes in a frame in which nothing moves. \param states where it stands, in the space.
  void stand(const Components& states, double time);
  /// Takes in a frame of what is left of a motion that has as good as come to rest by its end only, and says so; else
  /// the frame is to be followed. \param end, end_rate where it ends, in the space; \param dt how long it is, s.
  bool fades(const Components& end, const Components& end_rate, double time, double dt);

  /// True if the value has jumped in the frame that was taken in last.
  bool has_jumped() const noexcept { return jumped_; }
  /// What the take was like; jumps that rounding alone can make are none.
  PathSummary finish();

private:
  /// The output at one instant.
  using Output = std::array<Smooth, most_components>;
  enum class Held : std::uint8_t { free, low, high };
  using HeldBy = std::array<Held, most_components>;
  struct Stretch {
    const ChannelFrame& frame;
    double time;     ///< s: of the frame's beginning
    double from, to; ///< s into it
    HeldBy held{};   ///< by the range, all along
  };

  Output output(const ChannelInstant& now, const HeldBy& held) const noexcept;
  Output at(const Stretch& stretch, double u) const;
  HeldBy held_at(const ChannelInstant& now) const noexcept;
  bool may_meet_range(const ChannelInstant& a, const ChannelInstant& b) const noexcept;
  void follow_stretch(const ChannelFrame& frame, double time, double from, const ChannelInstant& a, double to,
                      const ChannelInstant& b);
  void follow_smooth(const Stretch& stretch, const Output& a, const Output& b);
  void note_edge(const Output& arriving, const Output& leaving, double at);
  bool value_jumps(const Output& arriving, const Output& leaving) const noexcept;
  void close_edge();
  void note_value(std::size_t component, double value, double at);
  void look_at_goals(const ChannelFrame& frame);
  /// The largest size of a value so far, from which rounding counts.
  double gone_through(std::size_t component) const noexcept;
  double speed_beyond_noise(const Output& now) const noexcept;
  void note_speed(const Stretch& stretch, const Output& a, const Output& b);
  void note_push(const Stretch& stretch, const Output& a, const Output& b);
  void note_jerk(const Stretch& stretch, const Output& a, const Output& b);
  double way_between(const Stretch& stretch, const Output& a, const Output& b) const;
  void add_moving_time(const Stretch& stretch, double from, double speed_from, double to, double speed_to);
  double span_until(const Stretch& stretch, double u, const Output& now) const;

  const Channel& channel_;
  std::size_t components_;
  std::array<ComponentRange, most_components> limits_{}; ///< in the space; infinite where they cannot be met
  bool has_limits_ = false;
  PathSummary sums_;
  Output last_{};                                            ///< where what was followed last ended
  ChannelInstant last_state_{};                              ///< the same in the space
  std::array<double, most_components> turned_at_{};          ///< the value farthest in the direction in which it goes
  std::array<int, most_components> direction_{};             ///< -1, 1; 0 before anything has moved
  std::array<ComponentRange, most_components> before_{};     ///< lowest and highest before the stretch that is followed
  std::array<double, most_components> goal_{}, goal_size_{}; ///< of the last frame, in the space; its size in the unit
  double turn_ = 0.0; ///< of a single component: s into its frame at which it turns in that stretch, else its start
  /// Where something may break, until it is known that no more breaks there.
  struct Edge {
    Output arriving, leaving;    ///< before and after it
    double at, last;             ///< s, of the first break and of the last
    double most_push, most_jerk; ///< at any of them
  };
  std::optional<Edge> edge_;
  bool ends_in_break_ = false, jumped_ = false;
  bool goes_by_frames_ = false; ///< in the frame that is followed
  bool is_by_rounding_ = false; ///< a part between two breaks that are one instant
  bool went_by_frames_ = false, went_smoothly_ = false;
  std::vector<double> cuts_;
};

} // namespace stasis
