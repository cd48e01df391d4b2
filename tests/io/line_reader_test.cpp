// Lines from a pipe, however they come.
#include <array>
#include <string>
#include <unistd.h>
#include <vector>

#include <gtest/gtest.h>

#include "io/line_reader.hpp"

namespace stasis::io {
namespace {

/// A pipe into which pieces are written, and what is read of it.
class Pipe {
public:
  Pipe() { EXPECT_EQ(::pipe(ends_.data()), 0); }
  ~Pipe() {
    ::close(ends_[0]);
    end();
  }
  void write(std::string_view piece) const {
    EXPECT_EQ(::write(ends_[1], piece.data(), piece.size()), static_cast<ssize_t>(piece.size()));
  }
  void end() {
    if (ends_[1] >= 0) ::close(ends_[1]);
    ends_[1] = -1;
  }
  int reads() const { return ends_[0]; }

private:
  std::array<int, 2> ends_{};
};

TEST(LineReader, GivesLinesWhateverPiecesTheyComeIn) {
  Pipe pipe;
  LineReader lines(pipe.reads());
  pipe.write("one\ntwo\r\n\nthr");
  EXPECT_EQ(lines.next(), "one");
  EXPECT_EQ(lines.next(), "two");
  EXPECT_EQ(lines.next(), "");
  pipe.write("ee\nlast");
  EXPECT_EQ(lines.next(), "three");
  pipe.end();
  EXPECT_EQ(lines.next(), "last");
  EXPECT_EQ(lines.next(), std::nullopt);
  EXPECT_EQ(lines.next(), std::nullopt);
  EXPECT_FALSE(lines.was_too_long());
}

TEST(LineReader, SaysWhereALineIsTooLong) {
  std::array<char, 32> name{"/tmp/stasis-lines-XXXXXX"};
  const int file = ::mkstemp(name.data());
  ASSERT_GE(file, 0);
  const std::string text = "short\n" + std::string(LineReader::longest + 5000, 'x') + "\nafter\n";
  ASSERT_EQ(::write(file, text.data(), text.size()), static_cast<ssize_t>(text.size()));
  ::lseek(file, 0, SEEK_SET);
  LineReader lines(file);
  EXPECT_EQ(lines.next(), "short");
  EXPECT_EQ(lines.next(), std::nullopt);
  EXPECT_TRUE(lines.was_too_long());
  ::close(file);
  ::unlink(name.data());
}

} // namespace
} // namespace stasis::io
