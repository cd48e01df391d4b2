// A table as text and as a file: the same columns, the same faults.
#include <cmath>

#include <gtest/gtest.h>

#include "io/column_file.hpp"
#include "io/column_reader.hpp"
#include "support/program.hpp"

namespace stasis::io {
namespace {

std::string words_of(const Problems& problems) {
  std::string words;
  for (const Problem& one : problems)
    words += one.code + " " + std::to_string(one.where.line) + ":" + std::to_string(one.where.column) + " "
             + one.message + "\n";
  return words;
}

TEST(ColumnReader, ATextIsReadAsAFileOfItIs) {
  const test::TempDir folder;
  const std::vector<std::string> wanted{"time", "x"};
  const char* const texts[] = {
      "time,x,note\n0,1,a\n0.5,-2.25e3,b\n",
      "\xEF\xBB\xBFtime,y,x\r\n0, 1 ,2\r\n\r\n1,,3\r\n",
      "x,time\n\"1\",\"2\"\n3,4",
      "time,x\n0,nan\n",
      "time,x\n0,1,2\n",
      "time,x\n0\n",
      "time,time,x\n0,1,2\n",
      "",
      "time,x\n",
      "other\n1\n2\n",
  };
  for (const char* const text : texts) {
    folder.write("table.csv", text);
    const auto of_text = read_columns(text, wanted, 3);
    const auto of_file = read_column_file(folder / "table.csv", wanted, 3);
    ASSERT_EQ(of_text.has_value(), of_file.has_value()) << text;
    if (!of_text) {
      EXPECT_EQ(words_of(of_text.error()), words_of(of_file.error())) << text;
      continue;
    }
    EXPECT_EQ(of_text->header, of_file->header) << text;
    EXPECT_EQ(of_text->names, of_file->names) << text;
    ASSERT_EQ(of_text->rows(), of_file->rows()) << text;
    for (std::size_t column = 0; column < of_text->columns.size(); ++column)
      for (std::size_t row = 0; row < of_text->rows(); ++row) {
        const double a = of_text->columns[column][row], b = of_file->columns[column][row];
        EXPECT_TRUE(a == b || (std::isnan(a) && std::isnan(b))) << text << row;
        EXPECT_EQ(of_text->where(row).line, of_file->where(row).line) << text << row;
      }
  }
}

} // namespace
} // namespace stasis::io
