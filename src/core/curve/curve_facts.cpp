#include "core/curve/curve_facts.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Two values this close are the same, to the eye and to the words.
constexpr double alike = 1e-9;

/// The place in [low, high] where `f` is largest, given that it is largest near the middle: golden section.
template<class Function> double largest_place(Function f, double low, double high) {
  constexpr double golden = 0.6180339887498949; // (sqrt 5 - 1) / 2
  double a = high - golden * (high - low), b = low + golden * (high - low);
  double at_a = f(a), at_b = f(b);
  for (int step = 0; step < 80; ++step) {
    if (at_a >= at_b) {
      high = b;
      b = a;
      at_b = at_a;
      at_a = f(a = high - golden * (high - low));
    } else {
      low = a;
      a = b;
      at_a = at_b;
      at_b = f(b = low + golden * (high - low));
    }
  }
  return 0.5 * (low + high);
}

class FactFinder {
public:
  explicit FactFinder(const Curve& curve) : curve_(curve), looks_per_piece_(looks_per_piece(curve)) {
    borders_ = corners(curve);
    borders_.insert(borders_.begin(), 0.0);
    borders_.push_back(1.0);
  }

  CurveFacts find() {
    facts_.half_time_share = evaluate(curve_, 0.5).value;
    facts_.start_value = evaluate(curve_, 0.0).value;
    facts_.end_value = evaluate(curve_, 1.0).value;
    facts_.start_speed = speed(0.0, Side::at);
    facts_.end_speed = speed(1.0, Side::before);
    for (std::size_t i = 0; i + 1 < borders_.size(); ++i) look_at_piece(borders_[i], borders_[i + 1]);
    note_breaks();
    facts_.is_steady = facts_.jumps == 0 && facts_.fastest_speed - slowest_ < alike;
    facts_.is_symmetric = is_symmetric();
    return facts_;
  }

private:
  /// Between two corners. What is straight there says all at its ends.
  static int looks_per_piece(const Curve& curve) {
    constexpr int ends = 1, of_a_cubic = 24, many = 400;
    return std::visit(Overloaded{[](const StraightLine&) { return ends; }, [](const LinearStops&) { return ends; },
                                 [](const Steps&) { return ends; }, [](const CubicBezier&) { return many; },
                                 [](const EaseShape&) { return many; }, [](const PointsCurve&) { return of_a_cubic; }},
                      curve);
  }

  double value(double t, Side side) const { return evaluate(curve_, t, side).value; }
  double speed(double t, Side side) const { return evaluate(curve_, t, side).slope; }

  void look_at_piece(double from, double to) {
    const double width = (to - from) / looks_per_piece_;
    const auto at = [&](int i) { return i == looks_per_piece_ ? to : from + width * i; };
    const auto side = [&](int i) { return i == looks_per_piece_ ? Side::before : Side::at; };
    for (int i = 0; i <= looks_per_piece_; ++i) {
      const double v = value(at(i), side(i)), s = speed(at(i), side(i));
      note_speed(at(i), std::fabs(s));
      note_value(at(i), v);
      slowest_ = std::min(slowest_, std::fabs(s));
      if (std::fabs(s) > alike && s * last_direction_ < 0.0) ++facts_.turns;
      if (std::fabs(s) > alike) last_direction_ = s;
      if (i == 0 || i == looks_per_piece_) continue;
      const double before = at(i - 1), after = at(i + 1);
      const auto size = [&](double t) { return std::fabs(speed(t, Side::at)); };
      if (size(at(i)) >= size(before) && size(at(i)) >= size(after)) {
        const double place = largest_place(size, before, after);
        note_speed(place, size(place));
      }
      for (const double sign : {1.0, -1.0}) {
        const auto height = [&](double t) { return sign * value(t, Side::at); };
        if (height(at(i)) < height(before) || height(at(i)) < height(after)) continue;
        const double place = largest_place(height, before, after);
        note_value(place, value(place, Side::at));
      }
    }
  }

  void note_speed(double t, double size) {
    if (size > facts_.fastest_speed * (1.0 + alike) + alike) {
      facts_.fastest_speed = size;
      facts_.fastest_at = t;
    }
  }

  void note_value(double t, double v) {
    if (v - 1.0 > facts_.overshoot + 1e-12) {
      facts_.overshoot = v - 1.0;
      facts_.overshoot_at = t;
    }
    if (-v > facts_.undershoot + 1e-12) {
      facts_.undershoot = -v;
      facts_.undershoot_at = t;
    }
  }

  void note_breaks() {
    const auto note_jump = [&](double size) {
      if (std::fabs(size) <= alike) return false;
      ++facts_.jumps;
      facts_.largest_jump = std::max(facts_.largest_jump, std::fabs(size));
      return true;
    };
    note_jump(facts_.start_value);
    for (std::size_t i = 1; i + 1 < borders_.size(); ++i) {
      const double t = borders_[i];
      if (note_jump(value(t, Side::at) - value(t, Side::before))) continue;
      const double before = speed(t, Side::before), after = speed(t, Side::at);
      if (std::fabs(after - before) > 1e-6 * (1.0 + std::fabs(before))) ++facts_.corners;
    }
    note_jump(facts_.end_value - value(1.0, Side::before));
  }

  bool is_symmetric() const {
    for (int i = 0; i <= 100; ++i) {
      const double t = i / 100.0;
      if (std::fabs(value(t, Side::at) + value(1.0 - t, Side::before) - 1.0) > 1e-7) return false;
    }
    return true;
  }

  const Curve& curve_;
  int looks_per_piece_;
  std::vector<double> borders_;
  CurveFacts facts_;
  double slowest_ = 1e300;
  double last_direction_ = 0.0;
};

std::string percent(double share) { return concise(100.0 * share, 3) + " %"; }

std::string multiple(double speed) {
  return std::isfinite(speed) ? fmt::format("{} times the mean speed", readable(std::fabs(speed), 3))
                              : std::string("a speed without bound");
}

std::string when(double t) {
  if (t <= 1e-6) return "at the start";
  if (t >= 1.0 - 1e-6) return "at the end";
  if (std::fabs(t - 0.5) < 1e-6) return "at half time";
  return fmt::format("at {} of the time", percent(t));
}

/// Below this share of the mean speed a start or an end is soft.
constexpr double soft = 0.02;

std::string times_in_words(int count) {
  return count == 1 ? "once" : count == 2 ? "twice" : fmt::format("{} times", count);
}

std::string start_in_words(const CurveFacts& facts) {
  if (facts.start_value != 0.0) return fmt::format("Jumps at once to {} of the way", percent(facts.start_value));
  if (facts.start_speed < -soft) return fmt::format("Starts backward, with {}", multiple(facts.start_speed));
  if (facts.start_speed <= soft) return facts.undershoot > 1e-6 ? "Starts softly, drawing back first" : "Starts softly";
  return fmt::format("Starts with a kick, {} at once", multiple(facts.start_speed));
}

std::string end_in_words(const CurveFacts& facts) {
  if (std::fabs(facts.end_value - 1.0) > alike) return fmt::format("stays at {} of the way", percent(facts.end_value));
  if (std::fabs(facts.end_speed) <= soft) return "ends softly";
  return fmt::format("ends with a kick, stopping dead from {}", multiple(facts.end_speed));
}

std::string range_in_words(const CurveFacts& facts) {
  std::string text;
  if (facts.overshoot > alike)
    text += fmt::format("overshoots by {} ({})", percent(facts.overshoot), when(facts.overshoot_at));
  if (facts.undershoot > alike)
    text += fmt::format("{}goes {} below its start ({})", text.empty() ? "" : " and ", percent(facts.undershoot),
                        when(facts.undershoot_at));
  return text.empty() ? "never overshoots" : text;
}

} // namespace

CurveFacts facts_of(const Curve& curve) { return FactFinder(curve).find(); }

std::string in_words(const CurveFacts& facts) {
  const std::string half = fmt::format("{} of the way is done at half time", percent(facts.half_time_share));
  if (facts.jumps == 1 && facts.fastest_speed <= alike && facts.largest_jump == 1.0)
    return fmt::format("Jumps the whole way in one, {}; never overshoots; {}.",
                       facts.start_value == 1.0       ? "at the start"
                       : facts.half_time_share == 0.0 ? "at the end"
                                                      : "on the way",
                       half);
  if (facts.jumps > 0 && facts.fastest_speed <= alike)
    return fmt::format("Moves in {} {}, the largest {} of the way, and stands between; {}; {}.", facts.jumps,
                       facts.jumps == 1 ? "jump" : "jumps", percent(facts.largest_jump), range_in_words(facts), half);
  if (facts.is_steady && std::fabs(facts.end_value - 1.0) <= alike)
    return fmt::format(
        "One speed throughout: it starts with a kick and ends with a kick, both {}; never overshoots; {}.",
        multiple(facts.start_speed), half);
  std::string text = start_in_words(facts);
  if (facts.fastest_at > 1e-6 || facts.start_value != 0.0)
    text += fmt::format("; fastest {} with {}", when(facts.fastest_at), multiple(facts.fastest_speed));
  else
    text += "; fastest at the start";
  text += fmt::format("; {}", end_in_words(facts));
  if (facts.jumps > 0 && facts.start_value == 0.0)
    text += fmt::format("; jumps {} on the way", percent(facts.largest_jump));
  if (facts.corners > 0)
    text += fmt::format("; its speed jumps at {} corner{}", facts.corners, facts.corners == 1 ? "" : "s");
  if (facts.turns > 0) text += "; turns back " + times_in_words(facts.turns);
  return fmt::format("{}; {}; {}{}.", text, range_in_words(facts), half,
                     facts.is_symmetric ? "; the same from both ends" : "");
}

} // namespace stasis
