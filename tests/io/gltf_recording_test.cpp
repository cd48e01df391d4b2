// Scenes of glTF as recordings: where things are between keys, under parents, behind every way to store numbers.
#include <cmath>
#include <cstring>
#include <limits>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "io/gltf_recording.hpp"
#include "support/program.hpp"

namespace stasis {
namespace {

using test::TempDir;

std::string in_base64(const std::string& bytes) {
  const std::string letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  for (std::size_t k = 0; k < bytes.size(); k += 3) {
    unsigned group = 0;
    for (std::size_t i = 0; i < 3; ++i)
      group = group * 256 + (k + i < bytes.size() ? static_cast<unsigned char>(bytes[k + i]) : 0u);
    for (std::size_t i = 0; i < 4; ++i) out += k + i <= bytes.size() ? letters[(group >> (18 - 6 * i)) & 63u] : '=';
  }
  return out;
}

/// A scene in the making: nodes and channels as JSON, numbers as floats of one buffer.
class SceneText {
public:
  std::string nodes, cameras, name = "a";

  std::size_t floats(const std::vector<float>& values, const std::string& type) {
    std::string bytes(values.size() * 4, '\0');
    std::memcpy(bytes.data(), values.data(), bytes.size());
    const std::size_t width = type == "SCALAR" ? 1 : type == "VEC3" ? 3 : 4;
    return accessor(bytes, fmt::format(R"("componentType":5126,"count":{},"type":"{}")", values.size() / width, type));
  }
  std::size_t view(const std::string& bytes) {
    views_ += fmt::format(R"({}{{"buffer":0,"byteOffset":{},"byteLength":{}}})", views_.empty() ? "" : ",",
                          bytes_.size(), bytes.size());
    bytes_ += bytes;
    bytes_.resize((bytes_.size() + 3) / 4 * 4);
    return view_count_++;
  }
  std::size_t accessor(const std::string& bytes, const std::string& rest) {
    return bare_accessor(fmt::format(R"("bufferView":{},{})", view(bytes), rest));
  }
  std::size_t bare_accessor(const std::string& rest) {
    accessors_ += fmt::format("{}{{{}}}", accessors_.empty() ? "" : ",", rest);
    return accessor_count_++;
  }
  void channel(const std::string& target, std::size_t times, std::size_t values,
               const std::string& between = "LINEAR") {
    samplers_ += fmt::format(R"({}{{"input":{},"output":{},"interpolation":"{}"}})", samplers_.empty() ? "" : ",",
                             times, values, between);
    channels_ += fmt::format(R"({}{{"sampler":{},"target":{{{}}}}})", channels_.empty() ? "" : ",", count_++, target);
  }
  void move(std::size_t node, const std::vector<float>& times, const std::vector<float>& places,
            const std::string& between = "LINEAR") {
    channel(fmt::format(R"("node":{},"path":"translation")", node), floats(times, "SCALAR"), floats(places, "VEC3"),
            between);
  }
  std::string json(const std::string& uri) const {
    return fmt::format(
        R"({{"asset":{{"version":"2.0"}},"nodes":[{}],"cameras":[{}],"animations":[{{"name":"{}","samplers":[{}],"channels":[{}]}}],"accessors":[{}],"bufferViews":[{}],"buffers":[{{{}"byteLength":{}}}]}})",
        nodes, cameras, name, samplers_, channels_, accessors_, views_,
        uri.empty() ? "" : fmt::format(R"("uri":"{}",)", uri), bytes_.size());
  }
  std::string text() const { return json("data:application/octet-stream;base64," + in_base64(bytes_)); }
  const std::string& bytes() const { return bytes_; }

private:
  std::string views_, accessors_, samplers_, channels_, bytes_;
  std::size_t view_count_ = 0, accessor_count_ = 0, count_ = 0;
};

io::Recording scene_of(const std::string& text, const io::GltfForm& form = {}, const std::string& name = "s.gltf") {
  const TempDir folder;
  folder.write(name, text);
  auto found = io::read_gltf_recording(folder / name, form);
  EXPECT_TRUE(found) << found.error().message;
  return found ? std::move(*found) : io::Recording{};
}

std::vector<double> column(const io::Recording& table, const std::string& name) {
  for (std::size_t c = 0; c < table.names.size(); ++c)
    if (table.names[c] == name) return table.columns[c];
  ADD_FAILURE() << "no column " << name;
  return std::vector<double>(table.rows());
}

std::string refused(const std::string& text, const io::GltfForm& form = {}) {
  const TempDir folder;
  folder.write("s.gltf", text);
  const auto found = io::read_gltf_recording(folder / "s.gltf", form);
  EXPECT_FALSE(found) << text.substr(0, 200);
  return found ? "" : found.error().message;
}

TEST(GltfRecording, BetweenKeysItGoesAsTheFormatSays) {
  SceneText scene;
  scene.nodes = R"({"name":"straight"},{"name":"held"},{"name":"cubic"})";
  scene.move(0, {0, 1, 2}, {0, 0, 0, 2, 0, 0, 2, 4, 0});
  scene.move(1, {0, 1, 2}, {1, 0, 0, 5, 0, 0, 7, 0, 0}, "STEP");
  // x = t^3 from 0 to 2: slopes 0 and 12.
  scene.move(2, {0, 2}, {0, 0, 0, 0, 0, 0, 0, 0, 0, 12, 0, 0, 8, 0, 0, 0, 0, 0}, "CUBICSPLINE");
  const io::Recording table = scene_of(scene.text(), {false, "", 4.0});
  ASSERT_EQ(table.rows(), 9u);
  const auto time = column(table, "time"), straight = column(table, "straight.x"), y = column(table, "straight.y"),
             held = column(table, "held.x"), cubic = column(table, "cubic.x");
  for (std::size_t k = 0; k < table.rows(); ++k) {
    const double t = time[k];
    EXPECT_DOUBLE_EQ(t, 0.25 * static_cast<double>(k));
    EXPECT_NEAR(straight[k], std::min(2.0 * t, 2.0), 1e-12);
    EXPECT_NEAR(y[k], std::max(0.0, 4.0 * (t - 1.0)), 1e-12);
    EXPECT_EQ(held[k], t < 1.0 ? 1.0 : t < 2.0 ? 5.0 : 7.0);
    EXPECT_NEAR(cubic[k], t * t * t, 1e-12);
  }
}

TEST(GltfRecording, AParentTurnsMovesAndScales) {
  SceneText scene;
  // A quarter turn to the left brings -z to -x.
  scene.nodes =
      R"({"name":"rig","translation":[1,0,0],"rotation":[0,0.70710678118654757,0,0.70710678118654757],"scale":[2,2,2],"children":[1]},{"name":"eye","camera":0})";
  scene.cameras = R"({"type":"perspective","perspective":{"yfov":1,"znear":0.1}})";
  scene.move(1, {0, 0.04F}, {0, 0, -3, 0, 1, -5});
  const io::Recording table = scene_of(scene.text());
  ASSERT_EQ(table.rows(), 2u) << "keys near each other are the rows";
  EXPECT_NEAR(column(table, "eye.x")[0], 1.0 - 6.0, 1e-12);
  EXPECT_NEAR(column(table, "eye.x")[1], 1.0 - 10.0, 1e-12);
  EXPECT_NEAR(column(table, "eye.y")[1], 2.0, 1e-12);
  EXPECT_NEAR(column(table, "eye.z")[1], 0.0, 1e-12);
  EXPECT_NEAR(column(table, "eye.yaw")[0], 90.0, 1e-9);
  EXPECT_NEAR(column(table, "eye.pitch")[0], 0.0, 1e-9);
  EXPECT_NEAR(column(table, "eye.fov")[0], 180.0 / 3.14159265358979, 1e-9);
}

TEST(GltfRecording, ATurnGoesTheShortWayAndCountsOn) {
  SceneText scene;
  scene.nodes = R"({"name":"head"})";
  std::vector<float> turns;
  const double quarter = 0.25 * 3.14159265358979;
  for (int k = 0; k < 6; ++k) { // 90 degrees each, over more than a whole turn
    turns.push_back(0);
    turns.push_back(static_cast<float>(std::sin(quarter * k)));
    turns.push_back(0);
    turns.push_back(static_cast<float>(std::cos(quarter * k)));
  }
  scene.channel(R"("node":0,"path":"rotation")", scene.floats({0, 1, 2, 3, 4, 5}, "SCALAR"),
                scene.floats(turns, "VEC4"));
  const io::Recording table = scene_of(scene.text(), {false, "", 10.0});
  const auto yaw = column(table, "head.yaw");
  for (std::size_t k = 0; k < table.rows(); ++k) EXPECT_NEAR(yaw[k], 9.0 * static_cast<double>(k), 1e-4) << k;
}

TEST(GltfRecording, ALensMovesByAPointer) {
  SceneText scene;
  scene.nodes = R"({"name":"eye","camera":0})";
  scene.cameras = R"({"type":"perspective","perspective":{"yfov":1}})";
  scene.channel(R"("path":"pointer","extensions":{"KHR_animation_pointer":{"pointer":"/cameras/0/perspective/yfov"}})",
                scene.floats({0, 1}, "SCALAR"), scene.floats({1.0F, 0.5F}, "SCALAR"));
  const auto field = column(scene_of(scene.text(), {false, "", 2.0}), "eye.fov");
  ASSERT_EQ(field.size(), 3u);
  EXPECT_NEAR(field[1], 0.75 * 180.0 / 3.14159265358979, 1e-9);
}

TEST(GltfRecording, NumbersAreFoundHoweverTheyAreStored) {
  SceneText scene;
  scene.nodes =
      R"({"name":"sparse"},{"name":"small"},{"name":"matrix","matrix":[1,0,0,0,0,1,0,0,0,0,1,0,7,8,9,1],"children":[0]})";
  // All zero but the second element.
  const std::size_t places = scene.view(std::string("\x01\x00", 2)), values = scene.view([] {
    const float three[] = {4, 5, 6};
    std::string bytes(12, '\0');
    std::memcpy(bytes.data(), three, 12);
    return bytes;
  }());
  const std::size_t sparse = scene.bare_accessor(fmt::format(
      R"("componentType":5126,"count":3,"type":"VEC3","sparse":{{"count":1,"indices":{{"bufferView":{},"componentType":5123}},"values":{{"bufferView":{}}}}})",
      places, values));
  const std::size_t times = scene.floats({0, 0.01F, 0.02F}, "SCALAR");
  scene.channel(R"("node":0,"path":"translation")", times, sparse);
  // Normalised shorts: no turn, then half a turn about y.
  const short turns[] = {0, 0, 0, 32767, 0, 32767, 0, 0, 0, 0, 0, 32767};
  std::string bytes(sizeof turns, '\0');
  std::memcpy(bytes.data(), turns, sizeof turns);
  scene.channel(R"("node":1,"path":"rotation")", times,
                scene.accessor(bytes, R"("componentType":5122,"normalized":true,"count":3,"type":"VEC4")"));
  const io::Recording table = scene_of(scene.text());
  EXPECT_NEAR(column(table, "sparse.x")[0], 7.0, 1e-12) << "under the matrix of its parent";
  EXPECT_NEAR(column(table, "sparse.x")[1], 11.0, 1e-12);
  EXPECT_NEAR(column(table, "sparse.z")[1], 15.0, 1e-12);
  EXPECT_NEAR(std::fabs(column(table, "small.yaw")[1]), 180.0, 1e-9);
}

TEST(GltfRecording, AContainerAndABufferBesideItAreRead) {
  SceneText scene;
  scene.nodes = R"({"name":"n"})";
  scene.move(0, {0, 0.02F}, {1, 2, 3, 4, 5, 6});
  const auto word = [](std::size_t value) {
    std::string out;
    for (int k = 0; k < 4; ++k) out += static_cast<char>(value >> (8 * k) & 255u);
    return out;
  };
  std::string json = scene.json("");
  json.resize((json.size() + 3) / 4 * 4, ' ');
  const std::string glb = "glTF" + word(2) + word(28 + json.size() + scene.bytes().size()) + word(json.size()) + "JSON"
                          + json + word(scene.bytes().size()) + std::string("BIN\0", 4) + scene.bytes();
  EXPECT_EQ(column(scene_of(glb, {}, "s.glb"), "n.z")[1], 6.0);
  const TempDir folder;
  folder.write("my numbers.bin", scene.bytes());
  folder.write("s.gltf", scene.json("my%20numbers.bin"));
  const auto beside = io::read_gltf_recording(folder / "s.gltf", {});
  ASSERT_TRUE(beside) << beside.error().message;
  EXPECT_EQ(column(*beside, "n.x")[1], 4.0);
  EXPECT_NE(refused(glb.substr(0, glb.size() - 8)).find("cut short"), std::string::npos);
}

TEST(GltfRecording, WhatIsWrongIsSaidOnce) {
  SceneText scene;
  scene.nodes = R"({"name":"n"})";
  scene.move(0, {0, 1}, {0, 0, 0, 1, 1, 1});
  EXPECT_NE(refused(scene.json("../x.bin")).find("--allow-outside"), std::string::npos);
  EXPECT_NE(refused(scene.json("https://a.example/x.bin")).find("never"), std::string::npos);
  EXPECT_NE(refused(scene.json("data:;base64,!!!!")).find("base64"), std::string::npos);
  EXPECT_NE(refused(scene.json("data:;base64,AAAA")).find("beyond"), std::string::npos);
  EXPECT_NE(refused(scene.text(), {false, "b", {}}).find("no animation \"b\""), std::string::npos);
  EXPECT_NE(refused("{}").find("glTF 2.0"), std::string::npos);
  EXPECT_NE(refused("time,x\n0,1\n").find("glTF 2.0"), std::string::npos);
  EXPECT_NE(refused(R"({"asset":{}})").find("no animation"), std::string::npos);
  EXPECT_NE(refused(R"({"asset":{},"animations":[{}]})").find("moves"), std::string::npos);
  EXPECT_NE(refused(R"({"asset":{},"animations":[3],"nodes":7})").find("glTF 2.0"), std::string::npos);
  EXPECT_NE(refused(R"({"asset":{},"nodes":[{"children":[1]},{"children":[0]}]})").find("own parent"),
            std::string::npos);
  SceneText back;
  back.nodes = R"({"name":"n"})";
  back.move(0, {1, 0}, {0, 0, 0, 1, 1, 1});
  EXPECT_NE(refused(back.text()).find("ascend"), std::string::npos);
}

TEST(GltfRecording, FarKeysAreSampledAndThatIsSaid) {
  SceneText scene;
  scene.nodes = R"({"name":"n"},{"name":"n"})";
  scene.move(0, {0, 2}, {0, 0, 0, 1, 1, 1});
  scene.move(1, {0, 2}, {0, 0, 0, 1, 1, 1});
  const io::Recording table = scene_of(scene.text());
  EXPECT_EQ(table.rows(), 121u);
  ASSERT_EQ(table.notes.size(), 1u);
  EXPECT_NE(table.notes[0].find("--rate"), std::string::npos);
  EXPECT_EQ(column(table, "n_1.x").back(), 1.0) << "two of one name are told apart";
}

TEST(GltfRecording, MoreThanCanBeHeldIsRefusedWithWhatHelps) {
  SceneText scene;
  for (int n = 0; n < 30; ++n) scene.nodes += fmt::format(R"({}{{"name":"n{}"}})", n == 0 ? "" : ",", n);
  for (std::size_t n = 0; n < 30; ++n) scene.move(n, {0, 1e6F}, {0, 0, 0, 1, 1, 1});
  const std::string said = refused(scene.text());
  EXPECT_NE(said.find("--rate"), std::string::npos) << said;
  EXPECT_NE(said.find("60 rows a second"), std::string::npos) << said;
  const io::Recording table = scene_of(scene.text(), {false, "", 0.001});
  EXPECT_EQ(table.rows(), 1001u);
  EXPECT_NE(refused(scene.text(), {false, "", 1e6}).find("1000000 rows a second"), std::string::npos);
}

TEST(GltfRecording, NamesCanBeTyped) {
  SceneText scene;
  scene.nodes = R"({"name":"left, right"},{"name":""},{})";
  for (std::size_t n = 0; n < 3; ++n) scene.move(n, {0, 0.02F}, {0, 0, 0, 1, 2, 3});
  const io::Recording table = scene_of(scene.text());
  EXPECT_EQ(column(table, "left_ right.y")[1], 2.0);
  EXPECT_EQ(column(table, "node1.y")[1], 2.0);
  EXPECT_EQ(column(table, "node2.y")[1], 2.0);
}

TEST(GltfRecording, TimesThatAreNoTimesAreRefused) {
  for (const float last : {std::numeric_limits<float>::infinity(), std::numeric_limits<float>::quiet_NaN(), 0.0F}) {
    SceneText scene;
    scene.nodes = R"({"name":"n"})";
    scene.move(0, {0, last}, {0, 0, 0, 1, 1, 1});
    EXPECT_NE(refused(scene.text()).find("keys"), std::string::npos) << last;
  }
  EXPECT_NE(refused("").find("nothing in it"), std::string::npos);
}

TEST(GltfRecording, WhatStandsAndWhatBendsMeshesIsNoColumn) {
  SceneText scene;
  scene.nodes = R"({"name":"still"},{"name":"moves"},{"name":"mesh"})";
  scene.move(1, {0, 0.02F}, {0, 0, 0, 1, 2, 3});
  scene.channel(R"("node":2,"path":"weights")", scene.floats({0, 0.02F}, "SCALAR"), scene.floats({0, 1}, "SCALAR"));
  const io::Recording table = scene_of(scene.text());
  EXPECT_EQ(table.names, (std::vector<std::string>{"time", "moves.x", "moves.y", "moves.z"}));
}

TEST(GltfRecording, BeforeTheFirstKeyAndAfterTheLastItStands) {
  SceneText scene;
  scene.nodes = R"({"name":"early"},{"name":"late"})";
  scene.move(0, {0, 1}, {0, 0, 0, 4, 0, 0});
  scene.move(1, {1, 2}, {7, 0, 0, 9, 0, 0});
  const io::Recording table = scene_of(scene.text(), {false, "", 2.0});
  EXPECT_EQ(column(table, "early.x"), (std::vector<double>{0, 2, 4, 4, 4}));
  EXPECT_EQ(column(table, "late.x"), (std::vector<double>{7, 7, 7, 8, 9}));
}

} // namespace
} // namespace stasis
