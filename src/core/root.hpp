// Where a continuous function is zero.
#pragma once

#include <cmath>
#include <utility>

namespace stasis {

/// True if the signs differ and neither is zero.
inline bool opposite(double a, double b) noexcept { return (a < 0.0 && b > 0.0) || (a > 0.0 && b < 0.0); }

/// Two neighbours between which a condition changes that holds at `low` and not at `high`. A condition has no size that
/// a root finder could go by, so it is halved to the last bit.
template<class Condition> std::pair<double, double> change_between(Condition holds, double low, double high) {
  constexpr int most_halvings = 200;
  for (int halving = 0; halving < most_halvings; ++halving) {
    const double middle = 0.5 * (low + high);
    if (!(low < middle && middle < high)) break;
    (holds(middle) ? low : high) = middle;
  }
  return {low, high};
}

/// A function of one number that stands elsewhere for as long as it is asked: the solver is there once, not once for
/// each function.
class FunctionOfOne {
public:
  template<class Function>
  FunctionOfOne(const Function& function) noexcept // NOLINT(google-explicit-constructor): it is that function
      : function_(&function),
        call_([](const void* there, double at) -> double { return (*static_cast<const Function*>(there))(at); }) {}
  double operator()(double at) const { return call_(function_, at); }

private:
  const void* function_;
  double (*call_)(const void*, double);
};

/// The root of a continuous function between two arguments where its signs differ, to the last few bits. Where rounding
/// has made the signs agree, the root lies at an end: the one whose value is nearer to zero.
double bracketed_root(FunctionOfOne function, double low, double high, double at_low, double at_high);

/// A function at one end of an interval, and its derivative there.
struct Slope {
  double value, rate;
};

/// Calls `visit(root)` for each change of sign of a function between two arguments, if it and its derivative change
/// sign once each at most. \param function, rate the function and its derivative.
// many: both ends of a stretch, each with what is there; a function, its rate, what is done
template<class Function, class Rate, class Visit>
void for_each_sign_change(Function function, Rate rate, double low, Slope at_low, double high, Slope at_high,
                          Visit visit) {
  // A zero at an end is no change of sign; just inside, the derivative tells the sign.
  constexpr double just_inside = 1e-300;
  if (at_low.value == 0.0) at_low.value = std::copysign(just_inside, at_low.rate);
  if (at_high.value == 0.0) at_high.value = std::copysign(just_inside, -at_high.rate);
  if (opposite(at_low.value, at_high.value))
    return visit(bracketed_root(function, low, high, at_low.value, at_high.value));
  // It may come to zero and go back.
  const bool bends_to_zero = at_low.value * at_low.rate < 0.0 && at_high.value * at_high.rate > 0.0;
  if (!bends_to_zero || !opposite(at_low.rate, at_high.rate)) return;
  const double nearest = bracketed_root(rate, low, high, at_low.rate, at_high.rate), there = function(nearest);
  if (!opposite(at_low.value, there)) return;
  visit(bracketed_root(function, low, nearest, at_low.value, there));
  visit(bracketed_root(function, nearest, high, there, at_high.value));
}

/// Calls `visit(at)` for each place between two arguments at which a size is largest, told by its square: `slope(at)`
/// is the derivative of that, and the derivative of the derivative. \param from_nothing the size is as good as none at
/// `low`, where the derivative is zero however quickly the size then grows.
// many: both ends of a stretch, each with what is there; a slope, what is done
template<class SlopeAt, class Visit>
void for_each_maximum(SlopeAt slope, double low, Slope at_low, double high, Slope at_high, bool from_nothing,
                      Visit visit) {
  constexpr int looks = 24;
  // Beside a place where a curve stands upright the derivative has no bound.
  constexpr double beside = 1e-6;
  const double width = high - low;
  if (!std::isfinite(at_low.value) || !std::isfinite(at_low.rate)) at_low = slope(low += beside * width);
  if (!std::isfinite(at_high.value) || !std::isfinite(at_high.rate)) at_high = slope(high -= beside * width);
  double start = low;
  // The growth is looked at nearer and nearer.
  if (from_nothing && at_high.value < 0.0)
    for (int look = 0; look < looks && at_low.value <= 0.0; ++look) {
      const double nearer = low + 0.5 * (high - low);
      const Slope there = slope(nearer);
      if (there.value > 0.0) {
        start = nearer;
        at_low = there;
      } else {
        high = nearer;
        at_high = there;
      }
    }
  for_each_sign_change([&](double u) { return slope(u).value; }, [&](double u) { return slope(u).rate; }, start, at_low,
                       high, at_high, visit);
}

} // namespace stasis
