// What the parts of lowering share: the text so far and the numbers of things.
#pragma once

#include <set>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "code/lower_feel.hpp"

namespace stasis::code {

class Lowering {
public:
  explicit Lowering(const Feel& feel);

  const Feel& feel;
  Lowered out;
  std::vector<ComponentRef> components;  ///< the values, as they are numbered
  std::vector<std::string> motion_names; ///< of each motion of the feel, as in constants
  std::vector<std::size_t> used_motions; ///< that something may move by
  std::set<std::size_t> slowed_by_value; ///< motions whose pace another value sets, on each frame
  std::vector<std::uint8_t> follows;     ///< by channel: 1 where it goes after a subject that the program is told about
  std::vector<std::uint8_t> has_formula; ///< by channel: 1 where its goals are worked out by formulas that are written

  template<class... Values> void add(fmt::format_string<Values...> text, Values&&... values) {
    fmt::format_to(std::back_inserter(out.text), text, std::forward<Values>(values)...);
    out.text += '\n';
  }
  void heading(std::string_view words) { add("heading /// {}", words); }
  template<class... Values> void fault(fmt::format_string<Values...> text, Values&&... values) {
    out.faults.push_back(fmt::format(text, std::forward<Values>(values)...));
  }
  template<class... Values> void leave(fmt::format_string<Values...> text, Values&&... values) {
    out.left.push_back(fmt::format(text, std::forward<Values>(values)...));
  }
  std::string value_name(ComponentRef component) const;
  std::string capitals(const std::string& name) const;
  /// "one function of a component, a branch each, and what holds for all others".
  template<class Of>
  void by_component(std::string_view type, std::string_view name, std::string_view words, Of of,
                    std::string_view otherwise) {
    if (!words.empty()) add("/// {}", words);
    add("{} {}(whole c) {{", type, name);
    for (std::size_t c = 0; c < components.size(); ++c)
      if (const std::string value = of(c); !value.empty())
        add("  if (c == {}) {{ return {}; }}", value_name(components[c]), value);
    add("  return {};\n}}", otherwise);
  }
  template<class Of> void by_control(std::string_view type, std::string_view name, Of of, std::string_view otherwise) {
    add("{} {}(whole control) {{", type, name);
    for (std::size_t k = 0; k < feel.controls.size(); ++k)
      if (const std::string value = of(k); !value.empty())
        add("  if (control == CONTROL_{}) {{ return {}; }}", capitals(identifier(feel.controls[k].name)), value);
    add("  return {};\n}}", otherwise);
  }
};

/// The motions by which a value, or a channel, may move, ascending.
std::vector<std::size_t> motions_of(const Feel& feel, ComponentRef value);
std::vector<std::size_t> motions_of(const Feel& feel, std::size_t channel);

bool by_pace(const Motion& motion);
/// True if a channel of several components may move by such a motion, which takes them together.
bool goes_together(const Feel& feel, std::size_t channel, bool (*is)(const Motion&));
/// Expressions that bring `value` into the scale in which a channel's motions work, and out of it again: `value` itself
/// where that is its own scale.
struct ScaleText {
  std::string in, out;
};
ScaleText scale_text(const Channel& channel, const std::string& value);

inline const Channel& channel_of(const Lowering& to, ComponentRef one) { return to.feel.channels[one.channel]; }
/// True if a cue of any take does so: the program has a call for it.
bool has_cue(const Feel& feel, CueAction action) noexcept;
inline bool locks(const Feel& feel) noexcept { return has_cue(feel, CueAction::lock); }
/// True of a ring that a cue of any take kicks in a direction of its own: a call does so too.
bool is_directed(const Feel& feel, const Shake& shake) noexcept;
/// True if anything goes by the clock while the game is slowed, hands on a wheel among them: it is told how long a
/// frame takes there.
bool has_clock(const Feel& feel) noexcept;
/// What the state has of a time, and of the frame's length by it.
inline const char* time_by(RunsOn which) noexcept { return which == RunsOn::clock ? "s.clock_time" : "s.time"; }
inline const char* step_by(RunsOn which) noexcept { return which == RunsOn::clock ? "s.clock_step" : "dt"; }
/// True if obstacles hold any value in.
bool has_limits(const Feel& feel) noexcept;
/// A channel's unit for a comment.
std::string unit_words(const Channel& channel);

/// A track that the program can be told about: it lies in the world, and is always there.
bool is_told(const Feel& feel, std::size_t track);
/// True if what a channel follows, turns back to, or is placed by is in the program.
bool is_followed(const Feel& feel, std::size_t channel);
/// Notes the tracks that the program reads, ascending, and what of them.
void note_tracks(Lowering& to);
void lower_track_constants(Lowering& to);
/// Further fields of `State`: what is kept of subjects and of what goes after them.
void lower_track_fields(Lowering& to);
/// Subjects, and for each channel that goes after one what its home is: `look_after_NAME(s)` as a frame begins,
/// `go_after_NAME(s, dt)` as it ends.
void lower_tracks(Lowering& to);
/// True if a channel has these two functions.
bool goes_after(const Lowering& to, std::size_t channel);
/// True if a channel's goal may run by itself behind a delay, so that its way is kept.
bool keeps_way(const Lowering& to, std::size_t channel);
/// True if its motions work along axes that turn: it goes on by `move_along_axes_of_NAME(s, dt)`.
bool works_in_axes(const Lowering& to, std::size_t channel);

// What a feel consists of, in the order in which it is written.
void lower_constants(Lowering& to);
void lower_motion_constants(Lowering& to);
void lower_records(Lowering& to);
void lower_lookups(Lowering& to);
void lower_links(Lowering& to);
void lower_motions(Lowering& to);
/// `go_behind_NAME(m, dt)`: the step of a chain whose first stage is an eased or paced move; `head` is that one's step.
void lower_chain(Lowering& to, const std::string& name, const Chain& chain, const std::string& head);
/// Bounds the rates at which links in a row change, 1/s: parts that are short beside it need few terms of a series.
double quickest_of(const Chain& chain);
/// What glides and springs in a row need: `pass_NAME`, `plan_NAME`.
void lower_row(Lowering& to, const std::string& name, const Chain& chain);
/// Their step, by these.
std::string row_step(const std::string& name, const Chain& chain);
/// The records of every feel; only how many numbers such a step is kept as differs.
void lower_common_records(Lowering& to);
/// What poses, groups and conditions say, before the part that decides by it; then what inputs do.
void lower_controls_first(Lowering& to);
void lower_controls(Lowering& to);
/// `state_of(s, control)`: what formulas read of controls.
void lower_states_of_controls(Lowering& to);
/// `curve_of_NAME(t)` and `slope_of_NAME(t)`.
void lower_curve(Lowering& to, const std::string& name, const Curve& curve);
/// `SHAKE_VALUE(since, time)` for each value that a shake moves: what a full hit adds to it, `since` seconds after it.
/// \returns why there is none, as the end of a sentence; empty if there is.
std::string lower_shake_of_time(Lowering& to, std::size_t shake);
void lower_shakes(Lowering& to);
/// Goals that formulas and profiles give: `home_by_formula(s, c, time)`, and what they need.
void lower_formulas(Lowering& to);
/// Sticks and pointers: what they do when they are moved, and between frames.
void lower_sticks(Lowering& to);
void lower_frame(Lowering& to);
/// Where the eye is, where the picture says it by what is looked at and how far off.
void lower_eye(Lowering& to);

} // namespace stasis::code
