// What leads a view through places, and gives it back.
#include <algorithm>

#include <fmt/format.h>

#include "core/take/frame_player.hpp"
#include "core/take/sequence_course.hpp"
#include "core/text.hpp"

namespace stasis {

void FramePlayer::run_sequences(std::int64_t frame) {
  using What = Sequencer::Request::What;
  if (sequencer_.has_requests(frame))
    for (const Sequencer::Request& request : sequencer_.take_requests(frame)) {
      const std::string& name = feel_.sequences[request.sequence].name;
      if (request.what == What::start) {
        start_sequence(request, frame);
        add_cause("start " + name);
      } else if (sequencer_.is_running(request.sequence)) {
        end_sequence(request.sequence, frame);
        add_cause((request.what == What::end ? "end " : "skip ") + name);
      } else if (request.what == What::skip) {
        notes_.push_back(
            fmt::format("skip {} at {} s ignored: it does not run", name, concise(scene_.clock.time(frame))));
      }
    }
  block_.sequences = sequencer_.running();
}

void FramePlayer::start_sequence(const Sequencer::Request& request, std::int64_t frame) {
  const Sequence& sequence = feel_.sequences[request.sequence];
  const ReadLedStart start = [&](ComponentRef component) {
    return LedStart{movers_[component.channel].going_on(component.component, frame), base(component)};
  };
  const CourseScene scene{&feel_, scene_.take, {scene_.clock.time(frame), 1.0}};
  auto course = std::make_shared<const SequenceCourse>(course_of(scene, sequence, start, request.part));
  if (sequencer_.is_running(request.sequence)) sequencer_.end(request.sequence);
  give_up_others(request.sequence, frame);
  const LedTime time = time_of(sequence, *course, request.part);
  for (const SequenceCourse::OfChannel& one : course->channels)
    for (std::size_t i = 0; i < most_components; ++i)
      if (one.way[i] != nullptr) movers_[one.channel].lead(i, {one.way[i], time}, frame);
  sequencer_.begin({request.sequence, frame, std::move(course), time});
}

/// Of two sequences that lead one channel, the one that began last has it; the other one ends.
void FramePlayer::give_up_others(std::size_t sequence, std::int64_t frame) {
  const std::vector<SequenceMark> running = sequencer_.running();
  for (const SequenceMark& mark : running) {
    const auto& led = feel_.sequences[sequence].led;
    if (std::any_of(led.begin(), led.end(),
                    [&](const PoseGoal& goal) { return leads(feel_.sequences[mark.sequence], goal.channel); }))
      end_sequence(mark.sequence, frame);
  }
}

void FramePlayer::end_sequence(std::size_t index, std::int64_t frame) {
  const Sequence& sequence = feel_.sequences[index];
  const SequenceMark mark = sequencer_.end(index);
  for (const SequenceCourse::OfChannel& one : mark.course->channels) {
    const auto owner = std::find_if(sequence.led.begin(), sequence.led.end(),
                                    [&](const PoseGoal& goal) { return goal.channel == one.channel; });
    for (std::size_t i = 0; i < most_components; ++i) {
      if (one.way[i] == nullptr) continue;
      const ComponentRef component{one.channel, i};
      if (sequence.stays) {
        const double last = place_at(mark.time, mark.time.total(), false).at;
        controls_.put_home(component, from_space(feel_.channels[one.channel].space, one.way[i]->at(last).value));
      }
      movers_[one.channel].give_back(i, owner != sequence.led.end() ? &*owner : nullptr, frame);
    }
  }
}

/// When the feel was changed: nothing leads a channel whose sequence is gone.
void FramePlayer::give_back_unled(std::int64_t frame) {
  for (std::size_t c = 0; c < movers_.size(); ++c)
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) {
      const auto& running = sequencer_.running();
      const bool is_led = std::any_of(running.begin(), running.end(), [&](const SequenceMark& mark) {
        return std::any_of(mark.course->channels.begin(), mark.course->channels.end(),
                           [&](const SequenceCourse::OfChannel& one) { return one.channel == c && one.way[i]; });
      });
      if (!is_led) movers_[c].give_back(i, nullptr, frame);
    }
}

} // namespace stasis
