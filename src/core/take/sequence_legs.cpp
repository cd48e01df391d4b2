// The legs of a sequence's course: how long and how fast each is along its way.
#include <algorithm>

#include <boost/math/quadrature/gauss.hpp>
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

void measure(const Feel& feel, const SequenceCourse& course, SequenceLeg& leg) {
  constexpr int panels = 16;
  const double end = leg.start + leg.duration;
  for (double from = leg.start; from < end;) {
    const double to = stretch_end(course, from, end);
    for (int p = 0; p < panels; ++p) {
      const double a = from + (to - from) * p / panels;
      const double b = p + 1 == panels ? to : from + (to - from) * (p + 1) / panels;
      const auto speed = [&](double time) {
        return length_of(along_at(feel, course, time, time < b ? Side::at : Side::before).velocity);
      };
      leg.length += boost::math::quadrature::gauss<double, 15>::integrate(speed, a, b);
      constexpr int bits = 40;
      const auto least = boost::math::tools::brent_find_minima([&](double time) { return -speed(time); }, a, b, bits);
      leg.top_speed = std::max({leg.top_speed, -least.second, speed(a), speed(b)});
    }
    from = to;
  }
}

} // namespace

std::vector<SequenceLeg> legs_of(const Feel& feel, const SequenceCourse& course, double until) {
  std::vector<SequenceLeg> legs;
  for (std::size_t k = 0; k < course.arrives.size(); ++k) {
    SequenceLeg leg{k, k + 1, k > 0 ? course.leaves[k - 1] : 0.0, 0.0, 0.0, 0.0};
    if (leg.start > until || (k > 0 && leg.start == until)) break;
    leg.duration = std::min(course.arrives[k], until) - leg.start;
    if (course.along && leg.duration > 0.0) measure(feel, course, leg);
    legs.push_back(leg);
  }
  return legs;
}

} // namespace stasis
