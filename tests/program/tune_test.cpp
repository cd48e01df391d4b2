// `stasis tune` through the built program: every word does what it says, on every kind of motion that takes it.
#include <cmath>
#include <map>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

std::string feel_of(const std::string& motion, const std::string& space = "linear") {
  return "# kept\n[channel.a]\nunit = \"m\"\nrest = 2\nrange = [1, 9]\nspace = \"" + space
         + "\"\nmotion = \"m\"\n[motion.m]   # kept too\n" + motion
         + "[pose.p]\na = 6\n[control.p]\nkind = \"hold\"\npose = \"p\"\n[take.t]\nlength = 12\nclock = { fps = 240 "
           "}\ncues = [{ at = 0.1, press = \"p\" }]\n[shake.s]\non = { a = 0.2 }\nwave = { kind = \"noise\", frequency "
           "= 8 "
           "}\ndecay = { kind = \"half_life\", half_life = \"200 ms\" }\n";
}

/// What `run` measures of the one move.
std::map<std::string, double> measured(const TempDir& folder, const std::string& text) {
  folder.write("feel.toml", text);
  const Ended run = run_program(folder, {"run", "feel.toml", "--json", "-o", "none"});
  EXPECT_EQ(run.status, 0) << run.err << text;
  const nlohmann::json found = nlohmann::json::parse(run.out);
  std::map<std::string, double> out;
  for (const char* const name : {"settling_time", "overshoot", "rise_time", "delay_time", "peak_acceleration"})
    if (found["moves"][0][name].is_number()) out[name] = found["moves"][0][name];
  return out;
}

std::string tuned(const TempDir& folder, const std::string& text, const std::vector<std::string>& words) {
  folder.write("feel.toml", text);
  std::vector<std::string> call{"tune", "feel.toml"};
  call.insert(call.end(), words.begin(), words.end());
  call.insert(call.end(), {"--figure", "none", "--write"});
  const Ended ended = run_program(folder, call);
  EXPECT_EQ(ended.status, 0) << ended.err;
  return folder.read("feel.toml");
}

const std::vector<std::string> motions{
    "kind = \"glide\"\nhalf_life = \"120 ms\"\n",
    "kind = \"glide\"\nrate = 7\n",
    "kind = \"glide\"\nper_frame = 0.1\nat_fps = 60\n",
    "kind = \"spring\"\nfrequency = 1.7\ndamping_ratio = 0.6\n",
    "kind = \"spring\"\nstiffness = 90\ndamping = 11\n",
    "kind = \"spring\"\nsettling_time = 0.7\novershoot = 9\n",
    "kind = \"ease\"\nduration = 0.6\ncurve = \"in-out sine\"\n",
    "kind = \"pace\"\nspeed = 5\nacceleration = 20\n",
    "kind = \"stages\"\nstages = [{ kind = \"delay\", delay = 0.1 }, { kind = \"glide\", half_life = 0.1 }]\n",
};

TEST(Tune, WordsOfTimeChangeTheirMeasureAndHoldTheOvershoot) {
  const TempDir folder;
  const std::pair<const char*, std::pair<const char*, double>> words[] = {
      {"snappier", {"settling_time", 0.8}}, {"heavier", {"rise_time", 1.25}}, {"heavier", {"delay_time", 1.25}}};
  for (const std::string& motion : motions)
    for (const auto& [word, change] : words) {
      const auto before = measured(folder, feel_of(motion)),
                 after = measured(folder, tuned(folder, feel_of(motion), {"a", word}));
      EXPECT_NEAR(after.at(change.first), change.second * before.at(change.first),
                  0.01 * change.second * before.at(change.first))
          << word << motion;
      EXPECT_NEAR(after.at("overshoot"), before.at("overshoot"), 0.01 * std::max(1.0, before.at("overshoot")))
          << word << motion;
    }
}

TEST(Tune, CalmerTakesThreeTenthsOfThePeakAcceleration) {
  const TempDir folder;
  for (const std::string& motion : motions) {
    const auto before = measured(folder, feel_of(motion)),
               after = measured(folder, tuned(folder, feel_of(motion), {"a", "calmer"}));
    if (!before.contains("peak_acceleration")) continue;
    EXPECT_NEAR(after.at("peak_acceleration"), 0.7 * before.at("peak_acceleration"),
                0.01 * before.at("peak_acceleration"))
        << motion;
  }
}

TEST(Tune, SpringsGetLivelierAndLoseTheirWobble) {
  const TempDir folder;
  for (const std::size_t k : {std::size_t{3}, std::size_t{4}, std::size_t{5}}) {
    const auto before = measured(folder, feel_of(motions[k])),
               livelier = measured(folder, tuned(folder, feel_of(motions[k]), {"a", "livelier"})),
               calm = measured(folder, tuned(folder, feel_of(motions[k]), {"a", "no", "wobble"}));
    EXPECT_NEAR(livelier.at("overshoot"), before.at("overshoot") + 3.0, 0.05) << motions[k];
    EXPECT_NEAR(livelier.at("rise_time"), before.at("rise_time"), 0.01 * before.at("rise_time")) << motions[k];
    EXPECT_NEAR(calm.at("overshoot"), 0.0, 1e-3) << motions[k];
    EXPECT_NEAR(calm.at("settling_time"), before.at("settling_time"), 0.01 * before.at("settling_time")) << motions[k];
  }
}

/// A delay before a spring shifts all in time and changes nothing else.
TEST(Tune, ASpringBehindADelayIsASpring) {
  const TempDir folder;
  const std::string late =
      "kind = \"stages\"\nstages = [{ kind = \"delay\", delay = 0.2 }, { kind = \"spring\", frequency = "
      "2, damping_ratio = 0.4 }]\n";
  const auto before = measured(folder, feel_of(late));
  const auto calm = measured(folder, tuned(folder, feel_of(late), {"a", "no", "wobble"}));
  const auto livelier = measured(folder, tuned(folder, feel_of(late), {"a", "livelier"}));
  EXPECT_NEAR(calm.at("overshoot"), 0.0, 1e-3);
  EXPECT_NEAR(calm.at("settling_time"), before.at("settling_time"), 0.01 * before.at("settling_time"));
  EXPECT_NEAR(livelier.at("overshoot"), before.at("overshoot") + 3.0, 0.05);
  EXPECT_NEAR(livelier.at("rise_time"), before.at("rise_time"), 0.01 * before.at("rise_time"));
}

TEST(Tune, TheReverseLeadsBackAndAnAmountScales) {
  const TempDir folder;
  for (const std::string& motion : motions) {
    const auto before = measured(folder, feel_of(motion));
    const std::string there = tuned(folder, feel_of(motion), {"a", "snappier"});
    EXPECT_NEAR(measured(folder, tuned(folder, there, {"a", "snappier", "-1"})).at("settling_time"),
                before.at("settling_time"), 0.02 * before.at("settling_time"))
        << motion;
    EXPECT_NEAR(measured(folder, tuned(folder, feel_of(motion), {"a", "snappier", "2"})).at("settling_time"),
                0.64 * before.at("settling_time"), 0.01 * before.at("settling_time"))
        << motion;
  }
}

TEST(Tune, ShakesHaveWordsOfTheirOwn) {
  const TempDir folder;
  const std::string punchy = tuned(folder, feel_of(motions[0]), {"s", "punchier"});
  EXPECT_NE(punchy.find("on = { a = 0.25 }"), std::string::npos) << punchy;
  EXPECT_NE(punchy.find("half_life = \"160 ms\""), std::string::npos) << punchy;
  EXPECT_NE(tuned(folder, feel_of(motions[0]), {"s", "rougher"}).find("frequency = 10 "), std::string::npos);
}

TEST(Tune, WritesItsNumbersAndNothingElse) {
  const TempDir folder;
  std::string expected = feel_of(motions[3]);
  const std::string now = tuned(folder, expected, {"a", "snappier"});
  expected.replace(expected.find("frequency = 1.7"), 15, "frequency = 2.125");
  EXPECT_EQ(now, expected);
  EXPECT_NE(tuned(folder, feel_of(motions[0]), {"a", "same", "near", "and", "far"}).find("space = \"ratio\""),
            std::string::npos);
}

// What its kind cannot do, another does: what the word holds is held.
TEST(Tune, ChangesTheKindOnRequest) {
  const TempDir folder;
  for (const char* const keys : {"half_life = 0.2 # s\n", "half_life = \"200 ms\" # s\n", "time_constant = 0.3 # s\n",
                                 "rate = 4 # s\n", "settling_time = 0.7 # s\n", "per_frame = 0.1 # s\nat_fps = 60\n"}) {
    SCOPED_TRACE(keys);
    const std::string text = feel_of("kind = \"glide\" # what\n" + std::string(keys));
    auto before = measured(folder, text);
    const Ended refused = run_program(folder, {"tune", "feel.toml", "a", "softer", "start", "--figure", "none"});
    EXPECT_EQ(refused.status, 1);
    EXPECT_NE(refused.err.find("`--change-kind` changes it"), std::string::npos) << refused.err;
    const std::string soft = tuned(folder, text, {"a", "softer", "start", "--change-kind"});
    EXPECT_NE(soft.find("kind = \"stages\" # what\n"), std::string::npos) << soft;
    auto after = measured(folder, soft);
    EXPECT_NEAR(after["settling_time"], before["settling_time"], 0.01 * before["settling_time"]);
    EXPECT_TRUE(std::isfinite(after["peak_acceleration"]) && after["peak_acceleration"] > 0.0) << soft;
    const std::string lively = tuned(folder, text, {"a", "livelier", "2", "--change-kind"});
    after = measured(folder, lively);
    EXPECT_NEAR(after["overshoot"], 6.0, 0.06) << lively;
    EXPECT_NEAR(after["rise_time"], before["rise_time"], 0.01 * before["rise_time"]);
    // A spring is no other kind: the word leads back as ever.
    EXPECT_NEAR(measured(folder, tuned(folder, lively, {"a", "livelier", "-1"}))["overshoot"], 3.0, 0.06);
  }
  const std::string curved = tuned(folder, feel_of("kind = \"ease\"\nduration = 1\ncurve = \"out power 3\" # c\n"),
                                   {"a", "softer", "start", "--change-kind"});
  EXPECT_NE(curved.find("curve = \"ease-in-out\" # c\n"), std::string::npos) << curved;
  // In place as well, and in a file that the feel includes.
  folder.write("shared.toml", "[motion.m] # shared\nkind = \"glide\"\nhalf_life = 0.2\n");
  const std::string own = "include = [\"shared.toml\"]\n[channel.a]\nrest = 0\nmotion = \"m\"\n[channel.b]\nrest = 0\n"
                          "motion = { kind = \"glide\", half_life = 0.1 }\n[take.t]\nlength = 1\n";
  folder.write("feel.toml", own);
  for (const char* const channel : {"a", "b"})
    EXPECT_EQ(
        run_program(folder, {"tune", "feel.toml", channel, "livelier", "--change-kind", "--write", "--figure", "none"})
            .status,
        0);
  EXPECT_NE(folder.read("shared.toml").find("kind = \"spring\"\n"), std::string::npos) << folder.read("shared.toml");
  EXPECT_NE(folder.read("feel.toml").find("motion = { kind = \"spring\", frequency = "), std::string::npos)
      << folder.read("feel.toml");
  // What no other kind does better stays refused, without the offer.
  folder.write("feel.toml", feel_of("kind = \"glide\"\nhalf_life = 0.2\n"));
  const Ended none = run_program(folder, {"tune", "feel.toml", "a", "no", "wobble", "--change-kind"});
  EXPECT_EQ(none.status, 1);
  EXPECT_EQ(none.err.find("changes it"), std::string::npos) << none.err;
}

TEST(Tune, SaysWhichKindCanWhereOneCannot) {
  const TempDir folder;
  const std::tuple<std::string, std::vector<std::string>, int, const char*> calls[] = {
      {motions[0], {"a", "softer", "start"}, 1, "half_life = \"80.468 ms\""},
      {motions[0], {"a", "no", "wobble"}, 1, "a motion of kind glide never does"},
      {"kind = \"stages\"\nstages = [{ kind = \"spring\", frequency = 2, damping_ratio = 0.3 }, { kind = \"glide\", "
       "half_life = 0.1 }]\n",
       {"a", "no", "wobble"},
       1,
       "by all of its stages together"},
      {"kind = \"stages\"\nstages = [{ kind = \"glide\", half_life = 0.1 }, { kind = \"glide\", half_life = 0.1 }]\n",
       {"a", "no", "wobble"},
       1,
       "no spring among its stages"},
      {"kind = \"pace\"\nspeed = 3\n", {"a", "calmer"}, 1, "it has no peak acceleration"},
      {"kind = \"ease\"\nduration = 1\ncurve = \"linear\"\n", {"a", "calmer"}, 1, "whose acceleration has no peak"},
      {"kind = \"ease\"\nduration = 1\ncurve = \"ease-out\"\n", {"a", "calmer"}, 1, "whose acceleration has no peak"},
      {"kind = \"pace\"\nspeed = 3\n", {"a", "softer", "start"}, 1, "at full speed at once"},
      {"kind = \"pace\"\nspeed = 3\nacceleration = 9\n", {"a", "softer", "start"}, 1, "sets off softly already"},
      {motions[6], {"a", "livelier"}, 1, "kind = \"spring\""},
      {motions[3], {"a", "softer", "start"}, 1, "sets off softly already"},
      {motions[0], {"a", "punchier"}, 2, "a word for shakes"},
      {motions[0], {"a", "snapier"}, 2, "Did you mean snappier?"},
      {motions[0], {"b", "snappier"}, 2, "no channel named"},
      {motions[0], {"a", "no", "wobble", "2"}, 2, "takes no amount"},
      {motions[0], {"a", "calmer", "nan"}, 2, "an amount is a number from -20 to 20, and \"nan\" is not one"},
      {"kind = \"per_frame\"\nrule = \"fraction\"\nfraction = 0.1\nat_fps = 60\n", {"a", "heavier"}, 1, "stasis rates"},
  };
  for (const auto& [motion, words, status, said] : calls) {
    folder.write("feel.toml", feel_of(motion));
    std::vector<std::string> call{"tune", "feel.toml"};
    call.insert(call.end(), words.begin(), words.end());
    call.insert(call.end(), {"--figure", "none", "--write"});
    const Ended ended = run_program(folder, call);
    EXPECT_EQ(ended.status, status) << said;
    EXPECT_NE(ended.err.find(said), std::string::npos) << ended.err;
    EXPECT_EQ(folder.read("feel.toml"), feel_of(motion)) << said;
  }
}

/// The measure that a word is about stands in its table.
TEST(Tune, CalmerTellsThePeakAcceleration) {
  const TempDir folder;
  folder.write("feel.toml", feel_of("kind = \"pace\"\nspeed = 3\nacceleration = 20\n"));
  const Ended ended = run_program(folder, {"tune", "feel.toml", "a", "calmer", "--figure", "none"});
  const std::size_t row = ended.out.find("peak acceleration, of the way");
  ASSERT_NE(row, std::string::npos) << ended.out;
  EXPECT_NE(ended.out.find("20.0 /s2  14.0 /s2", row), std::string::npos) << ended.out;
  const Ended other = run_program(folder, {"tune", "feel.toml", "a", "snappier", "--figure", "none"});
  EXPECT_EQ(other.out.find("peak acceleration, of the way"), std::string::npos) << other.out;
}

} // namespace
} // namespace stasis::test
