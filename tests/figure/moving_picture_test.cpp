// Pictures that move: what they are told to show, and the file that they become.
#include <cmath>
#include <cstdlib>
#include <sstream>

#include <boost/crc.hpp>
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/take/player.hpp"
#include "figure/animation.hpp"
#include "figure/moving_picture.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

struct Shown {
  Feel feel;
  std::vector<figure::MovingState> states;
  Scene scene;

  Shown(const std::string& text, double rate) : feel(test::feel_from(text)), scene(test::scene_of(feel)) {
    figure::MovingSink sink(rate);
    BlockSink* const sinks[] = {&sink};
    play(scene, sinks);
    states = sink.take();
  }
  std::string words(std::size_t picture) const {
    figure::DisplayList list;
    figure::MovingPicture(scene, "Title", states).draw(picture, list);
    return list.words();
  }
};

/// One channel goes straight up by 10 a second; a press cuts the other.
const std::string rising_feel =
    "[track.kite]\nkind = \"line\"\nfrom = [0, 0, 0]\nvelocity = [0, 10, 0]\n[channel.up]\nunit = \"m\"\nrest "
    "= 0\nformula = \"kite.y\"\n[channel.leap]\nunit = \"m\"\nrest = 0\n[pose.over]\nleap = 5\n[control.go]\nkind = "
    "\"hold\"\npose = \"over\"\n[take.t]\nlength = 2\nclock = { fps = 30 }\ncues = [{ at = 1.0, press = \"go\" }]\n";

TEST(MovingPicture, HasAStateForEveryPictureAndTheLastFrame) {
  const Shown shown(rising_feel, 25.0);
  ASSERT_EQ(shown.states.size(), 51u);
  for (std::size_t k = 0; k < shown.states.size(); ++k)
    EXPECT_NEAR(shown.states[k].time, static_cast<double>(k) / 25.0, 1e-12) << k;
}

TEST(MovingPicture, ReadsValuesStraightBetweenFrames) {
  const Shown shown(rising_feel, 25.0);
  for (const figure::MovingState& state : shown.states) EXPECT_NEAR(state.values[0], 10.0 * state.time, 1e-9);
}

TEST(MovingPicture, DoesNotSmearACut) {
  // 64 pictures a second: some lie between the frame before the press and that of it.
  const Shown shown(rising_feel, 64.0);
  for (const figure::MovingState& state : shown.states) {
    EXPECT_TRUE(state.values[1] == 0.0 || state.values[1] == 5.0) << state.time;
    EXPECT_EQ(state.values[1] == 5.0, state.time > 1.0 + 1.0 / 30.0 - 1e-9) << state.time; // as the trace has it
  }
  EXPECT_EQ(shown.states.back().cause, "press go");
  EXPECT_NEAR(shown.states.back().cause_at, 1.0, 1e-12);
}

TEST(MovingPicture, HasAsManyStatesAsTypedLengthsAndRatesSay) {
  for (const double rate : {10.0, 24.0, 25.0, 30.0, 60.0})
    for (const double fps : {24.0, 30.0, 60.0, 1000.0})
      for (const double length : {0.1, 0.2, 0.5, 3.0}) {
        const Shown shown(
            fmt::format("[channel.a]\nrest = 0\nformula = \"time\"\n[take.t]\nlength = {}\nclock = {{ fps = {} }}\n",
                        length, fps),
            rate);
        // One at each multiple up to the last frame, which is shown too.
        const double last = std::floor(length * fps + 1e-9) / fps;
        const auto whole = static_cast<std::size_t>(std::floor(last * rate + 1e-6));
        const bool is_on_one = std::fabs(last * rate - std::round(last * rate)) < 1e-6;
        EXPECT_EQ(shown.states.size(), whole + (is_on_one ? 1 : 2)) << rate << " " << fps << " " << length;
        EXPECT_NEAR(shown.states.back().values[0], last, 1e-9);
      }
}

/// The numbers after a word of the list, of the lines that begin so.
std::vector<std::vector<std::string>> lines_with(const std::string& words, const std::string& begin) {
  std::vector<std::vector<std::string>> found;
  std::istringstream all(words);
  for (std::string line; std::getline(all, line);) {
    if (!line.starts_with(begin)) continue;
    std::istringstream parts(line);
    found.emplace_back();
    for (std::string part; parts >> part;) found.back().push_back(part);
  }
  return found;
}

TEST(MovingPicture, WithoutACameraEveryValueIsOnARail) {
  const Shown shown(rising_feel, 25.0);
  const std::string words = shown.words(25);
  for (const char* name : {"\nup\n", "\nleap\n", "\n1.00 s\n"}) EXPECT_NE(words.find(name), std::string::npos) << name;
  EXPECT_EQ(lines_with(words, "picture ").size(), 1u);
  EXPECT_TRUE(words.ends_with("end\n"));
}

TEST(MovingPicture, SeesTheSubjectWhereTheLensPutsIt) {
  // What is looked at stands in the middle of the picture, whatever the lens.
  const Shown shown(
      "[picture]\nfocus = \"focus\"\ndistance = \"far\"\nlens = { channel = \"lens\" }\n[channel.far]\nunit "
      "= \"m\"\nrest = 5\n[channel.lens]\nunit = \"deg\"\nrest = 50\n[channel.focus]\nunit = \"m\"\nrest = "
      "[3, 1, -2]\n[take.t]\nlength = 1\n",
      10.0);
  const auto rings = lines_with(shown.words(3), "ring ");
  ASSERT_EQ(rings.size(), 1u);
  // The picture is 620 px wide at 16:10 from the left edge at 16, and 392 high in its middle of 240 px.
  EXPECT_NEAR(std::stod(rings[0][3]), 16 + 310, 4.0);
  EXPECT_NEAR(std::stod(rings[0][4]), 240, 4.0);
}

const std::string flat_feel =
    "[picture]\nposition = \"at\"\nheight = { channel = \"high\" }\nsize = [800, 400]\n[channel.high]\nunit = "
    "\"m\"\nrest = 10\n"
    "[track.fish]\nkind = \"line\"\nfrom = [3, 2]\nvelocity = [1, 0]\n[channel.at]\nunit = \"m\"\nrest = [0, "
    "0]\nmotion = { "
    "kind = \"glide\", half_life = 100 }\nfollow = { track = \"fish\", start = \"rest\" }\n[take.t]\nlength = 1\n";

TEST(MovingPicture, AFlatViewShowsTheSubjectWhereItIs) {
  const Shown shown(flat_feel, 10.0);
  const auto dots = lines_with(shown.words(0), "dot ");
  ASSERT_GE(dots.size(), 1u);
  // 620 px wide at 2:1, 310 high about 240: 31 px to a metre, up is up.
  EXPECT_NEAR(std::stod(dots[0][3]), 16 + 310 + 3 * 31, 0.02);
  EXPECT_NEAR(std::stod(dots[0][4]), 240 - 2 * 31, 0.02);
}

TEST(MovingPicture, ThePlanHasALegendAndAScaleThatStands) {
  const Shown shown(flat_feel, 10.0);
  const std::string first = shown.words(0), last = shown.words(shown.states.size() - 1);
  for (const char* const name : {"\nat\n", "\nfish\n"}) EXPECT_NE(first.find(name), std::string::npos) << name;
  // The subject's dot goes to the right by one metre, and its length on the plan is that of the whole way.
  const auto dots_of = [](const std::string& words) {
    std::vector<double> across;
    for (const auto& one : lines_with(words, "dot #CD5F33 5.00")) across.push_back(std::stod(one[3]));
    return across;
  };
  const auto before = dots_of(first), after = dots_of(last);
  ASSERT_GE(before.size(), 2u); // in the legend and on the plan
  EXPECT_EQ(before[1], after[1]);
  EXPECT_GT(after[0], before[0]);
}

TEST(MovingPicture, NoLineLeadsOverACut) {
  // The follower is cut to another subject: its trail is in two pieces.
  const Shown shown("[track.a]\nkind = \"steps\"\nplaces = [[0, 0, 0], [50, 0, 50]]\nevery = 0.5\n[channel.at]\nunit = "
                    "\"m\"\nrest = [0, 0, 0]\nfollow = { track = \"a\" }\n[take.t]\nlength = 1\n",
                    25.0);
  const std::string words = shown.words(shown.states.size() - 1);
  for (const auto& line : lines_with(words, "line #064B5D 2.60"))
    for (std::size_t k = 6; k + 1 < line.size(); k += 2) {
      const double x = std::stod(line[k]), before = std::stod(line[k - 2 > 4 ? k - 2 : k]);
      if (std::stod(line[k + 1]) < 440.0) {
        EXPECT_LT(std::fabs(x - before), 60.0);
      }
    }
}

TEST(MovingPicture, LeavesOutWhatCannotBeDrawn) {
  figure::DisplayList list;
  list.line({{0, 0}, {std::nan(""), 1}}, "#000000", 1.0);
  list.line({{0, 0}, {1e9, 1}}, "#000000", 1.0);
  list.dot({0, -1e300}, 3.0, "#000000");
  list.fill({{0, 0}, {1, 1}}, "#000000");
  EXPECT_EQ(list.words(), "");
}

std::uint32_t big_endian(const std::string& bytes, std::size_t at) {
  std::uint32_t number = 0;
  for (std::size_t k = 0; k < 4; ++k) number = number << 8 | static_cast<unsigned char>(bytes[at + k]);
  return number;
}

struct Chunk {
  std::string type, body;
};
std::vector<Chunk> chunks_in(const std::string& png) {
  std::vector<Chunk> chunks;
  for (std::size_t at = 8; at < png.size();) {
    const std::size_t length = big_endian(png, at);
    const std::string checked = png.substr(at + 4, length + 4);
    boost::crc_32_type crc;
    crc.process_bytes(checked.data(), checked.size());
    EXPECT_EQ(crc.checksum(), big_endian(png, at + 8 + length));
    chunks.push_back({checked.substr(0, 4), checked.substr(4)});
    at += length + 12;
  }
  return chunks;
}

/// All that a picture's pixels are packed in.
std::string packed(const std::vector<Chunk>& chunks) {
  std::string all;
  for (const Chunk& chunk : chunks)
    if (chunk.type == "IDAT") all += chunk.body;
  return all;
}

/// What rasterises stands beside the program, not beside this test.
struct Animation : ::testing::Test {
  Animation() {
    const std::string program = STASIS_PROGRAM;
    const char* const path = std::getenv("PATH");
    ::setenv("PATH", (program.substr(0, program.rfind('/')) + ":" + (path != nullptr ? path : "")).c_str(), 1);
  }
};

TEST_F(Animation, HoldsEveryPictureAsItWasDrawn) {
  const Shown shown(rising_feel, 10.0);
  figure::DisplayList list;
  const figure::MovingPicture picture(shown.scene, "Title", shown.states);
  for (std::size_t k = 0; k < 5; ++k) picture.draw(k, list);
  const auto drawn = figure::draw_pictures(list.words());
  ASSERT_TRUE(drawn) << drawn.error().message;
  ASSERT_EQ(drawn->size(), 5u);
  const std::vector<Chunk> chunks = chunks_in(figure::animated_png(*drawn, 12.5));
  EXPECT_EQ(chunks.front().type, "IHDR");
  EXPECT_EQ(chunks.back().type, "IEND");
  std::uint32_t number = 0;
  std::vector<std::string> frames;
  for (const Chunk& chunk : chunks) {
    if (chunk.type == "acTL") {
      EXPECT_EQ(big_endian(chunk.body, 0), 5u);
    }
    if (chunk.type == "fcTL" || chunk.type == "fdAT") {
      EXPECT_EQ(big_endian(chunk.body, 0), number++); // in the order of the file
    }
    if (chunk.type == "fcTL") {
      EXPECT_EQ(big_endian(chunk.body, 4), 960u);
      EXPECT_EQ(big_endian(chunk.body, 8), 540u);
      // 1000/12500 of a second
      EXPECT_EQ(big_endian(chunk.body, 20), (1000u << 16) | 12500u);
      frames.emplace_back();
    }
    if (chunk.type == "IDAT") frames.back() += chunk.body;
    if (chunk.type == "fdAT") frames.back() += chunk.body.substr(4);
  }
  ASSERT_EQ(frames.size(), 5u);
  for (std::size_t k = 0; k < 5; ++k) EXPECT_EQ(frames[k], packed(chunks_in((*drawn)[k]))) << k;
  EXPECT_NE(frames[0], frames[4]);
}

TEST_F(Animation, RefusesWhatIsNoList) {
  EXPECT_FALSE(figure::draw_pictures("picture 10\nnonsense"));
  EXPECT_FALSE(figure::draw_pictures("picture 100000000 100000000 0\nend\n"));
}

} // namespace
} // namespace stasis
