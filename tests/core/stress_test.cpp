// Random hands: what they find, and that they find the same each time.
#include <algorithm>

#include <gtest/gtest.h>

#include "core/check/warning.hpp"
#include "core/explain/explain_controls.hpp"
#include "core/search/stress.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

std::string shoulder(const std::string& side,
                     const std::string& motion = "{ kind = \"ease\", duration = 0.3, curve = \"in-out sine\" }") {
  return "[channel.side]\nrest = 0.55\nrange = [-0.8, 0.8]\nmotion = " + motion
         + "\n[control.shoulder]\nkind = \"cycle\"\nmirror = \"side\"\nside = \"" + side + "\"\n";
}

/// The troubles of the first plays, with the number of the first play that showed each.
std::vector<std::pair<std::uint64_t, TroubleFound>> found_in(const Stress& stress, std::uint64_t plays) {
  std::vector<std::pair<std::uint64_t, TroubleFound>> found;
  for (std::uint64_t number = 0; number < plays; ++number)
    for (const TroubleFound& one : stress.troubles_of(stress.play_of(number)))
      if (std::none_of(found.begin(), found.end(),
                       [&](const auto& f) { return f.second.trouble == one.trouble && f.second.about == one.about; }))
        found.emplace_back(number, one);
  return found;
}

TEST(Stress, AStoredSideHoldsWhateverHandsDo) {
  const Feel feel = test::feel_from(shoulder("stored"));
  EXPECT_TRUE(found_in(Stress(feel, {}), 3000).empty());
}

TEST(Stress, MirroringWhatIsThereDriftsInTwoPresses) {
  const Feel feel = test::feel_from(shoulder("what_is_there"));
  const Stress stress(feel, {});
  const auto found = found_in(stress, 200);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_EQ(found[0].second.trouble, Trouble::in_between);
  const StressPlay shortest = stress.shrunk(stress.play_of(found[0].first), found[0].second);
  EXPECT_EQ(shortest.actions.size(), 2u);
  // What is printed is a take that shows it again.
  const Feel pasted = test::feel_from(shoulder("what_is_there") + stress.text_of(shortest, "found_1"));
  const auto rows = test::play_rows(pasted);
  EXPECT_LT(std::abs(rows.smooth.back()), 0.5);
}

TEST(Stress, LookingWhereItIsLosesPresses) {
  const Feel feel = test::feel_from(shoulder("opposite_of_now"));
  const Stress stress(feel, {});
  const auto found = found_in(stress, 200);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_EQ(found[0].second.trouble, Trouble::lost_press);
  EXPECT_EQ(stress.shrunk(stress.play_of(found[0].first), found[0].second).actions.size(), 2u);
}

TEST(Stress, AMotionThatNeverRestsIsStillMoving) {
  const Feel feel = test::feel_from(shoulder("stored", "{ kind = \"spring\", frequency = 1, damping_ratio = 0.01 }"));
  const auto found = found_in(Stress(feel, {}), 50);
  ASSERT_FALSE(found.empty());
  EXPECT_EQ(found[0].second.trouble, Trouble::still_moving);
}

TEST(Stress, ACurveThatStopsShortRestsInBetween) {
  const Feel feel =
      test::feel_from(shoulder("stored", "{ kind = \"ease\", duration = 0.3, curve = \"linear(0, 0.8)\" }"));
  const auto found = found_in(Stress(feel, {}), 50);
  ASSERT_FALSE(found.empty());
  EXPECT_EQ(found[0].second.trouble, Trouble::in_between);
}

/// What the first plays find of one kind of trouble, shrunk.
std::optional<StressPlay> shortest_of(const Stress& stress, Trouble trouble, std::uint64_t plays) {
  for (const auto& [number, found] : found_in(stress, plays))
    if (found.trouble == trouble) return stress.shrunk(stress.play_of(number), found);
  return std::nullopt;
}

std::string wheel(const std::string& more) {
  return "[channel.a]\nrest = 10\nrange = [0, 40]\nmotion = { kind = \"glide\", half_life = 0.1 }\n"
         "[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\n"
         + more;
}

TEST(Stress, AStepOnEveryFrameEndsElsewhereAtAnotherFrameRate) {
  const Feel sound = test::feel_from(wheel("repeat_every = 0.1\n"));
  EXPECT_TRUE(found_in(Stress(sound, {}), 300).empty());
  const Feel feel = test::feel_from(wheel("every_frame = true\n"));
  const auto shortest = shortest_of(Stress(feel, {}), Trouble::frame_rate, 100);
  ASSERT_TRUE(shortest.has_value());
  EXPECT_EQ(shortest->actions.size(), 1u);
  EXPECT_GT(shortest->actions[0].held, 0.0);
}

TEST(Stress, ARepeatThatCountsAsASecondPressRunsToTheEnd) {
  const std::string repeating = "double_within = 0.3\nrepeat_every = 0.2\n";
  EXPECT_TRUE(found_in(Stress(test::feel_from(wheel(repeating)), {}), 300).empty());
  const Feel feel = test::feel_from(wheel(repeating + "repeats_double = true\n"));
  const Stress stress(feel, {});
  const auto shortest = shortest_of(stress, Trouble::double_press, 100);
  ASSERT_TRUE(shortest.has_value());
  EXPECT_EQ(shortest->actions.size(), 1u);
  // One press, held: at the end of the range, where a single click each 0.2 s would have come to 11 or 12.
  const auto rows = test::play_rows(
      test::feel_from(wheel(repeating + "repeats_double = true\n") + stress.text_of(*shortest, "found_1")));
  EXPECT_NEAR(rows.smooth.back(), 40.0, 1e-9);
  // A repeat that comes too late is no second press.
  EXPECT_TRUE(found_in(Stress(test::feel_from(wheel("double_within = 0.3\nrepeat_every = 0.31\nrepeats_double = "
                                                    "true\n")),
                              {}),
                       300)
                  .empty());
}

TEST(Stress, AStallCarriesARuleOfFramesBeyondItsGoal) {
  const auto held = [](const std::string& rule) {
    return "[channel.a]\nrest = 10\nrange = [-1000, 1000]\nmotion = { kind = \"per_frame\", at_fps = 60, " + rule
           + " }\n[pose.p]\na = 20\n[control.h]\nkind = \"hold\"\npose = \"p\"\n";
  };
  for (const char* rule : {"rule = \"product\", rate = 12", "rule = \"spring_step\", stiffness = 80, damping = 12",
                           "rule = \"fraction\", fraction = 1.2"}) {
    const Feel feel = test::feel_from(held(rule));
    const auto shortest = shortest_of(Stress(feel, {}), Trouble::overshoot, 300);
    ASSERT_TRUE(shortest.has_value()) << rule;
    EXPECT_EQ(shortest->actions.size(), 1u) << rule;
  }
  for (const char* rule : {"rule = \"product\", rate = 12, clamp = true", "rule = \"amount\", amount = 0.3",
                           "rule = \"fraction\", fraction = 0.2"})
    for (const auto& [number, found] : found_in(Stress(test::feel_from(held(rule)), {}), 300))
      EXPECT_NE(found.trouble, Trouble::overshoot) << rule;
}

TEST(Stress, ClicksAreShrunkToOneLargerCount) {
  // Every move stops short of its rung: one click shows it, as twenty do.
  const Feel feel = test::feel_from("[channel.a]\nrest = 0\nrange = [0, 9]\nmotion = { kind = \"ease\", duration = "
                                    "0.1, curve = \"linear(0, 0.8)\" }\n[control.w]\nkind = \"clicks\"\nchannel = "
                                    "\"a\"\nstep = 1\n");
  const auto shortest = shortest_of(Stress(feel, {}), Trouble::in_between, 100);
  ASSERT_TRUE(shortest.has_value());
  EXPECT_EQ(shortest->actions.size(), 1u);
}

TEST(Stress, PlaysDependOnSeedAndNumberOnly) {
  const Feel feel = test::feel_from(shoulder("stored"));
  const Stress one(feel, {1, 4.0, 5.0}), again(feel, {1, 4.0, 5.0}), other(feel, {2, 4.0, 5.0});
  int differing = 0;
  for (std::uint64_t number = 0; number < 100; ++number) {
    const StressPlay a = one.play_of(number), b = again.play_of(number), c = other.play_of(number);
    ASSERT_EQ(one.text_of(a, "t"), again.text_of(b, "t"));
    differing += one.text_of(a, "t") != other.text_of(c, "t") ? 1 : 0;
  }
  EXPECT_GT(differing, 95);
}

TEST(NamedValues, AreRestPosesThatLatchAndRungs) {
  const Feel feel = test::feel_from("[channel.a]\nrest = 1\nrange = [0, 10]\n[pose.p]\na = 7\n[pose.q]\na = { times = "
                                    "2 }\n[pose.h]\na = 5.5\n[control.p]\nkind = "
                                    "\"toggle\"\npose = \"p\"\n[control.q]\nkind = \"cycle\"\nposes = "
                                    "[\"q\"]\n[control.h]\nkind = \"hold\"\npose = \"h\"\n");
  const NamedValues named = named_values(feel, {0, 0});
  EXPECT_EQ(named.values, (std::vector<double>{1, 2, 7}));
  EXPECT_TRUE(named.hold(7.0 + 1e-12));
  EXPECT_FALSE(named.hold(5.5)); // a hold is let go in the end
  const Feel kept =
      test::feel_from("[channel.a]\nrest = 1\nrange = [0, 10]\n[pose.h]\na = { add = 2 }\n[control.h]\nkind = "
                      "\"hold\"\npose = \"h\"\non_release = \"stay\"\n");
  EXPECT_EQ(named_values(kept, {0, 0}).values, (std::vector<double>{1, 3, 5, 7, 9, 10}));
}

TEST(ExplainControls, CountsClicksAndSaysWhoDecides) {
  const Feel feel = test::feel_from(
      "[channel.d]\nunit = \"m\"\nrest = 4\nrange = [1, 9]\nspace = \"ratio\"\n[pose.p]\nd = 2\n[pose.q]\nd = "
      "8\n[control.w]\nkind = "
      "\"clicks\"\nchannel = \"d\"\nstep = 1\nby = \"amount\"\nclicks_per_stroke = 3\n[control.p]\nkind = "
      "\"hold\"\npose = \"p\"\n"
      "[control.q]\nkind = \"hold\"\npose = \"q\"\n[group.g]\ncontrols = [\"p\", \"q\"]\npolicy = \"ranked\"\n");
  const auto accounts = accounts_of_controls(feel);
  EXPECT_EQ(accounts[0].clicks_end_to_end, 8);
  EXPECT_EQ(accounts[0].strokes_end_to_end, 3);
  EXPECT_NE(accounts[0].sentence.find("100 % at the low end and 12 % at the high one"), std::string::npos)
      << accounts[0].sentence;
  const auto contests = accounts_of_contests(feel);
  ASSERT_EQ(contests.size(), 1u);
  EXPECT_EQ(contests[0].sentence, "the first of p and q that is held wins");
}

TEST(ExplainControls, SaysWhatEveryKindDoes) {
  const std::string start =
      "[channel.a]\nunit = \"m\"\nrest = 0.5\nrange = [-2, 2]\n[channel.r]\nrest = 4\nrange = [1, 16]\nspace = "
      "\"ratio\"\n[pose.p]\na = 1\n[pose.q]\na = 2\n[control.c]\n";
  const std::pair<const char*, const char*> cases[] = {
      {"kind = \"hold\"\npose = \"p\"\n", "the pose p while it is held; returns to rest when released or cancelled"},
      {"kind = \"hold\"\npose = \"p\"\non_release = \"stay\"\n", "it stays there: that is its new home"},
      {"kind = \"hold\"\npose = \"p\"\nbuttons = [\"b\", \"d\"]\n", "down until the last of its 2 buttons is released"},
      {"kind = \"toggle\"\npose = \"p\"\n", "from one press to the next"},
      {"kind = \"cycle\"\nposes = [\"p\", \"q\", \"home\"]\n", "each press takes the next of p, q and home"},
      {"kind = \"cycle\"\nmirror = \"a\"\n", "the side is kept, so every press counts"},
      {"kind = \"cycle\"\nmirror = \"a\"\nside = \"what_is_there\"\n", "it drifts to the middle"},
      {"kind = \"cycle\"\nmirror = \"a\"\nside = \"opposite_of_now\"\n", "a press before it has crossed is lost"},
      {"kind = \"clicks\"\nchannel = \"r\"\nstep = 2\n",
       "a click up raises r by 100 %, a click down lowers it again; 4 clicks from end to end, 2 of them above home and "
       "2 below"},
      {"kind = \"clicks\"\nchannel = \"a\"\nstep = 0.5\ninvert = true\nevery_frame = true\n",
       "a click up lowers a by 0.5000 m, a click down raises it again"},
      {"kind = \"pointer\"\nchannel = \"a\"\ngain = 0.25\n", "a moves by 0.2500 m a count, at any frame rate"},
      {"kind = \"pointer\"\nchannel = \"a\"\ngain = 0.25\ntop_speed = 3\n", "no faster than 3.000 m a second"},
      {"kind = \"stick\"\nchannel = \"r\"\ngain = 2\n", "r moves at up to 2.00 doublings a second"},
      {"kind = \"stick\"\nchannel = \"a\"\nposition = \"absolute\"\n", "is where the stick is put"},
  };
  for (const auto& [control, words] : cases) {
    const std::string said = accounts_of_controls(test::feel_from(start + control))[0].sentence;
    EXPECT_NE(said.find(words), std::string::npos) << said;
  }
}

TEST(ExplainControls, EveryPolicyIsSaid) {
  const auto said = [](const std::string& group) {
    return accounts_of_contests(test::feel_from(
        "[channel.a]\nrest = 0\n[pose.p]\na = 1\n[pose.q]\na = 2\n[control.p]\nkind = \"hold\"\npose = "
        "\"p\"\n[control.q]\nkind = \"hold\"\npose = \"q\"\n"
        + group))[0]
        .sentence;
  };
  const auto of = [&](const std::string& policy) {
    return said("[group.g]\ncontrols = [\"p\", \"q\"]\npolicy = \"" + policy + "\"\n");
  };
  EXPECT_EQ(said(""), "if p and q are held together, the last one pressed wins; when it is released, the one before it "
                      "has the channel again");
  EXPECT_EQ(of("latest"), said(""));
  EXPECT_EQ(
      of("first"),
      "if p and q are held together, the first one pressed wins; when it is released, the next one has the channel");
  EXPECT_EQ(of("neither"), "if p and q are held together, none wins, and it goes home");
  EXPECT_EQ(of("sum"), "if p and q are held together, their distances from home are added up");
}

TEST(Stress, HandsReachEveryButtonAndKindOfControl) {
  const Feel feel =
      test::feel_from("[channel.a]\nrest = 0\nrange = [-2, 2]\n[channel.b]\nrest = 0\nrange = [-2, 2]\n[pose.p]\na = "
                      "1\n[control.h]\nkind = \"hold\"\npose = "
                      "\"p\"\nbuttons = [\"one\", \"two\"]\n[control.w]\nkind = \"clicks\"\nchannel = \"a\"\nstep = "
                      "1\n[control.s]\nkind = "
                      "\"stick\"\nchannel = \"b\"\n[control.m]\nkind = \"pointer\"\nchannel = \"b\"\ngain = 0.01\n");
  const Stress stress(feel, {});
  std::string all;
  for (std::uint64_t number = 0; number < 60; ++number) {
    const StressPlay play = stress.play_of(number);
    all += stress.text_of(play, "t");
    EXPECT_TRUE(stress.troubles_of(play).empty()) << stress.text_of(play, "t");
    // Printed and read again, it is the same play.
    const Take made = stress.take_of(play, "t");
    EXPECT_FALSE(made.cues.empty());
    EXPECT_TRUE(
        std::is_sorted(made.cues.begin(), made.cues.end(), [](const Cue& a, const Cue& b) { return a.at < b.at; }));
  }
  for (const char* word :
       {"press = \"one\"", "press = \"two\"", "cancel = \"h\"", "click = \"w\"", "stick = \"s\"", "pointer = \"m\""})
    EXPECT_NE(all.find(word), std::string::npos) << word;
}

TEST(ControlWarnings, NameTheAccidents) {
  const auto codes_of = [](const std::string& text) {
    std::vector<std::string> codes;
    for (const Warning& warning : warnings_of_feel(test::feel_from(text))) codes.push_back(warning.code);
    return codes;
  };
  const auto has = [](const std::vector<std::string>& codes, const char* code) {
    return std::find(codes.begin(), codes.end(), code) != codes.end();
  };
  EXPECT_FALSE(has(codes_of(shoulder("stored")), "side_not_stored"));
  EXPECT_TRUE(has(codes_of(shoulder("what_is_there")), "side_not_stored"));
  const std::string a = "[channel.a]\nrest = 0\nrange = [-9, 9]\n";
  EXPECT_TRUE(has(codes_of(a + "[control.c]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\nevery_frame = true\n"),
                  "step_every_frame"));
  const std::string held = "[control.c]\nkind = \"clicks\"\nchannel = \"a\"\nstep = 1\nrepeats_double = true\n";
  EXPECT_TRUE(has(codes_of(a + held + "double_within = 0.3\nrepeat_every = 0.2\n"), "double_by_repeat"));
  EXPECT_FALSE(has(codes_of(a + held + "double_within = 0.3\nrepeat_every = 0.4\n"), "double_by_repeat"));
  EXPECT_TRUE(has(codes_of(a + "[control.c]\nkind = \"pointer\"\nchannel = \"a\"\ngain = 1\ntimes_frame_time = true\n"),
                  "counts_times_time"));
  const std::string opposed =
      a
      + "[pose.l]\na = -1\n[pose.r]\na = 1\n[control.l]\nkind = \"hold\"\npose = \"l\"\n[control.r]\nkind = "
        "\"hold\"\npose = \"r\"\n";
  EXPECT_TRUE(has(codes_of(opposed), "opposed_without_group"));
  EXPECT_FALSE(
      has(codes_of(opposed + "[group.g]\ncontrols = [\"l\", \"r\"]\npolicy = \"neither\"\n"), "opposed_without_group"));
  const auto against = [&](int more) { // one hold against several
    std::string text = opposed;
    for (int k = 0; k < more; ++k) text += "[control.r" + std::to_string(k) + "]\nkind = \"hold\"\npose = \"r\"\n";
    const auto codes = codes_of(text);
    return std::count(codes.begin(), codes.end(), "opposed_without_group");
  };
  EXPECT_EQ(against(3), 4) << "one for each pair";
  EXPECT_EQ(against(30), 1) << "one for a crowd";
  const auto carrying = [](const std::string& curve) {
    return "[channel.a]\nrest = 0\nmotion = { kind = \"ease\", duration = 1, handover = \"carry\", curve = \"" + curve
           + "\" }\n";
  };
  EXPECT_TRUE(has(codes_of(carrying("out circle")), "carry_from_steep"));
  EXPECT_FALSE(has(codes_of(carrying("in-out sine")), "carry_from_steep"));
}

} // namespace
} // namespace stasis
