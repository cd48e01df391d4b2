// Random feels against a simulator of their own: matrix exponentials and closed forms in 50 digits, which share no code
// with the core.
#include <cmath>
#include <functional>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/exact.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

using test::Real;

constexpr std::size_t most_states = 8;
using System = test::Matrix<most_states>;
using State = std::array<Real, most_states>;

/// A one-component channel that goes between two values whenever its button changes.
struct MadeFeel {
  std::string motion, space;
  int fps = 60;
  double rest = 0.0, goal = 1.0;
  std::vector<int> changes; ///< frames at which the button goes down, up, down, ...
  int frames = 0;
  int delay = 0; ///< frames
  /// Either the links of a linear system ...
  System system{};
  std::size_t output = 0; ///< which state is the value; 0 is the goal
  /// ... or the share of the way that is gone `t` seconds after a jump of a size.
  std::function<Real(Real t, Real distance)> share;

  std::string text() const {
    std::string cues;
    for (std::size_t k = 0; k < changes.size(); ++k)
      cues += fmt::format("{{ at = {}, {} = \"c\" }}, ", static_cast<double>(changes[k]) / fps,
                          k % 2 == 0 ? "press" : "release");
    return fmt::format("[channel.a]\nunit = \"deg\"\nspace = \"{}\"\nrest = {}\nmotion = {{ {} }}\n[pose.p]\na = "
                       "{}\n[control.c]\nkind = "
                       "\"hold\"\npose = \"p\"\n[take.t]\nlength = {}\nclock = {{ fps = {} }}\ncues = [{}]\n",
                       space, rest, motion, goal, static_cast<double>(frames - 1) / fps, fps, cues);
  }
  Real to(double value) const {
    if (space == "ratio") return log(Real(value));
    if (space == "zoom") return log(tan(Real(value) * boost::math::constants::pi<Real>() / 360));
    return value;
  }
  Real from(const Real& state) const {
    if (space == "ratio") return exp(state);
    if (space == "zoom") return atan(exp(state)) * 360 / boost::math::constants::pi<Real>();
    return state;
  }
};

class Maker {
public:
  explicit Maker(std::uint64_t seed) : random_(seed) {}

  MadeFeel make() {
    MadeFeel made;
    made.fps = std::array{24, 30, 48, 60, 100, 120}[random_() % 6];
    made.space = std::array{"linear", "ratio", "zoom", "turn"}[random_() % 4];
    made.rest = std::round(between(20, 90));
    made.goal = std::round(between(20, 90)) + 0.5;
    int settled = 0; // frames after which a move has arrived, so that the next may begin
    switch (random_() % 4) {
    case 0: settled = make_ease(made); break;
    case 1: settled = make_pace(made); break;
    default: make_links(made);
    }
    int at = 3 + static_cast<int>(random_() % 20);
    const std::size_t count = 1 + random_() % 4;
    for (std::size_t k = 0; k < count; ++k) {
      made.changes.push_back(at);
      at += std::max(1, settled + made.delay + static_cast<int>(random_() % 40));
    }
    made.frames = at + 2;
    return made;
  }

private:
  double between(double low, double high) {
    return low + (high - low) * static_cast<double>(random_() >> 11) * 0x1p-53;
  }

  /// Glides and springs one behind the other, behind a wait of whole frames.
  void make_links(MadeFeel& made) {
    const std::size_t links = 1 + random_() % 3;
    std::vector<std::string> stages;
    if (random_() % 2 == 0) {
      made.delay = 1 + static_cast<int>(random_() % 12);
      stages.push_back(fmt::format("kind = \"delay\", delay = {}", static_cast<double>(made.delay) / made.fps));
    }
    std::size_t input = 0, next = 1;
    for (std::size_t k = 0; k < links; ++k) {
      if (random_() % 2 == 0) {
        const double rate = between(1, 25);
        made.system[next][input] = rate;
        made.system[next][next] = -Real(rate);
        stages.push_back(fmt::format("kind = \"glide\", rate = {}", rate));
        input = next++;
        continue;
      }
      const double frequency = between(0.5, 5), ratio = random_() % 4 == 0 ? 1.0 : between(0.2, 2);
      const bool gap = random_() % 2 == 0;
      const Real w = 2 * boost::math::constants::pi<Real>() * frequency, damping = 2 * Real(ratio) * w;
      const std::size_t x = next, v = next + 1;
      made.system[x][v] = 1;
      made.system[v][input] += w * w;
      made.system[v][x] -= w * w;
      made.system[v][v] -= damping;
      if (gap)
        for (std::size_t j = 0; j < most_states; ++j) made.system[v][j] += damping * made.system[input][j];
      stages.push_back(fmt::format("kind = \"spring\", frequency = {}, damping_ratio = {}, resist = \"{}\"", frequency,
                                   ratio, gap ? "gap" : "speed"));
      input = x;
      next += 2;
    }
    made.output = input;
    if (stages.size() == 1) {
      made.motion = stages.front();
      return;
    }
    made.motion = "kind = \"stages\", stages = [";
    for (const std::string& stage : stages) made.motion += "{ " + stage + " }, ";
    made.motion += "]";
  }

  int make_ease(MadeFeel& made) {
    const int frames = 1 + static_cast<int>(random_() % 60);
    struct Form {
      std::string name;
      std::function<Real(Real)> curve;
    };
    const Real half_turn = boost::math::constants::pi<Real>();
    const double power = std::array{1.5, 2.0, 3.0}[random_() % 3], a = between(0, 1), b = between(-0.5, 1.5),
                 c = between(0, 1), d = between(-0.5, 1.5);
    const Form forms[] = {
        {"linear", [](Real u) { return u; }},
        {fmt::format("in power {}", power), [=](Real u) { return u == 0 ? Real(0) : Real(pow(u, Real(power))); }},
        {fmt::format("out power {}", power),
         [=](Real u) { return u == 1 ? Real(1) : Real(1 - pow(1 - u, Real(power))); }},
        {"in-out sine", [=](Real u) { return Real((1 - cos(half_turn * u)) / 2); }},
        {fmt::format("cubic-bezier({}, {}, {}, {})", a, b, c, d),
         [=](Real u) {
           // The parameter at which the first coordinate is u, by halving; then the second.
           const auto at = [](Real p, Real q, Real s) {
             return Real(3 * (1 - s) * (1 - s) * s * p + 3 * (1 - s) * s * s * q + s * s * s);
           };
           Real low = 0, high = 1;
           for (int k = 0; k < 130; ++k) {
             const Real middle = (low + high) / 2;
             (at(a, c, middle) < u ? low : high) = middle;
           }
           return u == 0 ? Real(0) : u == 1 ? Real(1) : at(b, d, low);
         }},
    };
    const Form form = forms[random_() % std::size(forms)];
    const Real duration = Real(frames) / made.fps;
    made.motion = fmt::format("kind = \"ease\", duration = {}, curve = \"{}\"", static_cast<double>(frames) / made.fps,
                              form.name);
    made.share = [=, curve = form.curve](Real t, Real) { return t >= duration ? Real(1) : curve(t / duration); };
    return frames;
  }

  /// Full push, cruise, full brake.
  int make_pace(MadeFeel& made) {
    made.space = "linear";
    const double speed = between(20, 150), acceleration = between(50, 900);
    made.motion = fmt::format("kind = \"pace\", speed = {}, acceleration = {}", speed, acceleration);
    const auto times = [=](Real distance) {
      const Real A = acceleration, V = speed, peak = std::min(V, Real(sqrt(A * distance)));
      const Real push = peak / A, cruise = (distance - peak * push) / peak;
      return std::array{push, cruise, peak};
    };
    made.share = [=](Real t, Real distance) {
      const auto [push, cruise, peak] = times(distance);
      const Real A = acceleration, all = 2 * push + cruise;
      if (t >= all) return Real(1);
      if (t <= push) return Real(A * t * t / 2 / distance);
      if (t <= push + cruise) return Real((peak * push / 2 + peak * (t - push)) / distance);
      return Real(1 - A * (all - t) * (all - t) / 2 / distance);
    };
    const auto [push, cruise, peak] = times(std::fabs(made.goal - made.rest));
    return static_cast<int>(std::ceil(static_cast<double>((2 * push + cruise) * made.fps))) + 1;
  }

  std::mt19937_64 random_;
};

/// The value at each frame.
std::vector<double> simulated(const MadeFeel& feel) {
  const Real dt = Real(1) / feel.fps;
  const System step = feel.share ? System{} : test::exponential(feel.system, dt);
  State state{};
  state.fill(0);
  const Real home = feel.to(feel.rest), away = feel.to(feel.goal);
  for (std::size_t j = 0; j <= feel.output; ++j) state[j] = home;
  // Speeds begin at nothing.
  for (std::size_t j = 1; j < most_states; ++j)
    for (std::size_t x = 1; x < most_states; ++x)
      if (feel.system[x][j] == 1 && x != j && feel.system[x][x] == 0) state[j] = 0;
  std::vector<double> rows;
  Real begun = home, heading = home;
  int begun_at = 0;
  for (int frame = 0; frame < feel.frames; ++frame) {
    Real value = state[feel.output];
    if (feel.share) {
      const Real way = heading - begun;
      value = way == 0 ? heading : Real(begun + way * feel.share(Real(frame - begun_at) * dt, abs(way)));
    }
    rows.push_back(static_cast<double>(feel.from(value)));
    for (std::size_t k = 0; k < feel.changes.size(); ++k) {
      if (feel.changes[k] + feel.delay != frame) continue;
      begun = value;
      begun_at = frame;
      heading = state[0] = k % 2 == 0 ? away : home;
    }
    if (feel.share) continue;
    State next{};
    for (std::size_t i = 0; i < most_states; ++i) {
      next[i] = 0;
      for (std::size_t j = 0; j < most_states; ++j) next[i] += step[i][j] * state[j];
    }
    state = next;
  }
  return rows;
}

TEST(Independent, TwoHundredRandomFeelsAreWhatAnotherSimulatorMakesOfThem) {
  for (std::uint64_t seed = 1; seed <= 200; ++seed) {
    const MadeFeel made = Maker(seed).make();
    const Feel feel = test::feel_from(made.text());
    ASSERT_EQ(feel.takes.size(), 1u) << made.text();
    const test::Rows rows = test::play_rows(feel);
    const std::vector<double> expected = simulated(made);
    ASSERT_EQ(rows.smooth.size(), expected.size()) << made.text();
    for (std::size_t k = 0; k < expected.size(); ++k)
      ASSERT_NEAR(rows.smooth[k], expected[k], 1e-9 * std::max(1.0, std::fabs(expected[k]))) << "frame " << k << "\n"
                                                                                             << made.text();
  }
}

} // namespace
} // namespace stasis
