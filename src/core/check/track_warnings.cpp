// What can look wrong with recordings of subjects.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// The quickest way from one row to the next, and how quick the others are.
struct QuickestStep {
  double speed = 0.0, way = 0.0, at = 0.0; ///< unit/s, unit, s
  double around = 0.0;                     ///< unit/s: the quicker of the steps beside it
  double others = 0.0;                     ///< unit/s: mean of all others
};

QuickestStep quickest_step(const RecordedPath& path, std::size_t components) {
  QuickestStep out;
  const std::size_t rows = path.time.size();
  double way_of_all = 0.0, before = 0.0;
  bool is_just_found = false;
  for (std::size_t row = 1; row < rows; ++row) {
    double squares = 0.0;
    for (std::size_t i = 0; i < components; ++i) {
      const double way = path.place[i][row] - path.place[i][row - 1];
      squares += way * way;
    }
    const double way = std::sqrt(squares), time = path.time[row] - path.time[row - 1], speed = way / time;
    way_of_all += way;
    if (is_just_found) out.around = std::max(out.around, speed);
    is_just_found = speed > out.speed;
    if (is_just_found) out = {speed, way, path.time[row - 1], before, 0.0};
    before = speed;
    path.let_go(row > 1 ? row - 2 : 0, row - 1);
  }
  const double time = path.time[rows - 1] - path.time[0];
  if (out.speed > 0.0) out.others = (way_of_all - out.way) / std::max(time - out.way / out.speed, 1e-300);
  return out;
}

bool is_followed(const Feel& feel, std::size_t track) {
  return std::any_of(feel.channels.begin(), feel.channels.end(), [&](const Channel& channel) {
    return channel.follow && (channel.follow->track == track || channel.follow->second == track);
  });
}

void add(std::vector<Warning>& out, std::string code, const std::string& about, std::string message) {
  out.push_back({std::move(code), about, {}, std::move(message), {}});
}

void warn_of_teleport(const Track& track, const RecordedPath& path, std::vector<Warning>& out) {
  constexpr std::size_t fewest_rows = 30;
  constexpr double far_quicker = 25.0, much_quicker = 5.0;
  if (!path.cuts.empty() || path.time.size() < fewest_rows) return;
  const QuickestStep step = quickest_step(path, track.components);
  if (step.speed <= far_quicker * step.others || step.speed <= much_quicker * step.around) return;
  add(out, "subject_teleports", track.name,
      fmt::format("after {3} s, {0} is {1}{2} farther on in the next row, at {4} times its usual speed; without "
                  "cut_beyond that counts as motion, and the view sweeps after it",
                  track.name, readable(step.way), track.unit.empty() ? "" : " " + printable(track.unit, 16),
                  concise(step.at, 6), step.others > 0.0 ? readable(step.speed / step.others) : "countless"));
}

void warn_of_times(const Track& track, const RecordedPath& path, std::vector<Warning>& out) {
  constexpr double slowest = 1.0, quickest = 2e-4; // s from row to row
  if (path.time.size() < 3) return;
  const double step = middle_step(path.time);
  if (step < slowest && step > quickest) return;
  add(out, "unlikely_recording", track.name,
      fmt::format("the rows of {} are {} s apart, {} s in all: {}", track.name, readable(step),
                  readable(path.time[path.time.size() - 1] - path.time[0]),
                  step >= slowest ? "are its times in milliseconds? time_unit = \"ms\""
                                  : "are its times in seconds after all?"));
}

} // namespace

void warn_of_tracks(const Feel& feel, std::vector<Warning>& out) {
  for (std::size_t t = 0; t < feel.tracks.size(); ++t) {
    const Track& track = feel.tracks[t];
    const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path);
    if (recorded == nullptr || (*recorded)->time.size() == 0) continue;
    warn_of_times(track, **recorded, out);
    if (is_followed(feel, t)) warn_of_teleport(track, **recorded, out);
  }
}

} // namespace stasis
