#include "io/gltf_recording.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/units.hpp"
#include "io/gltf_file.hpp"

namespace stasis::io {
namespace {

using SceneJson = nlohmann::json;

/// What an animation changes of a node or a camera over time.
struct Sampler {
  enum class Between { linear, step, cubic } between = Between::linear;
  std::vector<double> times;
  GltfNumbers numbers; ///< of a cubic three for each time: slope in, value, slope out

  Eigen::Vector4d element(std::size_t k) const {
    Eigen::Vector4d out = Eigen::Vector4d::Zero();
    for (std::size_t i = 0; i < std::min<std::size_t>(numbers.width, 4); ++i)
      out[static_cast<Eigen::Index>(i)] = numbers.values[k * numbers.width + i];
    return out;
  }

  Eigen::Vector4d at(double time, bool is_turn) const {
    const auto next = std::upper_bound(times.begin(), times.end(), time);
    const std::size_t each = between == Between::cubic ? 3 : 1, middle = between == Between::cubic ? 1 : 0;
    if (next == times.begin()) return element(middle);
    const auto k = static_cast<std::size_t>(next - times.begin()) - 1;
    const Eigen::Vector4d from = element(each * k + middle);
    if (next == times.end() || between == Between::step) return from;
    const Eigen::Vector4d to = element(each * (k + 1) + middle);
    const double dt = times[k + 1] - times[k], s = (time - times[k]) / dt;
    if (between == Between::cubic) {
      const Eigen::Vector4d out = element(each * k + 2) * dt, in = element(each * (k + 1)) * dt;
      const double s2 = s * s, s3 = s2 * s;
      const Eigen::Vector4d value =
          (2 * s3 - 3 * s2 + 1) * from + (s3 - 2 * s2 + s) * out + (3 * s2 - 2 * s3) * to + (s3 - s2) * in;
      return is_turn ? Eigen::Vector4d(value.normalized()) : value;
    }
    if (!is_turn) return from + s * (to - from);
    return Eigen::Quaterniond(from).slerp(s, Eigen::Quaterniond(to)).coeffs();
  }
};

struct SceneNode {
  std::string name;
  std::optional<std::size_t> parent, camera;
  Eigen::Vector3d place = Eigen::Vector3d::Zero(), scale = Eigen::Vector3d::Ones();
  Eigen::Quaterniond turn = Eigen::Quaterniond::Identity();
  std::optional<Eigen::Affine3d> fixed; ///< instead of those three
  std::optional<Sampler> places, turns, scales;
};

class GltfReader {
public:
  GltfReader(const GltfFile& file, const GltfForm& form) : file_(file), form_(form) {}

  FileResult<Recording> run() {
    if (auto done = read_nodes(); !done) return tl::unexpected(done.error());
    read_fields();
    if (auto done = read_animation(); !done) return tl::unexpected(done.error());
    if (auto done = choose_times(); !done) return tl::unexpected(done.error());
    Recording out;
    out.names.emplace_back("time");
    out.columns.push_back(times_);
    for (std::size_t n = 0; n < nodes_.size(); ++n) add_columns(n, out);
    if (out.names.size() == 1) return tl::unexpected(file_.refuse("no node and no camera moves in its animation"));
    out.notes = std::move(notes_);
    return out;
  }

private:
  static Eigen::VectorXd numbers_of(const SceneJson& list, std::size_t count) {
    Eigen::VectorXd out(static_cast<Eigen::Index>(count));
    for (std::size_t k = 0; k < count; ++k)
      out[static_cast<Eigen::Index>(k)] = list[k].is_number() ? list[k].get<double>() : 0.0;
    return out;
  }

  FileResult<void> read_nodes() {
    const SceneJson nodes = file_.json().value("nodes", SceneJson::array());
    constexpr std::size_t most_nodes = 100'000;
    if (nodes.size() > most_nodes) return tl::unexpected(file_.refuse("more than 100,000 nodes"));
    nodes_.resize(nodes.size());
    for (std::size_t n = 0; n < nodes.size(); ++n) {
      const SceneJson& node = nodes[n];
      if (!node.is_object()) continue;
      SceneNode& out = nodes_[n];
      const auto name = node.find("name");
      out.name = name != node.end() && name->is_string() ? name->get<std::string>() : fmt::format("node{}", n);
      if (out.name.empty()) out.name = fmt::format("node{}", n);
      out.camera = whole_at(node, "camera");
      const auto list = [&](const char* key, std::size_t count) {
        const auto found = node.find(key);
        return found != node.end() && found->is_array() && found->size() == count
                   ? std::optional(numbers_of(*found, count))
                   : std::nullopt;
      };
      if (const auto place = list("translation", 3)) out.place = *place;
      if (const auto scale = list("scale", 3)) out.scale = *scale;
      if (const auto turn = list("rotation", 4)) out.turn = Eigen::Quaterniond(Eigen::Vector4d(*turn));
      if (const auto matrix = list("matrix", 16)) {
        Eigen::Matrix4d all;
        for (Eigen::Index k = 0; k < 16; ++k) all(k % 4, k / 4) = (*matrix)[k];
        out.fixed = Eigen::Affine3d(all);
      }
      const SceneJson children = node.value("children", SceneJson::array());
      for (const SceneJson& child : children)
        if (child.is_number_unsigned() && child.get<std::size_t>() < nodes_.size())
          nodes_[child.get<std::size_t>()].parent = n;
    }
    for (std::size_t n = 0; n < nodes_.size(); ++n) {
      std::size_t steps = 0;
      for (auto at = nodes_[n].parent; at; at = nodes_[*at].parent)
        if (++steps > nodes_.size()) return tl::unexpected(file_.refuse("a node is its own parent"));
    }
    name_apart();
    return {};
  }

  /// Two nodes of one name are told apart by their numbers; a comma would part two names on a command line.
  void name_apart() {
    for (SceneNode& node : nodes_) std::replace(node.name.begin(), node.name.end(), ',', '_');
    for (std::size_t n = 0; n < nodes_.size(); ++n)
      if (std::any_of(nodes_.begin(), nodes_.begin() + static_cast<std::ptrdiff_t>(n),
                      [&](const SceneNode& other) { return other.name == nodes_[n].name; }))
        nodes_[n].name += fmt::format("_{}", n);
  }

  void read_fields() {
    for (const SceneJson& camera : file_.json().value("cameras", SceneJson::array())) {
      const SceneJson perspective =
          camera.is_object() ? camera.value("perspective", SceneJson::object()) : SceneJson::object();
      const auto field = perspective.find("yfov");
      fields_.push_back(field != perspective.end() && field->is_number() ? std::optional(field->get<double>())
                                                                         : std::nullopt);
    }
    moving_fields_.resize(fields_.size());
  }

  FileResult<void> read_animation() {
    const SceneJson animations = file_.json().value("animations", SceneJson::array());
    if (animations.empty()) return tl::unexpected(file_.refuse("it has no animation, so nothing moves"));
    std::vector<std::string> names;
    for (std::size_t a = 0; a < animations.size(); ++a)
      names.push_back(animations[a].is_object() ? animations[a].value("name", fmt::format("animation{}", a)) : "");
    std::size_t chosen = 0;
    if (!form_.animation.empty()) {
      const auto found = std::find(names.begin(), names.end(), form_.animation);
      const std::vector<std::string_view> known(names.begin(), names.end());
      if (found == names.end())
        return tl::unexpected(file_.refuse(
            fmt::format("it has no animation \"{}\". It has {}", printable(form_.animation, 60), listed(known))));
      chosen = static_cast<std::size_t>(found - names.begin());
    } else if (names.size() > 1) {
      notes_.push_back(fmt::format("animation \"{}\" of {}; --only animation=NAME takes another",
                                   printable(names[0], 60), names.size()));
    }
    const SceneJson& animation = animations[chosen];
    const SceneJson samplers = animation.value("samplers", SceneJson::array());
    for (const SceneJson& channel : animation.value("channels", SceneJson::array()))
      if (channel.is_object())
        if (auto done = read_channel(channel, samplers); !done) return done;
    return {};
  }

  FileResult<void> read_channel(const SceneJson& channel, const SceneJson& samplers) {
    const SceneJson target = channel.value("target", SceneJson::object());
    const std::string path = target.value("path", "");
    std::optional<Sampler>* goes_to = nullptr;
    std::size_t width = 3;
    if (path == "pointer") {
      const SceneJson extensions = target.value("extensions", SceneJson::object());
      const SceneJson pointer = extensions.value("KHR_animation_pointer", SceneJson::object());
      goes_to = field_named(pointer.value("pointer", ""));
      width = 1;
    } else if (const auto node = whole_at(target, "node"); node && *node < nodes_.size()) {
      SceneNode& one = nodes_[*node];
      if (path == "translation") goes_to = &one.places;
      if (path == "scale") goes_to = &one.scales;
      if (path == "rotation") {
        goes_to = &one.turns;
        width = 4;
      }
    }
    if (goes_to == nullptr) return {}; // what bends a mesh, or lights: nothing of where things are
    const auto number = whole_at(channel, "sampler");
    if (!number || *number >= samplers.size() || !samplers[*number].is_object())
      return tl::unexpected(file_.refuse("a channel names a sampler that does not exist"));
    auto sampler = read_sampler(samplers[*number], width);
    if (!sampler) return tl::unexpected(sampler.error());
    *goes_to = std::move(*sampler);
    return {};
  }

  /// "/cameras/0/perspective/yfov"
  std::optional<Sampler>* field_named(const std::string& pointer) {
    const std::vector<std::string_view> parts = split(pointer, '/');
    if (parts.size() != 5 || parts[1] != "cameras" || parts[3] != "perspective" || parts[4] != "yfov") return nullptr;
    const auto camera = read_number(parts[2]);
    if (!camera || !(*camera >= 0.0) || !(*camera < static_cast<double>(moving_fields_.size()))) return nullptr;
    return &moving_fields_[static_cast<std::size_t>(*camera)];
  }

  FileResult<Sampler> read_sampler(const SceneJson& json, std::size_t width) {
    Sampler out;
    const std::string between = json.value("interpolation", "LINEAR");
    if (between == "STEP")
      out.between = Sampler::Between::step;
    else if (between == "CUBICSPLINE")
      out.between = Sampler::Between::cubic;
    else if (between != "LINEAR")
      return tl::unexpected(
          file_.refuse(fmt::format("a sampler is interpolated as \"{}\", which is not one of LINEAR, STEP "
                                   "and CUBICSPLINE",
                                   printable(between, 30))));
    const auto times = file_.numbers(whole_at(json, "input").value_or(SIZE_MAX));
    if (!times) return tl::unexpected(times.error());
    auto numbers = file_.numbers(whole_at(json, "output").value_or(SIZE_MAX));
    if (!numbers) return tl::unexpected(numbers.error());
    out.times = times->values;
    out.numbers = std::move(*numbers);
    const std::size_t each = out.between == Sampler::Between::cubic ? 3 : 1;
    const bool ascends =
        std::adjacent_find(out.times.begin(), out.times.end(), [](double a, double b) { return !(a < b); })
        == out.times.end();
    const bool are_finite = std::all_of(out.times.begin(), out.times.end(), [](double t) { return std::isfinite(t); });
    if (out.times.empty() || !are_finite || out.numbers.width != width || out.numbers.count() != each * out.times.size()
        || !ascends)
      return tl::unexpected(
          file_.refuse("a sampler has no keys, keys that do not ascend, or another number of values"));
    return out;
  }

  template<class Use> void for_each_sampler(const Use& use) const {
    for (const SceneNode& node : nodes_)
      for (const auto* sampler : {&node.places, &node.turns, &node.scales})
        if (*sampler) use(**sampler);
    for (const auto& sampler : moving_fields_)
      if (sampler) use(*sampler);
  }

  FileResult<void> choose_times() {
    for_each_sampler([&](const Sampler& one) { times_.insert(times_.end(), one.times.begin(), one.times.end()); });
    std::sort(times_.begin(), times_.end());
    times_.erase(std::unique(times_.begin(), times_.end()), times_.end());
    if (times_.size() < 2) return {};
    const double first = times_.front(), last = times_.back();
    constexpr double usual = 60.0, rare = 20.0;
    const bool is_rare = static_cast<double>(times_.size() - 1) < rare * (last - first);
    const bool is_sampled = form_.rate || is_rare;
    const double rate = form_.rate.value_or(usual);
    constexpr double most_cells = 16e6, cells_of_a_node = 7.0;
    const double rows = is_sampled ? (last - first) * rate + 1.0 : static_cast<double>(times_.size());
    const double nodes = static_cast<double>(
        std::count_if(nodes_.begin(), nodes_.end(), [&](const SceneNode& node) { return moves(node); }));
    if (rows * cells_of_a_node * std::max(1.0, nodes) > most_cells)
      return tl::unexpected(file_.refuse(
          fmt::format("{} s of {} moving nodes are more than are read at {} rows a second; a lower --rate reads them",
                      concise(last - first), nodes, concise(rows / (last - first)))));
    if (!is_sampled) return {};
    if (!form_.rate)
      notes_.push_back(
          fmt::format("its {} keys are far apart: 60 rows a second; --rate says otherwise", times_.size()));
    times_.clear();
    for (std::size_t k = 0; static_cast<double>(k) <= (last - first) * rate + 1e-9; ++k)
      times_.push_back(std::min(last, first + static_cast<double>(k) / rate));
    return {};
  }

  /// True if the node or anything above it is moved.
  bool moves(const SceneNode& node) const {
    return any_above(static_cast<std::size_t>(&node - nodes_.data()),
                     [](const SceneNode& one) { return one.turns || one.places || one.scales; });
  }

  Eigen::Affine3d own(const SceneNode& node, double time) const {
    if (node.fixed) return *node.fixed;
    const Eigen::Vector3d place = node.places ? Eigen::Vector3d(node.places->at(time, false).head<3>()) : node.place;
    const Eigen::Vector3d scale = node.scales ? Eigen::Vector3d(node.scales->at(time, false).head<3>()) : node.scale;
    const Eigen::Quaterniond turn = node.turns ? Eigen::Quaterniond(node.turns->at(time, true)) : node.turn;
    Eigen::Affine3d out = Eigen::Affine3d::Identity();
    out.translate(place).rotate(turn.normalized()).scale(scale);
    return out;
  }

  Eigen::Affine3d world(std::size_t n, double time) const {
    Eigen::Affine3d out = own(nodes_[n], time);
    for (auto at = nodes_[n].parent; at; at = nodes_[*at].parent) out = own(nodes_[*at], time) * out;
    return out;
  }

  template<class Ask> bool any_above(std::size_t n, const Ask& ask) const {
    for (std::optional<std::size_t> at = n; at; at = nodes_[*at].parent)
      if (ask(nodes_[*at])) return true;
    return false;
  }

  void add_columns(std::size_t n, Recording& out) const {
    const SceneNode& node = nodes_[n];
    const bool turns = any_above(n, [](const SceneNode& one) { return one.turns.has_value(); });
    const bool is_moved = moves(node);
    const bool is_camera = node.camera && *node.camera < fields_.size();
    const bool has_field = is_camera && (fields_[*node.camera] || moving_fields_[*node.camera]);
    const bool field_moves = is_camera && moving_fields_[*node.camera].has_value();
    if (is_moved) {
      std::array<std::vector<double>, 6> all; // x, y, z, yaw, pitch, roll
      for (const double time : times_) add_row(world(n, time), all);
      constexpr std::array<const char*, 6> suffixes{".x", ".y", ".z", ".yaw", ".pitch", ".roll"};
      for (std::size_t k = 0; k < (turns || is_camera ? 6u : 3u); ++k) {
        out.names.push_back(node.name + suffixes[k]);
        out.columns.push_back(std::move(all[k]));
      }
    }
    if (!has_field || !(is_moved || field_moves)) return;
    out.names.push_back(node.name + ".fov");
    std::vector<double>& field = out.columns.emplace_back();
    for (const double time : times_) {
      const auto& sampler = moving_fields_[*node.camera];
      field.push_back((sampler ? sampler->at(time, false)[0] : *fields_[*node.camera]) / radians(1.0));
    }
  }

  static void add_row(const Eigen::Affine3d& world, std::array<std::vector<double>, 6>& all) {
    const Eigen::Vector3d place = world.translation();
    const Eigen::Vector3d forward = -(world.linear() * Eigen::Vector3d::UnitZ()).normalized();
    const Eigen::Vector3d right = (world.linear() * Eigen::Vector3d::UnitX()).normalized();
    const double yaw = std::atan2(-forward.x(), -forward.z()), pitch = std::asin(std::clamp(forward.y(), -1.0, 1.0));
    const Eigen::Vector3d level(std::cos(yaw), 0.0, -std::sin(yaw)), above = level.cross(forward);
    const double roll = std::atan2(right.dot(above), right.dot(level));
    for (std::size_t k = 0; k < 3; ++k) all[k].push_back(place[static_cast<Eigen::Index>(k)]);
    const std::array angles{yaw, pitch, roll};
    for (std::size_t k = 0; k < 3; ++k) {
      double angle = angles[k] / radians(1.0);
      constexpr double turn = 360.0;
      if (!all[3 + k].empty()) angle += turn * std::round((all[3 + k].back() - angle) / turn);
      all[3 + k].push_back(angle);
    }
  }

  const GltfFile& file_;
  const GltfForm& form_;
  std::vector<SceneNode> nodes_;
  std::vector<std::optional<double>> fields_;         // rad, by camera
  std::vector<std::optional<Sampler>> moving_fields_; // likewise
  std::vector<double> times_;
  std::vector<std::string> notes_;
};

} // namespace

bool is_gltf_name(const std::string& path) {
  std::string end = path.substr(path.size() - std::min<std::size_t>(path.size(), 5));
  std::transform(end.begin(), end.end(), end.begin(),
                 [](char c) { return static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c); });
  return end.ends_with(".gltf") || end.ends_with(".glb");
}

FileResult<Recording> read_gltf_recording(const std::string& path, const GltfForm& form) {
  try {
    auto file = GltfFile::read(path, form.allow_outside);
    if (!file) return tl::unexpected(file.error());
    return GltfReader(*file, form).run();
  } catch (const SceneJson::exception&) {
    // A key holds another type than the format says.
    return tl::unexpected(FileError{
        fmt::format("{}: it is not as glTF 2.0 says: a key holds something else than it may", printable(path, 200)),
        true});
  }
}

} // namespace stasis::io
