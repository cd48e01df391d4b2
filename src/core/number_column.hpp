// A column of numbers that may be large: copies share it until one of them is changed.
#pragma once

#include <cstddef>
#include <memory>
#include <utility>
#include <vector>

namespace stasis {

class NumberColumn {
public:
  NumberColumn() = default;
  NumberColumn(std::vector<double> numbers) // NOLINT(google-explicit-constructor): a column is a vector that is shared
      : numbers_(std::make_shared<std::vector<double>>(std::move(numbers))) {
    point();
  }

  bool empty() const noexcept { return size_ == 0; }
  std::size_t size() const noexcept { return size_; }
  double operator[](std::size_t row) const noexcept { return data_[row]; }
  double front() const noexcept { return data_[0]; }
  double back() const noexcept { return data_[size_ - 1]; }

  /// Calls `change` with the numbers, which are this column's own from then on.
  template<class Change> void change(const Change& change) {
    if (numbers_ == nullptr || numbers_.use_count() > 1)
      numbers_ = numbers_ == nullptr ? std::make_shared<std::vector<double>>()
                                     : std::make_shared<std::vector<double>>(*numbers_);
    change(*numbers_);
    point();
  }

private:
  void point() noexcept {
    data_ = numbers_->data();
    size_ = numbers_->size();
  }

  std::shared_ptr<std::vector<double>> numbers_;
  const double* data_ = nullptr;
  std::size_t size_ = 0;
};

} // namespace stasis
