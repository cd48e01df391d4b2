#include "core/measure/take_measures.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {

void MeasureSink::begin(const Scene& scene) {
  scene_ = scene;
  measures_ = {};
  measures_.channels.resize(scene.feel->channels.size());
  trackers_.clear();
  trackers_.resize(scene.feel->channels.size());
  followers_.clear();
  for (std::size_t c = 0; c < scene.feel->channels.size(); ++c) {
    const Channel& channel = scene.feel->channels[c];
    followers_.push_back(is_tracked(channel) ? std::make_unique<FollowTracker>(scene_, c) : nullptr);
  }
  shakers_.clear();
  for (std::size_t s = 0; s < scene.feel->shakes.size(); ++s) shakers_.emplace_back(scene_, s);
  start_frames_.assign(scene.feel->channels.size(), 0);
  started_ago_.assign(scene.feel->channels.size(), 0.0);
  was_down_.assign(scene.feel->controls.size(), 0);
  was_state_.assign(scene.feel->controls.size(), 0.0);
}

void MeasureSink::consume(const Block& block) {
  note_inputs(block);
  for (std::size_t c = 0; c < block.channels.size(); ++c) follow_channel(block, c);
  for (const auto& follower : followers_)
    if (follower != nullptr) follower->consume(block);
  for (ShakeTracker& shaker : shakers_) shaker.consume(block);
}

void MeasureSink::note_inputs(const Block& block) {
  const double now = scene_.clock.time(block.first);
  for (std::size_t c = 0; c < was_down_.size(); ++c) {
    const ControlRule& rule = scene_.feel->controls[c].rule;
    const double state = block.control_state[c];
    const bool is_down = std::holds_alternative<Stick>(rule) ? state != 0.0 : block.control_down[c] != 0;
    const bool was_down = was_down_[c] != 0;
    // A click that moved the channel is an instant.
    const bool clicked = std::holds_alternative<Clicks>(rule) && block.first > 0 && state != was_state_[c];
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

void MeasureSink::follow_channel(const Block& block, std::size_t c) {
  const Feel& feel = *scene_.feel;
  const Channel& channel = feel.channels[c];
  const ChannelBlock& columns = block.channels[c];
  const bool moves_by_itself = std::any_of(columns.component.begin(),
                                           columns.component.begin() + static_cast<std::ptrdiff_t>(channel.components),
                                           [](const ComponentBlock& component) { return component.moves(); });
  if (moves_by_itself) {
    // A goal that runs has no end to be measured against.
    Components output{};
    for (std::size_t i = 0; i < channel.components; ++i) output[i] = columns.component[i].smooth[0];
    finish_move(c, true, block.first, output);
    measures_.channels[c].goal_ran = true;
  } else if (columns.moved) {
    Components output{};
    for (std::size_t i = 0; i < channel.components; ++i) output[i] = columns.component[i].smooth[0];
    finish_move(c, !columns.turned, block.first, output);
    trackers_[c] = std::make_unique<MoveTracker>(feel, c, block, scene_.clock);
    start_frames_[c] = block.first;
    started_ago_[c] = columns.moved_ago;
  }
  const auto rows = static_cast<std::size_t>(block.count);
  for (std::size_t i = 0; i < channel.components; ++i)
    measures_.channels[c].end_value[i] = columns.component[i].smooth[rows - 1];
  note_limits(block, c);
  MoveTracker* const tracker = trackers_[c].get();
  if (tracker == nullptr || tracker->is_calm()) return;
  tracker->enter(block);
  for (std::size_t row = 0; row < rows && !tracker->is_calm(); ++row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    if (frame + 1 < scene_.clock.frames) tracker->follow(row, since_start(c, frame));
  }
}

void MeasureSink::note_limits(const Block& block, std::size_t c) {
  const Channel& channel = scene_.feel->channels[c];
  std::array<ComponentRange, most_components> ranges{};
  for (std::size_t i = 0; i < channel.components; ++i) ranges[i] = output_range(channel, i);
  const auto is_held = [&](const ComponentBlock& column, const ComponentRange& range, std::size_t row) {
    if (column.smooth[row] > range.low && column.smooth[row] < range.high) return false;
    const double free = from_space(channel.space, column.state[row]);
    const bool at_goal = column.state[row] == (column.moves() ? column.goal_states[row] : column.goal_state);
    return !at_goal && (free < range.low || free > range.high);
  };
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    if (frame + 1 == scene_.clock.frames) return;
    bool held = false;
    for (std::size_t i = 0; i < channel.components; ++i)
      held = held || is_held(block.channels[c].component[i], ranges[i], row);
    if (held) measures_.channels[c].time_at_limit += scene_.clock.dt(frame);
  }
}

double MeasureSink::since_start(std::size_t c, std::int64_t frame) const noexcept {
  return scene_.clock.elapsed(start_frames_[c], frame) + started_ago_[c];
}

void MeasureSink::finish_move(std::size_t c, bool retargeted, std::int64_t frame, const Components& output) {
  if (trackers_[c] == nullptr) return;
  measures_.moves.push_back(trackers_[c]->finish(retargeted, since_start(c, frame), output));
  trackers_[c].reset();
}

void MeasureSink::end() {
  const std::int64_t last = scene_.clock.frames - 1;
  for (std::size_t c = 0; c < trackers_.size(); ++c) finish_move(c, false, last, measures_.channels[c].end_value);
  for (std::size_t c = 0; c < followers_.size(); ++c)
    if (followers_[c] != nullptr) measures_.channels[c].follow = followers_[c]->finish();
  for (ShakeTracker& shaker : shakers_) measures_.shakes.push_back(shaker.finish());
  for (InputSpan& span : measures_.inputs)
    if (span.open) span.to = scene_.clock.time(last);
  std::stable_sort(measures_.moves.begin(), measures_.moves.end(), [](const Move& a, const Move& b) {
    return std::tie(a.start_frame, a.channel) < std::tie(b.start_frame, b.channel);
  });
}

TakeMeasures MeasureSink::take(std::vector<std::string> play_notes) {
  measures_.notes = std::move(play_notes);
  add_notes();
  return std::move(measures_);
}

void MeasureSink::add_notes() {
  const Feel& feel = *scene_.feel;
  for (const Move& move : measures_.moves) {
    const Channel& channel = feel.channels[move.channel];
    const std::string which = fmt::format("{} at {} s", channel.name, concise(move.start));
    if (move.retargeted) {
      measures_.notes.push_back(fmt::format("{}: another goal came after {} s, before it had settled; no settling time",
                                            which, readable(move.end - move.start)));
    } else if (!move.settling_time && move.remaining > 0.0) {
      measures_.notes.push_back(
          fmt::format("{}: still on its way when the take ended, {}{} from its goal; no settling time", which,
                      readable(*move.remaining), channel.unit.empty() ? "" : " " + channel.unit));
    } else if (!move.settling_time) {
      measures_.notes.push_back(fmt::format("{}: too short a move, or too late in the take, to measure", which));
    }
    const std::string_view kind = kind_of(feel.motions[move.motion[0]].motion);
    if (!move.peak_speed && (kind == "cut" || kind == "delay"))
      measures_.notes.push_back(fmt::format("{}: a {} jumps; it has no speed", which, kind));
    else if (!move.peak_speed && move.settling_time)
      measures_.notes.push_back(fmt::format("{}: the curve starts or ends with unbounded speed; no peak speed", which));
  }
  for (const Move& move : measures_.moves)
    if (move.unavoidable)
      measures_.notes.push_back(
          fmt::format("{} at {} s: it came in too fast to stop at its goal; with the "
                      "acceleration or the braking time that it has, the overshoot is unavoidable",
                      feel.channels[move.channel].name, concise(move.start)));
  for (const auto& follower : followers_)
    if (follower != nullptr)
      for (std::string& note : follower->notes()) measures_.notes.push_back(std::move(note));
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    if (feel.channels[c].follow || feel.channels[c].obstacles) continue; // told above
    if (measures_.channels[c].goal_ran) {
      measures_.notes.push_back(fmt::format(
          "{}: its goal moves by itself (a stick, a formula, a profile, a heading); moves are measured only "
          "while it stands",
          feel.channels[c].name));
      continue;
    }
    const bool stood =
        std::none_of(measures_.moves.begin(), measures_.moves.end(), [&](const Move& m) { return m.channel == c; });
    if (stood)
      measures_.notes.push_back(
          fmt::format("{}: its goal never changed in this take; nothing to measure", feel.channels[c].name));
  }
}

} // namespace stasis
