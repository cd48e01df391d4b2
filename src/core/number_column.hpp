// A column of numbers that may be large: copies share it, and what has been read of it may leave memory again.
#pragma once

#include <algorithm>
#include <cstddef>
#include <memory>
#include <span>
#include <vector>

namespace stasis {

/// Where the numbers of a finished column lie.
class NumberStore {
public:
  NumberStore() = default;
  NumberStore(const NumberStore&) = delete;
  NumberStore& operator=(const NumberStore&) = delete;
  virtual ~NumberStore() = default;
  virtual std::span<const double> numbers() const noexcept = 0;
  /// The numbers from `first` to before `last` are not needed for now; they may still be read.
  virtual void let_go(std::size_t first, std::size_t last) const noexcept = 0;
};

/// Takes the numbers of a long column piece by piece, out of memory.
class NumberSpool {
public:
  NumberSpool() = default;
  NumberSpool(const NumberSpool&) = delete;
  NumberSpool& operator=(const NumberSpool&) = delete;
  virtual ~NumberSpool() = default;
  /// False where there is no room: nothing of these numbers was taken.
  virtual bool take(std::span<const double> numbers) = 0;
  /// Everything taken so far. The spool takes nothing more after it.
  virtual std::shared_ptr<const NumberStore> finish() = 0;
};

/// Makes spools. The core does not have its own: without one, columns lie in memory.
class NumberShelf {
public:
  NumberShelf() = default;
  NumberShelf(const NumberShelf&) = delete;
  NumberShelf& operator=(const NumberShelf&) = delete;
  virtual ~NumberShelf() = default;
  /// Null where there is no room for one.
  virtual std::unique_ptr<NumberSpool> spool() const = 0;
};

class NumberColumn {
public:
  NumberColumn() = default;
  NumberColumn(std::vector<double> numbers); // NOLINT(google-explicit-constructor): a column is a vector that is shared
  /// \param shelf where columns that are made of this one lie; may be null.
  NumberColumn(std::shared_ptr<const NumberStore> store, std::shared_ptr<const NumberShelf> shelf);

  bool empty() const noexcept { return numbers_.empty(); }
  std::size_t size() const noexcept { return numbers_.size(); }
  double operator[](std::size_t row) const noexcept { return numbers_[row]; }
  double front() const noexcept { return numbers_.front(); }
  double back() const noexcept { return numbers_.back(); }

  /// The rows from `first` to before `last` are not needed for now; they may still be read.
  void let_go(std::size_t first, std::size_t last) const noexcept {
    last = std::min(last, size());
    if (first < last) store_->let_go(first, last);
  }
  const std::shared_ptr<const NumberShelf>& shelf() const noexcept { return shelf_; }

private:
  std::shared_ptr<const NumberStore> store_;
  std::shared_ptr<const NumberShelf> shelf_;
  std::span<const double> numbers_;
};

/// Makes a column number by number. A short one lies in memory, a long one on the shelf if there is room.
class NumberColumnWriter {
public:
  explicit NumberColumnWriter(std::shared_ptr<const NumberShelf> shelf = nullptr) : shelf_(std::move(shelf)) {}

  void add(double number) {
    if (count_ == held_.size()) make_room();
    held_[count_++] = number;
  }
  std::size_t size() const noexcept { return laid_down_ + count_; }
  NumberColumn finish();

  static constexpr std::size_t longest_in_memory = std::size_t{1} << 15; ///< numbers
  static constexpr std::size_t piece = std::size_t{1} << 13;             ///< numbers that a spool takes at once

private:
  void make_room();
  bool lay_down();
  void take_back();

  std::shared_ptr<const NumberShelf> shelf_;
  std::unique_ptr<NumberSpool> spool_;
  std::vector<double> held_; ///< its first `count_` numbers: what the spool has not taken
  std::size_t count_ = 0;
  std::size_t laid_down_ = 0;
  bool stays_ = false; ///< in memory, whatever comes: there is no room elsewhere
};

/// Goes through rows from the first on, and lets go of what lies behind in each of the columns.
template<class Columns> class RowPass {
public:
  /// \param columns something with let_go(first, last), which outlives the pass.
  explicit RowPass(const Columns& columns) noexcept : columns_(&columns) {}
  RowPass(const RowPass&) = default;
  RowPass& operator=(const RowPass&) = default;
  ~RowPass() { columns_->let_go(kept_from_, next_piece_); }

  /// The pass has come to this row; it may look back a little.
  void at(std::size_t row) noexcept {
    if (row >= next_piece_) move_on(row);
  }

private:
  static constexpr std::size_t piece = std::size_t{1} << 14;
  void move_on(std::size_t row) noexcept {
    columns_->let_go(kept_from_, row);
    kept_from_ = row - std::min(row, piece); // a look back brings a little of it into memory again
    next_piece_ = row + piece;
  }

  const Columns* columns_;
  std::size_t kept_from_ = 0, next_piece_ = piece;
};

/// A column read from its first row on.
class ColumnPass {
public:
  explicit ColumnPass(const NumberColumn& column) noexcept : column_(column), pass_(column) {}
  std::size_t size() const noexcept { return column_.size(); }
  double operator[](std::size_t row) noexcept {
    pass_.at(row);
    return column_[row];
  }

private:
  const NumberColumn& column_;
  RowPass<NumberColumn> pass_;
};

/// The column that `change` makes of each number of `column`, from first to last.
template<class Change> NumberColumn changed(const NumberColumn& column, Change change) {
  NumberColumnWriter out(column.shelf());
  ColumnPass numbers(column);
  for (std::size_t row = 0; row < column.size(); ++row) out.add(change(numbers[row]));
  return out.finish();
}

} // namespace stasis
