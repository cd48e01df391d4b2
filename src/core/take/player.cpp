#include "core/take/player.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/take/channel_mover.hpp"
#include "core/take/controls.hpp"
#include "core/take/drawn_columns.hpp"
#include "core/take/drawn_frames.hpp"
#include "core/take/eye_columns.hpp"
#include "core/take/follower.hpp"
#include "core/take/formula_values.hpp"
#include "core/take/realigner.hpp"
#include "core/take/room_keeper.hpp"
#include "core/take/shaker.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class Player {
public:
  explicit Player(const Scene& scene)
      : scene_(scene), feel_(*scene.feel), order_(channel_order(feel_)), eye_(feel_),
        controls_(feel_, scene.clock, [this](ComponentRef c) { return movers_[c.channel].present(c.component); }) {
    block_.channels.resize(feel_.channels.size());
    readers_.reserve(feel_.tracks.size());
    drawn_.reserve(feel_.tracks.size());
    // A camera that is stepped on the tick sees each tick as it is; only what is drawn lies between two.
    Tick seen = scene.take->tick;
    seen.blends = seen.blends && seen.order != Tick::Order::on_tick;
    for (const Track& track : feel_.tracks) {
      readers_.emplace_back(track, seen);
      drawn_.emplace_back(track, scene.take->tick);
    }
    followers_.resize(feel_.channels.size());
    realigners_.resize(feel_.channels.size());
    rooms_.resize(feel_.channels.size());
    for (std::size_t c = 0; c < feel_.channels.size(); ++c) {
      if (feel_.channels[c].realign) realigners_[c].emplace(feel_, c);
      if (feel_.channels[c].obstacles) rooms_[c].emplace(feel_, c, *scene.take, readers_);
    }
    for (std::size_t c = 0; c < feel_.channels.size(); ++c)
      if (feel_.channels[c].follow)
        followers_[c].emplace(feel_, c, *scene.take, readers_,
                              [this](std::size_t stick) { return controls_.state(stick); });
    for (std::size_t s = 0; s < feel_.shakes.size(); ++s) shakers_.emplace_back(feel_, s, *scene.take, drawn_);
    block_.shakes.resize(shakers_.size());
    enter_tracks(0);
    start_channels();
  }

  std::vector<std::string> play(std::span<BlockSink* const> sinks) {
    for (BlockSink* sink : sinks) sink->begin(scene_);
    for (std::int64_t frame = 0; frame < scene_.clock.frames;) {
      begin_block(frame);
      for (const std::size_t c : order_) {
        if (feel_.channels[c].tie) {
          put_tied(feel_, c, block_);
          continue;
        }
        read_wishes(c, frame);
        movers_[c].fill(frame, block_.count, block_.channels[c]);
        if (rooms_[c]) rooms_[c]->hold_back(movers_[c], frame + block_.count, block_.channels[c]);
      }
      shake();
      snap_to_grids(
          feel_, [this](std::size_t row) -> const ReadComponent& { return read_row(row); }, block_);
      read_drawn_tracks(scene_, drawn_, block_);
      eye_.fill(block_);
      for (BlockSink* sink : sinks) sink->consume(block_);
      frame += block_.count;
    }
    for (BlockSink* sink : sinks) sink->end();
    return std::move(notes_);
  }

private:
  const ReadComponent& read_present() const noexcept { return at_present_; }

  /// What leads channels gives them a start as well, so they are made in order.
  void start_channels() {
    for (std::size_t c = 0; c < feel_.channels.size(); ++c)
      movers_.emplace_back(feel_, c, scene_.clock, starting_bases(c));
    for (const std::size_t c : order_) {
      const Channel& channel = feel_.channels[c];
      if (!is_led(channel)) continue;
      if (followers_[c]) {
        const FollowAim aim = followers_[c]->begin(0.0, read_present(), std::nullopt);
        if (channel.follow->starts_at_rest || channel.follow->only_in_poses) continue;
        put_aim(c, aim);
      } else {
        put_formula_bases(c, 0, read_present(),
                          [&](ComponentRef component) { return movers_[component.channel].goal(component.component); });
      }
      if (channel.is_placed) put_seat(c, read_present());
      Components start{};
      for (std::size_t i = 0; i < channel.components; ++i) start[i] = controls_.base({c, i});
      if (rooms_[c]) start[0] = std::min(start[0], rooms_[c]->limit(read_present(), seen_at(0)));
      movers_[c].place_at(start);
    }
  }

  Components starting_bases(std::size_t c) const {
    Components start{};
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) start[i] = starting_base(feel_.channels[c], i);
    return start;
  }

  void enter_tracks(std::int64_t frame) {
    for (TrackReader& reader : readers_) reader.enter(seen_at(frame));
    for (TrackReader& reader : drawn_) reader.enter(scene_.clock.time(frame));
  }

  bool sees_frame_before() const noexcept { return scene_.take->tick.order == Tick::Order::camera_first; }
  /// The time of the subject that the camera sees on a frame.
  double seen_at(std::int64_t frame) const noexcept {
    return scene_.clock.time(sees_frame_before() ? std::max<std::int64_t>(frame - 1, 0) : frame);
  }

  /// Puts what is followed into the bases of the components that follow; a lost subject leaves them at home.
  void put_aim(std::size_t c, const FollowAim& aim, bool before_zone = false) {
    const Channel& channel = feel_.channels[c];
    for (std::size_t i = 0; i < channel.components; ++i)
      if (channel.follow->follows(i))
        controls_.put_base({c, i}, aim.lost ? starting_base(channel, i) : before_zone ? aim.wish[i] : aim.goal[i]);
  }

  /// Works the formulas of a channel out and puts their values into its bases. One that is no number changes nothing.
  void put_formula_bases(std::size_t c, std::int64_t frame, const ReadComponent& smooth, const ReadComponent& goal) {
    const double time = scene_.clock.time(frame), seen = seen_at(frame);
    const Channel& channel = feel_.channels[c];
    for (std::size_t i = 0; i < channel.components; ++i) {
      if (!channel.formula[i]) continue;
      const double value = formulas_.of(*channel.formula[i], time, seen, smooth, goal);
      if (std::isfinite(value))
        controls_.put_base({c, i}, value);
      else if (const std::string note = fmt::format("{}: its formula gave no number, first at {} s; the goal stayed",
                                                    component_name(channel, i), concise(time));
               std::none_of(notes_.begin(), notes_.end(), [&](const std::string& n) {
                 return n.starts_with(component_name(channel, i) + ": its formula");
               }))
        notes_.push_back(note);
    }
  }

  /// The base of an eye that is placed.
  void put_seat(std::size_t c, const ReadComponent& read) {
    const Components eye = seated_eye(feel_, read);
    for (std::size_t i = 0; i < most_components; ++i) controls_.put_base({c, i}, eye[i]);
  }

  /// What a channel's columns of this block hold at a row; the end of the block is where the channel now is.
  double column_at(ComponentRef read, std::size_t row) const {
    if (const auto& tie = feel_.channels[read.channel].tie) return tie->times * column_at({tie->channel, 0}, row);
    const auto& column = block_.channels[read.channel].component[read.component];
    return row < column.smooth.size() && row < static_cast<std::size_t>(block_.count)
               ? column.smooth[row]
               : movers_[read.channel].present(read.component);
  }
  /// Reads channels at a row, or a share of the way to the next one.
  const ReadComponent& read_row(std::size_t row, double share = 0.0) {
    row_ = row;
    share_ = share;
    return at_row_;
  }

  /// The wishes of a channel whose goal moves by itself in this block: at each frame, and just before the end.
  void read_wishes(std::size_t c, std::int64_t frame) {
    const Channel& channel = feel_.channels[c];
    ChannelBlock& out = block_.channels[c];
    std::array<std::optional<std::size_t>, most_components> mover;
    bool moves = is_led(channel) || movers_[c].keeps_way();
    for (std::size_t i = 0; i < channel.components; ++i) {
      out.component[i].wishes.clear();
      out.component[i].knots.clear();
      out.component[i].free_wishes.clear();
      mover[i] = controls_.moving_base({c, i});
      moves = moves || mover[i];
    }
    out.axes.clear();
    if (!moves) return;
    const bool turned = channel.follow && channel.follow->damping_frame != AxisFrame::world;
    const auto rows = static_cast<std::size_t>(block_.count) + 1;
    for (std::size_t r = 0; r < rows; ++r) {
      const double time = scene_.clock.time(frame + static_cast<std::int64_t>(r));
      if (is_following(c)) {
        if (r > 0 && !sees_frame_before()) put_corners(c, frame, r - 1);
        if (r > 0) aims_[c] = followers_[c]->go_on(seen_at(frame + static_cast<std::int64_t>(r)), read_row(r));
        put_aim(c, aims_[c]);
      } else {
        put_formula_bases(c, frame + static_cast<std::int64_t>(r), read_row(r), [&](ComponentRef read) {
          return block_.channels[read.channel].component[read.component].goal_at(r);
        });
        if (channel.is_placed) put_seat(c, read_row(r));
      }
      if (realigners_[c] && !mover[0]) put_heading(c, frame + static_cast<std::int64_t>(r));
      for (std::size_t i = 0; i < channel.components; ++i)
        out.component[i].wishes.push_back(mover[i] ? controls_.wish_with_base(c, i, controls_.base_at(*mover[i], time))
                                                   : controls_.wish(c, i).value);
      if (channel.follow && channel.follow->zone) put_free_wishes(c);
      if (turned && r + 1 < rows)
        out.axes.push_back(followers_[c]->damping_axes(seen_at(frame + static_cast<std::int64_t>(r)), read_row(r)));
    }
    if (rooms_[c])
      rooms_[c]->fill([this](std::size_t row, double share) -> const ReadComponent& { return read_row(row, share); },
                      [this](std::int64_t at) { return seen_at(at); }, scene_.clock, frame, movers_[c], out);
    for (std::size_t i = 0; i < channel.components && !turned && !movers_[c].keeps_way(); ++i)
      drop_standing(out.component[i], out.ceilings);
  }

  /// Of a channel that turns back: its base is the heading, while it turns and there is one.
  void put_heading(std::size_t c, std::int64_t frame) {
    if (!realigners_[c]->is_turning()) return;
    const Realign& rule = realigners_[c]->rule();
    const TrackPoint subject = rule.to == Realign::To::heading
                                   ? TrackPoint{}
                                   : readers_[played_track(*scene_.take, rule.track)].at(seen_at(frame));
    if (const auto heading = realigners_[c]->heading(subject)) controls_.put_base({c, 0}, *heading);
  }

  /// Tells what turns a channel back whether anybody touches it: a stick, or a pointer in a cue of this frame.
  void look_at_touches(std::size_t c, std::int64_t frame, std::size_t first_cue) {
    bool held = false, moved = false;
    for (std::size_t k = 0; k < feel_.controls.size(); ++k) {
      const Control& control = feel_.controls[k];
      const ComponentRef* target = target_of(control);
      if (target == nullptr || target->channel != c) continue;
      held = held || (std::holds_alternative<Stick>(control.rule) && controls_.state(k) != 0.0);
      for (std::size_t cue = first_cue; cue < next_cue_; ++cue)
        moved = moved || (std::holds_alternative<Pointer>(control.rule) && scene_.take->cues[cue].control == k);
    }
    const bool before = realigners_[c]->is_turning();
    realigners_[c]->look(scene_.clock.time(frame), held, moved);
    if (realigners_[c]->is_turning() && !before) add_cause("realign " + feel_.channels[c].name);
  }

  /// A goal that stands needs no columns.
  static void drop_standing(ComponentBlock& column, const std::vector<double>& ceilings) {
    const double first = column.wishes[0];
    const bool stands =
        std::all_of(column.wishes.begin(), column.wishes.end(), [&](double w) { return w == first; })
        && std::all_of(ceilings.begin(), ceilings.end(), [&](double c) { return c >= first || c == ceilings.front(); })
        && std::all_of(column.knots.begin(), column.knots.end(),
                       [&](const ComponentBlock::Knot& knot) { return knot.wish == first; });
    if (!stands) return;
    column.wishes.clear();
    column.knots.clear();
  }

  /// Corners of the followed goal within the frame that begins at a row.
  void put_corners(std::size_t c, std::int64_t frame, std::size_t row) {
    const std::int64_t at = frame + static_cast<std::int64_t>(row);
    const double from = scene_.clock.time(at), to = scene_.clock.time(at + 1);
    instants_.clear();
    followers_[c]->add_corners(from, to, instants_);
    // A corner that misses a frame by a rounding is that frame.
    constexpr double alike = 1e-11;
    std::erase_if(instants_, [&](double i) { return i - from < alike || to - i < alike; });
    for (const double instant : instants_) {
      put_aim(c, followers_[c]->go_on(instant, read_row(row, (instant - from) / (to - from))));
      for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
        block_.channels[c].component[i].knots.push_back({row, instant - from, controls_.wish(c, i).value});
    }
  }

  void put_free_wishes(std::size_t c) {
    put_aim(c, aims_[c], true);
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
      block_.channels[c].component[i].free_wishes.push_back(controls_.wish(c, i).value);
    put_aim(c, aims_[c]);
  }

  /// What shakes add comes after everything else, and nothing reads it.
  void shake() {
    for (std::size_t s = 0; s < shakers_.size(); ++s) {
      ShakeBlock& out = block_.shakes[s];
      shakers_[s].fill(
          block_, scene_.clock, [this](std::size_t row) -> const ReadComponent& { return read_row(row); }, out);
      if (!out.is_felt) continue;
      for (std::size_t t = 0; t < out.parts.size(); ++t) {
        const ComponentRef target = feel_.shakes[s].targets[t].component;
        std::vector<double>& value = block_.channels[target.channel].component[target.component].value;
        for (std::size_t row = 0; row < value.size(); ++row) value[row] += out.parts[t][row];
      }
    }
  }

  void add_cause(const std::string& what) {
    if (!what.empty()) block_.cause += (block_.cause.empty() ? "" : ", ") + what;
  }

  /// Applies the cues due at `frame`, reads the goals once, and sets the block's extent.
  void begin_block(std::int64_t frame) {
    const auto& cues = scene_.take->cues;
    block_.first = frame;
    block_.cause.clear();
    controls_.run_bases(scene_.clock.time(frame));
    enter_tracks(frame);
    const std::size_t first_cue = next_cue_;
    for (; next_cue_ < cues.size() && due_frame(scene_.clock, cues[next_cue_].at) <= frame; ++next_cue_) {
      // What repeated before this cue came first; the frame itself is asked only after its cues.
      add_cause(controls_.repeat_until(cues[next_cue_].at, frame - 1));
      add_cause(cues[next_cue_].action == CueAction::hit ? hit(cues[next_cue_], frame)
                                                         : controls_.apply(cues[next_cue_], frame, notes_));
    }
    add_cause(controls_.repeat_until(scene_.clock.drawn_time(frame), frame));
    add_cause(controls_.look_at_switches(frame));
    std::int64_t next = next_cue_ < cues.size() ? due_frame(scene_.clock, cues[next_cue_].at) : scene_.clock.frames;
    next = std::min(next, controls_.next_event(frame));
    for (std::size_t c = 0; c < realigners_.size(); ++c) {
      if (!realigners_[c]) continue;
      look_at_touches(c, frame, first_cue);
      if (const double at = realigners_[c]->begins_at(); at < never)
        next = std::min(next, std::max(frame + 1, first_frame_at(scene_.clock, at)));
    }
    for (const auto* readers : {&readers_, &drawn_})
      for (const TrackReader& reader : *readers)
        if (reader.stretch_end() < scene_.clock.time(scene_.clock.frames)) {
          const std::int64_t late = readers == &readers_ && sees_frame_before() ? 1 : 0;
          next = std::min(next, std::max(frame + 1, first_frame_at(scene_.clock, reader.stretch_end()) + late));
        }
    const bool feeds_back = std::any_of(followers_.begin(), followers_.end(),
                                        [](const auto& follower) { return follower && follower->feeds_back(); });
    // A switch looks at every frame, and so does what an obstacle may hold or another channel slows down.
    const bool is_watched = std::any_of(feel_.channels.begin(), feel_.channels.end(), [](const Channel& channel) {
      return channel.obstacles || channel.motion_times_channel;
    });
    const std::int64_t longest = feel_.switches.empty() && !feeds_back && !is_watched ? longest_block : 1;
    block_.count = std::min({longest, next - frame, scene_.clock.frames - frame});
    block_.control_down = controls_.down();
    block_.switches.resize(feel_.switches.size());
    for (std::size_t s = 0; s < feel_.switches.size(); ++s) block_.switches[s] = controls_.is_in(s) ? 1 : 0;
    block_.lost_presses = controls_.take_lost_presses();
    block_.control_state.resize(feel_.controls.size());
    for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
      block_.control_state[c] = controls_.state(c);
    }
    for (const std::size_t c : order_) {
      const Channel& channel = feel_.channels[c];
      if (channel.tie) continue;
      movers_[c].slow_down(channel.motion_times_channel ? read_present()(*channel.motion_times_channel)
                                                        : channel.motion_times);
      if (realigners_[c]) put_heading(c, frame);
      if (followers_[c])
        follow(c, frame);
      else if (has_formula(feel_.channels[c]))
        put_formula_bases(c, frame, read_present(),
                          [&](ComponentRef r) { return movers_[r.channel].goal(r.component); });
      if (feel_.channels[c].is_placed) put_seat(c, read_present());
      if (rooms_[c])
        add_cause(rooms_[c]->look(read_present(), seen_at(frame), frame, movers_[c], controls_, block_.channels[c]));
      movers_[c].read_goals(controls_, frame, block_.channels[c]);
      const int clicks = controls_.take_clicks(c);
      block_.channels[c].unseen_clicks = rooms_[c] && rooms_[c]->holds() && !block_.channels[c].moved ? clicks : 0;
    }
    for (const ChannelMover& mover : movers_) block_.count = mover.unbroken_frames(frame, block_.count);
  }

  std::string hit(const Cue& cue, std::int64_t frame) {
    const Shake& shake = feel_.shakes[cue.shake];
    const std::optional<Components> eye = shake.falloff ? camera_view(feel_, read_present()).eye : std::nullopt;
    shakers_[cue.shake].hit(cue, frame, scene_.clock, eye);
    return {}; // no goal has jumped by it
  }

  /// True if it follows something in this block: a channel may do so only while a pose gives it a track.
  bool is_following(std::size_t c) const {
    return followers_[c] && (!feel_.channels[c].follow->only_in_poses || own_bases_[c]);
  }

  /// Of a channel that follows only while a pose gives it a track: its own base stands by meanwhile. \returns true if
  /// it follows now.
  bool take_or_leave_track(std::size_t c, bool follows) {
    std::optional<Components>& own = own_bases_[c];
    if (follows && !own) {
      own.emplace();
      for (std::size_t i = 0; i < feel_.channels[c].components; ++i) (*own)[i] = controls_.own_base({c, i});
    } else if (!follows && own) {
      for (std::size_t i = 0; i < feel_.channels[c].components; ++i) controls_.put_base({c, i}, (*own)[i]);
      own.reset();
    }
    return follows;
  }

  /// The followed goal at a block's first frame.
  void follow(std::size_t c, std::int64_t frame) {
    const auto given = controls_.track_for(c);
    if (feel_.channels[c].follow->only_in_poses && !take_or_leave_track(c, given.has_value())) {
      block_.channels[c].track = 0;
      return;
    }
    aims_[c] = followers_[c]->begin(seen_at(frame), read_present(), given);
    put_aim(c, aims_[c]);
    block_.channels[c].track = aims_[c].lost ? 0 : followers_[c]->track() + 1;
  }

  Scene scene_;
  const Feel& feel_;
  std::vector<std::size_t> order_;                 // of the channels: a formula after what it reads
  std::vector<TrackReader> readers_, drawn_;       // by track: as the camera sees them, as they are drawn
  std::vector<std::optional<Follower>> followers_; // by channel
  std::vector<Shaker> shakers_;                    // by shake
  std::vector<std::optional<Components>> own_bases_ = std::vector<std::optional<Components>>(feel_.channels.size());
  std::vector<FollowAim> aims_ = std::vector<FollowAim>(feel_.channels.size()); // by channel: at the last instant
  std::vector<double> instants_;
  std::size_t row_ = 0; // read by at_row_
  double share_ = 0.0;
  std::vector<std::optional<Realigner>> realigners_; // by channel
  std::vector<std::optional<RoomKeeper>> rooms_;     // by channel
  EyeColumns eye_;
  const ReadComponent at_present_ = [this](ComponentRef read) {
    const auto& tie = feel_.channels[read.channel].tie;
    return tie ? tie->times * movers_[tie->channel].present(0) : movers_[read.channel].present(read.component);
  };
  const ReadComponent at_row_ = [this](ComponentRef read) {
    const double here = column_at(read, row_);
    return share_ == 0.0 ? here : here + (column_at(read, row_ + 1) - here) * share_;
  };
  Controls controls_;
  FormulaValues formulas_{feel_, *scene_.take, readers_, controls_};
  Block block_;
  std::vector<ChannelMover> movers_;
  std::vector<std::string> notes_;
  std::size_t next_cue_ = 0;
};

} // namespace

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  if (scene.take->tick.order != Tick::Order::on_tick) return Player(scene).play(sinks);
  DrawnFrames frames(scene, sinks);
  BlockSink* const ticks[] = {&frames};
  return Player(frames.tick_scene()).play(ticks);
}

namespace {

bool turns_back(const Feel& feel, const MotionChoices& choices) {
  return std::any_of(choices.begin(), choices.end(), [&](const MotionChoice& choice) {
    for (const std::size_t index : {choice.rising, choice.falling})
      if (const Ease* ease = ease_of(feel.motions[index].motion); ease != nullptr && ease->there_and_back) return true;
    return false;
  });
}

bool leaves_range(const Channel& channel, const PoseGoal& goal) {
  for (std::size_t i = 0; i < channel.components; ++i) {
    const double value = goal.value[i].of(channel.rest[i]);
    if (goal.value[i].rule != GoalRule::none && (value < channel.range[i].low || value > channel.range[i].high))
      return true;
  }
  return false;
}

} // namespace

namespace {

/// True if controls may ask for what the range does not allow: a mirrored side, a sum.
bool may_be_asked_too_much(const Feel& feel, std::size_t channel) {
  const bool mirrored = std::any_of(feel.controls.begin(), feel.controls.end(), [&](const Control& control) {
    const auto* mirror = std::get_if<Mirror>(&control.rule);
    return mirror != nullptr && mirror->target.channel == channel;
  });
  const bool summed = std::any_of(feel.groups.begin(), feel.groups.end(),
                                  [](const Group& group) { return group.policy == Policy::sum; });
  return mirrored || summed;
}

} // namespace

bool has_shift_column(const Feel& feel, std::size_t channel) {
  return feel.channels[channel].snap && (feel.picture.height_channel || feel.picture.width_channel);
}

bool has_wish_column(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  if (may_be_asked_too_much(feel, channel) || is_led(declared)) return true;
  if (declared.space.space == Space::turn || turns_back(feel, declared.motion)) return true;
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.channel == channel
          && (leaves_range(declared, goal) || (goal.entering && turns_back(feel, *goal.entering))))
        return true;
  return false;
}

} // namespace stasis
