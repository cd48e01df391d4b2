// Long columns in temporary files.
#include <fstream>
#include <unistd.h>

#include <gtest/gtest.h>

#include "io/scratch_shelf.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

NumberColumn column_of(std::size_t count, std::shared_ptr<const NumberShelf> shelf) {
  NumberColumnWriter writer(std::move(shelf));
  for (std::size_t row = 0; row < count; ++row) writer.add(static_cast<double>(row) * 0.5);
  return writer.finish();
}

/// Bytes of this program that lie in memory now.
std::size_t resident_bytes() {
  std::ifstream file("/proc/self/statm");
  std::size_t all = 0, resident = 0;
  file >> all >> resident;
  return resident * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE));
}

TEST(ScratchShelf, GivesBackEveryNumberAlsoAfterItWasLetGo) {
  const test::TempDir folder;
  const NumberColumn column = column_of(100'003, io::scratch_shelf({folder / ""}));
  EXPECT_TRUE(folder.files().empty()); // it has no name
  for (int time = 0; time < 2; ++time) {
    for (std::size_t row = 0; row < column.size(); ++row) ASSERT_EQ(column[row], static_cast<double>(row) * 0.5);
    column.let_go(0, column.size());
    column.let_go(77, 50'001);
  }
}

TEST(ScratchShelf, APassTakesNoMoreMemoryForALongerColumn) {
  const test::TempDir folder;
  constexpr std::size_t count = 8'000'000, piece_bytes = std::size_t{1} << 20;
  const std::size_t before = resident_bytes();
  const NumberColumn column = column_of(count, io::scratch_shelf({folder / ""}));
  std::size_t most = 0;
  double sum = 0.0;
  ColumnPass pass(column);
  for (std::size_t row = 0; row < count; ++row) {
    sum += pass[row];
    if (row % 100'000 == 0) most = std::max(most, resident_bytes());
  }
  EXPECT_EQ(sum, 0.25 * static_cast<double>(count) * static_cast<double>(count - 1));
  EXPECT_LT(most, before + 4 * piece_bytes) << "the column alone has " << count * sizeof(double) << " bytes";
}

TEST(ScratchShelf, TakesTheFirstFolderThatHasRoomAndNoneElse) {
  const test::TempDir folder;
  EXPECT_EQ(io::scratch_shelf({"/nowhere/at/all"})->spool(), nullptr);
  EXPECT_NE(io::scratch_shelf({"/nowhere/at/all", folder / ""})->spool(), nullptr);
  const NumberColumn kept = column_of(100'003, io::scratch_shelf({}));
  EXPECT_EQ(kept.size(), 100'003u);
  EXPECT_EQ(kept.back(), 50'001.0);
}

} // namespace
} // namespace stasis
