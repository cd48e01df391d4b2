// The times of a clock's frames: a list, of which a long one is worked out a part at a time.
#pragma once

#include <array>
#include <cstddef>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace stasis {

/// Gives times one after another, ascending.
class TimeMaker {
public:
  virtual ~TimeMaker() = default;
  /// The next time, s; nothing when there is none.
  virtual std::optional<double> next() = 0;
  /// A maker that goes on from here.
  virtual std::unique_ptr<TimeMaker> copy() const = 0;
};

/// Ascending times by number, from 0.
///
/// Those that a maker gives are kept where they are few. Of many, only the parts that were asked for last are in
/// memory, and others are made again: what it takes does not grow with them, except for a maker's copy every few
/// thousand. \note Such a list changes inside when it is read, so one is for one thread only.
class FrameTimes {
public:
  explicit FrameTimes(std::vector<double> times);
  /// \param maker that has given nothing yet; it gives one time at least.
  explicit FrameTimes(const TimeMaker& maker);

  std::size_t size() const noexcept { return size_; }
  /// \param number < size()
  double operator[](std::size_t number) const noexcept {
    const std::size_t at = number - part_.first;
    return at < part_.times.size() ? part_.times[at] : from_elsewhere(number);
  }
  double back() const noexcept { return (*this)[size_ - 1]; }
  bool operator==(const FrameTimes& other) const noexcept;
  /// The number of the first that is not before a time; size() if all are.
  std::size_t first_not_before(double time) const;
  /// The number of the first that is after a time; size() if none is.
  std::size_t first_after(double time) const;
  /// Some in a row; valid until anything else is asked.
  std::span<const double> row(std::size_t first, std::size_t count) const;

  /// Of a list that is kept: one more at its end, as many as there were once, and room for those that come.
  void add(double time);
  void shorten_to(std::size_t count);
  void make_room(std::size_t count) { part_.times.reserve(count); }

private:
  struct Part {
    std::size_t first = 0;
    std::vector<double> times;
  };
  struct Remembered {
    std::size_t number = 0;
    double time = 0.0;
    bool is_known = false;
  };
  bool is_kept() const noexcept { return makers_.empty(); }
  double from_elsewhere(std::size_t number) const noexcept;
  void bring(std::size_t part) const;
  template<class Is> std::size_t first_that(Is is) const;

  std::size_t size_ = 0;
  mutable Part part_;                              ///< read last; all of a list that is kept
  mutable std::array<Part, 3> others_;             ///< read before it, the latest first
  mutable std::vector<Remembered> remembered_;     ///< single times of long ago, by number
  mutable std::vector<double> row_;                ///< what row() tells of where two parts meet
  std::vector<std::unique_ptr<TimeMaker>> makers_; ///< at the beginning of each part
  std::vector<double> firsts_;                     ///< of each part
};

} // namespace stasis
