#include "core/take/follower.hpp"

#include <algorithm>
#include <cmath>

#include "core/motion/mover.hpp"

namespace stasis {
namespace {

/// The vector cut to a length, at most one unit in the last place longer.
Components cut_to(const Components& v, double longest) noexcept {
  const double length = length_of(v);
  if (!(length > longest)) return v;
  Components cut = scaled(v, longest / length);
  // Rounding may have left it a little too long.
  for (int k = 0; k < 4 && length_of(cut) > longest; ++k) cut = scaled(cut, 1.0 - 0x1p-53);
  return cut;
}

/// The part of a place, seen from the zone's middle, that the zone lets be.
Components kept_by_zone(const DeadZone& zone, const Components& half, Components place) noexcept {
  if (!zone.is_ellipse) {
    for (std::size_t i = 0; i < most_components; ++i) place[i] = std::clamp(place[i], -half[i], half[i]);
    return place;
  }
  double square = 0.0;
  for (std::size_t i = 0; i < most_components; ++i)
    if (half[i] > 0.0) square += place[i] / half[i] * (place[i] / half[i]);
  for (std::size_t i = 0; i < most_components; ++i)
    place[i] = half[i] <= 0.0 ? 0.0 : square > 1.0 ? place[i] / std::sqrt(square) : place[i];
  return place;
}

/// True if the view looks from or towards a place that is worked out no sooner than the channel.
bool hangs_view_on(const Feel& feel, std::size_t channel) {
  if (!is_view_from_a_place(feel)) return false;
  const std::vector<std::size_t> order = channel_order(feel);
  const auto own = std::find(order.begin(), order.end(), channel);
  const auto is_late = [&](const std::optional<std::size_t>& place) {
    return place && std::find(own, order.end(), *place) != order.end();
  };
  return is_late(feel.picture.position) || is_late(feel.picture.focus);
}

} // namespace

Components zone_half_size(const DeadZone& zone, const CameraView& view, const ReadComponent& read) {
  const double times = std::max(0.0, zone.times_channel ? read(*zone.times_channel) : zone.times);
  if (zone.measure == DeadZone::Measure::units) return scaled(zone.size, 0.5 * times);
  if (!view.half_width) return {};
  // In space the picture is as large as it is where it is looked at, however near the subject comes.
  const double distance = view.is_flat ? 1.0 : view.reach.value_or(0.0);
  const auto share = [&](double size) { return zone.measure == DeadZone::Measure::margin ? 1.0 - 2.0 * size : size; };
  return {times * share(zone.size[0]) * *view.half_width * distance,
          times * share(zone.size[1]) * *view.half_height * distance, 0.0};
}

double outside_zone(const DeadZone& zone, const Components& half, const Components& place) noexcept {
  return length_of(plus(place, kept_by_zone(zone, half, place), -1.0));
}

Axes axes_of(AxisFrame frame, const TrackPoint& point, const CameraView& view, std::size_t components) {
  switch (frame) {
  case AxisFrame::world: break;
  case AxisFrame::heading: return axes_of_heading(point.travel, components);
  case AxisFrame::subject: return axes_of_heading(point.facing, components);
  case AxisFrame::view: return view.axes;
  }
  return {};
}

Follower::Follower(const Feel& feel, std::size_t channel, const Take& take, std::vector<TrackReader>& readers,
                   const Controls& controls)
    : feel_(feel), channel_(feel.channels[channel]), follow_(*feel.channels[channel].follow), index_(channel),
      take_(take), readers_(readers), controls_(controls), is_view_late_(hangs_view_on(feel, channel)) {}

void Follower::go_on_from(const Follower& old, std::optional<std::size_t> track) {
  if (!track) return; // it begins afresh with what it follows now
  active_ = *track;
  last_time_ = old.last_time_;
  stretch_end_ = old.stretch_end_;
  was_lost_ = old.was_lost_;
  centre_ = old.centre_;
  centred_ = old.centred_;
  raw_lead_ = old.raw_lead_;
  lead_ = old.lead_;
  about_ = old.about_;
  has_about_ = old.has_about_;
  view_ = old.view_;
}

bool Follower::feeds_back() const noexcept {
  if (is_view_late_ && (reads_view() || follow_.damping_frame == AxisFrame::view)) return true;
  const auto about_camera = [&](std::size_t track) {
    return feel_.tracks[played_track(take_, track)].in == TrackPlace::about_camera;
  };
  return about_camera(follow_.track) || (follow_.second && about_camera(*follow_.second));
}

CameraView Follower::view_now(const ReadComponent& read) const {
  return is_view_late_ ? view_ : framing_view(feel_, read);
}

bool Follower::reads_view() const noexcept {
  const auto in_picture = [&](std::size_t track) { return feel_.tracks[track].in != TrackPlace::world; };
  return follow_.offset_frame == AxisFrame::view || (follow_.zone && follow_.zone->measure != DeadZone::Measure::units)
         || in_picture(active_) || (follow_.second && in_picture(played_track(take_, *follow_.second)));
}

/// A point in half sizes of the picture, right and up, about a place.
Components Follower::in_picture(const TrackPoint& point, const Components& about, const CameraView& view) const {
  const double distance = feel_.picture.distance ? view.reach.value_or(1.0) : 1.0;
  const double unit = view.is_flat ? 1.0 : distance;
  const double right = point.place[0] * view.half_width.value_or(1.0) * unit;
  const double up = point.place[1] * view.half_height.value_or(1.0) * unit;
  return plus(about, view.axes.sum({right, up, 0.0}));
}

Follower::Subject Follower::subject_at(double time, const ReadComponent& read, const CameraView& view) const {
  const auto place_of = [&](const TrackPoint& point, const Track& track, const Components& about) {
    if (track.in == TrackPlace::world) return point.place;
    return in_picture(point, track.in == TrackPlace::about_camera ? about_ : about, view);
  };
  Subject subject;
  subject.point = readers_[active_].at(time);
  subject.place = place_of(subject.point, feel_.tracks[active_], {});
  if (follow_.part) subject.place = {subject.place[*follow_.part], 0.0, 0.0};
  if (!follow_.second) return subject;
  const std::size_t second = played_track(take_, *follow_.second);
  const TrackPoint other = readers_[second].at(time);
  if (other.lost) return subject;
  Components place = place_of(other, feel_.tracks[second], subject.place);
  if (follow_.part) place = {place[*follow_.part], 0.0, 0.0};
  const double w = std::clamp(follow_.weight_channel ? read(*follow_.weight_channel) : follow_.weight, 0.0, 1.0);
  for (std::size_t i = 0; i < most_components; ++i) subject.place[i] = (1.0 - w) * subject.place[i] + w * place[i];
  return subject;
}

Components Follower::raw_lead(const TrackPoint& point) const {
  const Lead& lead = follow_.lead;
  const std::size_t components = feel_.tracks[active_].components;
  Components ahead{};
  switch (lead.by) {
  case Lead::By::none: return ahead;
  case Lead::By::velocity: ahead = scaled(point.velocity, lead.amount); break;
  case Lead::By::forward_speed: {
    const Components forward = direction_of(point.facing, components);
    ahead = scaled(forward, lead.amount * dot(point.velocity, forward));
    break;
  }
  case Lead::By::throttle:
    ahead = scaled(direction_of(point.facing, components),
                   lead.amount * (lead.stick ? controls_.state(*lead.stick) : point.throttle));
    break;
  }
  if (follow_.part) ahead = {ahead[*follow_.part], 0.0, 0.0};
  return cut_to(ahead, lead.longest);
}

/// The lead's own motion over `dt` seconds towards what it is now.
void Follower::move_lead(const Components& raw, double dt) {
  const Motion& motion = feel_.motions[*follow_.lead.motion].motion;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (dt > 0.0) advance(motion, lead_[i], memory_[i], {0.0, dt}, {raw_lead_[i], raw[i]}, dt);
    raw_lead_[i] = raw[i];
  }
}

/// The zone's centre after the wish has moved: only what exceeds the zone moves it.
Components Follower::through_zone(const Components& wish, const CameraView& view, const ReadComponent& read) {
  if (!follow_.zone) return wish;
  if (!centred_) {
    centre_ = wish;
    centred_ = true;
    return centre_;
  }
  const bool turned = follow_.zone->measure != DeadZone::Measure::units && !view.is_flat;
  const Components half = zone_half_size(*follow_.zone, view, read);
  const Components away = plus(wish, centre_, -1.0);
  const Components off = kept_by_zone(*follow_.zone, half, turned ? view.axes.parts(away) : away);
  const Components kept = turned ? view.axes.sum(off) : off;
  // What lies on the zone's edge is a rounding beyond it when it is looked at again, as a frame ends and the next
  // begins.
  constexpr double rounding = 1e-14;
  for (std::size_t i = 0; i < most_components; ++i)
    if (std::fabs(kept[i] - away[i]) > rounding * std::max(std::fabs(wish[i]), std::fabs(centre_[i])))
      centre_[i] = wish[i] - kept[i];
  return centre_;
}

FollowAim Follower::aim_at(double time, const ReadComponent& read, double dt) {
  FollowAim aim;
  const CameraView view = reads_view() ? view_now(read) : CameraView{};
  const Subject subject = subject_at(time, read, view);
  aim.lost = subject.point.lost;
  if (aim.lost) return aim;
  Components lead = raw_lead(subject.point);
  if (follow_.lead.motion) {
    move_lead(lead, dt);
    for (std::size_t i = 0; i < channel_.components; ++i) lead[i] = lead_[i].value;
  }
  const Components asked = plus(subject.place, lead);
  Components offset = follow_.offset;
  if (follow_.offset_frame != AxisFrame::world)
    offset = axes_of(follow_.offset_frame, subject.point, view, channel_.components).sum(offset);
  aim.wish = plus(asked, offset);
  aim.goal = follow_.zone ? plus(through_zone(asked, view, read), offset) : aim.wish;
  return aim;
}

FollowAim Follower::begin(double time, const ReadComponent& read, std::optional<std::size_t> track) {
  const std::size_t chosen = played_track(take_, track.value_or(follow_.track));
  const bool first = !last_time_, another = chosen != active_;
  active_ = chosen;
  const double end = readers_[active_].stretch_end();
  const TrackPoint now = readers_[active_].at(time);
  // What has jumped is taken up afresh: the zone is centred on it, the lead is already there at the very start.
  if (first || another || end != stretch_end_ || now.lost != was_lost_) centred_ = false;
  stretch_end_ = end;
  was_lost_ = now.lost;
  if (!has_about_) {
    for (std::size_t i = 0; i < channel_.components; ++i) about_[i] = read({index_, i});
    has_about_ = true;
  }
  if (first && follow_.lead.motion) {
    raw_lead_ = raw_lead(now);
    for (std::size_t i = 0; i < most_components; ++i) lead_[i] = state_at_rest(raw_lead_[i]);
  }
  // A jump at this instant is no motion of the lead's goal.
  if (follow_.lead.motion) raw_lead_ = raw_lead(now);
  last_time_ = time;
  if (is_view_late_ && first) view_ = framing_view(feel_, read);
  const FollowAim aim = aim_at(time, read, 0.0);
  if (is_view_late_) view_ = framing_view(feel_, read);
  if (feeds_back())
    for (std::size_t i = 0; i < channel_.components; ++i) about_[i] = read({index_, i});
  return aim;
}

FollowAim Follower::go_on(double time, const ReadComponent& read) {
  const double dt = time - *last_time_;
  last_time_ = time;
  return aim_at(time, read, dt);
}

Axes Follower::damping_axes(double time, const ReadComponent& read) const {
  const AxisFrame frame = follow_.damping_frame;
  const CameraView view = frame == AxisFrame::view ? view_now(read) : CameraView{};
  return axes_of(frame, readers_[active_].at(time), view, channel_.components);
}

void Follower::add_corners(double from, double to, std::vector<double>& instants) const {
  readers_[active_].add_corners(from, to, instants);
  if (follow_.second) readers_[played_track(take_, *follow_.second)].add_corners(from, to, instants);
  std::sort(instants.begin(), instants.end());
  instants.erase(std::unique(instants.begin(), instants.end(), [](double a, double b) { return b - a < 1e-12; }),
                 instants.end());
}

} // namespace stasis
