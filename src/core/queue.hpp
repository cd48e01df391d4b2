// A queue that keeps its memory: once it has been as long as it gets, nothing is allocated any more.
#pragma once

#include <cstddef>
#include <utility>
#include <vector>

namespace stasis {

template<class T> class Queue {
public:
  bool empty() const noexcept { return first_ == all_.size(); }
  std::size_t size() const noexcept { return all_.size() - first_; }
  T& operator[](std::size_t i) noexcept { return all_[first_ + i]; }
  const T& operator[](std::size_t i) const noexcept { return all_[first_ + i]; }
  T& front() noexcept { return all_[first_]; }
  const T& front() const noexcept { return all_[first_]; }
  T& back() noexcept { return all_.back(); }
  const T& back() const noexcept { return all_.back(); }

  void push_back(T value) {
    // What has gone is given up before there is need of more.
    if (all_.size() == all_.capacity() && first_ > 0) drop_gone();
    all_.push_back(std::move(value));
  }
  void pop_front() noexcept {
    if (++first_ == all_.size()) clear();
  }
  void clear() noexcept {
    all_.clear();
    first_ = 0;
  }

private:
  void drop_gone() {
    all_.erase(all_.begin(), all_.begin() + static_cast<std::ptrdiff_t>(first_));
    first_ = 0;
  }

  std::vector<T> all_;
  std::size_t first_ = 0; // those before it have gone
};

} // namespace stasis
