// The data of the page's player.
#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/goal_source.hpp"
#include "core/text.hpp"
#include "core/view/obstacle_faces.hpp"
#include "core/view/obstacle_plan.hpp"
#include "core/view/shown_camera.hpp"
#include "io/json_writer.hpp"
#include "report/page.hpp"
#include "report/script_text.hpp"

namespace stasis::report {
namespace {

void write_picture(io::JsonWriter& json, const Feel& feel) {
  const Picture& picture = feel.picture;
  const auto channel = [&](std::string_view key, std::optional<std::size_t> index) {
    json.key(key);
    index ? json.integer(static_cast<long long>(*index)) : json.null();
  };
  json.key("picture").begin_object().key("width").integer(picture.width).key("height").integer(picture.height);
  json.key("lens_axis").text(picture.lens_axis == Picture::LensAxis::horizontal ? "horizontal" : "vertical");
  channel("lens", picture.lens_channel);
  channel("view_height", picture.height_channel);
  channel("view_width", picture.width_channel);
  for (const PictureRole& role : picture_roles()) channel(role.key, picture.*role.channel);
  json.key("placed").flag(picture.position && feel.channels[*picture.position].is_placed);
  json.end_object();
}

void write_numbers(io::JsonWriter& json, std::span<const double> numbers) {
  json.begin_array();
  for (const double number : numbers) json.number(number);
  json.end_array();
}

/// A column of rows; one that is the same number throughout is written once. `digits` significant ones, 0 for all: what
/// is only drawn needs fewer.
void write_column(io::JsonWriter& json, std::span<const double> numbers, int digits) {
  const bool stands = std::all_of(numbers.begin(), numbers.end(), [&](double n) { return n == numbers.front(); });
  json.begin_array();
  for (const double number : stands ? numbers.first(1) : numbers)
    json.number(digits > 0 && !stands ? read_number(fmt::format("{:.{}g}", number, digits)) : std::optional(number));
  json.end_array();
}

void write_channels(io::JsonWriter& json, const PageRun& run) {
  const Feel& feel = *run.scene.feel;
  json.key("channels").begin_array();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    json.begin_object().key("name").text(channel.name).key("unit").text(channel.unit);
    json.key("space").text(name_of(channel.space.space)).key("led").flag(is_led(feel, c));
    json.key("rest");
    write_numbers(json, std::span(channel.rest).first(channel.components));
    constexpr int drawn_digits = 7;
    json.key("value").begin_array();
    for (std::size_t i = 0; i < channel.components; ++i) write_column(json, run.baked.value(c, i), 0);
    json.end_array().key("goal").begin_array();
    for (std::size_t i = 0; i < channel.components; ++i) write_column(json, run.baked.goal(c, i), drawn_digits);
    json.end_array();
    json.end_object();
  }
  json.end_array();
}

/// Where the camera is at each kept frame, how it is turned, and how much it sees: what the player draws with.
void write_camera(io::JsonWriter& json, const PageRun& run) {
  const Feel& feel = *run.scene.feel;
  constexpr std::size_t parts = 8; // eye, quaternion, half the height
  std::array<std::vector<double>, parts> columns;
  Quaternion last;
  for (std::size_t row = 0; row < run.baked.frames().size(); ++row) {
    const ShownCamera camera =
        shown_camera(feel, [&](ComponentRef read) { return run.baked.value(read.channel, read.component)[row]; });
    last = beside(quaternion_of(camera.axes), last);
    const std::array<double, parts> all{camera.eye[0], camera.eye[1], camera.eye[2], last.x,
                                        last.y,        last.z,        last.w,        camera.half_height};
    for (std::size_t i = 0; i < parts; ++i) columns[i].push_back(all[i]);
  }
  constexpr int drawn_digits = 5;
  json.key("camera").begin_array();
  for (const std::vector<double>& column : columns) write_column(json, column, drawn_digits);
  json.end_array().key("scene_step").number(scene_step(feel));
}

void write_tracks(io::JsonWriter& json, const PageRun& run) {
  const Feel& feel = *run.scene.feel;
  json.key("tracks").begin_array();
  for (std::size_t t = 0; t < feel.tracks.size(); ++t) {
    json.begin_object().key("name").text(feel.tracks[played_track(*run.scene.take, t)].name).key("place").begin_array();
    for (std::size_t i = 0; i < feel.tracks[t].components; ++i) write_column(json, run.baked.track(t, i), 6);
    json.end_array().end_object();
  }
  json.end_array();
  // A channel that follows a place is seen from above.
  json.key("followers").begin_array();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (!channel.follow || channel.follow->part || channel.components < 2) continue;
    json.begin_object().key("channel").integer(static_cast<long long>(c));
    json.key("track").integer(static_cast<long long>(channel.follow->track)).key("offset");
    write_numbers(json, std::span(channel.follow->offset).first(channel.components));
    json.key("zone");
    const bool in_units = channel.follow->zone && channel.follow->zone->measure == DeadZone::Measure::units;
    in_units ? write_numbers(json, std::span(channel.follow->zone->size).first(channel.components))
             : write_numbers(json, {});
    json.end_object();
  }
  json.end_array();
}

/// What the plan may show of a take: the places looked at, and as far about them as the eye may be.
PlanBounds bounds_of(const PageRun& run, std::size_t focus, std::size_t distance) {
  const auto ends = [&](std::size_t component) {
    const auto& values = run.baked.value(focus, component);
    return std::minmax_element(values.begin(), values.end());
  };
  const auto& distances = run.baked.value(distance, 0);
  const double room = 2.0 * std::fabs(*std::max_element(distances.begin(), distances.end()));
  const auto [left, right] = ends(0);
  const auto [front, back] = ends(2);
  return {*left - room, *right + room, *front - room, *back + room};
}

void write_obstacles(io::JsonWriter& json, const PageRun& run) {
  const Picture& picture = run.scene.feel->picture;
  json.key("obstacles").begin_array();
  if (picture.focus && picture.distance)
    for (const PlanObstacle& one :
         obstacles_on_plan(*run.scene.feel, *run.scene.take, bounds_of(run, *picture.focus, *picture.distance),
                           run.baked.value(*picture.focus, 1).front())) {
      json.begin_object().key("name").text(one.name).key("line").flag(one.is_line).key("pieces").begin_array();
      for (const auto& piece : one.pieces) {
        json.begin_array();
        for (const PlanPlace& place : piece) write_numbers(json, place);
        json.end_array();
      }
      json.end_array().end_object();
    }
  json.end_array();
}

/// The same as bodies in the camera's picture: corner after corner, or a middle and a radius.
void write_bodies(io::JsonWriter& json, const PageRun& run) {
  const Picture& picture = run.scene.feel->picture;
  json.key("bodies").begin_array();
  if (picture.focus && picture.distance) {
    const PlanBounds bounds = bounds_of(run, *picture.focus, *picture.distance);
    const double reach = std::max(bounds.right - bounds.left, bounds.back - bounds.front);
    for (const ObstacleFaces& one : obstacle_faces(*run.scene.feel, *run.scene.take, reach)) {
      json.begin_object().key("faces").begin_array();
      for (const Face& face : one.faces) {
        json.begin_array();
        for (const Components& corner : face) write_numbers(json, corner);
        json.end_array();
      }
      json.end_array();
      if (one.ball) {
        json.key("radius").number(one.ball->radius).key("middle");
        write_numbers(json, one.ball->centre);
      }
      json.end_object();
    }
  }
  json.end_array();
}

void write_wants(io::JsonWriter& json, const std::vector<WantVerdict>& wants) {
  json.key("wants").begin_array();
  for (const WantVerdict& want : wants) {
    json.begin_object().key("measure").text(want.measure).key("bound").text(want.bound);
    json.key("value").number(want.value).key("unit").text(want.unit).key("holds").flag(want.holds).end_object();
  }
  json.end_array();
}

void write_warnings(io::JsonWriter& json, const std::vector<Warning>& warnings) {
  json.key("warnings").begin_array();
  for (const Warning& warning : warnings) {
    json.begin_object().key("code").text(warning.code).key("about").text(warning.about);
    json.key("message").text(warning.message).key("silenced").text(warning.silenced_because).end_object();
  }
  json.end_array();
}

void write_run(io::JsonWriter& json, const PageRun& run) {
  json.begin_object().key("take").text(run.scene.take->name);
  json.key("version").integer(static_cast<long long>(run.version));
  json.key("length").number(run.scene.take->length).key("fps").number(run.scene.take->fps);
  json.key("frames").begin_array();
  for (const std::int64_t frame : run.baked.frames()) json.integer(frame);
  json.end_array().key("whole").flag(run.baked.whole());
  if (!run.scene.clock.is_steady()) { // frames at times of their own
    json.key("times").begin_array();
    for (const std::int64_t frame : run.baked.frames()) json.number(run.scene.clock.time(frame));
    json.end_array();
  }
  write_picture(json, *run.scene.feel);
  write_channels(json, run);
  write_camera(json, run);
  write_tracks(json, run);
  write_obstacles(json, run);
  write_bodies(json, run);
  json.key("controls").begin_array();
  for (const Control& control : run.scene.feel->controls) json.text(control.name);
  json.end_array().key("holds").begin_array();
  for (const Control& control : run.scene.feel->controls)
    if (facts_of(control).is_hold()) json.text(control.name);
  json.end_array();
  json.key("measures").written(run.measures);
  write_wants(json, run.wants);
  write_warnings(json, run.warnings);
  json.end_object();
}

} // namespace

std::string page_data_json(const PageContent& content) {
  io::JsonWriter json;
  json.begin_object().key("title").text(content.title).key("versions").begin_array();
  for (const std::string& version : content.versions) json.text(version);
  json.end_array().key("runs").begin_array();
  for (const PageRun& run : content.runs) write_run(json, run);
  json.end_array().end_object();
  return safe_in_script(json.take());
}

} // namespace stasis::report
