#include "core/take/sequencer.hpp"

#include <algorithm>
#include <utility>

#include "core/take/same_names.hpp"
#include "core/take/sequence_course.hpp"
#include "core/unbounded.hpp"

namespace stasis {

void Sequencer::go_on_from(const Sequencer& old, const SameNames& same) {
  for (SequenceMark mark : old.running_) {
    const auto now = SameNames::now(same.sequences, mark.sequence);
    if (!now) continue; // its channels are given back: nothing leads them here
    mark.sequence = *now;
    auto course = std::make_shared<SequenceCourse>(*mark.course);
    std::erase_if(course->channels, [&](SequenceCourse::OfChannel& one) {
      const auto channel = SameNames::now(same.channels, one.channel);
      one.channel = channel.value_or(0);
      return !channel;
    });
    if (course->along) course->along = SameNames::now(same.channels, *course->along);
    mark.course = std::move(course);
    running_.push_back(std::move(mark));
  }
}

bool Sequencer::is_over(const SequenceMark& mark, std::int64_t frame) const noexcept {
  return clock_.elapsed(mark.frame, frame) >= mark.time.total() - instant_slack;
}

void Sequencer::press(std::size_t control) {
  const auto* starts = std::get_if<Starter>(&feel_->controls[control].rule);
  for (const SequenceMark& mark : running_) {
    const auto& by = feel_->sequences[mark.sequence].skipped_by;
    const bool ends = starts != nullptr && starts->sequence == mark.sequence;
    if (ends || std::find(by.begin(), by.end(), control) != by.end()) ask({mark.sequence, Request::What::skip, {}});
  }
  if (starts != nullptr && !is_running(starts->sequence)) ask({starts->sequence, Request::What::start, {}});
}

bool Sequencer::has_requests(std::int64_t frame) const {
  return !requests_.empty() || std::any_of(running_.begin(), running_.end(), [&](const SequenceMark& mark) {
    return is_over(mark, frame);
  });
}

std::vector<Sequencer::Request> Sequencer::take_requests(std::int64_t frame) {
  std::vector<Request> due;
  for (const SequenceMark& mark : running_)
    if (is_over(mark, frame)) due.push_back({mark.sequence, Request::What::end, {}});
  for (Request& request : requests_) due.push_back(std::move(request));
  requests_.clear();
  return due;
}

bool Sequencer::is_running(std::size_t sequence) const noexcept {
  return std::any_of(running_.begin(), running_.end(),
                     [&](const SequenceMark& mark) { return mark.sequence == sequence; });
}

SequenceMark Sequencer::end(std::size_t sequence) {
  const auto found = std::find_if(running_.begin(), running_.end(),
                                  [&](const SequenceMark& mark) { return mark.sequence == sequence; });
  SequenceMark mark = std::move(*found);
  running_.erase(found);
  return mark;
}

std::int64_t Sequencer::next_end(std::int64_t frame) const {
  std::int64_t next = INT64_MAX;
  for (const SequenceMark& mark : running_)
    if (const double total = mark.time.total(); total < unbounded)
      next = std::min(next, std::max(frame + 1, first_frame_at(clock_, clock_.time(mark.frame) + total)));
  return next;
}

} // namespace stasis
