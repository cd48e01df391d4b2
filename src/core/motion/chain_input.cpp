#include "core/motion/chain_input.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {
namespace {

/// A curve is followed in parts of at most this share of its time, so that no feature of it lies between two looks.
constexpr double longest_share = 1.0 / 8.0;
/// Parts are halved until the polynomials through 3 and 4 derivatives at both ends differ by less than this share of
/// the move: the second one, which is used, is then better than 1e-11.
constexpr double polynomials_agree = 2e-9;
/// The same of rounding, by the size of the numbers themselves.
constexpr double rounding = 1e-13;
/// What a part still does to the output when it is taken as straight.
constexpr double negligible = 1e-14;
constexpr int least_halvings = 6;
constexpr int most_halvings = 60;
/// So many parts of one stretch are made smooth at most; no curve is known to need a tenth of them.
constexpr int most_straight_parts = 4096;

/// Instant's rates by the share of a time `h`.
struct Parts {
  double value, first, second, third;
  Parts(const Instant& now, double goal, double h) noexcept
      : value(now.value - goal), first(now.velocity * h), second(now.acceleration * h * h),
        third(now.jerk * h * h * h) {}
  bool is_finite() const noexcept { return std::isfinite(first) && std::isfinite(second) && std::isfinite(third); }
};

/// The polynomial of degree 7 with these values and three rates at 0 and at 1 (two-point Hermite interpolation).
LinkInput hermite(const Parts& a, const Parts& b) noexcept {
  // What is left of value and rates at 1 when the Taylor polynomial at 0 is taken away, matched by s^4 .. s^7.
  const double r0 = b.value - (a.value + a.first + a.second / 2.0 + a.third / 6.0);
  const double r1 = b.first - (a.first + a.second + a.third / 2.0);
  const double r2 = b.second - (a.second + a.third);
  const double r3 = b.third - a.third;
  const double c4 = 35.0 * r0 - 15.0 * r1 + 2.5 * r2 - r3 / 6.0;
  const double c5 = -84.0 * r0 + 39.0 * r1 - 7.0 * r2 + 0.5 * r3;
  const double c6 = 70.0 * r0 - 34.0 * r1 + 6.5 * r2 - 0.5 * r3;
  const double c7 = -20.0 * r0 + 10.0 * r1 - 2.0 * r2 + r3 / 6.0;
  return {{a.value, a.first, a.second, a.third, 24.0 * c4, 120.0 * c5, 720.0 * c6, 5040.0 * c7}};
}

/// How far that polynomial is from the one of degree 5 through two rates, at most: both have the same zeros of third
/// order at the ends, so that the third rates there tell.
double degrees_apart(const Parts& a, const Parts& b) noexcept {
  const double rise = 60.0 * (b.value - a.value);
  const double at_start = rise - 36.0 * a.first - 24.0 * b.first - 9.0 * a.second + 3.0 * b.second;
  const double at_end = rise - 24.0 * a.first - 36.0 * b.first - 3.0 * a.second + 9.0 * b.second;
  constexpr double hump = 1.0 / (6.0 * 64.0); // s^3 (1 - s)^3 is 1/64 at most
  return hump * std::max(std::fabs(a.third - at_start), std::fabs(b.third - at_end));
}

/// Share of a rise of the input within `h` seconds that the first link takes over at most.
double taken_over(const Link& link, double h) noexcept {
  const auto* spring = std::get_if<Spring>(&link);
  const double rate = spring == nullptr ? std::get<Glide>(link).rate
                                        : spring->angular_frequency * std::max(1.0, 2.0 * spring->damping_ratio);
  return std::min(1.0, rate * h);
}

/// One step of the links, of a length that comes again where `steps` keeps what was worked out for it.
// many: where it is kept; a chain, its state, how far it goes; what it follows
void advance_by(LinkSteps* steps, const Chain& chain, LinkStates& links, double h, InputParts parts, double goal,
                const LinkInput& input) {
  if (steps == nullptr) return advance_once(chain.links, h, links, goal, input);
  steps->of(chain.links, h, parts).advance(links, goal, input);
}

/// Follows one stretch of an eased move that has no break inside.
class CurveFollower {
public:
  CurveFollower(const Chain& chain, LinkStates& links, const ChainInput& input, LinkSteps* steps) noexcept
      : chain_(chain), links_(links), input_(input), steps_(steps), goal_(input.goal().end),
        agreement_(polynomials_agree * input.scale() + rounding * std::fabs(goal_)) {}

  /// \param width the nominal length of the part from `from` to `to`, the same number for parts that are equally long.
  // many: both ends of a stretch, each with what is there
  void follow(double from, const Instant& at_from, double to, const Instant& at_to, double width, int halvings) {
    const Parts a(at_from, goal_, width), b(at_to, goal_, width);
    const bool is_bounded = a.is_finite() && b.is_finite();
    if (is_bounded && degrees_apart(a, b) <= agreement_) return step(hermite(a, b), width);
    // Towards a place where a rate has no bound the parts shrink until nothing more comes of them.
    const double rise = b.value - a.value;
    const bool is_nothing = !is_bounded && halvings >= least_halvings
                            && std::fabs(rise) * taken_over(chain_.links.front(), width) <= negligible * input_.scale();
    if (is_nothing || halvings == most_halvings || steps_left_ <= 0) return step({{a.value, rise}}, width);
    const double middle = 0.5 * (from + to);
    const Instant at_middle = input_.at(middle);
    follow(from, at_from, middle, at_middle, 0.5 * width, halvings + 1);
    follow(middle, at_middle, to, at_to, 0.5 * width, halvings + 1);
  }

private:
  void step(const LinkInput& part, double width) {
    --steps_left_;
    advance_by(steps_, chain_, links_, width, InputParts::curved, goal_, part);
  }

  const Chain& chain_;
  LinkStates& links_;
  const ChainInput& input_;
  LinkSteps* steps_;
  double goal_;
  double agreement_; // of the two polynomials, in the space
  int steps_left_ = most_straight_parts;
};

/// A stretch without a break: of a curve, or else of a polynomial that the rates at its start give whole.
// many: both ends of a stretch, each with what is there, of a chain and its state
Instant follow_unbroken(const Chain& chain, LinkStates& links, const ChainInput& input, double from,
                        const Instant& start, double to, LinkSteps* steps) {
  const double width = to - from, goal = input.goal().end;
  // So near behind a break that it is still taken for it: what comes before is not meant.
  const Instant end = input.at(to, width > 2.0 * input.rounding(to) ? Side::before : Side::at);
  if (const double whole = input.curve_time(from); whole < never) {
    const int parts = std::max(1, static_cast<int>(std::ceil(width / (whole * longest_share) - 1e-9)));
    CurveFollower follower(chain, links, input, steps);
    Instant at_part = start;
    for (int p = 0; p < parts; ++p) {
      const double next = p + 1 == parts ? to : from + width * (p + 1) / parts;
      const Instant at_next = p + 1 == parts ? end : input.at(next);
      follower.follow(from + width * p / parts, at_part, next, at_next, width / parts, 0);
      at_part = at_next;
    }
    return end;
  }
  const Parts a(start, goal, width);
  const bool is_straight = a.second == 0.0 && a.third == 0.0;
  const bool stands_there = is_straight && a.value == 0.0 && a.first == 0.0;
  const InputParts parts = stands_there ? InputParts::none : is_straight ? InputParts::straight : InputParts::curved;
  advance_by(steps, chain, links, width, parts, goal, {{a.value, a.first, a.second, a.third}});
  return end;
}

} // namespace

ChainInput::ChainInput(const Chain& chain, const MoverState& state, double elapsed, GoalSegment goal, double h) noexcept
    : ease_(ease_of(chain)), run_(state.run.get()), elapsed_(elapsed),
      slope_(h > 0.0 ? (goal.end - goal.start) / h : 0.0), length_(h), elapsed_end_(elapsed + h), goal_(goal),
      standing_(state.input.value), has_head_(chain.head.has_value()) {
  if (has_head_ && ease_ == nullptr && (slope_ != 0.0 || run_ == nullptr))
    chase_.emplace(std::get<Pace>(*chain.head), state.input.value, finite_or_zero(state.input.velocity), goal, h);
  scale_ = std::max(std::fabs(standing_ - goal.end), std::fabs(goal.end - goal.start));
  if (ease_ != nullptr && run_ != nullptr)
    scale_ = std::max({scale_, std::fabs(run_->way.to - run_->way.from), std::fabs(run_->way.push)});
}

Instant ChainInput::at(double s, Side side) const noexcept {
  const double goal = goal_.start + slope_ * s;
  if (!has_head_) return {goal, slope_, 0.0, 0.0};
  if (chase_) return chase_->at(s, side);
  if (run_ == nullptr)
    return ease_ != nullptr && slope_ != 0.0 ? Instant{goal, slope_, 0.0, 0.0} : Instant{standing_, 0.0, 0.0, 0.0};
  return instant_of(ease_, *run_, s == length_ ? elapsed_end_ : elapsed_ + s, {goal, slope_}, side);
}

double ChainInput::next_break(double s) const noexcept {
  if (chase_) return chase_->next_break(s);
  if (run_ == nullptr || !has_head_) return never;
  return stasis::next_break(ease_, *run_, elapsed_ + s) - elapsed_;
}

double ChainInput::rounding(double s) const noexcept {
  if (chase_) return chase_->rounding(s);
  return run_ == nullptr || !has_head_ ? 0.0 : rounding_at(ease_, *run_, elapsed_ + s);
}

double ChainInput::curve_time(double s) const noexcept {
  if (ease_ == nullptr || run_ == nullptr || elapsed_ + s + rounding(s) >= total_time(*ease_, run_->way)) return never;
  return ease_->duration * run_->way.share;
}

namespace {

/// What was worked out before: steps of lengths that come again, or where an earlier look came to. Either may be null.
struct Known {
  LinkSteps* steps;
  std::optional<StagesAtBreak>* kept;
};

// many: a chain, its state and memory; from where, how far
InputEnd advance_knowing(const Chain& chain, LinkStates& links, const ChainInput& input, const Instant& start, double h,
                         Known known) {
  const auto& [steps, kept] = known;
  double done = 0.0;
  Instant now = start;
  // A break that lies at the very end by all but a rounding is the end.
  const double hair = input.rounding(h);
  if (kept != nullptr && *kept && (*kept)->time < h - hair) {
    done = (*kept)->time;
    now = (*kept)->input;
    links = (*kept)->links;
  }
  double next = input.next_break(done);
  while (next < h - hair) {
    if (next > done && !chain.links.empty()) follow_unbroken(chain, links, input, done, now, next, steps);
    now = input.at(next);
    done = std::max(done, next);
    const double after = input.next_break(done);
    if (!(after > done)) break;
    next = after;
    if (kept != nullptr) *kept = StagesAtBreak{done, now, links};
  }
  const double end = std::min(next, h);
  const Instant before =
      chain.links.empty() ? input.at(end, Side::before) : follow_unbroken(chain, links, input, done, now, end, steps);
  const bool breaks_there = next <= h + hair;
  return {before, breaks_there ? input.at(h) : before};
}

} // namespace

// many: a chain, its state and memory; from where, how far
InputEnd advance_links(const Chain& chain, LinkStates& links, const ChainInput& input, const Instant& start, double h,
                       LinkSteps* steps) {
  return advance_knowing(chain, links, input, start, h, {steps, nullptr});
}

// many: a chain, its state and memory; from where, how far
InputEnd advance_links(const Chain& chain, LinkStates& links, const ChainInput& input, const Instant& start, double h,
                       std::optional<StagesAtBreak>& kept) {
  return advance_knowing(chain, links, input, start, h, {nullptr, &kept});
}

} // namespace stasis
