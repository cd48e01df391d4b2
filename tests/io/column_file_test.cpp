// Columns of large CSV files.
#include <bit>
#include <cmath>
#include <cstdlib>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "io/column_file.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

Result<NumberColumns> read(const std::string& text, const std::vector<std::string>& wanted) {
  const test::TempDir folder;
  folder.write("a.csv", text);
  return io::read_column_file(folder / "a.csv", wanted, 4);
}

TEST(ColumnFile, KeepsOnlyWhatIsWanted) {
  const auto columns = read("a,b,c,d\r\n1,x,3,4\r\n5,y,7,8", {"c", "a", "nothing"});
  ASSERT_TRUE(columns);
  EXPECT_EQ(columns->names, (std::vector<std::string>{"a", "c"}));
  EXPECT_EQ(columns->header.size(), 4u);
  ASSERT_EQ(columns->rows(), 2u);
  EXPECT_EQ(columns->columns[0][1], 5.0);
  EXPECT_EQ(columns->columns[1][0], 3.0);
}

TEST(ColumnFile, ReadsQuotesBlanksMarksAndEmptyCells) {
  const auto columns = read("\xEF\xBB\xBF\"a, first\",b\n\"1\", 2.5 \n\n,-3e2\n", {"a, first", "b"});
  ASSERT_TRUE(columns);
  EXPECT_EQ(columns->columns[0][0], 1.0);
  EXPECT_EQ(columns->columns[1][0], 2.5);
  EXPECT_TRUE(std::isnan(columns->columns[0][1]));
  EXPECT_EQ(columns->columns[1][1], -300.0);
  EXPECT_EQ(columns->where(0).line, 2);
  EXPECT_EQ(columns->where(1).line, 4); // a blank line lies between
}

/// Cells after the last that is wanted are only counted, however long they are.
TEST(ColumnFile, CountsCellsThatItDoesNotRead) {
  for (std::size_t length = 0; length < 20; ++length) {
    const std::string cell(length, 'x'), row = "1," + cell + "," + cell + ",," + cell;
    EXPECT_TRUE(read("a,b,c,d,e\n" + row + "\n", {"a"})) << length;
    EXPECT_FALSE(read("a,b,c,d,e\n" + row + ",\n", {"a"})) << length;
    EXPECT_FALSE(read("a,b,c,d,e,f\n" + row + "\n", {"a"})) << length;
  }
}

TEST(ColumnFile, FaultsHaveALineAndAColumn) {
  const auto faults = read("a,b\n1,2\n3,4x\n5\ninf,6\n", {"a", "b"});
  ASSERT_FALSE(faults);
  ASSERT_EQ(faults.error().size(), 3u);
  EXPECT_EQ(faults.error()[0].where.line, 3);
  EXPECT_EQ(faults.error()[0].where.column, 3);
  EXPECT_EQ(faults.error()[0].where.source, 4);
  EXPECT_EQ(faults.error()[1].where.line, 4);
  EXPECT_EQ(faults.error()[2].where.line, 5);
  EXPECT_FALSE(read("", {"a"}));
  EXPECT_FALSE(read("a,a\n1,2\n", {"a"}));
  EXPECT_EQ(io::read_column_file("/nowhere/at/all.csv", {"a"}, 0).error()[0].code, "file.unreadable");
}

/// Whatever way a number is written, it is the double nearest to it, as the C library reads it.
TEST(ColumnFile, NumbersAreTheNearestDoubles) {
  std::mt19937_64 random(11);
  const auto digits = [&](std::size_t most) {
    std::string out;
    for (std::size_t left = random() % (most + 1); left > 0; --left)
      out += static_cast<char>('0' + (random() % 3 == 0 ? 0 : random() % 10));
    return out;
  };
  std::vector<std::string> numbers{"0",
                                   "-0",
                                   "5.",
                                   "-.25",
                                   "9007199254740992",
                                   "9007199254740993",
                                   "9007199254740995.0",
                                   "0.016666666666666666",
                                   "1e22",
                                   "1e-320",
                                   "123456789012345678901234567890"};
  while (numbers.size() < 60'000) {
    std::string one = (random() % 2 == 0 ? "" : "-") + digits(20);
    if (random() % 4 != 0) one += "." + digits(22);
    if (one.find_first_of("0123456789") == std::string::npos) continue;
    if (random() % 8 == 0) one += fmt::format("e{}", static_cast<int>(random() % 60) - 30);
    numbers.push_back(one);
  }
  std::string text = "first,n\n";
  for (const std::string& one : numbers) text += one + "," + one + "\n";
  const auto columns = read(text, {"first", "n"});
  ASSERT_TRUE(columns) << columns.error()[0].message;
  for (std::size_t row = 0; row < numbers.size(); ++row)
    for (const NumberColumn& column : columns->columns)
      ASSERT_EQ(std::bit_cast<std::uint64_t>(column[row]),
                std::bit_cast<std::uint64_t>(std::strtod(numbers[row].c_str(), nullptr)))
          << numbers[row];
  for (const char* const broken : {"1.2.3", "--1", "1-", "1 2", "0x10", ".", "-", "1e", "1e999", "12a"})
    EXPECT_FALSE(read(fmt::format("n\n{}\n", broken), {"n"})) << broken;
}

/// Pieces in which a file is read end anywhere in a line.
TEST(ColumnFile, IsTheSameHoweverLongItIs) {
  std::string text = "n,square\n";
  constexpr int rows = 200'000;
  for (int k = 0; k < rows; ++k) text += fmt::format("{},{}\n", k, static_cast<long long>(k) * k);
  const auto columns = read(text, {"n", "square"});
  ASSERT_TRUE(columns);
  ASSERT_EQ(columns->rows(), static_cast<std::size_t>(rows));
  for (std::size_t k = 0; k < columns->rows(); ++k) {
    ASSERT_EQ(columns->columns[0][k], static_cast<double>(k));
    ASSERT_EQ(columns->columns[1][k], static_cast<double>(k) * static_cast<double>(k));
  }
  EXPECT_EQ(columns->where(rows - 1).line, rows + 1);
  EXPECT_EQ(columns->lines.size(), 1u);
}

} // namespace
} // namespace stasis
