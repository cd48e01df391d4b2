#include "figure/plan_series.hpp"

#include <algorithm>
#include <cmath>

#include "core/measure/sequence_meter.hpp"
#include "core/take/follower.hpp"

namespace stasis::figure {

std::vector<Point> thinned(const std::vector<Point>& points) {
  std::vector<Point> kept{points.front()};
  for (const Point& point : points)
    if (distance(point, kept.back()) > 0.5) kept.push_back(point);
  if (kept.size() == 1) kept.push_back(points.back());
  return kept;
}

const PlanFrame& frame_nearest(const std::vector<PlanFrame>& frames, double time) {
  return *std::min_element(frames.begin(), frames.end(), [&](const PlanFrame& a, const PlanFrame& b) {
    return std::fabs(a.time - time) < std::fabs(b.time - time);
  });
}

std::optional<std::size_t> plan_channel(const Feel& feel) {
  const auto follows_place = [&](std::size_t c) {
    return feel.channels[c].follow && feel.channels[c].components >= 2 && !feel.channels[c].follow->part;
  };
  for (const auto& role : {feel.picture.focus, feel.picture.position})
    if (role && follows_place(*role)) return role;
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    if (follows_place(c)) return c;
  return std::nullopt;
}

void PlanSink::begin(const Scene& scene) {
  scene_ = scene;
  channel_ = plan_channel(*scene.feel);
  is_flat_ = channel_ && scene.feel->channels[*channel_].components == 2;
  frames_.clear();
  stride_ = 1;
  catch_up_ = {};
}

void PlanSink::add_view(const CameraView& view, PlanFrame& frame) const {
  if (view.is_flat && view.half_width) {
    frame.half_width = *view.half_width;
    frame.half_height = *view.half_height;
  }
  if (is_flat_ || view.is_flat || !view.eye) return;
  frame.eye = on_plan(*view.eye);
  frame.has_eye = true;
  const double across = view.half_width.value_or(0.0);
  for (std::size_t side = 0; side < 2; ++side) {
    const Components ray = plus(scaled(view.axes.back, -1.0), view.axes.right, side == 0 ? -across : across);
    const double length = std::hypot(ray[0], ray[2]);
    if (length > 0.0 && across > 0.0) frame.edges[side] = {ray[0] / length, ray[2] / length};
  }
}

double PlanSink::lag_at(const Block& block, std::size_t row) const {
  const Channel& channel = scene_.feel->channels[*channel_];
  Components gap{};
  for (std::size_t i = 0; i < channel.components; ++i) {
    const ComponentBlock& column = block.channels[*channel_].component[i];
    if (channel.follow->follows(i)) gap[i] = column.goal_at(row) - column.smooth[row];
  }
  return length_of(gap);
}

PlanFrame PlanSink::frame_at(const Block& block, std::size_t row) const {
  const Feel& feel = *scene_.feel;
  const Channel& channel = feel.channels[*channel_];
  const ChannelBlock& columns = block.channels[*channel_];
  PlanFrame frame;
  frame.time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
  Components value{}, goal{}, wish{};
  for (std::size_t i = 0; i < channel.components; ++i) {
    const ComponentBlock& column = columns.component[i];
    value[i] = column.smooth[row];
    goal[i] = column.goal_at(row);
    wish[i] = !column.free_wishes.empty() ? column.free_wishes[row]
              : !column.wishes.empty()    ? column.wishes[row]
                                          : column.wish;
  }
  frame.lag = lag_at(block, row);
  frame.level = is_flat_ ? 0.0 : value[1];
  if (const auto distance = feel.picture.distance; distance && feel.channels[*distance].obstacles) {
    const ChannelBlock& room = block.channels[*distance];
    frame.is_through = room.component[0].smooth[row] > room.hits[row] * (1.0 + 1e-9);
  }
  frame.value = on_plan(value);
  frame.goal = on_plan(goal);
  frame.wish = on_plan(wish);
  const ReadComponent read = [&](ComponentRef c) {
    return block.channels[c.channel].component[c.component].value[row];
  };
  const CameraView view = camera_view(feel, read);
  add_view(view, frame);
  if (channel.follow->zone) frame.zone = on_plan(zone_half_size(*channel.follow->zone, view, read));
  if (columns.track == 0) return frame;
  const TrackBlock& track = block.tracks[columns.track - 1];
  if (feel.tracks[columns.track - 1].in != TrackPlace::world) return frame;
  Components place{};
  for (std::size_t i = 0; i < channel.components; ++i) place[i] = track.place[i][row];
  frame.subject = on_plan(place);
  frame.has_subject = true;
  const bool places_camera = feel.picture.focus == channel_ || feel.picture.position == channel_;
  if (const auto seen = places_camera ? view.seen(place) : std::nullopt) {
    frame.seen = {(*seen)[0], (*seen)[1]};
    frame.is_seen = true;
  }
  return frame;
}

void PlanSink::consume(const Block& block) {
  if (!channel_) return;
  jumped_ = jumped_ || block.channels[*channel_].moved;
  cuts_.assign(static_cast<std::size_t>(block.count), 0);
  note_cuts(scene_.clock, block, cuts_);
  for (std::int64_t row = 0; row < block.count; ++row) {
    const std::int64_t frame = block.first + row;
    const bool jumps = row == 0 && block.channels[*channel_].moved,
               cuts_next = cuts_[static_cast<std::size_t>(row)] != 0;
    // Where it is cut, what is not yet there lags by the whole way for one frame.
    const bool catches_up = catch_up_.next(jumps, lag_at(block, static_cast<std::size_t>(row))) || cuts_next;
    const bool is_kept = frame % stride_ == 0 || frame + 1 == scene_.clock.frames;
    if (is_kept) {
      frames_.push_back(frame_at(block, static_cast<std::size_t>(row)));
      frames_.back().jumped = jumped_;
      frames_.back().is_cut = is_cut_;
      frames_.back().catches_up = catches_up;
      jumped_ = is_cut_ = false;
    }
    is_cut_ = is_cut_ || cuts_next;
    if (!is_kept) continue;
    if (frames_.size() < most_frames_) continue;
    stride_ *= 2;
    std::size_t kept = 0;
    for (std::size_t k = 0; k < frames_.size(); k += 2) {
      frames_[kept] = frames_[k];
      if (k > 0 && frames_[k - 1].jumped) frames_[kept].jumped = true;
      if (k > 0 && frames_[k - 1].is_cut) frames_[kept].is_cut = true;
      ++kept;
    }
    frames_.resize(kept);
  }
}

} // namespace stasis::figure
