#include "core/frame_times.hpp"

#include <algorithm>
#include <utility>

namespace stasis {
namespace {

/// Times in a part, and how many are kept whole.
constexpr std::size_t part_size = 16'384, most_kept = 4 * part_size;
/// Places for single times of long ago: more than begin at once.
constexpr std::size_t remembered_places = 256;

} // namespace

FrameTimes::FrameTimes(std::vector<double> times) : size_(times.size()) { part_.times = std::move(times); }

FrameTimes::FrameTimes(const TimeMaker& maker) {
  const std::unique_ptr<TimeMaker> made = maker.copy();
  for (;; ++size_) {
    std::unique_ptr<TimeMaker> here;
    if (size_ % part_size == 0) here = made->copy();
    const std::optional<double> time = made->next();
    if (!time) break;
    if (here) {
      makers_.push_back(std::move(here));
      firsts_.push_back(*time);
    }
    if (size_ < most_kept) part_.times.push_back(*time);
  }
  if (size_ <= most_kept) {
    makers_.clear();
    firsts_.clear();
  } else {
    part_.times.resize(part_size);
    part_.times.shrink_to_fit();
    remembered_.resize(remembered_places);
  }
}

void FrameTimes::bring(std::size_t part) const {
  const std::size_t first = part * part_size;
  if (part_.first == first) return;
  const auto found = std::find_if(others_.begin(), others_.end(),
                                  [&](const Part& one) { return one.first == first && !one.times.empty(); });
  const bool is_there = found != others_.end();
  const auto place = is_there ? found : others_.end() - 1;
  std::rotate(others_.begin(), place, place + 1);
  std::swap(others_.front(), part_);
  if (is_there) return;
  part_.first = first;
  part_.times.clear();
  part_.times.reserve(part_size);
  const std::unique_ptr<TimeMaker> maker = makers_[part]->copy();
  for (std::size_t k = 0; k < part_size; ++k) {
    const std::optional<double> time = maker->next();
    if (!time) break;
    part_.times.push_back(*time);
  }
}

double FrameTimes::from_elsewhere(std::size_t number) const noexcept {
  // What began long ago is asked for again and again: the part around it need not come for that.
  Remembered& known = remembered_[number % remembered_.size()];
  if (known.is_known && known.number == number) return known.time;
  const bool is_past = number < part_.first;
  bring(number / part_size);
  const double time = part_.times[number - part_.first];
  if (is_past) known = {number, time, true};
  return time;
}

bool FrameTimes::operator==(const FrameTimes& other) const noexcept {
  if (size_ != other.size_) return false;
  for (std::size_t k = 0; k < size_; ++k)
    if ((*this)[k] != other[k]) return false;
  return true;
}

/// \param is  false of times up to one of them, and true from then on.
template<class Is> std::size_t FrameTimes::first_that(Is is) const {
  const auto not_yet = [&](double time) { return !is(time); };
  std::size_t part = 0;
  if (!is_kept()) {
    const auto next = std::partition_point(firsts_.begin(), firsts_.end(), not_yet);
    if (next == firsts_.begin()) return 0;
    part = static_cast<std::size_t>(next - firsts_.begin()) - 1;
    bring(part);
  }
  const auto found = std::partition_point(part_.times.begin(), part_.times.end(), not_yet);
  return part * part_size + static_cast<std::size_t>(found - part_.times.begin());
}

std::size_t FrameTimes::first_not_before(double time) const {
  return first_that([&](double one) { return one >= time; });
}

std::size_t FrameTimes::first_after(double time) const {
  return first_that([&](double one) { return one > time; });
}

std::span<const double> FrameTimes::row(std::size_t first, std::size_t count) const {
  if (!is_kept()) bring(first / part_size);
  const std::size_t at = first - part_.first;
  if (at + count <= part_.times.size()) return {part_.times.data() + at, count};
  row_.clear();
  for (std::size_t k = 0; k < count; ++k) row_.push_back((*this)[first + k]);
  return row_;
}

void FrameTimes::add(double time) {
  part_.times.push_back(time);
  ++size_;
}

void FrameTimes::shorten_to(std::size_t count) {
  part_.times.resize(count);
  size_ = count;
}

} // namespace stasis
