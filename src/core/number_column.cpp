#include "core/number_column.hpp"

#include <limits>
#include <utility>

namespace stasis {
namespace {

class NumbersInMemory final : public NumberStore {
public:
  explicit NumbersInMemory(std::vector<double> numbers) : numbers_(std::move(numbers)) {}
  std::span<const double> numbers() const noexcept override { return numbers_; }
  void let_go(std::size_t /*first*/, std::size_t /*last*/) const noexcept override {}

private:
  std::vector<double> numbers_;
};

} // namespace

NumberColumn::NumberColumn(std::shared_ptr<const NumberStore> store, std::shared_ptr<const NumberShelf> shelf)
    : store_(std::move(store)), shelf_(std::move(shelf)), numbers_(store_->numbers()) {}

NumberColumn::NumberColumn(std::vector<double> numbers)
    : NumberColumn(std::make_shared<const NumbersInMemory>(std::move(numbers)), nullptr) {}

void NumberColumnWriter::lay_down() {
  if (spool_ == nullptr && shelf_ != nullptr) spool_ = shelf_->spool();
  if (spool_ == nullptr || !spool_->take(held_)) return take_back();
  laid_down_ += held_.size();
  if (most_held_ != piece) {
    most_held_ = piece;
    held_ = {};
    held_.reserve(piece);
  }
  held_.clear();
}

/// There is no room: everything lies in memory from here on.
void NumberColumnWriter::take_back() {
  most_held_ = std::numeric_limits<std::size_t>::max();
  if (spool_ == nullptr) return;
  const auto store = std::exchange(spool_, nullptr)->finish();
  const std::span<const double> laid_down = store->numbers();
  held_.insert(held_.begin(), laid_down.begin(), laid_down.end());
  laid_down_ = 0;
}

NumberColumn NumberColumnWriter::finish() {
  if (laid_down_ > 0 && !held_.empty()) lay_down();
  if (laid_down_ > 0) return {spool_->finish(), std::move(shelf_)};
  held_.shrink_to_fit();
  NumberColumn column(std::make_shared<const NumbersInMemory>(std::move(held_)), std::move(shelf_));
  return column;
}

} // namespace stasis
