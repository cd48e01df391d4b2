#include "core/take/frame_player.hpp"

#include <algorithm>
#include <cmath>

#include "core/feel/goal_source.hpp"
#include "core/take/drawn_columns.hpp"
#include "core/take/player.hpp"

namespace stasis {
namespace {

double value_of(const Feel& feel, ComponentRef read, const auto& of_mover) {
  const auto& tie = feel.channels[read.channel].tie;
  return tie ? tie->times * of_mover(ComponentRef{tie->channel, 0}) : of_mover(read);
}

/// Where a goal stands over a frame it has no corner in it: a frame is split alike however many of them come at once.
void drop_standing_corners(ComponentBlock& column) {
  for (auto first = column.knots.begin(); first != column.knots.end();) {
    const std::size_t row = first->row;
    const auto end = std::find_if(first, column.knots.end(), [&](const auto& knot) { return knot.row != row; });
    const double wish = column.wishes[row];
    const bool stands =
        column.wishes[row + 1] == wish && std::all_of(first, end, [&](const auto& knot) { return knot.wish == wish; });
    first = stands ? column.knots.erase(first, end) : end;
  }
}

/// A goal that stands needs no columns.
void drop_standing_wishes(ComponentBlock& column, const std::vector<double>& ceilings) {
  const double first = column.wishes[0];
  const auto all = [](const std::vector<double>& numbers, const auto& is) {
    return std::all_of(numbers.begin(), numbers.end(), is);
  };
  // The room is measured on each frame: what differs by a rounding stands.
  const auto is_as = [](double c, double other) {
    return c == other || (std::isfinite(other) && std::fabs(c - other) <= 1e-12 * std::max(1.0, std::fabs(other)));
  };
  const bool stands =
      all(column.wishes, [&](double w) { return w == first; })
      && (all(ceilings, [&](double c) { return c >= first; })
          || all(ceilings, [&](double c) { return is_as(c, ceilings.front()); })) // one that passes the wish turns it
      && std::all_of(column.knots.begin(), column.knots.end(),
                     [&](const ComponentBlock::Knot& knot) { return knot.wish == first; });
  if (!stands) return;
  column.wishes.clear();
  column.knots.clear();
}

} // namespace

FramePlayer::FramePlayer(const Scene& scene)
    : scene_(scene), feel_(*scene.feel), order_(channel_order(feel_)), eye_(feel_),
      controls_(feel_, scene.clock, [this](ComponentRef c) { return movers_[c.channel].present(c.component); }),
      sequencer_(feel_, scene.clock), at_present_([this](ComponentRef read) {
        return value_of(feel_, read, [this](ComponentRef c) { return movers_[c.channel].present(c.component); });
      }),
      at_goal_([this](ComponentRef read) { return movers_[read.channel].goal(read.component); }),
      at_row_([this](ComponentRef read) {
        const double here = column_at(read, row_);
        return share_ == 0.0 || is_cut(read, row_) ? here : here + (column_at(read, row_ + 1) - here) * share_;
      }) {
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
  rooms_.resize(feel_.channels.size());
  for (std::size_t c = 0; c < feel_.channels.size(); ++c)
    if (feel_.channels[c].obstacles) rooms_[c].emplace(feel_, c, *scene.take, readers_);
  for (std::size_t s = 0; s < feel_.shakes.size(); ++s) shakers_.emplace_back(feel_, s, *scene.take, drawn_);
  block_.shakes.resize(shakers_.size());
  enter_tracks(0);
  start_channels();
}

/// What leads channels gives them a start as well, so they are made in order.
void FramePlayer::start_channels() {
  for (std::size_t c = 0; c < feel_.channels.size(); ++c) is_led_.push_back(is_led(feel_, c));
  for (std::size_t c = 0; c < feel_.channels.size(); ++c) {
    Components start{};
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) start[i] = starting_base(feel_.channels[c], i);
    movers_.emplace_back(feel_, c, scene_.clock, start);
  }
  for (const std::size_t c : order_) {
    if (!is_led_[c] || !sources_.start(c, at_present(0), notes_)) continue;
    Components start{};
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) start[i] = base({c, i});
    if (rooms_[c]) start[0] = std::min(start[0], rooms_[c]->limit(at_present_, seen_at(0)));
    movers_[c].place_at(start);
  }
}

void FramePlayer::enter_tracks(std::int64_t frame) {
  for (TrackReader& reader : readers_) reader.enter(seen_at(frame));
  for (TrackReader& reader : drawn_) reader.enter(scene_.clock.time(frame));
}

/// The time of the subject that the camera sees on a frame.
double FramePlayer::seen_at(std::int64_t frame) const noexcept {
  return scene_.clock.time(sees_frame_before() ? std::max<std::int64_t>(frame - 1, 0) : frame);
}

SourceInstant FramePlayer::at_present(std::int64_t frame) const {
  return {scene_.clock.time(frame), seen_at(frame), at_present_, at_goal_};
}

double FramePlayer::goal(ComponentRef component) const { return value_of(feel_, component, at_goal_); }

double FramePlayer::arriving_rate(ComponentRef component) const {
  return value_of(feel_, component, [this](ComponentRef c) { return movers_[c.channel].arriving_rate(c.component); });
}

Controls::Wish FramePlayer::wish(ComponentRef component) const {
  return controls_.wish(component, sources_.home(component));
}

double FramePlayer::base(ComponentRef component) const {
  return controls_.on_its_side(component, sources_.home(component));
}

/// A view that turns back takes its home along.
void FramePlayer::turn_home(std::size_t channel, double seen) {
  if (const auto heading = sources_.heading(channel, seen)) controls_.put_own_base({channel, 0}, *heading);
}

void FramePlayer::add_cause(const std::string& what) {
  if (what.empty()) return;
  if (!block_.cause.empty()) block_.cause += ", ";
  block_.cause += what;
}

void FramePlayer::begin(std::int64_t frame, std::span<const Cue> cues) {
  block_.first = frame;
  block_.count = 1;
  block_.cause.clear();
  controls_.run_bases(frame);
  enter_tracks(frame);
  for (Shaker& shaker : shakers_) shaker.begin();
  act(frame, cues);
  for (std::size_t c = 0; c < feel_.channels.size(); ++c)
    if (feel_.channels[c].realign) look_at_touches(c, frame, cues);
  run_sequences(frame);
  block_.control_down = controls_.down();
  block_.switches.resize(feel_.switches.size());
  for (std::size_t s = 0; s < feel_.switches.size(); ++s) block_.switches[s] = controls_.is_in(s) ? 1 : 0;
  block_.lost_presses = controls_.take_lost_presses();
  block_.runs_to_end = controls_.take_runs_to_end();
  block_.control_state.resize(feel_.controls.size());
  block_.pushed.resize(feel_.controls.size());
  for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
    block_.control_state[c] = controls_.state(c);
    block_.pushed[c] = controls_.is_pushed(c) ? 1 : 0;
  }
  controls_.forget_counts();
  for (const std::size_t c : order_)
    if (!feel_.channels[c].tie) begin_channel(c, frame);
}

void FramePlayer::act(std::int64_t frame, std::span<const Cue> cues) {
  for (const Cue& cue : cues) {
    // What repeated before this cue came first; the frame itself is asked only after its cues.
    controls_.repeat_until(cue.at, frame - 1, block_.cause);
    if (cue.action == CueAction::hit)
      hit(cue, frame); // no goal has jumped by it
    else if (cue.action == CueAction::start || cue.action == CueAction::skip)
      sequencer_.ask({cue.sequence,
                      cue.action == CueAction::start ? Sequencer::Request::What::start : Sequencer::Request::What::skip,
                      cue.part});
    else
      controls_.apply(cue, frame, block_.cause, notes_);
    for (const std::size_t control : controls_.presses()) sequencer_.press(control);
    controls_.forget_presses();
  }
  controls_.repeat_until(scene_.clock.drawn_time(frame), frame, block_.cause);
  controls_.look_at_switches(frame, block_.cause);
  for (const std::size_t sequence : controls_.take_begun())
    sequencer_.ask({sequence, Sequencer::Request::What::start, {}});
  controls_.read_gains();
}

/// Tells what turns a channel back whether anybody touches it: a stick, or a pointer in a cue of this frame.
void FramePlayer::look_at_touches(std::size_t c, std::int64_t frame, std::span<const Cue> cues) {
  Touches touches;
  for (std::size_t k = 0; k < feel_.controls.size(); ++k) {
    const Control& control = feel_.controls[k];
    const ComponentRef* target = target_of(control);
    if (target == nullptr || target->channel != c) continue;
    const ControlFacts facts = facts_of(control);
    if (!facts.base_runs()) continue;
    if (facts.held_by == HeldBy::state)
      touches.held = touches.held || controls_.state(k) != 0.0;
    else
      touches.moved =
          touches.moved || std::any_of(cues.begin(), cues.end(), [&](const Cue& cue) { return cue.control == k; });
  }
  if (sources_.look_at_touches(c, scene_.clock.time(frame), touches)) add_cause("realign " + feel_.channels[c].name);
}

void FramePlayer::hit(const Cue& cue, std::int64_t frame) {
  const Shake& shake = feel_.shakes[cue.shake];
  const std::optional<Components> eye = shake.falloff ? camera_view(feel_, at_present_).eye : std::nullopt;
  shakers_[cue.shake].hit(cue, frame, scene_.clock, eye);
}

void FramePlayer::begin_channel(std::size_t c, std::int64_t frame) {
  const Channel& channel = feel_.channels[c];
  ChannelBlock& out = block_.channels[c];
  movers_[c].slow_down(channel.motion_times_channel ? at_present_(*channel.motion_times_channel)
                                                    : channel.motion_times);
  turn_home(c, seen_at(frame));
  sources_.begin(c, at_present(frame), notes_);
  if (const auto own = sources_.take_own_base(c))
    for (std::size_t i = 0; i < channel.components; ++i) controls_.put_own_base({c, i}, (*own)[i]);
  // While a sequence leads it, it follows nothing.
  if (channel.follow) out.track = movers_[c].is_led() ? 0 : sources_.track(c);
  std::array<Controls::Wish, most_components> wishes{};
  for (std::size_t i = 0; i < channel.components; ++i) wishes[i] = wish({c, i});
  if (rooms_[c]) {
    add_cause(rooms_[c]->look(at_present_, seen_at(frame), frame, wishes[0].value, movers_[c], out));
    controls_.hold({c, 0}, rooms_[c]->held(movers_[c]));
  }
  movers_[c].read_goals(wishes, frame, out);
  const int clicks = controls_.take_clicks(c);
  out.unseen_clicks = rooms_[c] && rooms_[c]->holds() && !out.moved ? clicks : 0;
}

std::int64_t FramePlayer::stretch(std::int64_t most) const {
  const std::int64_t frame = block_.first;
  std::int64_t next =
      std::min({frame + std::min(most, longest_block), controls_.next_event(frame), sequencer_.next_end(frame)});
  for (std::size_t c = 0; c < feel_.channels.size(); ++c)
    if (const double at = sources_.begins_at(c); at < never)
      next = std::min(next, std::max(frame + 1, first_frame_at(scene_.clock, at)));
  for (const auto* readers : {&readers_, &drawn_})
    for (const TrackReader& reader : *readers)
      if (reader.stretch_end() < scene_.clock.time(scene_.clock.frames)) {
        const std::int64_t late = readers == &readers_ && sees_frame_before() ? 1 : 0;
        next = std::min(next, std::max(frame + 1, first_frame_at(scene_.clock, reader.stretch_end()) + late));
      }
  // A switch looks at every frame, and so does what an obstacle may hold or another channel slows down.
  const bool is_watched = std::any_of(feel_.channels.begin(), feel_.channels.end(), [](const Channel& channel) {
    return channel.obstacles || channel.motion_times_channel;
  });
  if (!feel_.switches.empty() || sources_.feeds_back() || is_watched) next = frame + 1;
  std::int64_t count = next - frame;
  for (const ChannelMover& mover : movers_) count = mover.unbroken_frames(frame, count);
  return count;
}

void FramePlayer::go_on(std::int64_t count) {
  block_.count = count;
  for (const std::size_t c : order_) {
    if (feel_.channels[c].tie) {
      put_tied(feel_, c, block_);
      continue;
    }
    read_wishes(c);
    movers_[c].fill(block_.first, count, block_.channels[c]);
    if (rooms_[c]) rooms_[c]->hold_back(movers_[c], block_.first + count, block_.channels[c]);
  }
  draw();
}

void FramePlayer::show() {
  for (std::size_t c = 0; c < feel_.channels.size(); ++c)
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) {
      ComponentBlock& column = block_.channels[c].component[i];
      column.goal = goal({c, i});
      column.smooth.assign(1, at_present_({c, i}));
      column.value = column.smooth;
    }
  draw();
}

/// What comes after motion: shakes, grids, tracks and the eye.
void FramePlayer::draw() {
  shake();
  snap_to_grids(
      feel_, [this](std::size_t row) -> const ReadComponent& { return read_row(row); }, block_);
  read_drawn_tracks(scene_, drawn_, block_);
  eye_.fill(block_);
}

/// What a channel's columns of this block hold at a row; the end of the block is where the channel now is.
double FramePlayer::column_at(ComponentRef read, std::size_t row) const {
  return value_of(feel_, read, [&](ComponentRef c) {
    const auto& column = block_.channels[c.channel].component[c.component];
    return row < column.smooth.size() && row < static_cast<std::size_t>(block_.count)
               ? column.smooth[row]
               : movers_[c.channel].present(c.component);
  });
}

/// True if a channel leaps from a row to the next: it is where it was until then, and nowhere in between.
bool FramePlayer::is_cut(ComponentRef read, std::size_t row) const {
  const auto& tie = feel_.channels[read.channel].tie;
  const ComponentRef moved = tie ? ComponentRef{tie->channel, 0} : read;
  const ChannelBlock& channel = block_.channels[moved.channel];
  const std::size_t motion = channel.component[moved.component].motion;
  return row == 0 && channel.moved && !channel.component[moved.component].moves()
         && std::holds_alternative<Cut>(feel_.motions[motion].motion);
}

/// Reads channels at a row, or a share of the way to the next one.
const ReadComponent& FramePlayer::read_row(std::size_t row, double share) {
  row_ = row;
  share_ = share;
  return at_row_;
}

/// The wishes of a channel whose goal moves by itself in this block: at each frame, and just before the end.
void FramePlayer::read_wishes(std::size_t c) {
  const Channel& channel = feel_.channels[c];
  ChannelBlock& out = block_.channels[c];
  Movers by_hand;
  const bool led = movers_[c].is_led();
  bool moves = is_led_[c] || led || movers_[c].keeps_way();
  for (std::size_t i = 0; i < channel.components; ++i) {
    out.component[i].wishes.clear();
    out.component[i].knots.clear();
    out.component[i].free_wishes.clear();
    by_hand[i] = controls_.moving_base({c, i});
    moves = moves || by_hand[i];
  }
  out.axes.clear();
  if (!moves) return;
  for (std::size_t row = 0; row <= static_cast<std::size_t>(block_.count); ++row) read_wish_row(c, row, by_hand);
  if (rooms_[c])
    rooms_[c]->fill([this](std::size_t row, double share) -> const ReadComponent& { return read_row(row, share); },
                    [this](std::int64_t at) { return seen_at(at); }, scene_.clock, block_.first, movers_[c], out);
  if (channel.runs_on == RunsOn::clock) put_knots_on_the_clock(c);
  const bool turned = channel.follow && channel.follow->damping_frame != AxisFrame::world;
  for (std::size_t i = 0; i < channel.components && !turned && !led && !movers_[c].keeps_way(); ++i) {
    if (!rooms_[c]) drop_standing_corners(out.component[i]); // its corners are those of the ceiling
    drop_standing_wishes(out.component[i], out.ceilings);
  }
}

/// Corners of a goal are told by game time; the motion that is to follow it goes by the clock's.
void FramePlayer::put_knots_on_the_clock(std::size_t c) {
  for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
    for (ComponentBlock::Knot& knot : block_.channels[c].component[i].knots) {
      const std::int64_t frame = block_.first + static_cast<std::int64_t>(knot.row);
      const double dt = scene_.clock.dt(frame);
      if (dt > 0.0) knot.at *= scene_.clock.drawn_dt(frame) / dt;
    }
}

void FramePlayer::read_wish_row(std::size_t c, std::size_t row, const Movers& by_hand) {
  const Channel& channel = feel_.channels[c];
  ChannelBlock& out = block_.channels[c];
  const std::int64_t frame = block_.first + static_cast<std::int64_t>(row);
  const bool led = movers_[c].is_led();
  if (row > 0 && sources_.is_following(c) && !sees_frame_before() && !led) put_corners(c, row - 1);
  const ReadComponent goal = [&](ComponentRef read) {
    return block_.channels[read.channel].component[read.component].goal_at(row);
  };
  const SourceInstant instant{scene_.clock.time(frame), seen_at(frame), read_row(row), goal};
  if (row == 0)
    sources_.stay(c, instant, notes_);
  else
    sources_.go_on(c, instant, notes_);
  if (!by_hand[0]) turn_home(c, instant.seen);
  for (std::size_t i = 0; i < channel.components; ++i)
    out.component[i].wishes.push_back(movers_[c].is_led(i) ? movers_[c].led_value(i, frame)
                                      : by_hand[i] ? controls_.wish({c, i}, controls_.base_at(*by_hand[i], frame)).value
                                                   : wish({c, i}).value);
  if (channel.follow && channel.follow->zone && !led) put_free_wishes(c);
  const bool turned = channel.follow && channel.follow->damping_frame != AxisFrame::world && !led;
  if (turned && row < static_cast<std::size_t>(block_.count))
    out.axes.push_back(sources_.damping_axes(c, {instant.time, instant.seen, read_row(row), goal}));
}

/// Corners of the followed goal within the frame that begins at a row.
void FramePlayer::put_corners(std::size_t c, std::size_t row) {
  const std::int64_t frame = block_.first + static_cast<std::int64_t>(row);
  const double from = scene_.clock.time(frame), to = scene_.clock.time(frame + 1);
  instants_.clear();
  sources_.corners(c, from, to, instants_);
  // A corner that misses a frame by a rounding is that frame.
  constexpr double alike = 1e-11;
  std::erase_if(instants_, [&](double i) { return i - from < alike || to - i < alike; });
  for (const double instant : instants_) {
    sources_.go_on_to_corner(c, {instant, instant, read_row(row, (instant - from) / (to - from)), at_goal_});
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
      block_.channels[c].component[i].knots.push_back({row, instant - from, wish({c, i}).value});
  }
}

void FramePlayer::put_free_wishes(std::size_t c) {
  for (std::size_t i = 0; i < feel_.channels[c].components; ++i)
    block_.channels[c].component[i].free_wishes.push_back(
        controls_.wish({c, i}, sources_.home_before_zone({c, i})).value);
}

/// What shakes add comes after everything else, and nothing reads it.
void FramePlayer::shake() {
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

} // namespace stasis
