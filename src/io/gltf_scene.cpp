#include "io/gltf_scene.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <numbers>
#include <vector>

#include <fmt/format.h>

#include "core/export/path_keys.hpp"
#include "core/text.hpp"
#include "core/view/obstacle_faces.hpp"
#include "io/json_writer.hpp"

namespace stasis::io {
namespace {

// Numbers of the standard.
constexpr int type_float = 5126, type_unsigned_int = 5125, target_vertices = 34962, target_indices = 34963;
constexpr std::string_view pointer_extension = "KHR_animation_pointer";

using Corner = std::array<double, 3>;

struct Body {
  std::string name;
  std::vector<Corner> corners;
  std::vector<std::uint32_t> triangles;
};

void add_quad(Body& body, const std::vector<Corner>& face) {
  const auto first = static_cast<std::uint32_t>(body.corners.size());
  body.corners.insert(body.corners.end(), face.begin(), face.end());
  for (std::uint32_t k = 1; k + 1 < face.size(); ++k)
    for (const std::uint32_t at : {0u, k, k + 1}) body.triangles.push_back(first + at);
}

Body box_body(std::string name, const Corner& half) {
  Body body{std::move(name), {}, {}};
  for (std::size_t across = 0; across < 3; ++across)
    for (const double side : {-1.0, 1.0}) {
      std::vector<Corner> face;
      for (const auto& [u, v] : {std::array{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}}) {
        Corner corner{};
        corner[across] = side * half[across];
        corner[(across + 1) % 3] = u * half[(across + 1) % 3];
        corner[(across + 2) % 3] = v * half[(across + 2) % 3];
        face.push_back(corner);
      }
      if (side < 0.0) std::reverse(face.begin(), face.end()); // seen from outside, its corners go round to the left
      add_quad(body, face);
    }
  return body;
}

Body ball_body(std::string name, const Corner& centre, double radius) {
  constexpr int rings = 8, sides = 16;
  Body body{std::move(name), {}, {}};
  const auto at = [&](int ring, int side) {
    const double down = std::numbers::pi * ring / rings, round = 2 * std::numbers::pi * side / sides;
    return Corner{centre[0] + radius * std::sin(down) * std::cos(round), centre[1] + radius * std::cos(down),
                  centre[2] - radius * std::sin(down) * std::sin(round)};
  };
  for (int ring = 0; ring < rings; ++ring)
    for (int side = 0; side < sides; ++side) {
      std::vector<Corner> face{at(ring, side), at(ring + 1, side), at(ring + 1, side + 1), at(ring, side + 1)};
      if (ring == 0) face.pop_back();                      // the cap's corners above are one
      if (ring + 1 == rings) face.erase(face.begin() + 1); // and those below
      add_quad(body, face);
    }
  return body;
}

class SceneWriter {
public:
  SceneWriter(const Scene& scene, const CameraPath& path, const std::optional<KeyTolerance>& tolerance)
      : scene_(scene), path_(path), tolerance_(tolerance) {}

  GltfScene write(const std::string& title, const std::string& generator) {
    collect_bodies();
    JsonWriter json;
    json.begin_object().key("asset").begin_object().key("version").text("2.0").key("generator").text(generator);
    json.end_object();
    const bool has_field = !path_.field.empty();
    if (has_field) json.key("extensionsUsed").begin_array().text(pointer_extension).end_array();
    json.key("scene").integer(0).key("scenes").begin_array().begin_object().key("name").text(printable(title, 200));
    json.key("nodes").begin_array();
    for (std::size_t k = 0; k <= bodies_.size(); ++k) json.integer(static_cast<long long>(k));
    json.end_array().end_object().end_array();
    write_camera(json);
    write_nodes(json);
    write_meshes(json);
    write_animation(json);
    write_accessors(json);
    json.key("buffers").begin_array().begin_object().key("byteLength").integer(static_cast<long long>(buffer_.size()));
    json.end_object().end_array().end_object();
    return {json.take(), std::move(buffer_), keys_};
  }

private:
  struct View {
    std::size_t offset, length;
    int target;
  };
  struct Accessor {
    std::size_t view, count;
    int type;
    std::string_view shape;
    std::vector<double> low, high;
  };

  void collect_bodies() {
    for (std::size_t t = 0; t < scene_.feel->tracks.size(); ++t) {
      const Track& track = scene_.feel->tracks[t];
      constexpr double small = 0.25;
      if (track.half_box)
        bodies_.push_back(box_body(track.name, {(*track.half_box)[0], (*track.half_box)[1], (*track.half_box)[2]}));
      else
        bodies_.push_back(ball_body(track.name, {}, track.radius > 0.0 ? track.radius : small));
    }
    moving_ = bodies_.size();
    constexpr double reach = 100.0;
    for (const ObstacleFaces& one : obstacle_faces(*scene_.feel, *scene_.take, reach)) {
      if (one.ball) {
        bodies_.push_back(
            ball_body(one.name, {one.ball->centre[0], one.ball->centre[1], one.ball->centre[2]}, one.ball->radius));
        continue;
      }
      Body body{one.name, {}, {}};
      for (const Face& face : one.faces) {
        std::vector<Corner> corners;
        for (const Components& corner : face) corners.push_back({corner[0], corner[1], corner[2]});
        add_quad(body, corners);
      }
      if (!body.corners.empty()) bodies_.push_back(std::move(body));
    }
    // Floors, which are not drawn as walls are.
    for (std::size_t o = 0; o < scene_.feel->obstacles.size(); ++o)
      if (const auto* plane = std::get_if<PlaneShape>(&scene_.feel->obstacles[o].shape);
          plane != nullptr && scene_.take->has_obstacle(o) && std::fabs(plane->normal[1]) > 0.999) {
        Body ground{scene_.feel->obstacles[o].name, {}, {}};
        const double y = plane->at[1];
        add_quad(ground, {{-reach, y, reach}, {reach, y, reach}, {reach, y, -reach}, {-reach, y, -reach}});
        bodies_.push_back(std::move(ground));
      }
  }

  std::size_t add_view(std::size_t offset, int target) {
    views_.push_back({offset, buffer_.size() - offset, target});
    return views_.size() - 1;
  }
  void add_float(double value) {
    const auto bits = std::bit_cast<std::uint32_t>(static_cast<float>(value));
    add_word(bits);
  }
  void add_word(std::uint32_t bits) { // little endian, as the standard asks
    for (int shift = 0; shift < 32; shift += 8) buffer_ += static_cast<char>((bits >> shift) & 0xffu);
  }

  /// Numbers by rows. \returns the accessor.
  template<std::size_t Width>
  std::size_t add_rows(const std::vector<std::array<double, Width>>& rows, std::string_view shape, int target,
                       bool with_bounds) {
    const std::size_t offset = buffer_.size();
    Accessor accessor{0, rows.size(), type_float, shape, {}, {}};
    if (with_bounds) {
      accessor.low.assign(Width, 0.0);
      accessor.high.assign(Width, 0.0);
    }
    for (std::size_t k = 0; k < rows.size(); ++k)
      for (std::size_t i = 0; i < Width; ++i) {
        add_float(rows[k][i]);
        const double stored = static_cast<double>(static_cast<float>(rows[k][i]));
        if (!with_bounds) continue;
        accessor.low[i] = k == 0 ? stored : std::min(accessor.low[i], stored);
        accessor.high[i] = k == 0 ? stored : std::max(accessor.high[i], stored);
      }
    accessor.view = add_view(offset, target);
    accessors_.push_back(std::move(accessor));
    return accessors_.size() - 1;
  }

  void write_camera(JsonWriter& json) {
    constexpr double usual = 1.0471975511965976; // 60 deg
    const Picture& picture = scene_.feel->picture;
    json.key("cameras").begin_array().begin_object().key("name").text("eye").key("type").text("perspective");
    json.key("perspective").begin_object().key("aspectRatio");
    json.number(static_cast<double>(picture.width) / static_cast<double>(picture.height));
    json.key("yfov").number(path_.field.empty() ? usual : path_.field.front()).key("znear").number(0.05).end_object();
    json.end_object().end_array();
  }

  void write_nodes(JsonWriter& json) {
    const auto numbers = [&](const auto& row) {
      json.begin_array();
      for (const double number : row) json.number(number);
      json.end_array();
    };
    json.key("nodes").begin_array().begin_object().key("name").text("eye").key("camera").integer(0).key("translation");
    numbers(path_.eye.front());
    json.key("rotation");
    numbers(path_.turn.front());
    json.end_object();
    for (std::size_t b = 0; b < bodies_.size(); ++b) {
      json.begin_object().key("name").text(bodies_[b].name).key("mesh").integer(static_cast<long long>(b));
      if (b < moving_) {
        json.key("translation");
        numbers(path_.tracks[b].front());
      }
      json.end_object();
    }
    json.end_array();
  }

  void write_meshes(JsonWriter& json) {
    if (bodies_.empty()) return;
    json.key("materials").begin_array();
    // What moves, and what stands: in the colours of the figures.
    const std::size_t standing = bodies_.size() - moving_;
    for (const auto& [colour, count] :
         {std::pair{std::array{0.61, 0.11, 0.034}, moving_}, {std::array{0.34, 0.41, 0.43}, standing}}) {
      if (count == 0) continue;
      json.begin_object().key("doubleSided").flag(true).key("pbrMetallicRoughness").begin_object();
      json.key("baseColorFactor").begin_array();
      for (const double part : colour) json.number(part);
      json.number(1.0).end_array().key("metallicFactor").number(0.0).end_object().end_object();
    }
    json.end_array().key("meshes").begin_array();
    for (std::size_t b = 0; b < bodies_.size(); ++b) {
      const std::size_t corners = add_rows(bodies_[b].corners, "VEC3", target_vertices, true);
      const std::size_t offset = buffer_.size();
      for (const std::uint32_t index : bodies_[b].triangles) add_word(index);
      accessors_.push_back(
          {add_view(offset, target_indices), bodies_[b].triangles.size(), type_unsigned_int, "SCALAR", {}, {}});
      json.begin_object().key("name").text(bodies_[b].name).key("primitives").begin_array().begin_object();
      json.key("attributes").begin_object().key("POSITION").integer(static_cast<long long>(corners)).end_object();
      json.key("indices").integer(static_cast<long long>(accessors_.size() - 1));
      json.key("material").integer(b >= moving_ && moving_ > 0 ? 1 : 0).end_object().end_array().end_object();
    }
    json.end_array();
  }

  struct Moved {
    std::size_t input, output;
    std::string_view interpolation;
    std::size_t node;
    std::string_view path; ///< "translation", "rotation", or "pointer"
  };

  /// How near is near enough: a share of how far a thing gets from where it began.
  static double reach_of(const SampledPath& sampled) {
    double reach = 0.0;
    for (std::size_t k = 0; k < sampled.times.size(); ++k)
      reach = std::max(reach, apart(sampled, sampled.values.data(), sampled.values.data() + k * sampled.width));
    return reach;
  }

  template<std::size_t Width>
  Moved add_moved(const std::vector<std::array<double, Width>>& rows, std::string_view shape, std::size_t node,
                  std::string_view path) {
    if (!tolerance_) {
      if (!all_frames_) all_frames_ = add_times(std::vector<double>(path_.times));
      keys_ += rows.size();
      return {*all_frames_, add_rows(rows, shape, 0, false), "LINEAR", node, path};
    }
    SampledPath sampled{path_.times, Width, {}, path == "rotation", {}};
    for (const auto& row : rows) sampled.values.insert(sampled.values.end(), row.begin(), row.end());
    fill_slopes(sampled);
    const PathKeys keys = path_keys(sampled, tolerance_->share * reach_of(sampled));
    keys_ += keys.at.size();
    std::vector<double> times;
    std::vector<std::array<double, Width>> out;
    const auto slopes = [&](std::size_t key) {
      std::array<double, Width> slope{};
      std::copy_n(sampled.slopes.begin() + static_cast<std::ptrdiff_t>(key * Width), Width, slope.begin());
      return slope;
    };
    for (const std::size_t key : keys.at) {
      times.push_back(path_.times[key]);
      if (keys.path == KeyPath::cubic) out.push_back(slopes(key));
      out.push_back(rows[key]);
      if (keys.path == KeyPath::cubic) out.push_back(slopes(key));
    }
    constexpr std::array<std::string_view, 3> names{"STEP", "LINEAR", "CUBICSPLINE"};
    const std::size_t input = add_times(times);
    return {input, add_rows(out, shape, 0, false), names[static_cast<std::size_t>(keys.path)], node, path};
  }
  std::size_t add_times(const std::vector<double>& seconds) {
    std::vector<std::array<double, 1>> times;
    for (const double time : seconds) times.push_back({time});
    return add_rows(times, "SCALAR", 0, true);
  }

  void write_animation(JsonWriter& json) {
    std::vector<std::array<double, 1>> field;
    for (const double angle : path_.field) field.push_back({angle});
    std::vector<Moved> moved{add_moved(path_.eye, "VEC3", 0, "translation"),
                             add_moved(path_.turn, "VEC4", 0, "rotation")};
    if (!field.empty()) moved.push_back(add_moved(field, "SCALAR", 0, "pointer"));
    for (std::size_t t = 0; t < moving_; ++t) moved.push_back(add_moved(path_.tracks[t], "VEC3", t + 1, "translation"));
    json.key("animations")
        .begin_array()
        .begin_object()
        .key("name")
        .text(scene_.take->name)
        .key("samplers")
        .begin_array();
    for (const Moved& one : moved)
      json.begin_object()
          .key("input")
          .integer(static_cast<long long>(one.input))
          .key("output")
          .integer(static_cast<long long>(one.output))
          .key("interpolation")
          .text(one.interpolation)
          .end_object();
    json.end_array().key("channels").begin_array();
    for (std::size_t k = 0; k < moved.size(); ++k) {
      json.begin_object().key("sampler").integer(static_cast<long long>(k)).key("target").begin_object();
      if (moved[k].path == "pointer")
        json.key("path")
            .text("pointer")
            .key("extensions")
            .begin_object()
            .key(pointer_extension)
            .begin_object()
            .key("pointer")
            .text("/cameras/0/perspective/yfov")
            .end_object()
            .end_object();
      else
        json.key("node").integer(static_cast<long long>(moved[k].node)).key("path").text(moved[k].path);
      json.end_object().end_object();
    }
    json.end_array().end_object().end_array();
  }

  void write_accessors(JsonWriter& json) {
    json.key("accessors").begin_array();
    for (const Accessor& one : accessors_) {
      json.begin_object().key("bufferView").integer(static_cast<long long>(one.view)).key("componentType");
      json.integer(one.type).key("count").integer(static_cast<long long>(one.count)).key("type").text(one.shape);
      for (const auto& [key, bound] : {std::pair{"min", &one.low}, {"max", &one.high}}) {
        if (bound->empty()) continue;
        json.key(key).begin_array();
        for (const double number : *bound) json.number(number);
        json.end_array();
      }
      json.end_object();
    }
    json.end_array().key("bufferViews").begin_array();
    for (const View& one : views_) {
      json.begin_object().key("buffer").integer(0).key("byteOffset").integer(static_cast<long long>(one.offset));
      json.key("byteLength").integer(static_cast<long long>(one.length));
      if (one.target != 0) json.key("target").integer(one.target);
      json.end_object();
    }
    json.end_array();
  }

  const Scene& scene_;
  const CameraPath& path_;
  std::optional<KeyTolerance> tolerance_;
  std::optional<std::size_t> all_frames_; ///< the accessor of every frame's time
  std::size_t keys_ = 0;
  std::vector<Body> bodies_;
  std::size_t moving_ = 0; ///< of the bodies, those that are tracks, first
  std::string buffer_;
  std::vector<View> views_;
  std::vector<Accessor> accessors_;
};

/// RFC 4648, section 4.
std::string base64(std::string_view bytes) {
  constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  out.reserve((bytes.size() + 2) / 3 * 4);
  for (std::size_t k = 0; k < bytes.size(); k += 3) {
    std::uint32_t group = 0;
    for (std::size_t i = 0; i < 3; ++i)
      group = group << 8 | (k + i < bytes.size() ? static_cast<unsigned char>(bytes[k + i]) : 0u);
    for (std::size_t i = 0; i < 4; ++i) out += i <= bytes.size() - k ? letters[(group >> (18 - 6 * i)) & 63u] : '=';
  }
  return out;
}

std::string word(std::size_t value) {
  std::string out;
  for (int shift = 0; shift < 32; shift += 8) out += static_cast<char>((value >> shift) & 0xffu);
  return out;
}

} // namespace

GltfScene gltf_scene(const Scene& scene, const CameraPath& path, const std::string& title, const std::string& generator,
                     const std::optional<KeyTolerance>& tolerance) {
  return SceneWriter(scene, path, tolerance).write(title, generator);
}

std::string as_gltf(const GltfScene& scene) {
  // The buffer stands last, so that its URI goes where it ends.
  std::string json = scene.json;
  const std::size_t at = json.rfind("\"byteLength\"");
  json.insert(at, fmt::format("\"uri\":\"data:application/octet-stream;base64,{}\",", base64(scene.buffer)));
  return json + "\n";
}

std::string as_glb(const GltfScene& scene) {
  std::string json = scene.json, bytes = scene.buffer;
  json.append((4 - json.size() % 4) % 4, ' ');
  bytes.append((4 - bytes.size() % 4) % 4, '\0');
  constexpr std::size_t head = 12, chunk_head = 8;
  return "glTF" + word(2) + word(head + 2 * chunk_head + json.size() + bytes.size()) + word(json.size()) + "JSON" + json
         + word(bytes.size()) + std::string("BIN\0", 4) + bytes;
}

} // namespace stasis::io
