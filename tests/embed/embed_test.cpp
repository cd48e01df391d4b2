// stasis.h as a stranger uses it: the rows of a take, changes while it runs, odd arguments.
#include <cmath>
#include <cstring>
#include <memory>
#include <random>
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/take/player.hpp"
#include "embed/opened_session.hpp"
#include "embed/stasis.h"
#include "support/feels.hpp"
#include "support/random_feels.hpp"

namespace stasis {
namespace {

using test::Opened;
using test::opened;
using test::source_of;
using test::taken;

/// Gives a cue of a take through the functions of the header.
void give(stasis_session* session, const Cue& cue) {
  const auto control = static_cast<int>(cue.control);
  switch (cue.action) {
  case CueAction::press: return stasis_press(session, control, static_cast<int>(cue.button));
  case CueAction::release: return stasis_release(session, control, static_cast<int>(cue.button));
  case CueAction::cancel: return stasis_cancel(session, control);
  case CueAction::click: return stasis_click(session, control, static_cast<int>(cue.amount));
  case CueAction::pointer: return stasis_pointer(session, control, cue.amount);
  case CueAction::stick: return stasis_stick(session, control, cue.amount);
  case CueAction::lock: return stasis_lock(session, control, 1);
  case CueAction::unlock: return stasis_lock(session, control, 0);
  case CueAction::hit: return stasis_hit(session, static_cast<int>(cue.shake), cue.amount);
  case CueAction::start: return stasis_start(session, static_cast<int>(cue.sequence));
  case CueAction::skip: return stasis_skip(session, static_cast<int>(cue.sequence));
  case CueAction::goal:
    for (const CueGoal& goal : cue.goals)
      stasis_goal(session, static_cast<int>(goal.target.channel), static_cast<int>(goal.target.component), goal.value);
    return;
  case CueAction::follow:
    for (const CueTrack& track : cue.tracks)
      stasis_follow(session, static_cast<int>(track.channel), static_cast<int>(track.track));
    return;
  }
}

TEST(Embed, GivesTheRowsOfATakeToTheBit) {
  int played = 0;
  for (std::uint64_t seed = 3001; seed <= 3500; ++seed) {
    std::mt19937_64 random(seed);
    test::FeelMaker maker(seed,
                          {.switches = random() % 3 == 0, .sticks = random() % 2 == 0, .sequences = seed % 4 == 0});
    const test::RandomFeel made = maker.make();
    if (!test::problems_of(made.text).empty()) continue;
    const Feel feel = test::feel_from(made.text);
    const Take& take = feel.takes[0];
    const Clock clock = steady_clock(60.0, take.length);
    std::vector<std::unique_ptr<test::RowSink>> columns;
    std::vector<BlockSink*> sinks;
    for (std::size_t c = 0; c < feel.channels.size(); ++c)
      for (std::size_t i = 0; i < feel.channels[c].components; ++i) {
        columns.push_back(std::make_unique<test::RowSink>(c, i));
        sinks.push_back(columns.back().get());
      }
    play({&feel, &take, clock}, sinks);
    const Opened session = opened(made.text, 60.0);
    std::size_t next = 0;
    for (std::int64_t frame = 0; frame < clock.frames; ++frame) {
      for (; next < take.cues.size() && due_frame(clock, take.cues[next].at) <= frame; ++next)
        give(session.get(), take.cues[next]);
      stasis_advance(session.get(), 0.0);
      ASSERT_EQ(stasis_frame(session.get()), frame);
      std::size_t column = 0;
      for (std::size_t c = 0; c < feel.channels.size(); ++c)
        for (std::size_t i = 0; i < feel.channels[c].components; ++i, ++column) {
          const auto row = static_cast<std::size_t>(frame);
          const test::Rows& expected = columns[column]->rows;
          const int channel = static_cast<int>(c), component = static_cast<int>(i);
          ASSERT_EQ(stasis_value(session.get(), channel, component), expected.value[row]) << "seed " << seed;
          ASSERT_EQ(stasis_smooth(session.get(), channel, component), expected.smooth[row]) << "seed " << seed;
          ASSERT_EQ(stasis_goal_of(session.get(), channel, component), expected.goal[row]) << "seed " << seed;
        }
    }
    ++played;
  }
  EXPECT_GT(played, 250);
}

TEST(Embed, TellsWhatIsWrongWithAText) {
  const std::string text = "feel = 1\n[channel.a]\nrest = 0\nrange = [0, 1]\nmotion = \"soft\"\n[motion.soft]\nkind = "
                           "\"glide\"\nhalf_lief = 0.2\n";
  const stasis_source source = source_of(text);
  stasis_faults* faults = nullptr;
  EXPECT_EQ(stasis_open(&source, &faults), nullptr);
  ASSERT_GT(stasis_fault_count(faults), 0u);
  const stasis_fault first = stasis_fault_at(faults, 0);
  EXPECT_STREQ(first.file, "test.toml");
  EXPECT_EQ(first.line, 8);
  EXPECT_EQ(first.column, 1);
  EXPECT_STREQ(first.key, "motion.soft.half_lief");
  EXPECT_NE(std::string(first.fix).find("half_life"), std::string::npos) << first.fix;
  EXPECT_NE(taken(stasis_faults_text(faults)).find("test.toml:8:1"), std::string::npos);
  EXPECT_EQ(stasis_fault_at(faults, 99).message, nullptr);
  stasis_faults_free(faults);
}

TEST(Embed, AValueIsChangedWhileItRunsAndCommentsStay) {
  const std::string text = test::step_feel("kind = \"spring\", frequency = 1, damping_ratio = 1", 60, 2) + "# kept\n";
  const Opened session = opened(text);
  stasis_press(session.get(), 0, 0);
  for (int frame = 0; frame <= 10; ++frame) stasis_advance(session.get(), 1.0 / 60.0);
  const double value = stasis_smooth(session.get(), 0, 0), velocity = stasis_velocity(session.get(), 0, 0);
  ASSERT_EQ(stasis_set(session.get(), "channel.a.motion.frequency", "4", nullptr), 1);
  EXPECT_EQ(stasis_smooth(session.get(), 0, 0), value);
  EXPECT_EQ(stasis_velocity(session.get(), 0, 0), velocity);
  std::string expected = text;
  expected.replace(expected.find("frequency = 1"), 13, "frequency = 4");
  EXPECT_EQ(taken(stasis_text(session.get())), expected);
  // Critically damped from that value and speed: a closed form of its own.
  const double w = 8.0 * 3.14159265358979323846, gap = value - 1.0, t = 0.25;
  stasis_advance(session.get(), t);
  EXPECT_NEAR(stasis_smooth(session.get(), 0, 0), 1.0 + (gap + (velocity + w * gap) * t) * std::exp(-w * t), 1e-12);
  // A broken change leaves everything as it was.
  stasis_faults* faults = nullptr;
  EXPECT_EQ(stasis_set(session.get(), "channel.a.motion.frequency", "-4", &faults), 0);
  EXPECT_EQ(stasis_fault_count(faults), 1u);
  stasis_faults_free(faults);
  EXPECT_EQ(taken(stasis_text(session.get())), expected);
}

TEST(Embed, ASavedMomentComesBackUntilTheFeelIsChanged) {
  const Opened session = opened(test::step_feel("kind = \"glide\", half_life = 0.2", 60, 2));
  stasis_advance(session.get(), 0.0);
  stasis_moment* moment = stasis_save(session.get());
  stasis_press(session.get(), 0, 0);
  stasis_advance(session.get(), 0.1);
  stasis_advance(session.get(), 0.2);
  const double once = stasis_value(session.get(), 0, 0);
  EXPECT_EQ(stasis_restore(session.get(), moment), 1);
  EXPECT_EQ(stasis_frame(session.get()), 0);
  stasis_press(session.get(), 0, 0);
  stasis_advance(session.get(), 0.1);
  stasis_advance(session.get(), 0.2);
  EXPECT_EQ(stasis_value(session.get(), 0, 0), once);
  EXPECT_EQ(stasis_set(session.get(), "channel.a.motion.half_life", "0.4", nullptr), 1);
  EXPECT_EQ(stasis_restore(session.get(), moment), 0);
  stasis_moment_free(moment);
}

TEST(Embed, ASubjectThatIsLedIsThatOfItsOwnRecording) {
  const std::string feel = R"(feel = 1
[channel.focus]
rest = [0, 0, 0]
range = [-100, 100]
motion = { kind = "glide", half_life = 0.1 }
follow = { track = "otter", lead = { by = "velocity", seconds = 0.2 } }
[track.otter]
)";
  const Opened session = opened(feel + "kind = \"circle\"\ncentre = [0, 0, 0]\ndiameter = 2\nspeed = 1\n");
  stasis_record(session.get(), 1);
  std::vector<double> shown;
  for (int frame = 0; frame < 120; ++frame) {
    const double t = frame / 60.0;
    stasis_place(session.get(), 0, std::sin(3.0 * t), 0.1 * t, t * t);
    stasis_advance(session.get(), 1.0 / 60.0);
    for (int i = 0; i < 3; ++i) shown.push_back(stasis_value(session.get(), 0, i));
  }
  EXPECT_NE(taken(stasis_explain(session.get(), 0)).find("otter (led while it is played)"), std::string::npos);
  const std::string way = taken(stasis_recorded_track(session.get(), 0)),
                    clock = taken(stasis_recorded_clock(session.get()));
  const std::string again = feel + "kind = \"recorded\"\nfile = \"otter.csv\"\n"
                            + taken(stasis_recorded_take(session.get(), "hands", "clock.csv"));
  stasis_source source = source_of(again);
  const stasis_file files[] = {{"otter.csv", way.data(), way.size()}, {"clock.csv", clock.data(), clock.size()}};
  source.files = files;
  source.file_count = 2;
  stasis_faults* faults = nullptr;
  const Opened replay(stasis_open(&source, &faults));
  ASSERT_NE(replay, nullptr) << taken(stasis_faults_text(faults)) << again;
  for (int frame = 0; frame < 120; ++frame) {
    stasis_advance(replay.get(), 1.0 / 60.0);
    for (int i = 0; i < 3; ++i)
      EXPECT_NEAR(stasis_value(replay.get(), 0, i), shown[static_cast<std::size_t>(3 * frame + i)], 1e-12) << frame;
  }
}

TEST(Embed, OddArgumentsDoNothing) {
  const Opened session = opened(test::step_feel("kind = \"glide\", half_life = 0.2", 60, 2));
  for (const int index : {-1, 1, 99}) {
    stasis_press(session.get(), index, 0);
    stasis_press(session.get(), 0, index);
    stasis_click(session.get(), index, 1);
    stasis_stick(session.get(), index, 0.5);
    stasis_hit(session.get(), index, 1.0);
    stasis_goal(session.get(), index, 0, 0.0);
    stasis_goal(session.get(), 0, index, 0.0);
    stasis_follow(session.get(), index, 0);
    stasis_place(session.get(), index, 0, 0, 0);
    EXPECT_EQ(stasis_value(session.get(), index, 0), 0.0);
    EXPECT_EQ(stasis_explain(session.get(), index), nullptr);
    EXPECT_EQ(stasis_recorded_track(session.get(), index), nullptr);
  }
  for (const double odd : {-1.0, 101.0, std::nan("")}) stasis_game_speed(session.get(), odd, 0.0);
  stasis_game_speed(session.get(), 1.0, -1.0);
  stasis_game_speed(nullptr, 1.0, 0.0);
  stasis_stick(session.get(), 0, 1.0);            // it is no stick
  stasis_goal(session.get(), 0, 0, std::nan("")); // nowhere
  stasis_advance(session.get(), 0.0);
  stasis_advance(session.get(), -1.0);
  stasis_advance(session.get(), std::nan(""));
  EXPECT_EQ(stasis_frame(session.get()), 0);
  EXPECT_EQ(stasis_goal_of(session.get(), 0, 0), 0.0);
  double eye[7];
  EXPECT_EQ(stasis_eye(session.get(), eye), 0);
  EXPECT_EQ(stasis_eye(session.get(), nullptr), 0);
  stasis_advance(nullptr, 0.1);
  stasis_close(nullptr);
  EXPECT_EQ(stasis_open(nullptr, nullptr), nullptr);
  EXPECT_EQ(stasis_frame(nullptr), -1);
  EXPECT_EQ(stasis_find(session.get(), STASIS_CHANNEL, "a"), 0);
  EXPECT_EQ(stasis_find(session.get(), STASIS_CHANNEL, "b"), -1);
  EXPECT_EQ(stasis_count(session.get(), STASIS_CONTROL), 1);
}

TEST(Embed, ListsEveryNumberWithItsScale) {
  const Opened session = opened(test::step_feel("kind = \"spring\", frequency = 1.6, damping_ratio = 0.7", 60, 2));
  const std::string numbers = taken(stasis_numbers(session.get()));
  for (const char* const path : {"channel.a.motion.frequency", "channel.a.motion.damping_ratio", "channel.a.rest",
                                 "pose.up.a", "channel.a.range[1]"})
    EXPECT_NE(numbers.find("\"path\":\"" + std::string(path) + "\""), std::string::npos) << path << numbers;
  EXPECT_EQ(numbers.find("take."), std::string::npos);
  EXPECT_NE(numbers.find(R"("value":1.6,"unit":"Hz")"), std::string::npos);
  // Whatever stands there may be written back as it is.
  EXPECT_EQ(stasis_set(session.get(), "pose.up.a", "1", nullptr), 1);
}

TEST(Embed, ListsEveryCurveWithItsHandles) {
  const auto curves_of = [](const std::string& motion, const std::string& more = "") {
    return taken(stasis_curves(opened(test::step_feel(motion, 60, 2) + more).get()));
  };
  const auto has = [](const std::string& text, const std::string& part) {
    return text.find(part) != std::string::npos;
  };
  const std::string exact = curves_of("kind = \"ease\", duration = 1, curve = \"cubic-bezier(0.3, 0.1, 0.6, 1.2)\"");
  EXPECT_TRUE(has(exact, R"("path":"channel.a.motion.curve")")) << exact;
  EXPECT_TRUE(has(exact, R"("handles":"bezier","is_exact":true,"handle":[[0.3,0.1],[0.6,1.2]])")) << exact;
  // A stop held for a while is two handles; the first and the last value are those of the move.
  const std::string stops = curves_of("kind = \"ease\", duration = 1, curve = \"linear(0, 0.5 20% 40%, 1)\"");
  EXPECT_TRUE(has(stops, R"("handles":"stops","is_exact":true,"handle":[[0,0],[0.2,0.5],[0.4,0.5],[1,1]])")) << stops;
  EXPECT_TRUE(has(stops, R"("shown":[0,)")) << stops;
  // A shape has those of a curve with its slopes: of in power 2 they are 0 and 2, which are its very own.
  const std::string shape = curves_of("kind = \"ease\", duration = 1, curve = \"in power 3\"");
  EXPECT_TRUE(has(shape, R"("is_exact":false,"handle":[[0.3333333333333333,0],)")) << shape;
  // What an ease takes by itself is told, and a named curve stands once, where it is written.
  EXPECT_TRUE(has(curves_of("kind = \"ease\", duration = 1"), R"("text":"ease-in-out")"));
  const std::string named = curves_of("kind = \"ease\", duration = 1, curve = \"lean\"",
                                      "[curve.lean]\npoints = [[0, 0], [2, 0.8], [4, 1]]\n");
  EXPECT_TRUE(has(named, R"([{"path":"curve.lean.points","text":"","handles":"points")")) << named;
  EXPECT_TRUE(has(named, R"("handle":[[0,0],[0.5,0.8],[1,1]])")) << named;
  EXPECT_EQ(curves_of("kind = \"glide\", half_life = 1"), "[]");
  EXPECT_TRUE(has(curves_of("kind = \"ease\", duration = 1, curve = \"steps(4)\""), R"("handles":"none")"));
}

TEST(Embed, MovesAreMeasuredWhileTheyAreMade) {
  const Opened session = opened(test::step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.5", 60, 4), 60.0);
  EXPECT_EQ(stasis_last_moves(session.get()), nullptr); // nothing is kept
  stasis_record(session.get(), 1);
  stasis_press(session.get(), 0, 0);
  for (int frame = 0; frame < 180; ++frame) stasis_advance(session.get(), 0.0);
  const std::string last = taken(stasis_last_moves(session.get())), all = taken(stasis_measures(session.get()));
  EXPECT_NE(last.find("\"overshoot\":16.3"), std::string::npos) << last; // exp(-pi z / sqrt(1 - z^2)), z = 0.5
  // Frame by frame, or many frames in one: the same except for roundings. What remains is read at the frame so far,
  // which the take goes on from.
  const auto move = nlohmann::json::parse(last)[0], same = nlohmann::json::parse(all)["moves"][0];
  for (const auto& [name, value] : move.items()) {
    if (name == "remaining") continue;
    if (value.is_number())
      EXPECT_NEAR(value.get<double>(), same[name].get<double>(), 1e-12 * (1.0 + std::fabs(value.get<double>())))
          << name;
    else
      EXPECT_EQ(value, same[name]) << name;
  }
  // After a change they are those since then.
  EXPECT_EQ(stasis_set(session.get(), "channel.a.motion.frequency", "3", nullptr), 1);
  stasis_advance(session.get(), 0.0);
  EXPECT_EQ(taken(stasis_last_moves(session.get())), "[]");
}

TEST(Embed, AWordOfFeelIsWhatTuneMakesOfIt) {
  const Opened session = opened(test::step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.5", 60, 4));
  EXPECT_EQ(stasis_tune(session.get(), "a", "snappier", 1.0, nullptr), 1);
  EXPECT_NE(taken(stasis_text(session.get())).find("frequency = 2.5"), std::string::npos); // times x 0.8
  EXPECT_EQ(stasis_tune(session.get(), "a", "snappier", -1.0, nullptr), 1);
  EXPECT_NE(taken(stasis_text(session.get())).find("frequency = 2,"), std::string::npos)
      << taken(stasis_text(session.get()));
  for (const auto& [name, word] : {std::pair("a", "snapier"), {"nothing", "snappier"}, {"a", "punchier"}}) {
    stasis_faults* faults = nullptr;
    EXPECT_EQ(stasis_tune(session.get(), name, word, 1.0, &faults), 0) << word;
    EXPECT_EQ(stasis_fault_count(faults), 1u);
    stasis_faults_free(faults);
  }
  EXPECT_NE(taken(stasis_words()).find("snappier"), std::string::npos);
}

/// Hands that were recorded on frames of a rate are a take of that rate: the same rows once it is pasted.
TEST(Embed, RecordedHandsAreATakeAtAnyRate) {
  const std::string text = test::step_feel("kind = \"ease\", duration = 0.2, curve = \"ease-in-out\"", 60, 4);
  for (const double fps : {24.0, 30.0, 50.0, 60.0, 144.0, 1000.0})
    for (const double at : {0.0, 0.1, 0.2, 0.5, 1.0 / 3.0}) {
      const Opened session = opened(text, fps);
      stasis_record(session.get(), 1);
      const auto frames = static_cast<int>(fps), press = static_cast<int>(std::ceil(at * fps - 1e-9));
      std::vector<double> shown;
      for (int frame = 0; frame <= frames; ++frame) {
        if (frame == press) stasis_press(session.get(), 0, 0);
        if (frame == press + frames / 4) stasis_release(session.get(), 0, 0);
        stasis_advance(session.get(), 0.0);
        shown.push_back(stasis_value(session.get(), 0, 0));
      }
      const Feel feel = test::feel_from(text + taken(stasis_recorded_take(session.get(), "hands", nullptr)));
      test::RowSink rows(0, 0);
      BlockSink* const sinks[] = {&rows};
      play({&feel, &feel.takes.back(), clock_of(feel.takes.back())}, sinks);
      EXPECT_EQ(rows.rows.value, shown) << fps << " fps, pressed at " << at;
    }
}

TEST(Embed, ASlowedGameIsThatOfItsOwnRecording) {
  const std::string text =
      "[channel.a]\nrest = 0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\n[channel.b]\nrest = "
      "0\nmotion = { kind = \"spring\", frequency = 2, damping_ratio = 0.5 }\nruns_on = \"clock\"\n[channel.c]\nrest = "
      "[0, 0]\nfollow = \"s\"\nmotion = { kind = \"glide\", half_life = 0.1 }\n[track.s]\nkind = \"circle\"\ncentre = "
      "[0, 0]\ndiameter = 2\nspeed = 1\n[pose.p]\na = 1\nb = 1\n[control.p]\nkind = \"hold\"\npose = "
      "\"p\"\n[take.t]\nlength = 1\n";
  const Opened session = opened(text);
  stasis_record(session.get(), 1);
  std::vector<double> shown;
  for (int frame = 0; frame <= 180; ++frame) {
    if (frame == 30) stasis_game_speed(session.get(), 0.2, 0.3);
    if (frame == 40) stasis_press(session.get(), 0, 0);
    if (frame == 120) stasis_game_speed(session.get(), 1.0, 0.0);
    stasis_advance(session.get(), 1.0 / 60.0);
    for (const int channel : {0, 1, 2}) shown.push_back(stasis_value(session.get(), channel, 0));
  }
  EXPECT_LT(stasis_game_time(session.get()), stasis_time(session.get()) - 0.5);
  const Feel feel = test::feel_from(text + taken(stasis_recorded_take(session.get(), "hands", nullptr)));
  test::RowSink a(0, 0), b(1, 0), c(2, 0);
  BlockSink* const sinks[] = {&a, &b, &c};
  play({&feel, &feel.takes.back(), clock_of(feel.takes.back())}, sinks);
  ASSERT_EQ(a.rows.value.size() * 3, shown.size());
  for (std::size_t row = 0; row < a.rows.value.size(); ++row) {
    EXPECT_NEAR(shown[3 * row], a.rows.value[row], 1e-9) << row;
    EXPECT_NEAR(shown[3 * row + 1], b.rows.value[row], 1e-9) << row;
    EXPECT_NEAR(shown[3 * row + 2], c.rows.value[row], 1e-9) << row;
  }
}

TEST(Embed, MovesAreMeasuredAlikeAtAnyRate) {
  std::string first;
  for (const double fps : {30.0, 60.0, 1000.0}) {
    const Opened session = opened(test::step_feel("kind = \"spring\", frequency = 2, damping_ratio = 0.4", 60, 4), fps);
    stasis_record(session.get(), 1);
    stasis_press(session.get(), 0, 0);
    for (int frame = 0; frame < static_cast<int>(4 * fps); ++frame) stasis_advance(session.get(), 0.0);
    std::string last = taken(stasis_last_moves(session.get()));
    last.resize(last.find(",\"rise_time\""));
    const std::size_t settled = taken(stasis_last_moves(session.get())).find("\"settling_time\":");
    last += taken(stasis_last_moves(session.get())).substr(settled, 26); // nine digits
    if (first.empty()) first = last;
    EXPECT_EQ(last.substr(last.size() - 26, 24), first.substr(first.size() - 26, 24)) << fps;
  }
}

/// Saved, another way tried and recorded, and back: what is kept is that of the way to the moment.
TEST(Embed, AMomentBringsBackWhatWasRecordedUntilThen) {
  const Opened session = opened(test::step_feel("kind = \"glide\", half_life = 0.2", 60, 4), 60.0);
  stasis_record(session.get(), 1);
  const auto go_on = [&](int frames) {
    for (int frame = 0; frame < frames; ++frame) stasis_advance(session.get(), 0.0);
  };
  go_on(10);
  stasis_press(session.get(), 0, 0); // not yet acted when it is saved
  stasis_moment* const moment = stasis_save(session.get());
  go_on(30);
  stasis_release(session.get(), 0, 0);
  go_on(20);
  stasis_moment* const later = stasis_save(session.get());
  const std::string whole = taken(stasis_recorded_take(session.get(), "hands", nullptr));
  EXPECT_EQ(stasis_restore(session.get(), moment), 1);
  go_on(1);
  stasis_cancel(session.get(), 0);
  go_on(80);
  const std::string other = taken(stasis_recorded_take(session.get(), "hands", nullptr));
  EXPECT_NE(other.find("cancel"), std::string::npos) << other;
  EXPECT_EQ(other.find("release"), std::string::npos) << other;
  EXPECT_EQ(stasis_restore(session.get(), later), 1);
  EXPECT_EQ(taken(stasis_recorded_take(session.get(), "hands", nullptr)), whole);
  stasis_moment_free(moment);
  stasis_moment_free(later);
}

TEST(Embed, AMomentBeforeASubjectWasLedIsGone) {
  const Opened session =
      opened("feel = 1\n[channel.focus]\nrest = [0, 0, 0]\nrange = [-9, 9]\nmotion = { kind = \"cut\" }\n"
             "follow = \"otter\"\n[track.otter]\nkind = \"circle\"\ncentre = [0, 0, 0]\n"
             "diameter = 2\nspeed = 1\n");
  stasis_advance(session.get(), 0.0);
  stasis_moment* const before = stasis_save(session.get());
  stasis_place(session.get(), 0, 1, 0, 0);
  stasis_advance(session.get(), 0.1);
  EXPECT_EQ(stasis_restore(session.get(), before), 0);
  stasis_moment* const led = stasis_save(session.get());
  stasis_place(session.get(), 0, 2, 0, 0);
  stasis_advance(session.get(), 0.1);
  EXPECT_EQ(stasis_restore(session.get(), led), 1);
  stasis_advance(session.get(), 0.1);
  EXPECT_EQ(stasis_value(session.get(), 0, 0), 1.0); // it stays where it was led last
  stasis_moment_free(before);
  stasis_moment_free(led);
}

/// A subject that is taken over while it moves goes on from where it is: no frame on which it stands.
TEST(Embed, ASubjectIsTakenOverWithItsSpeed) {
  const Opened session = opened("feel = 1\n[channel.wide]\nrest = 5\nrange = [0, 100]\nmotion = { kind = \"cut\" }\n"
                                "formula = \"otter.speed\"\n[track.otter]\nkind = \"line\"\nfrom = [0, 0, 0]\n"
                                "velocity = [3, 0, 0]\n");
  constexpr double dt = 1.0 / 60.0;
  for (int frame = 0; frame <= 30; ++frame) stasis_advance(session.get(), dt);
  double place[3];
  ASSERT_EQ(stasis_subject(session.get(), 0, place), 1);
  EXPECT_NEAR(place[0], 1.5, 1e-12);
  for (int frame = 1; frame <= 30; ++frame) {
    stasis_place(session.get(), 0, 1.5 + 3.0 * dt * frame, 0, 0);
    stasis_advance(session.get(), dt);
    EXPECT_NEAR(stasis_goal_of(session.get(), 0, 0), 3.0, 1e-9) << frame;
  }
}

} // namespace
} // namespace stasis
