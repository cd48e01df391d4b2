#include "core/measure/rate_instants.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

std::optional<double> FramesOfClock::next() {
  if (frame_ >= clock_.frames) return std::nullopt;
  return clock_.time(frame_++, which_);
}

std::optional<double> EvenTimes::next() {
  if (at_ > 0.0 && at_ >= end_) return std::nullopt;
  return std::exchange(at_, at_ + step_);
}

std::optional<double> GivenTimes::next() {
  return next_ < times_->size() ? std::optional((*times_)[next_++]) : std::nullopt;
}

void MergedTimes::add(const TimeMaker& maker) {
  Stream stream{maker.copy()};
  const std::optional<double> first = stream.maker->next();
  if (!first) return;
  stream.next = *first;
  streams_.push_back(std::move(stream));
}

std::optional<double> MergedTimes::next() {
  while (!streams_.empty()) {
    const auto least = std::min_element(streams_.begin(), streams_.end(),
                                        [](const Stream& a, const Stream& b) { return a.next < b.next; });
    const double time = least->next;
    if (const std::optional<double> following = least->maker->next())
      least->next = *following;
    else
      streams_.erase(least);
    if (last_ && time - *last_ < one_instant) continue;
    last_ = time;
    return time;
  }
  return std::nullopt;
}

std::unique_ptr<TimeMaker> MergedTimes::copy() const {
  auto out = std::make_unique<MergedTimes>();
  out->last_ = last_;
  for (const Stream& one : streams_) out->streams_.push_back({one.maker->copy(), one.next});
  return out;
}

SteppedTimes::SteppedTimes(const SteppedTimes& other)
    : TimeMaker(), times_(other.times_->copy()), finest_(other.finest_), from_(other.from_), to_(other.to_),
      before_(other.before_), part_(other.part_), parts_(other.parts_), has_begun_(other.has_begun_) {}

void SteppedTimes::begin_span() {
  part_ = 0;
  parts_ = 1;
  if (from_ && to_) {
    before_ = *to_ - *from_;
    parts_ = std::max(1, static_cast<int>(std::ceil(before_ / finest_)));
  }
}

std::optional<double> SteppedTimes::next() {
  if (!has_begun_) {
    has_begun_ = true;
    before_ = 1.0; // of a single frame
    from_ = times_->next();
    to_ = times_->next();
    begin_span();
  } else if (part_ == parts_) {
    from_ = to_;
    if (to_) to_ = times_->next();
    if (!from_) return std::nullopt;
    begin_span();
  }
  if (to_) {
    const double time = *from_ + (*to_ - *from_) * part_ / parts_;
    ++part_;
    return time;
  }
  // The last one, and one more after it.
  if (part_ == 0) {
    ++part_;
    parts_ = 2;
    return from_;
  }
  ++part_;
  return from_ ? std::optional(*from_ + before_) : std::nullopt;
}

std::optional<double> DrawnTimes::next() {
  const std::optional<double> time = times_->next();
  if (!time) return std::nullopt;
  if (goes_between_) return clock_.drawn_at(*time);
  while (frame_ + 1 < clock_.frames && clock_.time(frame_ + 1) <= *time + one_instant) ++frame_;
  return clock_.drawn_time(frame_);
}

} // namespace stasis
