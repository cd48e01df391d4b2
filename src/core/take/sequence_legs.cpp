// A sequence's course as it is gone: when, where along its way, and leg by leg.
#include <algorithm>
#include <cmath>
#include <utility>

#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <boost/math/tools/minima.hpp>

#include "core/take/sequence_course.hpp"

namespace stasis {
namespace {

/// The end of the stretch that begins at an instant and in which nothing along the way breaks.
double stretch_end(const SequenceCourse& course, double from, double end) {
  constexpr double shortest = 1e-9; // s
  double to = end;
  for (const SequenceCourse::OfChannel& one : course.channels)
    for (const auto& way : one.way)
      if (one.channel == *course.along && way != nullptr) to = std::min(to, way->next_break(from));
  return to - from < shortest ? std::min(end, from + shortest) : to;
}

/// The same where nothing breaks. \param read what there is along the way at an instant, an AlongInstant
template<class Read> void measure_panel(Read read, double a, double b, SequenceLeg& leg) {
  constexpr int bits = 40;
  const auto speed = [&](double time) { return length_of(read(time).velocity); };
  const auto jerk = [&](double time) { return length_of(read(time).jerk); };
  const auto least = [&](const auto& of) { return boost::math::tools::brent_find_minima(of, a, b, bits); };
  leg.top_speed =
      std::max({leg.top_speed, -least([&](double time) { return -speed(time); }).second, speed(a), speed(b)});
  leg.top_jerk = std::max({leg.top_jerk, -least([&](double time) { return -jerk(time); }).second, jerk(a), jerk(b)});
  // Where the view all but halts as it turns round, its speed has a corner, at which the way is parted. Halvings
  // without end would be needed where nothing but roundings is left.
  constexpr unsigned halvings = 6;
  constexpr double exact = 1e-10;
  const double halt = least(speed).first;
  for (const auto& [begin, end] : {std::pair{a, halt}, std::pair{halt, b}})
    if (end > begin)
      leg.length += boost::math::quadrature::gauss_kronrod<double, 15>::integrate(speed, begin, end, halvings, exact);
}

/// Length and speed between two instants of the course.
void measure(const Feel& feel, const SequenceCourse& course, double from, double end, SequenceLeg& leg) {
  constexpr double most_panels = 16.0, panels_a_second = 64.0; // a chase is made of many short stretches
  constexpr double most_stretches = 2000.0;                    // of more breaks some lie within one
  const double shortest = (end - from) / most_stretches;
  while (from < end) {
    const double to = std::min(end, std::max(stretch_end(course, from, end), from + shortest));
    const int panels = static_cast<int>(std::clamp(std::ceil(panels_a_second * (to - from)), 1.0, most_panels));
    for (int p = 0; p < panels; ++p) {
      const double a = from + (to - from) * p / panels;
      const double b = p + 1 == panels ? to : from + (to - from) * (p + 1) / panels;
      measure_panel([&](double time) { return along_at(feel, course, time, time < b ? Side::at : Side::before); }, a, b,
                    leg);
    }
    from = to;
  }
}

/// What jumps where a leg comes to its stop; at the very end of a pass nothing follows.
void add_jumps(const Feel& feel, const SequenceCourse& course, double at, SequenceLeg& leg) {
  if (at >= course.total()) return;
  const AlongInstant before = along_at(feel, course, at, Side::before), after = along_at(feel, course, at, Side::at);
  leg.speed_jump = length_of(plus(after.velocity, before.velocity, -1.0));
  leg.acceleration_jump = length_of(plus(after.acceleration, before.acceleration, -1.0));
}

} // namespace

bool SequenceCourse::cuts_between(double a, double b) const noexcept {
  const double low = std::min(a, b), high = std::max(a, b);
  return std::any_of(cuts.begin(), cuts.end(), [&](double cut) { return cut > low - 1e-12 && cut <= high; });
}

LedTime time_of(const Sequence& sequence, const SequenceCourse& course, const SequencePart& part) {
  LedTime time;
  time.pace = part.pace.value_or(sequence.pace);
  time.backward = part.backward.value_or(sequence.backward);
  time.there_and_back = sequence.there_and_back;
  time.passes = sequence.repeat * (sequence.there_and_back ? 2 : 1);
  time.from = course.arrives[part.from.value_or(0)];
  time.first = part.from ? time.from : 0.0;
  time.to = part.to ? course.leaves[*part.to] : course.total();
  // Gone through again and again it must get somewhere: nothing can be seen of quicker passes.
  constexpr double nothing = 1e-9, shortest_pass = 0.005; // s
  if (time.passes != 1 && time.to - time.from < nothing) {
    time.passes = 1;
    time.there_and_back = false;
  } else if (time.passes != 1) {
    time.pace = std::min(time.pace, (time.to - time.from) / shortest_pass);
  }
  return time;
}

AlongInstant along_at(const Feel& feel, const SequenceCourse& course, double time, Side side) {
  AlongInstant out;
  for (const SequenceCourse::OfChannel& one : course.channels) {
    if (one.channel != course.along) continue;
    const SpaceMap& space = feel.channels[one.channel].space;
    for (std::size_t i = 0; i < most_components; ++i) {
      if (one.way[i] == nullptr) continue;
      const Instant now = one.way[i]->at(time, side);
      const SpaceRates f = rates_at(space, now.value);
      const double v = now.velocity;
      out.place[i] = f.value;
      out.velocity[i] = f.first * v;
      out.acceleration[i] = f.first * now.acceleration + f.second * v * v;
      out.jerk[i] = f.first * now.jerk + 3.0 * f.second * v * now.acceleration + f.third * v * v * v;
    }
  }
  return out;
}

std::vector<CoursePass> passes_of(const LedTime& time, double elapsed, std::size_t most) {
  std::vector<CoursePass> passes;
  double begins = 0.0;
  for (std::size_t n = 0; passes.size() < most && (time.passes == 0 || n < static_cast<std::size_t>(time.passes));
       ++n) {
    if (begins >= elapsed && n > 0) break;
    const bool back = time.backward != (time.there_and_back && n % 2 == 1);
    CoursePass pass{back ? time.to : n == 0 ? time.first : time.from, back ? time.from : time.to, begins};
    const double length = std::fabs(pass.to - pass.from) / time.pace;
    const double gone = std::clamp(elapsed - begins, 0.0, length);
    if (gone < length) pass.to = pass.from + (back ? -gone : gone) * time.pace;
    passes.push_back(pass);
    begins += length;
  }
  return passes;
}

// many: what is gone along, which part, and how fast
std::vector<SequenceLeg> legs_of(const Feel& feel, const SequenceCourse& course, const CoursePass& pass, double pace) {
  std::vector<SequenceLeg> legs;
  const bool back = pass.to < pass.from;
  const double first = std::min(pass.from, pass.to), last = std::max(pass.from, pass.to);
  for (std::size_t k = 0; k < course.arrives.size(); ++k) {
    const double begin = std::max(first, k > 0 ? course.leaves[k - 1] : 0.0), end = std::min(last, course.arrives[k]);
    // A stop that is there at once is a leg without length.
    if (end < begin || (k > 0 && begin == end && (begin == last || end == first))) continue;
    SequenceLeg leg{};
    leg.from = k;
    leg.to = k + 1;
    if (back) std::swap(leg.from, leg.to);
    leg.start = pass.begins + (back ? pass.from - end : begin - pass.from) / pace;
    leg.duration = (end - begin) / pace;
    if (course.along) {
      measure(feel, course, begin, end, leg);
      leg.top_speed *= pace;
      leg.top_jerk *= pace * pace * pace;
      if (back ? begin > first : end < last) add_jumps(feel, course, back ? begin : end, leg);
      leg.speed_jump *= pace;
      leg.acceleration_jump *= pace * pace;
    }
    legs.push_back(leg);
  }
  if (back) std::reverse(legs.begin(), legs.end());
  return legs;
}

} // namespace stasis
