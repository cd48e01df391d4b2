#include "core/measure/sequence_preview.hpp"

#include <algorithm>
#include <cmath>

#include "core/measure/camera_meter.hpp"
#include "core/view/camera.hpp"

namespace stasis {
namespace {

/// What a camera sees while a course leads its channels and all else rests.
CameraView view_at(const Feel& feel, const SequenceCourse& course, double time) {
  return camera_view(feel, [&](ComponentRef read) {
    for (const SequenceCourse::OfChannel& one : course.channels)
      if (one.channel == read.channel && one.way[read.component] != nullptr)
        return from_space(feel.channels[read.channel].space, one.way[read.component]->at(time).value);
    return starting_base(feel.channels[read.channel], read.component);
  });
}

/// Looks at a leg at so many instants.
void look_along(const Feel& feel, SequencePreview& preview, LegSummary& leg, double& distances, int& looks) {
  constexpr int instants = 240;
  std::optional<Quaternion> before;
  const double step = leg.leg.duration / instants;
  for (int k = 0; k <= instants && step > 0.0; ++k) {
    const double time = leg.leg.start + k * step;
    const CameraView view = view_at(feel, preview.course, time);
    if (!view.eye || view.is_flat) return;
    const Quaternion turn = quaternion_of(view.axes);
    if (before) leg.top_turn_speed = std::max(leg.top_turn_speed.value_or(0.0), turn_angle(*before, turn) / step);
    before = turn;
    if (!view.focus) continue;
    const double distance = length_of(plus(*view.eye, *view.focus, -1.0));
    distances += distance;
    ++looks;
    if (!preview.nearest || distance < preview.nearest->distance) preview.nearest = {time, distance, 0.0};
  }
}

} // namespace

SequencePreview preview_of(const Feel& feel, const Take* take, const Sequence& sequence) {
  SequencePreview preview;
  preview.course = course_at_rest(feel, take, sequence);
  double distances = 0.0;
  int looks = 0;
  for (const SequenceLeg& leg : legs_of(feel, preview.course, {0.0, preview.course.total(), 0.0}, 1.0)) {
    LegSummary summary{leg, std::nullopt};
    look_along(feel, preview, summary, distances, looks);
    preview.legs.push_back(summary);
  }
  if (preview.nearest) preview.nearest->usual = distances / looks;
  return preview;
}

} // namespace stasis
