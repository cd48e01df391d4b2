// Recordings as other programs write them: read right, or one paragraph that names the cause and what mends it.
#include <algorithm>
#include <cmath>
#include <functional>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Json = nlohmann::json;

constexpr double heron_half_life = 0.12;

double heron_at(double t) { return t < 0.5 ? 2.0 : 12.0 - 10.0 * std::exp2(-(t - 0.5) / heron_half_life); }

/// A glide of that half-life, each row written by `row`.
std::string heron_table(const std::string& head, const std::function<std::string(int, double, double)>& row) {
  std::string text = head;
  for (int k = 0; k < 120; ++k) text += row(k, k / 60.0, heron_at(k / 60.0));
  return text;
}

std::string plain_heron(const std::string& head) {
  return heron_table(head, [](int, double t, double v) { return fmt::format("{:.6f},{:.8f}\n", t, v); });
}

std::string with_commas(double value, int places) {
  std::string text = fmt::format("{:.{}f}", value, places);
  std::replace(text.begin(), text.end(), '.', ',');
  return text;
}

std::string in_utf16(const std::string& text, bool big) {
  std::string out;
  for (const char c : text) out += big ? std::string{'\0', c} : std::string{c, '\0'};
  return out;
}

TEST(Recordings, AreReadWhateverTheirForm) {
  const TempDir folder;
  const auto parted = [](char mark) {
    return heron_table(fmt::format("time{}value\n", mark),
                       [=](int, double t, double v) { return fmt::format("{:.6f}{}{:.8f}\n", t, mark, v); });
  };
  const std::vector<std::pair<std::string, std::vector<std::string>>> forms{
      {plain_heron("time,value\n"), {}},
      {plain_heron("TIME,Value\n"), {}},
      {plain_heron("Time (s),Value [m]\n"), {}},
      {plain_heron("elapsed,value\n"), {}},
      {plain_heron("# made up\n\n\"time\",\"value\"\n"), {}},
      {plain_heron("sep=,\ntime,value\n"), {}},
      {plain_heron("when,value\n"), {"--time", "when"}},
      {parted(';'), {}},
      {parted('\t'), {}},
      {parted('|'), {}},
      {parted(' '), {}},
      {parted('|'), {"--separator", "bar"}},
      {heron_table("time;value\n",
                   [](int, double t, double v) { return with_commas(t, 6) + ";" + with_commas(v, 8) + "\n"; }),
       {}},
      {heron_table(
           "time,value\n",
           [](int, double t, double v) { return "\"" + with_commas(t, 6) + "\",\"" + with_commas(v, 8) + "\"\n"; }),
       {}},
      {heron_table("time,value,\n", [](int, double t, double v) { return fmt::format("{:.6f},{:.8f},\n", t, v); }), {}},
      {heron_table("time,value,state\n",
                   [](int, double t, double v) { return fmt::format("{:.6f},{:.8f},wading\n", t, v); }),
       {}},
      {heron_table("time,value\n",
                   [](int k, double t, double v) {
                     return fmt::format("{:.6f},{}\n", t, k % 11 == 5 ? "NaN" : fmt::format("{:.8f}", v));
                   }),
       {}},
      {heron_table("time,value\n", [](int, double t, double v) { return fmt::format("{:.6e},{:.9E}\n", t, v); }), {}},
      {heron_table("time,value\n", [](int, double t, double v) { return fmt::format("{:.6f},{:.8f} m\n", t, v); }), {}},
      {heron_table("time;value\n",
                   [](int, double t, double v) { return fmt::format("{:.6f};1,{:011.6f}\n", t, 100.0 + v); }),
       {}},
      {heron_table("time_ms,value\n",
                   [](int, double t, double v) { return fmt::format("{:.4f},{:.8f}\n", 1e3 * t, v); }),
       {}},
      {heron_table("t,value\n", [](int, double t, double v) { return fmt::format("{:.2f},{:.8f}\n", 1e6 * t, v); }),
       {"--time-unit", "us"}},
      {heron_table("time,value\n",
                   [](int, double t, double v) { return fmt::format("10:00:{:09.6f},{:.8f}\n", t, v); }),
       {}},
      {heron_table(
           "timestamp,value\n",
           [](int, double t, double v) { return fmt::format("2026-11-29T09:59:{:09.6f}Z,{:.8f}\n", 50.0 + t, v); }),
       {}},
      {heron_table("frame,value\n", [](int k, double, double v) { return fmt::format("{},{:.8f}\n", k, v); }),
       {"--rate", "60", "--value", "value"}},
      {heron_table("time,value\n",
                   [](int k, double t, double v) {
                     const std::string row = fmt::format("{:.6f},{:.8f}\n", t, v);
                     return k == 40 ? row + row : row;
                   }),
       {"--repair", "repeated"}},
      {heron_table("time,value\n",
                   [](int k, double, double) {
                     const int other = k % 2 == 0 ? k + 1 : k - 1;
                     return fmt::format("{:.6f},{:.8f}\n", other / 60.0, heron_at(other / 60.0));
                   }),
       {"--repair", "unsorted"}},
      {heron_table(
           "time,take,value\n",
           [](int, double t, double v) { return fmt::format("{:.6f},second,{:.8f}\n{:.6f},first,7\n", t, v, t); }),
       {"--only", "take=second", "--value", "value"}},
      {in_utf16(plain_heron("time,value\n"), false), {}},
      {in_utf16(plain_heron("time,value\n"), true), {}},
  };
  int number = 0;
  for (const auto& [text, words] : forms) {
    folder.write("r.csv", text);
    std::vector<std::string> call{"match", "r.csv", "--kinds", "glide", "--figure", "none", "--json"};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    ASSERT_FALSE(ended.out.empty()) << number << " " << ended.err;
    const Json found = Json::parse(ended.out);
    EXPECT_NEAR(found["ranking"][0]["parameters"]["half_life"]["value"].get<double>(), heron_half_life, 2e-4)
        << number << " " << text.substr(0, 80);
    ++number;
  }
}

TEST(Recordings, FaultsNameTheirCauseOnce) {
  const TempDir folder;
  const std::string body = plain_heron("");
  const std::vector<std::tuple<std::string, std::vector<std::string>, std::string>> faults{
      {"", {}, "there is nothing in it"},
      {"time,value\n", {}, "no rows below the names"},
      {body, {}, "put a line such as \"time,value\" above it"},
      {"value\n1\n2\n", {}, "--rate"},
      {"frame,value\n" + body, {}, "--time"},
      {"time,a,b\n1,2,3\n2,3,4\n", {}, "--value"},
      {"time;value\n" + body, {}, "separated by semicolon, the rows are not"},
      {"time,value\n1,5,2,5\n", {}, "decimal commas need semicolons"},
      {"time,value\n" + body + "time,value\n" + body, {}, "two recordings"},
      {"time,value\n" + body + "9.5\n", {}, "line 122: 1 cells"},
      {"time,value\n0,1\n0.1,2\n0.1,3\n", {}, "--repair repeated"},
      {"time,value\n0,1\n0.2,2\n0.1,3\n", {}, "--repair unsorted"},
      {"time,value\n0,x\n1,y\n", {"--value", "value"}, "no rows with numbers in time and value"},
      {"time,value\n" + body, {"--separator", "slash"}, "comma, semicolon, tab, bar and blank"},
      {"time,value\n" + body, {"--only", "value"}, "COLUMN=VALUE"},
      {"time,value\n" + body, {"--only", "take=1"}, "there is no column"},
      {"time,value,take\n0,1,a\n1,2,b\n", {"--only", "take=c"}, "It holds a and b"},
      {"time,value\n" + body, {"--repair", "all"}, "unsorted and repeated"},
      {"time,value\n" + body, {"--rate", "60", "--time", "time"}, "exclude each other"},
      {"time,value\n" + body + "9.5,1e300\n", {}, "r.csv: row 121 of value holds 1e+300; values go up to 1e15"},
      {std::string("\x01\x02\0\x03", 4), {}, "a binary file, not text"}};
  for (const auto& [text, words, said] : faults) {
    folder.write("r.csv", text);
    for (const char* command : {"match", "measure"}) {
      std::vector<std::string> call{command, "r.csv", "--figure", "none"};
      call.insert(call.end(), words.begin(), words.end());
      const Ended ended = run_program(folder, call);
      EXPECT_EQ(ended.status, 2) << said << ended.out;
      EXPECT_NE(ended.err.find(said), std::string::npos) << said << "\n" << ended.err;
      EXPECT_EQ(std::count(ended.err.begin(), ended.err.end(), '\n'), 1) << ended.err;
      EXPECT_EQ(ended.out, "");
    }
  }
}

TEST(Recordings, ASceneThatStasisWroteIsReadAsItsTrace) {
  const TempDir folder;
  ASSERT_EQ(run_in_shell(folder, fmt::format("cp '{0}'/demo/*.toml '{0}'/demo/*.csv .", STASIS_SOURCE)).status, 0);
  ASSERT_EQ(run_program(folder, {"run", "bridge.toml", "--take", "aside", "--figure", "none"}).status, 0);
  const auto trace = read_csv(folder.read("stasis-out/aside.trace.csv"));
  for (const std::string form : {"gltf", "glb"}) {
    const Ended written =
        run_program(folder, {"export", "bridge.toml", "gltf", "--form", form, "--take", "aside", "-o", "out"});
    ASSERT_EQ(written.status, 0) << written.err;
    const Ended measured = run_program(
        folder, {"measure", "out/aside." + form, "--value", "eye.x,eye.y,eye.z", "--figure", "none", "--json"});
    ASSERT_EQ(measured.status, 0) << measured.err;
    const Json channel = Json::parse(measured.out)["channels"]["eye"];
    for (const char* const component : {"x", "y", "z"}) {
      const auto& column = trace.at(std::string("eye.") + component);
      // What is between rows may lie higher by a little; the numbers of the format are singles.
      EXPECT_NEAR(channel[std::string("end_value.") + component].get<double>(), column.back(), 1e-5) << form;
      EXPECT_NEAR(channel[std::string("highest_value.") + component].get<double>(),
                  *std::max_element(column.begin(), column.end()), 1e-3)
          << form << component;
    }
  }
  // And as stops.
  EXPECT_EQ(run_program(folder,
                        {"match", "out/aside.glb", "--value", "eye", "--stops", "--within", "0.2", "--figure", "none"})
                .status,
            0);
}

TEST(Recordings, OptionsOfATableAreRefusedForAScene) {
  const TempDir folder;
  folder.write("s.gltf", R"({"asset":{"version":"2.0"}})");
  for (const auto& [words, said] :
       std::vector<std::pair<std::vector<std::string>, std::string>>{{{"--separator", "tab"}, "--separator"},
                                                                     {{"--only", "take=3"}, "animation=NAME"},
                                                                     {{"--rate", "0"}, "--rate"}}) {
    std::vector<std::string> call{"measure", "s.gltf", "--value", "x", "--figure", "none"};
    call.insert(call.end(), words.begin(), words.end());
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, 2);
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
  }
}

TEST(Recordings, OptionsOfASceneAreRefusedForATable) {
  const TempDir folder;
  folder.write("r.csv", "t,x\n0,1\n0.1,1\n");
  const Ended ended = run_program(folder, {"measure", "r.csv", "--value", "x", "--allow-outside", "--figure", "none"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("--allow-outside belongs to a scene"), std::string::npos) << ended.err;
}

} // namespace
} // namespace stasis::test
