#include "core/number_column.hpp"

#include <algorithm>
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

void NumberColumnWriter::make_room() {
  const bool is_long = laid_down_ > 0 || held_.size() >= longest_in_memory;
  if (is_long && !stays_ && lay_down()) return;
  constexpr std::size_t least = 64;
  held_.resize(std::max(least, 2 * held_.size()));
}

/// Gives what is held to the spool; false where there is no room, and everything lies in memory from here on.
bool NumberColumnWriter::lay_down() {
  if (spool_ == nullptr && shelf_ != nullptr) spool_ = shelf_->spool();
  if (spool_ == nullptr || !spool_->take({held_.data(), count_})) {
    take_back();
    return false;
  }
  if (laid_down_ == 0) held_ = std::vector<double>(piece);
  laid_down_ += std::exchange(count_, 0);
  return true;
}

void NumberColumnWriter::take_back() {
  stays_ = true;
  if (spool_ == nullptr) return;
  const auto store = std::exchange(spool_, nullptr)->finish();
  const std::span<const double> laid_down = store->numbers();
  held_.insert(held_.begin(), laid_down.begin(), laid_down.end());
  count_ += std::exchange(laid_down_, 0);
}

NumberColumn NumberColumnWriter::finish() {
  if (laid_down_ > 0 && (count_ == 0 || lay_down())) return {spool_->finish(), std::move(shelf_)};
  held_.resize(count_);
  held_.shrink_to_fit();
  return {std::make_shared<const NumbersInMemory>(std::move(held_)), std::move(shelf_)};
}

} // namespace stasis
