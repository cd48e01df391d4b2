#include <sys/stat.h>

#include <gtest/gtest.h>

#include "io/files.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

using test::TempDir;

TEST(Files, WritesAppearWholeOrNotAtAll) {
  const TempDir folder;
  {
    auto file = io::AtomicFile::open(folder / "a.csv", false);
    ASSERT_TRUE(file);
    file->write("half of it");
    EXPECT_FALSE(io::file_exists(folder / "a.csv"));
  }
  EXPECT_TRUE(folder.files().empty());
  ASSERT_TRUE(io::write_file(folder / "a.csv", "frame,time,dt\n0,0,0\n", false));
  EXPECT_EQ(folder.read("a.csv"), "frame,time,dt\n0,0,0\n");
  ASSERT_TRUE(io::write_file(folder / "a.csv", "frame,time,dt\n", false));
  EXPECT_EQ(folder.read("a.csv"), "frame,time,dt\n");
  EXPECT_EQ(folder.files().size(), 1u);
}

TEST(Files, WhatStasisDidNotWriteIsNotReplaced) {
  const TempDir folder;
  folder.write("a.csv", "my notes");
  const auto refused = io::write_file(folder / "a.csv", "frame,time,dt\n", false);
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.error().message.find("was not written by Stasis"), std::string::npos);
  EXPECT_EQ(folder.read("a.csv"), "my notes");
  EXPECT_TRUE(io::write_file(folder / "a.csv", "frame,time,dt\n", true));
  for (const char* own : {"frame,time,dt,a\n", "{\"stasis\":\"0.1\"}", "<svg>\n<desc>Drawn by Stasis</desc>"}) {
    folder.write("own", own);
    EXPECT_TRUE(io::is_own_output(folder / "own")) << own;
  }
}

TEST(Files, AFolderOfTheNameIsRefused) {
  const TempDir folder;
  ASSERT_TRUE(io::make_folder(folder / "a/b"));
  EXPECT_FALSE(io::write_file(folder / "a", "x", true));
  folder.write("plain", "x");
  EXPECT_FALSE(io::make_folder(folder / "plain"));
  EXPECT_FALSE(io::write_file(folder / "nowhere/at/all", "x", false));
}

TEST(Files, AReplacedFileKeepsItsRights) {
  const TempDir folder;
  folder.write("a", "");
  ::chmod((folder / "a").c_str(), 0640);
  ASSERT_TRUE(io::write_file(folder / "a", "x", false));
  struct stat status {};
  ASSERT_EQ(::stat((folder / "a").c_str(), &status), 0);
  EXPECT_EQ(status.st_mode & 0777u, 0640u);
}

TEST(Files, ReadingHasALimit) {
  const TempDir folder;
  folder.write("a", std::string(1000, 'x'));
  EXPECT_EQ(io::read_file(folder / "a", 1000)->size(), 1000u);
  EXPECT_TRUE(io::read_file(folder / "a", 999).error().refused);
  EXPECT_FALSE(io::read_file(folder / "b", 10));
  EXPECT_FALSE(io::read_file(folder.path().string(), 10));
}

} // namespace
} // namespace stasis
