// A channel that goes after a subject: blend, lead, dead zone, offset, as core/take/follower has them at frames.
#include <array>
#include <utility>

#include "code/lower_tracks.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

/// The functions of one channel that follows.
class FollowText {
public:
  FollowText(Lowering& to, std::size_t channel)
      : to_(to), channel_(to.feel.channels[channel]), follow_(*channel_.follow), index_(channel),
        name_(identifier(channel_.name)), in_poses_(tracks_in_poses(to.feel, channel)),
        is_told_(!tracks_in_cues(to.feel, channel).empty()) {}

  void write() {
    write_choice();
    to_.add("/// Where {} is to be, of what it follows; `dt` is how long its lead goes on.", in_comment(channel_.name));
    to_.add("act aim_of_{}(changing State s, real dt) {{", name_);
    if (reads_view(follow_)) write_view();
    write_places();
    write_lead();
    write_zone();
    write_offset();
    to_.add("}}");
    to_.add("act look_after_{}(changing State s) {{", name_);
    if (has_choice()) to_.add("  choose_track_of_{}(s);", name_);
    if (follow_.only_in_poses) to_.add("  if (!s.goes_{}) {{ return; }}", name_);
    to_.add("  if ({}) {{ s.is_centred_{} = false; }}", of_active("leapt"), name_);
    if (works_in_axes(to_, index_)) write_axes();
    to_.add("  aim_of_{}(s, 0.0);", name_);
    each_followed([&](std::size_t i) { to_.add("  s.home[{}] = s.aim_of_{}[{}];", value(i), name_, i); });
    to_.add("}}\nact go_after_{}(changing State s, real dt) {{", name_);
    if (follow_.only_in_poses) to_.add("  if (!s.goes_{}) {{ return; }}", name_);
    to_.add("  aim_of_{}(s, dt);", name_);
    each_followed([&](std::size_t i) {
      to_.add("  s.next_home[{0}] = s.aim_of_{1}[{2}];\n  s.runs_home[{0}] = true;", value(i), name_, i);
    });
    to_.add("}}");
    if (works_in_axes(to_, index_)) write_move_along_axes();
  }

private:
  /// True if it may go after another subject.
  bool has_choice() const { return is_told_ || !in_poses_.empty(); }
  /// What the subject that is followed now has.
  std::string of_active(std::string_view what) const {
    return !has_choice() ? of_subject(to_, follow_.track, what) : fmt::format("s.subject[s.active_{}].{}", name_, what);
  }
  /// Which subject is followed, where a pose may say so: another one is taken up afresh.
  void write_choice() {
    if (!has_choice()) return;
    to_.add("act choose_track_of_{}(changing State s) {{\n  whole chosen = {};", name_,
            follow_.only_in_poses ? "-1" : track_name(to_, follow_.track));
    if (is_told_) to_.add("  if (s.told_{0} >= 0) {{ chosen = s.told_{0}; }}", name_);
    for (std::size_t i = channel_.components; i-- > 0;) { // the first component that says so decides
      to_.add("  decide(s, {});", value(i));
      for (const auto& [pose, track] : in_poses_)
        to_.add("  if (s.owner == POSE_{}) {{ chosen = {}; }}", to_.capitals(identifier(to_.feel.poses[pose].name)),
                track_name(to_, track));
    }
    if (follow_.only_in_poses) { // its own home stands by meanwhile
      to_.add("  flag went = s.goes_{0};\n  s.goes_{0} = chosen >= 0;", name_);
      each([&](std::size_t i) {
        to_.add("  if (s.goes_{0} && !went) {{ s.own_home_of_{0}[{1}] = s.home[{2}]; }}\n  if (went && !s.goes_{0}) {{ "
                "s.home[{2}] = s.own_home_of_{0}[{1}]; }}",
                name_, i, value(i));
      });
      to_.add("  if (chosen < 0) {{ return; }}");
    }
    to_.add("  if (chosen != s.active_{0}) {{ s.is_centred_{0} = false; }}\n  s.active_{0} = chosen;\n}}", name_);
  }
  /// How the view is turned and how much it sees, of the values as they are without shakes.
  void write_view() {
    const Picture& picture = to_.feel.picture;
    const auto shown = [&](std::size_t role) { return fmt::format("s.mover[{}].shown", to_.value_name({role, 0})); };
    const double aspect = static_cast<double>(picture.width) / picture.height;
    if (picture.is_flat()) {
      to_.add("  real half_high = 0.5 * {};", picture.height_channel
                                                  ? shown(*picture.height_channel)
                                                  : shown(*picture.width_channel) + " / " + literal(aspect));
      to_.add("  real half_wide = 0.5 * {};\n  real far = 1.0;",
              picture.width_channel ? shown(*picture.width_channel)
                                    : shown(*picture.height_channel) + " * " + literal(aspect));
      write_view_axes(to_);
      return;
    }
    const bool across = picture.lens_axis == Picture::LensAxis::horizontal;
    to_.add("  real half_seen = tan(0.5 * ({}));", seat_angle(to_, picture.lens_channel));
    to_.add("  real half_wide = half_seen * {};\n  real half_high = half_seen / {};", literal(across ? 1.0 : aspect),
            literal(across ? aspect : 1.0));
    const std::string side = picture.side ? shown(*picture.side) : "0.0", away = shown(*picture.distance);
    to_.add("  real far = sqrt({0} * {0} + {1} * {1});", away, side);
    write_view_axes(to_);
  }
  /// Half the zone's widths, in the unit of places.
  void write_zone_size(const DeadZone& zone) {
    to_.add("  real wide = max(0.0, {});", shown_or(zone.times_channel, zone.times));
    if (zone.measure == DeadZone::Measure::units) {
      each([&](std::size_t i) { to_.add("  real half_{} = {} * wide;", i, literal(0.5 * zone.size[i])); });
      return;
    }
    const auto share = [&](std::size_t i) {
      return literal(zone.measure == DeadZone::Measure::margin ? 1.0 - 2.0 * zone.size[i] : zone.size[i]);
    };
    to_.add(
        "  real half_0 = wide * {} * half_wide * far;\n  real half_1 = wide * {} * half_high * far;\n  real half_2 = "
        "0.0;",
        share(0), share(1));
  }

  std::string value(std::size_t component) const { return to_.value_name({index_, component}); }
  template<class Say> void each_followed(const Say& say) const {
    for (std::size_t i = 0; i < channel_.components; ++i)
      if (follow_.follows(i)) say(i);
  }
  template<class Say> void each(const Say& say) const {
    for (std::size_t i = 0; i < channel_.components; ++i) say(i);
  }
  std::string shown_or(const std::optional<ComponentRef>& read, double number) const {
    return read ? fmt::format("s.mover[{}].shown", to_.value_name(*read)) : literal(number);
  }
  /// Which component of the track a component of the channel goes after.
  std::size_t component_of_track(std::size_t i) const { return follow_.part.value_or(i); }

  void write_places() {
    each([&](std::size_t i) {
      to_.add("  real asked_{} = {};", i, of_active(fmt::format("place[{}]", component_of_track(i))));
    });
    if (!follow_.second) return;
    to_.add("  real drawn = held({}, 0.0, 1.0);", shown_or(follow_.weight_channel, follow_.weight));
    each([&](std::size_t i) {
      to_.add("  asked_{0} = (1.0 - drawn) * asked_{0} + drawn * {1};", i,
              of_subject(to_, *follow_.second, fmt::format("place[{}]", component_of_track(i))));
    });
  }

  /// The lead as three numbers, before it is cut to its longest.
  void write_raw_lead() {
    const Lead& lead = follow_.lead;
    const bool is_in_space = to_.feel.tracks[follow_.track].components == most_components;
    if (lead.by == Lead::By::velocity) {
      for (std::size_t i = 0; i < most_components; ++i)
        to_.add("  real lead_{} = {} * {};", i, literal(lead.amount), of_active(fmt::format("velocity[{}]", i)));
      return;
    }
    to_.add("  real looks = {} * {};", of_active("facing"), literal(radians(1.0)));
    const char* const in_space[] = {"-sin(looks)", "0.0", "-cos(looks)"};
    const char* const in_plane[] = {"cos(looks)", "sin(looks)", "0.0"};
    const auto& forward = is_in_space ? in_space : in_plane;
    for (std::size_t i = 0; i < most_components; ++i) to_.add("  real forward_{} = {};", i, forward[i]);
    std::string size;
    if (lead.by == Lead::By::forward_speed)
      for (std::size_t i = 0; i < most_components; ++i)
        size += fmt::format("{}{} * forward_{}", i > 0 ? " + " : "", of_active(fmt::format("velocity[{}]", i)), i);
    else
      size = lead.stick ? fmt::format("s.deflection[CONTROL_{}]",
                                      to_.capitals(identifier(to_.feel.controls[*lead.stick].name)))
                        : of_active("throttle");
    to_.add("  real ahead = {} * ({});", literal(lead.amount), size);
    for (std::size_t i = 0; i < most_components; ++i) to_.add("  real lead_{0} = ahead * forward_{0};", i);
  }

  void write_lead() {
    const Lead& lead = follow_.lead;
    if (lead.by == Lead::By::none) return;
    write_raw_lead();
    if (follow_.part) { // of its one component alone
      if (*follow_.part != 0) to_.add("  lead_0 = lead_{};", *follow_.part);
      to_.add("  lead_1 = 0.0;\n  lead_2 = 0.0;");
    }
    if (lead.longest < unbounded)
      to_.add("  real length = sqrt(lead_0 * lead_0 + lead_1 * lead_1 + lead_2 * lead_2);\n  if (length > {0}) {{\n    "
              "lead_0 = lead_0 * ({0} / length);\n    lead_1 = lead_1 * ({0} / length);\n    lead_2 = lead_2 * ({0} / "
              "length);\n  }}",
              literal(lead.longest));
    if (lead.motion) write_lead_motion(*lead.motion);
    each([&](std::size_t i) { to_.add("  asked_{0} = asked_{0} + lead_{0};", i); });
  }

  /// The lead goes after itself by a motion of its own; at the very start it is there.
  void write_lead_motion(std::size_t motion) {
    each([&](std::size_t i) {
      const std::string mover = fmt::format("s.lead_of_{}[{}]", name_, i);
      to_.add("  if (!s.has_begun_{2}) {{ rest_lead({0}, lead_{1}); }}\n  {0}.motion = MOTION_{3};\n  {0}.from_at = "
              "{0}.acting_at;\n  {0}.acting_at = lead_{1};",
              mover, i, name_, to_.capitals(to_.motion_names[motion]));
      to_.add("  if (dt > 0.0) {{\n    {0}.goal_moves = {0}.acting_at != {0}.from_at;\n    {0}.goal_speed = "
              "({0}.acting_at - {0}.from_at) / dt;\n    step_by_{1}({0}, dt);\n  }}\n  lead_{2} = {0}.value;",
              mover, to_.motion_names[motion], i);
    });
    to_.add("  s.has_begun_{} = true;", name_);
  }

  /// Only what exceeds the zone moves its centre.
  void write_zone() {
    if (!follow_.zone) return;
    const DeadZone& zone = *follow_.zone;
    const bool is_flat = to_.feel.picture.height_channel || to_.feel.picture.width_channel;
    const bool is_turned = zone.measure != DeadZone::Measure::units && !is_flat;
    write_zone_size(zone);
    each([&](std::size_t i) { to_.add("  real away_{0} = asked_{0} - s.centre_of_{1}[{0}];", i, name_); });
    const char* const off = is_turned ? "off" : "away";
    if (is_turned) {
      const char* const axes[] = {"right", "up", "back"};
      for (std::size_t i = 0; i < most_components; ++i)
        to_.add("  real off_{0} = away_0 * {1}_0 + away_1 * {1}_1 + away_2 * {1}_2;", i, axes[i]);
    }
    const char* const let = is_turned ? "let" : "kept";
    if (zone.is_ellipse) {
      to_.add("  real square = 0.0;");
      each([&](std::size_t i) {
        to_.add("  if (half_{0} > 0.0) {{ square = square + {1}_{0} / half_{0} * ({1}_{0} / half_{0}); }}", i, off);
      });
      each([&](std::size_t i) {
        to_.add(
            "  real {1}_{0} = {2}_{0};\n  if (square > 1.0) {{ {1}_{0} = {2}_{0} / sqrt(square); }}\n  if (half_{0} "
            "<= 0.0) {{ {1}_{0} = 0.0; }}",
            i, let, off);
      });
    } else {
      each([&](std::size_t i) { to_.add("  real {1}_{0} = held({2}_{0}, -half_{0}, half_{0});", i, let, off); });
    }
    if (is_turned)
      each([&](std::size_t i) {
        to_.add("  real kept_{0} = let_0 * right_{0} + let_1 * up_{0} + let_2 * back_{0};", i);
      });
    each([&](std::size_t i) {
      to_.add("  if (!s.is_centred_{1}) {{ kept_{0} = 0.0; }}\n  if (!s.is_centred_{1} || kept_{0} != away_{0}) {{ "
              "s.centre_of_{1}[{0}] = asked_{0} - kept_{0}; }}\n  asked_{0} = s.centre_of_{1}[{0}];",
              i, name_);
    });
    to_.add("  s.is_centred_{} = true;", name_);
  }

  void write_offset() {
    const Components& o = follow_.offset;
    if (follow_.offset_frame == AxisFrame::world) {
      each([&](std::size_t i) { to_.add("  s.aim_of_{}[{}] = asked_{} + {};", name_, i, i, in_brackets(o[i])); });
      return;
    }
    if (follow_.offset_frame == AxisFrame::view) {
      each([&](std::size_t i) {
        to_.add("  s.aim_of_{0}[{1}] = asked_{1} + ({2} * right_{1} + {3} * up_{1} + {4} * back_{1});", name_, i,
                in_brackets(o[0]), in_brackets(o[1]), in_brackets(o[2]));
      });
      return;
    }
    to_.add("  real turned = {} * {};", of_active(follow_.offset_frame == AxisFrame::heading ? "travel" : "facing"),
            literal(radians(1.0)));
    const std::string a = in_brackets(o[0]), b = in_brackets(o[1]), c = in_brackets(o[2]);
    const bool is_in_space = channel_.components == most_components;
    const std::string turned[] = {is_in_space ? fmt::format("{} * cos(turned) + {} * sin(turned)", a, c)
                                              : fmt::format("{} * cos(turned) - {} * sin(turned)", a, b),
                                  is_in_space ? b : fmt::format("{} * sin(turned) + {} * cos(turned)", a, b),
                                  fmt::format("{} * cos(turned) - {} * sin(turned)", c, a)};
    each([&](std::size_t i) { to_.add("  s.aim_of_{}[{}] = asked_{} + ({});", name_, i, i, turned[i]); });
  }
  /// The axes of its motions as the frame begins.
  void write_axes() {
    const auto set = [&](std::size_t axis, const std::array<std::string, most_components>& parts) {
      if (axis >= channel_.components) return;
      each(
          [&](std::size_t i) { to_.add("  s.axes_of_{}[{}] = {};", name_, axis * channel_.components + i, parts[i]); });
    };
    if (follow_.damping_frame == AxisFrame::view) {
      write_view_axes(to_);
      set(0, {"right_0", "right_1", "right_2"});
      set(1, {"up_0", "up_1", "up_2"});
      return set(2, {"back_0", "back_1", "back_2"});
    }
    to_.add("  real heading = {} * {};\n  real across = cos(heading);\n  real along = sin(heading);",
            of_active(follow_.damping_frame == AxisFrame::heading ? "travel" : "facing"), literal(radians(1.0)));
    if (channel_.components < most_components) {
      set(0, {"across", "along", ""});
      return set(1, {"-along", "across", ""});
    }
    set(0, {"across", "0.0", "-along"});
    set(1, {"0.0", "1.0", "0.0"});
    set(2, {"along", "0.0", "across"});
  }
  /// The part of a vector `NAME_0`, `NAME_1`, ... along an axis.
  std::string part_along(std::size_t axis, std::string_view name) const {
    std::string sum;
    each([&](std::size_t i) {
      sum +=
          fmt::format("{}s.axes_of_{}[{}] * {}_{}", i > 0 ? " + " : "", name_, axis * channel_.components + i, name, i);
    });
    return sum;
  }
  /// The part in the world of what has the parts `NAME_0`, `NAME_1`, ... along the axes.
  std::string part_in_world(std::size_t component, std::string_view name) const {
    std::string sum;
    each([&](std::size_t axis) {
      sum += fmt::format("{}s.axes_of_{}[{}] * {}_{}", axis > 0 ? " + " : "", name_,
                         axis * channel_.components + component, name, axis);
    });
    return sum;
  }
  /// All components go on at once, each axis by its own motion; within a frame the axes stand.
  void write_move_along_axes() {
    to_.add("act move_along_axes_of_{}(changing State s, real dt) {{", name_);
    std::string by_itself = follow_.only_in_poses ? fmt::format("!s.goes_{}", name_) : "false";
    each([&](std::size_t i) { by_itself += fmt::format(" || (any_led() && s.led[{}])", value(i)); });
    to_.add("  if ({}) {{", by_itself);
    each([&](std::size_t i) { to_.add("    move_on(s, {}, dt);", value(i)); });
    to_.add("    return;\n  }}");
    each([&](std::size_t i) {
      to_.add(
          "  run_home_on(s, {1}, dt);\n  real value_{0} = s.mover[{1}].value;\n  real speed_{0} = s.mover[{1}].speed;"
          "\n  real to_{0} = s.mover[{1}].acting_at;\n  real from_{0} = choose(s.mover[{1}].goal_moves, "
          "s.mover[{1}].from_at, to_{0});",
          i, value(i));
    });
    each([&](std::size_t i) {
      const std::string mover = fmt::format("s.mover[{}]", value(i));
      to_.add("  {0}.value = {1};\n  {0}.speed = {2};\n  {0}.from_at = {3};\n  {0}.acting_at = {4};", mover,
              part_along(i, "value"), part_along(i, "speed"), part_along(i, "from"), part_along(i, "to"));
      to_.add("  {0}.goal_moves = {0}.acting_at != {0}.from_at;\n  {0}.goal_speed = 0.0;\n  if (dt > 0.0) {{ "
              "{0}.goal_speed = ({0}.acting_at - {0}.from_at) / dt; }}\n  step({0}, dt);\n  real went_{1} = "
              "{0}.value;\n  real rate_{1} = {0}.speed;",
              mover, i);
    });
    each([&](std::size_t i) {
      to_.add("  s.mover[{0}].value = {1};\n  s.mover[{0}].speed = {2};\n  s.mover[{0}].from_at = from_{3};\n  "
              "s.mover[{0}].acting_at = to_{3};\n  finish(s.mover[{0}], {0}, dt);",
              value(i), part_in_world(i, "went"), part_in_world(i, "rate"), i);
    });
    to_.add("}}");
  }
  static std::string in_brackets(double number) { return number < 0.0 ? "(" + literal(number) + ")" : literal(number); }

  Lowering& to_;
  const Channel& channel_;
  const Follow& follow_;
  std::size_t index_;
  std::string name_;
  std::vector<std::pair<std::size_t, std::size_t>> in_poses_; ///< poses that give it a track
  bool is_told_;                                              ///< a call may give it another
};

} // namespace

void write_view_axes(Lowering& to) {
  const Picture& picture = to.feel.picture;
  if (picture.is_flat()) {
    to.add("  real roll = {};\n  real right_0 = cos(roll);\n  real right_1 = sin(roll);\n  real right_2 = 0.0;\n  "
           "real up_0 = -sin(roll);\n  real up_1 = cos(roll);\n  real up_2 = 0.0;\n  real back_0 = 0.0;\n  real "
           "back_1 = 0.0;\n  real back_2 = 1.0;",
           seat_angle(to, picture.roll));
    return;
  }
  to.add("  real yaw = {};\n  real pitch = {};\n  real roll = {};", seat_angle(to, picture.yaw),
         seat_angle(to, picture.pitch), seat_angle(to, picture.roll));
  to.add(
      "  real back_0 = sin(yaw) * cos(pitch);\n  real back_1 = -sin(pitch);\n  real back_2 = cos(yaw) * cos(pitch);");
  to.add("  real above_0 = sin(yaw) * sin(pitch);\n  real above_1 = cos(pitch);\n  real above_2 = cos(yaw) * "
         "sin(pitch);");
  to.add("  real right_0 = cos(yaw) * cos(roll) + above_0 * sin(roll);\n  real right_1 = above_1 * sin(roll);\n  real "
         "right_2 = above_2 * sin(roll) - sin(yaw) * cos(roll);");
  to.add("  real up_0 = above_0 * cos(roll) - cos(yaw) * sin(roll);\n  real up_1 = above_1 * cos(roll);\n  real up_2 = "
         "above_2 * cos(roll) + sin(yaw) * sin(roll);");
}

void lower_follow(Lowering& to, std::size_t channel) { FollowText(to, channel).write(); }

} // namespace stasis::code
