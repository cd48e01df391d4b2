#include "core/measure/take_measures.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/goal_source.hpp"
#include "core/measure/both_times.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/take_notes.hpp"
#include "core/text.hpp"

namespace stasis {

std::optional<MeasureScope> scope_of(const Feel& feel, const std::vector<Want>& wants) {
  MeasureScope scope{std::vector<std::uint8_t>(feel.channels.size()), false, false};
  for (const Want& want : wants) {
    const Measure* const measure = want.shake || want.is_of_camera ? nullptr : channel_measure_facts(want.measure);
    const auto is_of = [&](std::initializer_list<MeasureOf> some) {
      return measure != nullptr && std::find(some.begin(), some.end(), measure->of) != some.end();
    };
    const bool is_of_moves = is_of({MeasureOf::move, MeasureOf::move_of_several}),
               is_of_path = is_of({MeasureOf::channel, MeasureOf::component});
    if (!is_of_moves && !is_of_path) return std::nullopt;
    scope.paths = scope.paths || is_of_path;
    scope.limits = scope.limits || want.measure == "time_at_limit";
    scope.channels[want.channel] = 1;
    if (const auto& tie = feel.channels[want.channel].tie) scope.channels[tie->channel] = 1;
  }
  return scope;
}

void MeasureSink::begin(const Scene& scene) {
  scene_ = scene;
  measures_ = {};
  measures_.channels.resize(scene.feel->channels.size());
  watches_.clear();
  followers_.clear();
  for (std::size_t c = 0; c < scene.feel->channels.size(); ++c) {
    const Channel& channel = scene.feel->channels[c];
    watches_.push_back({ChannelFrames(*scene.feel, c, scene_.clock), LimitWatch(channel), PathMeter(channel),
                        CoastMeter({scene_.feel, scene_.take, scene_.clock.of(channel.runs_on)}, c),
                        formula_reads(*scene.feel, c), nullptr});
    followers_.push_back(is_tracked(channel) ? std::make_unique<FollowTracker>(scene_, c) : nullptr);
  }
  causes_.emplace(*scene.feel);
  camera_.emplace(scene_);
  switches_.emplace(scene_);
  sequences_.emplace(scene_);
  places_camera_.assign(scene.feel->channels.size(), 0);
  for (const PictureRole& role : picture_roles())
    if (const auto& channel = scene.feel->picture.*role.channel) places_camera_[*channel] = 1;
  shakers_.clear();
  frames_.emplace(scene_);
  for (std::size_t s = 0; s < scene.feel->shakes.size(); ++s) shakers_.emplace_back(scene_, s);
  was_down_.assign(scene.feel->controls.size(), 0);
  was_state_.assign(scene.feel->controls.size(), 0.0);
}

void MeasureSink::consume(const Block& block) {
  last_frame_ = block.first + block.count - 1;
  note_inputs(block);
  switches_->consume(block);
  jumps_.assign(static_cast<std::size_t>(block.count), 0);
  for (std::size_t c = 0; c < block.channels.size(); ++c) {
    if (!is_in_scope(c)) continue;
    follow_channel(block, c);
    watches_[c].coast.consume(block);
  }
  if (scope_) return; // the rest is of the whole scene
  note_cuts(scene_.clock, block, jumps_);
  camera_->consume(block, jumps_);
  sequences_->consume(block, jumps_);
  for (const auto& follower : followers_)
    if (follower != nullptr) follower->consume(block, jumps_);
  if (shakers_.empty()) return;
  for (ShakeTracker& shaker : shakers_) {
    frames_->enter(block);
    shaker.consume(block, *frames_);
  }
}

void MeasureSink::note_inputs(const Block& block) {
  const double now = scene_.clock.time(block.first);
  for (std::size_t c = 0; c < was_down_.size(); ++c) {
    const ControlFacts facts = facts_of(scene_.feel->controls[c]);
    const double state = block.control_state[c];
    const bool is_down = facts.held_by == HeldBy::state ? state != 0.0 : block.control_down[c] != 0;
    const bool was_down = was_down_[c] != 0;
    // A click that moved the channel is an instant.
    const bool clicked = facts.moved_by == CueAction::click && block.first > 0 && state != was_state_[c];
    was_state_[c] = state;
    was_down_[c] = is_down ? 1 : 0;
    if (clicked && is_down == was_down) measures_.inputs.push_back({c, now, now, false});
    if (is_down == was_down) continue;
    if (is_down) {
      measures_.inputs.push_back({c, now, now, true});
      continue;
    }
    const auto open = std::find_if(measures_.inputs.rbegin(), measures_.inputs.rend(),
                                   [&](const InputSpan& span) { return span.control == c && span.open; });
    open->to = now;
    open->open = false;
  }
}

namespace {

/// Where in a block a channel's goal begins to move by itself: a frame, and s into it; nothing where it stands.
struct GoalRun {
  std::size_t row = 0;
  double at = 0.0;
};
/// \param from the row from which on it is asked.
std::optional<GoalRun> first_run(const ChannelBlock& columns, std::size_t components, std::size_t from = 0) {
  constexpr double rounding = 1e-12;
  std::optional<GoalRun> first;
  for (std::size_t i = 0; i < components; ++i) {
    const ComponentBlock& column = columns.component[i];
    if (!column.moves()) continue;
    const double stands = column.goal_states[from], slack = rounding * std::max(1.0, std::fabs(stands));
    auto knot = std::find_if(column.knots.begin(), column.knots.end(), [&](const auto& k) { return k.row >= from; });
    for (std::size_t row = from; row + 1 < column.goal_states.size() && (!first || row <= first->row); ++row) {
      double at = 0.0; // up to here it has stood
      bool runs = false;
      for (; knot != column.knots.end() && knot->row == row && !runs; ++knot) {
        runs = std::fabs(knot->goal_state - stands) > slack;
        if (!runs) at = knot->at;
      }
      if (!runs && std::fabs(column.goal_states[row + 1] - stands) <= slack) continue;
      if (!first || row < first->row || at < first->at) first = GoalRun{row, at};
      break;
    }
  }
  return first;
}

/// The row in which a goal that stands before and after goes elsewhere: one frame is how long it takes a formula to see
/// that what it reads has jumped. Nothing where it runs on within the block.
std::optional<std::size_t> lone_step(const ChannelBlock& columns, std::size_t components) {
  constexpr double rounding = 1e-12;
  std::optional<std::size_t> step;
  for (std::size_t i = 0; i < components; ++i) {
    const ComponentBlock& column = columns.component[i];
    if (!column.moves()) continue;
    for (std::size_t row = 0; row + 1 < column.goal_states.size(); ++row) {
      const double a = column.goal_states[row], b = column.goal_states[row + 1];
      if (std::fabs(b - a) <= rounding * std::max({1.0, std::fabs(a), std::fabs(b)})) continue;
      if (step && *step != row) return std::nullopt;
      step = row;
    }
  }
  return step;
}

/// True if a goal moves in the last frame of a block.
bool runs_at_end(const ChannelBlock& columns, std::size_t components) noexcept {
  for (std::size_t i = 0; i < components; ++i) {
    const auto& goals = columns.component[i].goal_states;
    if (goals.size() > 1 && goals[goals.size() - 1] != goals[goals.size() - 2]) return true;
  }
  return false;
}

Components first_values(const ChannelBlock& columns, std::size_t components) noexcept {
  Components values{};
  for (std::size_t i = 0; i < components; ++i) values[i] = columns.component[i].smooth[0];
  return values;
}

/// True if a frame is made of several pieces: what is where it was when it ends may have been elsewhere meanwhile.
bool is_cut_up(const ComponentBlock& column, std::size_t row) noexcept {
  const auto first = std::lower_bound(column.pieces.begin(), column.pieces.end(), row,
                                      [](const FramePiece& piece, std::size_t of_row) { return piece.row < of_row; });
  return first != column.pieces.end() && first->row == row;
}

} // namespace

/// What a jump at the block's first frame begins and ends. \param runs_at_once its goal moves by itself from there on.
void MeasureSink::begin_or_end_move(const Block& block, std::size_t c, bool runs_at_once) {
  const std::size_t components = scene_.feel->channels[c].components;
  const ChannelBlock& columns = block.channels[c];
  // A turn has been found inside the frame before, unless what is drawn is told frame by frame only.
  const bool begins = columns.moved && (!columns.turned || columns.component[0].drawn);
  if (!runs_at_once && !begins) return;
  const Components output = first_values(columns, components);
  Watch& watch = watches_[c];
  // What has set off in the last frame of the block before, and runs on at once, was no step.
  if (runs_at_once && watch.tracker != nullptr && watch.stepped_at == block.first - 1) watch.tracker.reset();
  if (runs_at_once && !columns.moved)
    leave_move(c, since_start(c, block.first), output);
  else
    finish_move(c, runs_at_once || !columns.turned, since_start(c, block.first), output);
  if (runs_at_once) return; // there is no end to be measured against
  watch.tracker = std::make_unique<MoveTracker>(*scene_.feel, c, block, clock_of(c),
                                                columns.turned ? "turn" : causes_->of(c, block.cause));
  watch.start_frame = block.first;
  watch.started_ago = 0.0;
  watch.last = nullptr;
}

/// True if a formula of the channel reads one that a cut or a delay moves in this block.
bool MeasureSink::reads_what_jumps(const Block& block, std::size_t c) const {
  return std::any_of(watches_[c].reads.begin(), watches_[c].reads.end(), [&](ComponentRef read) {
    const std::size_t motion = block.channels[read.channel].component[read.component].motion;
    return traits_of(scene_.feel->motions[motion].motion).jumps;
  });
}

/// The rows in which the goal of a formula steps: one in which it goes elsewhere all at once, and all at which a
/// sequence cuts what it reads.
std::vector<std::size_t> MeasureSink::goal_steps(const Block& block, std::size_t c) const {
  const std::size_t components = scene_.feel->channels[c].components;
  const ChannelBlock& columns = block.channels[c];
  std::vector<std::size_t> steps;
  const auto step = lone_step(columns, components);
  if (step && !(*step == 0 && watches_[c].goal_ran_last) && reads_what_jumps(block, c)) steps.push_back(*step);
  for (const ComponentRef read : watches_[c].reads)
    add_cuts(block, block.channels[read.channel].component[read.component], clock_of(read.channel), steps);
  if (steps.empty()) return steps;
  std::sort(steps.begin(), steps.end());
  steps.erase(std::unique(steps.begin(), steps.end()), steps.end());
  std::erase_if(steps, [&](std::size_t row) {
    const auto next = first_run(columns, components, row + 1);
    const auto goes = first_run(columns, components, row);
    return !goes || goes->row != row || (next && next->row == row + 1 && next->at == 0.0);
  });
  return steps;
}

/// The rows of a block in which a sequence cuts a value.
void MeasureSink::add_cuts(const Block& block, const ComponentBlock& column, const Clock& clock,
                           std::vector<std::size_t>& rows) const {
  if (column.run == nullptr || column.run->led == nullptr) return;
  const LedCourse& course = *column.run->led;
  const auto elapsed = [&](std::size_t row) {
    return column.run->elapsed(clock, block.first + static_cast<std::int64_t>(row));
  };
  const auto count = static_cast<std::size_t>(block.count);
  std::size_t row = 0;
  double at = next_break(course, elapsed(0));
  while (at <= elapsed(count)) {
    while (elapsed(row + 1) < at) ++row;
    const double slack = rounding_at(course, at);
    const double before = evaluate(course, at - slack, Side::before).value,
                 after = evaluate(course, at + slack, Side::at).value;
    if (std::fabs(after - before) > 1e-9 * std::max(1.0, std::fabs(before))) rows.push_back(row);
    at = next_break(course, at);
  }
}

/// A move whose goal went in one frame to where it stands: followed from that frame on.
void MeasureSink::begin_step(const Block& block, std::size_t c, std::size_t row) {
  Watch& watch = watches_[c];
  const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
  watch.tracker = std::make_unique<MoveTracker>(*scene_.feel, c, block, clock_of(c),
                                                causes_->of(c, row == 0 ? std::string_view(block.cause) : ""), row);
  watch.start_frame = watch.stepped_at = frame;
  watch.started_ago = 0.0;
  const ChannelFrame& inside = watch.frames.at(row);
  watch.last = &inside;
  watch.tracker->follow(inside, 0.0);
}

void MeasureSink::follow_channel(const Block& block, std::size_t c) {
  const std::size_t components = scene_.feel->channels[c].components;
  const ChannelBlock& columns = block.channels[c];
  const auto rows = static_cast<std::size_t>(block.count);
  auto run = first_run(columns, components);
  if (run) measures_.channels[c].goal_ran = true;
  const bool is_tied = scene_.feel->channels[c].tie.has_value();
  const std::vector<std::size_t> steps = goal_steps(block, c);
  auto step = steps.begin();
  watches_[c].goal_ran_last = runs_at_end(columns, components);
  if (!is_tied) begin_or_end_move(block, c, run && run->row == 0 && run->at == 0.0);
  for (std::size_t i = 0; i < components; ++i)
    measures_.channels[c].end_value[i] = columns.component[i].smooth[rows - 1];
  if (!measures_.channels[c].left_space_at)
    if (const auto row = row_at_end_of_space(scene_.feel->channels[c], columns, rows))
      measures_.channels[c].left_space_at = scene_.clock.time(block.first + static_cast<std::int64_t>(*row));
  Watch& watch = watches_[c];
  if (block.first == 0) watch.path.begin(first_values(columns, components));
  // The last frame leads nowhere, and the one before it stays as it was read.
  if (block.first + 1 == scene_.clock.frames) return;
  watch.frames.enter(block);
  const std::size_t followed = std::min(rows, static_cast<std::size_t>(scene_.clock.frames - 1 - block.first));
  const bool goal_stands = !run && steps.empty();
  for (std::size_t row = 0; row < followed;) {
    const std::optional<double> runs_at = run && row == run->row ? std::optional(run->at) : std::nullopt;
    const std::size_t row_after = row + follow_rows(block, c, row, goal_stands ? followed - row : 1, runs_at);
    if (step != steps.end() && row == *step && !is_tied) {
      begin_step(block, c, row);
      run = first_run(columns, components, row + 1);
      ++step;
    }
    row = row_after;
  }
}

/// True if a move of fixed time has reached its end by then; one that goes there and back may be back where it began.
bool MeasureSink::has_ended(std::size_t c, const ComponentBlock& column, std::int64_t frame) const noexcept {
  const Motion& motion = column.slowed != nullptr ? *column.slowed : scene_.feel->motions[column.motion].motion;
  return total_time(ease_of(motion), *column.run) <= column.run->elapsed(clock_of(c), frame);
}

/// A row, and those after it, at most `most` in all, that are as one. \param run s into the frame at which the goal
/// begins to move by itself, if it does in it. \returns how many they were.
// many: a channel's place in a block, and what is known of its goal there
std::size_t MeasureSink::follow_rows(const Block& block, std::size_t c, std::size_t row, std::size_t most,
                                     std::optional<double> run) {
  Watch& watch = watches_[c];
  const ChannelBlock& columns = block.channels[c];
  const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
  const bool ends_here = run && watch.tracker != nullptr;
  const bool is_followed = watch.tracker != nullptr && !watch.tracker->is_calm();
  bool stands = true;
  Components states{};
  for (std::size_t i = 0; i < scene_.feel->channels[c].components; ++i) {
    const ComponentBlock& column = columns.component[i];
    states[i] = column.state[row];
    stands = stands && column.state[row] == column.state[row + 1] && column.rate[row] == 0.0
             && (column.run == nullptr || has_ended(c, column, frame)) && !is_cut_up(column, row);
  }
  const std::size_t count = stands ? 1 : watch.frames.as_one(row, most);
  const double time = clock_of(c).time(frame);
  const double dt =
      count == 1 ? clock_of(c).dt(frame) : clock_of(c).elapsed(frame, frame + static_cast<std::int64_t>(count));
  const RowMotion motion = motion_of(block, c, row, count);
  if (stands && has_paths()) watch.path.stand(states, time);
  const bool has_path =
      has_paths() && !stands && !(motion.may_fade && watch.path.fades(motion.end, motion.end_rate, time, dt));
  const bool is_limited = has_limits(c), is_at_rest = stands && !is_followed && !ends_here;
  if (is_at_rest && is_limited) watch.limits.follow_standing(states, dt);
  const bool is_watched = !is_at_rest && (is_followed || ends_here || is_limited);
  const ChannelFrame* const inside = has_path || is_watched ? &watch.frames.at(row, count) : nullptr;
  if (has_path) watch.path.follow(*inside, time, motion.goes_on);
  if (places_camera_[c] != 0 && watch.path.has_jumped()) jumps_[row] = 1;
  const double end = ends_here ? *run : double{unbounded};
  if (is_watched) follow_frame(c, frame, *inside, end);
  return count;
}

/// How a channel moves from a row to one after it. \param count rows that are as one
MeasureSink::RowMotion MeasureSink::motion_of(const Block& block, std::size_t c, std::size_t row,
                                              std::size_t count) const {
  const auto& tie = scene_.feel->channels[c].tie;
  const ChannelBlock& columns = block.channels[tie ? tie->channel : c];
  RowMotion out;
  out.goes_on = row > 0 && columns.axes.empty();
  for (std::size_t i = 0; i < scene_.feel->channels[c].components; ++i) {
    const ComponentBlock& column = columns.component[i];
    out.end[i] = column.state[row + count];
    out.end_rate[i] = column.rate[row + count];
    out.goes_on = out.goes_on && column.pieces.empty() && !column.moves() && !column.drawn && column.stages.empty()
                  && column.run == nullptr;
  }
  out.may_fade = out.goes_on && !tie;
  return out;
}

/// A frame in which something moves: its limits, its move, and those into which that turns round. \param until s into
/// it at which the goal begins to move by itself, which ends the move.
void MeasureSink::follow_frame(std::size_t c, std::int64_t frame, const ChannelFrame& inside, double until) {
  Watch& watch = watches_[c];
  if (has_limits(c)) watch.limits.follow(inside);
  if (watch.tracker == nullptr) return;
  if (!watch.tracker->is_calm() && until > 0.0) {
    watch.last = &inside;
    watch.tracker->follow(inside, since_start(c, frame), 0.0, until);
    while (const auto turn = watch.tracker->turn()) {
      const double at = *turn, time = clock_of(c).time(frame) + at;
      const bool next_frame = at > 0.0;
      auto back = std::make_unique<MoveTracker>(watch.tracker->turned(inside, time, frame + (next_frame ? 1 : 0)));
      finish_move(c, false, since_start(c, frame) + at, watch.tracker->last_value());
      watch.tracker = std::move(back);
      watch.start_frame = frame;
      watch.started_ago = -at;
      watch.tracker->follow(inside, -at, at, until);
    }
  }
  if (until < unbounded) {
    Components output{};
    const ChannelInstant now = inside.at(until, Side::before);
    for (std::size_t i = 0; i < inside.components; ++i)
      output[i] = output_in_unit(scene_.feel->channels[c], i, now[i]).value;
    leave_move(c, since_start(c, frame) + until, output);
  }
}

double MeasureSink::since_start(std::size_t c, std::int64_t frame) const noexcept {
  return clock_of(c).elapsed(watches_[c].start_frame, frame) + watches_[c].started_ago;
}

void MeasureSink::finish_move(std::size_t c, bool retargeted, double since_start, const Components& output) {
  Watch& watch = watches_[c];
  if (watch.tracker == nullptr) return;
  measures_.moves.push_back(watch.tracker->finish(watch.last, retargeted, since_start, output));
  watch.tracker.reset();
}

/// Its goal has begun to move by itself. Of a channel that is led a way that has not been finished by then was a
/// catching up, which is told by its lag.
void MeasureSink::leave_move(std::size_t c, double since_start, const Components& output) {
  const bool was_there = watches_[c].tracker != nullptr;
  finish_move(c, true, since_start, output);
  if (was_there && measures_.moves.back().retargeted && is_led(*scene_.feel, c)) measures_.moves.pop_back();
}

std::vector<Move> MeasureSink::last_moves() const {
  std::vector<Move> moves;
  for (std::size_t c = 0; c < watches_.size(); ++c) {
    const Watch& watch = watches_[c];
    if (watch.tracker != nullptr) {
      MoveTracker as_it_is = *watch.tracker;
      moves.push_back(as_it_is.finish(watch.last, false, since_start(c, last_frame_), measures_.channels[c].end_value));
      continue;
    }
    const auto last = std::find_if(measures_.moves.rbegin(), measures_.moves.rend(),
                                   [&](const Move& move) { return move.channel == c; });
    if (last != measures_.moves.rend()) moves.push_back(*last);
  }
  return moves;
}

void MeasureSink::end() {
  const std::int64_t last = scene_.clock.frames - 1;
  for (std::size_t c = 0; c < watches_.size(); ++c) {
    if (!is_in_scope(c)) continue;
    finish_move(c, false, since_start(c, last), measures_.channels[c].end_value);
    measures_.channels[c].time_at_limit = watches_[c].limits.time();
    measures_.channels[c].path = watches_[c].path.finish();
    measures_.channels[c].coast = watches_[c].coast.finish();
    measures_.channels[c].flips = switches_->flips_of(c);
  }
  measures_.switches = switches_->summaries();
  measures_.sequences = sequences_->finish();
  for (std::size_t c = 0; c < followers_.size() && !scope_; ++c)
    if (followers_[c] != nullptr) measures_.channels[c].follow = followers_[c]->finish();
  for (ShakeTracker& shaker : shakers_)
    if (!scope_) measures_.shakes.push_back(shaker.finish());
  if (!scope_) measures_.camera = camera_->summary();
  for (InputSpan& span : measures_.inputs)
    if (span.open) span.to = scene_.clock.time(last);
  add_tied_moves();
  tell_by_both_times(*scene_.feel, scene_.clock, measures_);
  // A turn and what ends it may come at one instant, told by two sums: their order is that in which they came.
  const auto place = [](const Move& move) { return std::pair(std::round(move.start * 1e9), move.channel); };
  std::stable_sort(measures_.moves.begin(), measures_.moves.end(),
                   [&](const Move& a, const Move& b) { return place(a) < place(b); });
}

/// A channel that is tied to another has its moves.
void MeasureSink::add_tied_moves() {
  for (std::size_t c = 0; c < scene_.feel->channels.size(); ++c) {
    const auto& tie = scene_.feel->channels[c].tie;
    if (!tie) continue;
    measures_.channels[c].goal_ran = measures_.channels[tie->channel].goal_ran;
    const std::size_t moves = measures_.moves.size();
    for (std::size_t m = 0; m < moves; ++m)
      if (measures_.moves[m].channel == tie->channel)
        measures_.moves.push_back(times(measures_.moves[m], tie->times, c));
  }
}

TakeMeasures MeasureSink::take(std::vector<std::string> play_notes) {
  measures_.notes = std::move(play_notes);
  if (!scope_) add_notes();
  return std::move(measures_);
}

void MeasureSink::add_notes() {
  const Feel& feel = *scene_.feel;
  const auto add = [&](std::vector<std::string> notes) {
    for (std::string& note : notes) measures_.notes.push_back(std::move(note));
  };
  add(notes_of_moves(feel, measures_));
  for (const auto& follower : followers_)
    if (follower != nullptr) add(follower->notes());
  for (const ShakeTracker& shaker : shakers_) add(shaker.notes());
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    if (measures_.channels[c].path.unbounded_speed)
      measures_.notes.push_back(fmt::format("{}: a curve starts or ends with unbounded speed; its top speed is the "
                                            "largest that is drawn on a frame, and it has no top acceleration",
                                            feel.channels[c].name));
  add(notes_of_the_still(feel, measures_));
}

} // namespace stasis
