#include "figure/scene_picture.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/units.hpp"
#include "figure/axis.hpp"
#include "figure/style.hpp"

namespace stasis::figure {
namespace {

constexpr Colour post_colour = style::bar, strong_colour = style::series[0].line;

double dot_product(const Components& a, const Components& b) noexcept {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

/// The camera of one instant, and where on the picture a place is drawn.
class Lens {
public:
  Lens(const ShownCamera& camera, double unit, const Box& area)
      : camera_(camera), unit_(unit), middle_{0.5 * (area.left + area.right), 0.5 * (area.top + area.bottom)},
        scale_(0.5 * (area.bottom - area.top) / std::max(camera.half_height, 1e-6)), near_(0.02 * unit) {}

  double unit() const noexcept { return unit_; }
  const ShownCamera& camera() const noexcept { return camera_; }

  /// In camera axes: right, up, ahead.
  Components seen(const Components& place) const noexcept {
    const Components ray = plus(place, camera_.eye, -1.0);
    return {dot_product(ray, camera_.axes.right), dot_product(ray, camera_.axes.up),
            -dot_product(ray, camera_.axes.back)};
  }
  Point drawn(const Components& in_axes) const noexcept {
    return {middle_.x + in_axes[0] / in_axes[2] * scale_, middle_.y - in_axes[1] / in_axes[2] * scale_};
  }
  std::optional<Point> point(const Components& place) const noexcept {
    const Components at = seen(place);
    return at[2] < near_ ? std::nullopt : std::optional(drawn(at));
  }
  /// A line, cut off behind the eye; nothing if it is all behind.
  std::vector<Point> line(const Components& from, const Components& to) const noexcept {
    Components a = seen(from), b = seen(to);
    if (a[2] < near_ && b[2] < near_) return {};
    if (a[2] < near_) a = cut_at(b, a);
    if (b[2] < near_) b = cut_at(a, b);
    return {drawn(a), drawn(b)};
  }
  /// px that a unit has at a place, where it is nearest.
  double pixels_at(const Components& from, const Components& to) const noexcept {
    return scale_ / std::max(near_, std::min(seen(from)[2], seen(to)[2]));
  }
  /// A face whose corners are in camera axes, cut off behind the eye.
  std::vector<Components> cut_face(const std::vector<Components>& corners) const {
    std::vector<Components> kept;
    for (std::size_t k = 0; k < corners.size(); ++k) {
      const Components &one = corners[k], &next = corners[(k + 1) % corners.size()];
      if (one[2] >= near_) kept.push_back(one);
      if ((one[2] >= near_) != (next[2] >= near_))
        kept.push_back(one[2] >= near_ ? cut_at(one, next) : cut_at(next, one));
    }
    return kept;
  }
  /// The circle in which the eye's rays touch a ball, in camera axes; nothing from inside it.
  std::vector<Components> rim_of(const SphereShape& ball) const {
    const Components to = seen(ball.centre);
    const double distance = std::hypot(to[0], to[1], to[2]), ratio = ball.radius / distance,
                 share = 1.0 - ratio * ratio;
    if (!(share > 0.0)) return {};
    const double level = std::max(std::hypot(to[0], to[2]), 1e-12);
    const Components u{to[2] / level, 0.0, -to[0] / level};
    const Components v = scaled({to[1] * u[2], to[2] * u[0] - to[0] * u[2], -to[1] * u[0]}, 1.0 / distance);
    constexpr int corners = 60;
    std::vector<Components> rim;
    for (int k = 0; k < corners; ++k) {
      const double angle = whole_turn * k / corners, far = ball.radius * std::sqrt(share);
      rim.push_back(plus(plus(scaled(to, share), u, far * std::cos(angle)), v, far * std::sin(angle)));
    }
    return rim;
  }

private:
  Components cut_at(const Components& inside, const Components& outside) const noexcept {
    const double share = (inside[2] - near_) / (inside[2] - outside[2]);
    Components at{};
    for (std::size_t i = 0; i < 2; ++i) at[i] = inside[i] + (outside[i] - inside[i]) * share;
    at[2] = near_;
    return at;
  }

  ShownCamera camera_;
  double unit_;
  Point middle_;
  double scale_, near_;
};

void draw_ground(const Lens& lens, DisplayList& to) {
  constexpr int lines_each_way = 10;
  const double step = 2.0 * lens.unit(), reach = lines_each_way * step;
  const Components& eye = lens.camera().eye;
  const double x = std::round(eye[0] / step) * step, z = std::round(eye[2] / step) * step;
  for (int k = -lines_each_way; k <= lines_each_way; ++k) {
    to.line(lens.line({x + k * step, 0, z - reach}, {x + k * step, 0, z + reach}), style::hairline, 1.4);
    to.line(lens.line({x - reach, 0, z + k * step}, {x + reach, 0, z + k * step}), style::hairline, 1.4);
  }
  // The horizon: two far places level with the eye.
  const Components& back = lens.camera().axes.back;
  const double far = 1e4 * lens.unit(), wide = 3e4 * lens.unit();
  const double level = std::max(std::hypot(back[0], back[2]), 1e-12);
  const Components ahead = plus(eye, {-back[0] / level, 0, -back[2] / level}, far);
  const Components across{back[2] / level, 0, -back[0] / level};
  to.line(lens.line(plus(ahead, across, -wide), plus(ahead, across, wide)), style::baseline, 1.0);
}

/// Posts of three heights on a square pattern about where the eye is; none where everything is measured from.
void draw_posts(const Lens& lens, const Lens& earlier, DisplayList& to) {
  constexpr int apart = 4, each_way = 4;
  const double unit = lens.unit();
  const auto middle = [&](std::size_t i) { return std::round(lens.camera().eye[i] / unit / apart) * apart; };
  for (int i = -each_way; i <= each_way; ++i)
    for (int k = -each_way; k <= each_way; ++k) {
      const double x = middle(0) + i * apart, z = middle(2) + k * apart;
      if (x == 0.0 && z == 0.0) continue;
      const double height = 0.8 + 0.5 * std::fmod(std::fabs(x * 7 + z * 3) / apart, 3.0);
      const Components foot{x * unit, 0, z * unit}, tip{x * unit, height * unit, z * unit};
      const std::vector<Point> ends = lens.line(foot, tip);
      if (ends.empty()) continue;
      to.line(ends, post_colour, std::clamp(0.06 * unit * lens.pixels_at(foot, tip), 1.0, 7.0));
      const auto was = earlier.point(tip), is = lens.point(tip);
      if (was && is && std::hypot(was->x - is->x, was->y - is->y) >= 1.0) to.line({*was, *is}, strong_colour, 2.0);
    }
}

/// A figure with a nose, standing at `at`.
void draw_subject(const Lens& lens, const Components& at, const Components& looked_at, DisplayList& to) {
  const double u = lens.unit();
  constexpr int corners = 20;
  std::vector<Point> ring;
  for (int k = 0; k <= corners; ++k) {
    const double angle = whole_turn * k / corners;
    if (const auto p = lens.point(plus(at, {0.4 * u * std::sin(angle), 0, -0.4 * u * std::cos(angle)}, 1.0)))
      ring.push_back(*p);
  }
  if (ring.size() == corners + 1) to.line(ring, style::ink, 1.2);
  to.line(lens.line(plus(at, {0, 0, -0.4 * u}, 1.0), plus(at, {0, 0, -0.8 * u}, 1.0)), style::ink, 1.2);
  const Components head = plus(at, {0, 0.35 * u, 0}, 1.0);
  to.line(lens.line(at, head), style::ink, std::clamp(0.2 * u * lens.pixels_at(at, head), 2.0, 60.0));
  const auto mark = lens.point(looked_at);
  if (!mark) return;
  to.ring(*mark, 6, strong_colour);
  to.line({{mark->x - 10, mark->y}, {mark->x + 10, mark->y}}, strong_colour, 1.6);
  to.line({{mark->x, mark->y - 10}, {mark->x, mark->y + 10}}, strong_colour, 1.6);
}

struct Piece {
  double ahead;
  std::vector<Point> outline;
};

std::vector<Piece> pieces_of(const Lens& lens, const std::vector<ObstacleFaces>& bodies) {
  std::vector<Piece> pieces;
  const auto add = [&](const std::vector<Components>& corners) {
    const std::vector<Components> cut = lens.cut_face(corners);
    if (cut.size() < 3) return;
    Piece piece{0.0, {}};
    for (const Components& corner : cut) {
      piece.ahead += corner[2] / static_cast<double>(cut.size());
      piece.outline.push_back(lens.drawn(corner));
    }
    pieces.push_back(std::move(piece));
  };
  for (const ObstacleFaces& body : bodies) {
    if (body.ball) add(lens.rim_of(*body.ball));
    for (const Face& face : body.faces) {
      std::vector<Components> corners;
      for (const Components& corner : face) corners.push_back(lens.seen(corner));
      add(corners);
    }
  }
  std::stable_sort(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) { return a.ahead > b.ahead; });
  return pieces;
}

std::optional<Components> place_in_role(const Feel& feel, const std::optional<std::size_t>& role,
                                        const MovingState& now) {
  if (!role) return std::nullopt;
  Components place{};
  for (std::size_t i = 0; i < feel.channels[*role].components; ++i)
    place[i] = now.values[first_component_of(feel, *role) + i];
  return place;
}

/// A flat view: a grid of one step of the scene about the picture's centre, and the subject as a dot.
void draw_flat_view(const Feel& feel, const Box& area, const MovingState& now, DisplayList& to) {
  const auto height_of = [&](const std::vector<double>& values) {
    const double aspect = static_cast<double>(feel.picture.width) / feel.picture.height;
    return feel.picture.height_channel ? values[first_component_of(feel, *feel.picture.height_channel)]
                                       : values[first_component_of(feel, *feel.picture.width_channel)] / aspect;
  };
  const std::size_t lens = feel.picture.height_channel.value_or(feel.picture.width_channel.value_or(0));
  // By the resting view, so that a zoom is seen by the grid that grows: about five squares of it high.
  const double resting = std::max(std::fabs(feel.channels[lens].rest[0]), 1e-9);
  const double decade = std::pow(10.0, std::floor(std::log10(resting / 4.0)));
  const double step = decade * (resting / decade >= 20.0 ? 5.0 : resting / decade >= 8.0 ? 2.0 : 1.0);
  const double scale = (area.bottom - area.top) / std::max(height_of(now.values), 1e-9);
  Components centre = place_in_role(feel, feel.picture.position, now)
                          .value_or(place_in_role(feel, feel.picture.focus, now).value_or(Components{}));
  const auto roll = place_in_role(feel, feel.picture.roll, now);
  const double turn = roll ? radians((*roll)[0]) : 0.0, cosine = std::cos(turn), sine = std::sin(turn);
  const auto place = [&](double x, double y) {
    const double right = (x - centre[0]) * scale, down = (centre[1] - y) * scale;
    return Point{0.5 * (area.left + area.right) + cosine * right - sine * down,
                 0.5 * (area.top + area.bottom) + sine * right + cosine * down};
  };
  const double reach = 0.5 * std::hypot(area.right - area.left, area.bottom - area.top) / scale;
  if (reach / step < 400.0) {
    for (const double x : multiples_of(step, centre[0] - reach, centre[0] + reach))
      to.line({place(x, centre[1] - reach), place(x, centre[1] + reach)}, style::baseline, 1.0);
    for (const double y : multiples_of(step, centre[1] - reach, centre[1] + reach))
      to.line({place(centre[0] - reach, y), place(centre[0] + reach, y)}, style::baseline, 1.0);
  }
  const Components at = now.subject.value_or(Components{});
  to.dot(place(at[0], at[1]), std::clamp(step * scale / 6.0, 3.0, 12.0), style::ink);
}

bool is_a_flat_view(const Feel& feel) noexcept { return feel.picture.height_channel || feel.picture.width_channel; }

} // namespace

bool sees_a_scene(const Feel& feel) noexcept {
  const Picture& p = feel.picture;
  return is_a_flat_view(feel) || p.lens_channel || p.focus || p.distance || p.yaw || p.pitch || p.position;
}

ScenePicture::ScenePicture(const Scene& scene, Box area) : feel_(*scene.feel), area_(area) {
  constexpr double steps_shown = 40.0;
  bodies_ = obstacle_faces(feel_, *scene.take, steps_shown * scene_step(feel_));
}

void ScenePicture::draw(const MovingState& now, const MovingState& before, DisplayList& to) const {
  to.clip(area_);
  to.box(area_, style::paper);
  if (is_a_flat_view(feel_)) {
    draw_flat_view(feel_, area_, now, to);
  } else {
    const double unit = scene_step(feel_);
    const Lens lens(now.camera, unit, area_), earlier(before.camera, unit, area_);
    draw_ground(lens, to);
    draw_posts(lens, earlier, to);
    const Components at = now.subject.value_or(Components{});
    const Components looked_at =
        place_in_role(feel_, feel_.picture.focus, now).value_or(Components{0.0, 0.35 * unit, 0.0});
    const double subject_ahead = lens.seen(at)[2];
    bool is_drawn = false;
    for (const Piece& piece : pieces_of(lens, bodies_)) {
      if (!is_drawn && piece.ahead < subject_ahead) {
        draw_subject(lens, at, looked_at, to);
        is_drawn = true;
      }
      to.fill(piece.outline, style::wall, 0.55);
      std::vector<Point> edge = piece.outline;
      edge.push_back(edge.front());
      to.line(edge, style::muted, 1.0);
    }
    if (!is_drawn) draw_subject(lens, at, looked_at, to);
  }
  to.frame(area_, style::baseline, 1.5);
}

} // namespace stasis::figure
