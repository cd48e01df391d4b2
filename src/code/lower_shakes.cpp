// The shakes of a feel: their waves, how they die away, how hits make one strength.
#include <algorithm>
#include <cmath>

#include "code/lower_tracks.hpp"
#include "core/overloaded.hpp"
#include "core/shake/shake_stack.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

std::string as_stream(std::uint64_t stream) { return fmt::format("{:#018x}", stream); }

/// Why a shake cannot be written in a program that knows the feel; empty if it can.
std::string fault_here(const Feel& feel, const Shake& shake) {
  const Picture& picture = feel.picture;
  const bool in_space = picture.position && feel.channels[*picture.position].components == most_components;
  if (shake.in_view && !picture.is_flat() && in_space
      && (feel.channels[*picture.position].is_placed || (picture.focus && !picture.yaw && !picture.pitch)))
    return "it goes along the axes of an eye that is turned by where it is";
  const auto* stride = std::get_if<StrideWave>(&shake.wave);
  if (stride != nullptr && !is_told(feel, stride->track))
    return "it goes by a track that may be lost, or is no place in the world";
  return {};
}

/// What is left of a hit `since` seconds after it (`frames` after it), as statements that return it.
std::string decay_text(const Decay& decay, const std::string& name) {
  std::string said = "if (since < 0.0) { return 0.0; } ";
  if (decay.stop_after) said += fmt::format("if (since >= {}) {{ return 0.0; }} ", literal(*decay.stop_after));
  if (decay.attack > 0.0) said += fmt::format("if (since < {0}) {{ return since / {0}; }} ", literal(decay.attack));
  said += fmt::format("real t = since - {}; if (t <= 0.0) {{ return 1.0; }} ", literal(decay.attack + decay.hold));
  const auto until = [&](const std::string& share) {
    return fmt::format("real share = {}; if (share < {}) {{ return 0.0; }} return share;", share, literal(decay.until));
  };
  switch (decay.kind) {
  case Decay::Kind::none: return said + "return 1.0;";
  case Decay::Kind::half_life: return said + until(fmt::format("pow(2.0, -t / {})", literal(decay.half_life)));
  case Decay::Kind::linear: return said + fmt::format("return max(0.0, 1.0 - t / {});", literal(decay.duration));
  case Decay::Kind::power:
    return said
           + fmt::format("real left = max(0.0, 1.0 - t / {}); if (left == 0.0) {{ return 0.0; }} return pow(left, {});",
                         literal(decay.duration), literal(decay.exponent));
  case Decay::Kind::per_frame: {
    said += "real counted = frames * (t / since); ";
    if (!decay.amount) return said + until(fmt::format("pow({}, counted)", literal(decay.factor)));
    const std::string left = fmt::format("1.0 - {} * counted", literal(*decay.amount));
    return said
           + (decay.runs_below_zero ? fmt::format("return abs({});", left) : fmt::format("return max(0.0, {});", left));
  }
  case Decay::Kind::eased:
    return said
           + fmt::format("real left = max(0.0, 1.0 - t / {0}); if (left == 0.0) {{ return 0.0; }} return held(1.0 - "
                         "curve_of_decay_of_{1}(t / {0}), 0.0, 1.0);",
                         literal(decay.duration), name);
  }
  return said + "return 0.0;";
}

class ShakeText {
public:
  ShakeText(Lowering& to, std::size_t shake) : to_(to), shake_(to.feel.shakes[shake]), name_(identifier(shake_.name)) {}

  void write() {
    write_left();
    to_.add("/// How strong hit k of {} still is.", shake_.name);
    to_.add("real strength_of_{0}(State s, whole k) {{ return s.hits_of_{0}.strength[k] * left_of_{0}({1} - "
            "s.hits_of_{0}.time[k], real(s.frame - s.hits_of_{0}.frame[k])); }}",
            name_, now());
    write_leading();
    to_.add("/// How strongly {} is felt: 1 is a full hit.", shake_.name);
    to_.add("open real amplitude_of_{}(State s) {{ {} }}", name_, amplitude());
    for (std::size_t t = 0; t < shake_.targets.size(); ++t) write_target(t);
    for (std::size_t t = 0; t < shake_.targets.size(); ++t)
      if (is_turned(t)) write_turned(t);
  }
  /// The same of one full hit, by the time alone.
  void write_of_time() {
    write_left();
    for (std::size_t t = 0; t < shake_.targets.size(); ++t) {
      const ComponentRef component = shake_.targets[t].component;
      const std::string value = component_identifier(to_.feel, component);
      const std::string size = literal(shake_.targets[t].amplitude);
      const auto say = [&] {
        to_.add("/// What a full hit of {} adds to {}, {}, `since` seconds after it; `time` is the clock's.",
                shake_.name, component_name(to_.feel.channels[component.channel], component.component),
                unit_words(to_.feel.channels[component.channel]));
      };
      if (std::holds_alternative<RingWave>(shake_.wave)) {
        say();
        to_.add("open real {0}_{1}(real since, real time) {{ if (left_of_{0}(since, 0.0) == 0.0) {{ return 0.0; }} "
                "return {2} "
                "* ring({3}, {4}, since); }}",
                name_, value, size, w_, z_);
        continue;
      }
      const auto* noise = std::get_if<NoiseWave>(&shake_.wave);
      to_.add("real wave_{}_of_{}(real time) {{ {} }}", t, name_,
              noise != nullptr ? noise_of_time(*noise, t) : wave(t, "time"));
      say();
      to_.add("open real {0}_{1}(real since, real time) {{ return {2} * left_of_{0}(since, 0.0) * "
              "wave_{3}_of_{0}(time); }}",
              name_, value, size, t);
    }
  }
  void write_left() {
    if (shake_.decay.kind == Decay::Kind::eased) lower_curve(to_, "decay_of_" + name_, *shake_.decay.curve);
    const std::string own = decay_text(shake_.decay, name_);
    if (const auto* ring = std::get_if<RingWave>(&shake_.wave)) {
      w_ = literal(whole_turn * ring->frequency);
      z_ = literal(ring->damping_ratio);
      const std::string stop = shake_.decay.stop_after ? fmt::format("if (since >= {}) {{ return 0.0; }} ",
                                                                     literal(*shake_.decay.stop_after))
                                                       : "";
      to_.add(
          "real left_of_{}(real since, real frames) {{ {}real bound = ring_bound({}, {}, since); if (bound < {}) {{ "
          "return 0.0; }} return bound; }}",
          name_, stop, w_, z_, literal(shake_.decay.until));
    } else {
      to_.add("real left_of_{}(real since, real frames) {{ {} }}", name_, own);
    }
  }
  /// What a value is moved by, as an expression; empty if it is not.
  std::string part_for(ComponentRef component) const {
    for (std::size_t t = 0; t < shake_.targets.size(); ++t)
      if (shake_.targets[t].component == component)
        return fmt::format("{}_{}_of_{}(s)", is_turned(t) ? "turned" : "part", t, name_);
    return {};
  }
  double lasts() const {
    if (shake_.decay.kind == Decay::Kind::per_frame) return unbounded;
    return std::holds_alternative<RingWave>(shake_.wave) ? ring_end(shake_) : end_of(shake_.decay, shake_.decay.at_fps);
  }

private:
  /// True if a target is a part of a place that is shaken along the camera's own axes.
  bool is_turned(std::size_t t) const {
    return shake_.in_view && to_.feel.channels[shake_.targets[t].component.channel].components > 1;
  }
  /// All components of such a place are targets, one after the other.
  void write_turned(std::size_t t) {
    const ComponentRef one = shake_.targets[t].component;
    const std::size_t first = t - one.component;
    to_.add("real turned_{}_of_{}(State s) {{", t, name_);
    write_view_axes(to_);
    std::string sum;
    constexpr const char* axes[] = {"right", "up", "back"};
    for (std::size_t i = 0; i < to_.feel.channels[one.channel].components; ++i)
      sum += fmt::format("{}{}_{} * part_{}_of_{}(s)", i > 0 ? " + " : "", axes[i], one.component, first + i, name_);
    to_.add("  return {};\n}}", sum);
  }
  bool is_led_by_one() const { return shake_.stacking == Stacking::largest || shake_.stacking == Stacking::latest; }
  void write_leading() {
    to_.add("whole leading_of_{}(State s) {{\n  whole leader = 0;\n  for k = 1 below s.hits_of_{}.count {{\n    if "
            "(strength_of_{}(s, k) > strength_of_{}(s, leader)) {{ leader = k; }}\n  }}\n  return leader;\n}}",
            name_, name_, name_, name_);
  }
  std::string level() const {
    if (!shake_.always) return "0.0";
    if (!shake_.level_channel) return literal(std::max(0.0, shake_.level));
    return fmt::format("max(0.0, s.mover[{}].shown)", to_.value_name(*shake_.level_channel));
  }
  std::string amplitude() const {
    const std::string capped = std::isinf(shake_.cap) ? "felt" : fmt::format("min({}, felt)", literal(shake_.cap));
    std::string said = fmt::format("if (s.hits_of_{}.count == 0) {{ return {}; }} ", name_, level());
    if (is_led_by_one()) {
      said += fmt::format("real felt = strength_of_{0}(s, leading_of_{0}(s)); ", name_);
    } else {
      const bool roots = shake_.stacking == Stacking::root_sum;
      said += fmt::format("real felt = 0.0; for k = 0 below s.hits_of_{0}.count {{ real one = strength_of_{0}(s, k); "
                          "felt = felt + {1}; }} ",
                          name_, roots ? "one * one" : "one");
      if (roots) said += "felt = sqrt(felt); ";
    }
    return said + fmt::format("return {} + {};", capped, level());
  }
  struct NoiseScale {
    double pace;  ///< cells of the first lattice per second
    double gains; ///< of all octaves together
  };
  static NoiseScale scale_of(const NoiseWave& one) {
    double gains = 0.0, power = 0.0;
    for (int k = 0; k < one.octaves; ++k) {
      gains += std::pow(0.5, k);
      power += std::pow(0.25, k);
    }
    return {one.frequency / (noise_centroid * (gains / power)), gains};
  }
  std::uint64_t stream_of(std::size_t t) const {
    const ComponentRef component = shake_.targets[t].component;
    return wave_stream(shake_.seed, shake_.name, to_.feel.channels[component.channel].name, component.component);
  }
  /// The noise of wave() where numbers are short: the whole part of where it begins is counted apart.
  std::string noise_of_time(const NoiseWave& one, std::size_t t) const {
    const std::uint64_t stream = stream_of(t);
    const auto [pace, gains] = scale_of(one);
    const double begins = 1000.0 * (0.5 + 0.5 * signed_share(stream, -1));
    std::string said = "return (";
    for (int k = 0; k < one.octaves; ++k) {
      const std::uint64_t own = stream + static_cast<std::uint64_t>(k) * 0x9e3779b97f4a7c15u;
      const double at = begins * std::pow(2.0, k);
      said += fmt::format("{}{} * noise_from({}, {}, {}, {} * time + {})", k > 0 ? " + " : "",
                          literal(std::pow(0.5, k)), as_stream(own), as_stream(~own), static_cast<int>(std::floor(at)),
                          literal(pace * std::pow(2.0, k)), literal(at - std::floor(at)));
    }
    return said + fmt::format(") * {};", literal(1.0 / gains));
  }
  /// The wave of a target as statements that return it. \param time  what the clock's time is called there
  std::string wave(std::size_t t, std::string_view time) const {
    const std::uint64_t stream = stream_of(t);
    const auto share = [](std::uint64_t of, std::int64_t place) { return 0.5 + 0.5 * signed_share(of, place); };
    const std::string bits = "bits(" + as_stream(stream) + ", ";
    return std::visit(Overloaded{
                          [&](const NoiseWave& one) {
                            const auto [pace, gains] = scale_of(one);
                            std::string said = fmt::format("real x = {} * {} + {}; return (", literal(pace), time,
                                                           literal(1000.0 * share(stream, -1)));
                            for (int k = 0; k < one.octaves; ++k) {
                              const std::uint64_t own = stream + static_cast<std::uint64_t>(k) * 0x9e3779b97f4a7c15u;
                              said += fmt::format("{}{} * noise({}, {}, {} * x)", k > 0 ? " + " : "",
                                                  literal(std::pow(0.5, k)), as_stream(own), as_stream(~own),
                                                  literal(std::pow(2.0, k)));
                            }
                            return said + fmt::format(") * {};", literal(1.0 / gains));
                          },
                          [&](const SinesWave& one) {
                            const SinesParts parts = sines_parts(one, stream, t);
                            std::string said = "return (";
                            for (std::size_t k = 0; k < parts.rates.size(); ++k)
                              said += fmt::format("{}sin(TURN * ({} * {} + {}))", k > 0 ? " + " : "",
                                                  literal(parts.rates[k]), time, literal(parts.phases[k]));
                            return said + ") / 4.0;";
                          },
                          [](const RingWave&) { return std::string("return 0.0;"); },
                          [&](const JitterWave& one) {
                            return fmt::format("return {}whole({} * {} + 1.0e-9));", bits, literal(one.rate), time);
                          },
                          [&](const StrideWave& one) {
                            return fmt::format("return sin(TURN * ({} / {} + {}));", of_subject(to_, one.track, "way"),
                                               literal(one.length), literal(one.phase.value_or(share(stream, -1))));
                          },
                          [&](const FrameWave&) { return fmt::format("return {}s.frame);", bits); },
                      },
                      shake_.wave);
  }
  /// The time by which it goes.
  const char* now() const { return time_by(shake_.runs_on); }
  void write_target(std::size_t t) {
    const std::string amplitude = literal(shake_.targets[t].amplitude);
    if (std::holds_alternative<RingWave>(shake_.wave)) return write_ring(t, amplitude);
    to_.add("real wave_{}_of_{}(State s) {{ {} }}", t, name_, wave(t, now()));
    to_.add(
        "real part_{0}_of_{1}(State s) {{ real felt = amplitude_of_{1}(s); if (felt == 0.0) {{ return 0.0; }} return "
        "{2} * felt * wave_{0}_of_{1}(s); }}",
        t, name_, amplitude);
  }
  void write_ring(std::size_t t, const std::string& amplitude) {
    const std::string cap = literal(shake_.cap);
    to_.add(
        "real kick_{0}_of_{1}(State s, whole k) {{ if (strength_of_{1}(s, k) == 0.0) {{ return 0.0; }} return {2} * "
        "s.hits_of_{1}.strength[k] * ring({3}, {4}, {5} - s.hits_of_{1}.time[k]); }}",
        t, name_, is_directed(to_.feel, shake_) ? fmt::format("s.hits_of_{}.way[3 * k + {}]", name_, t) : amplitude, w_,
        z_, now());
    std::string said = fmt::format("if (s.hits_of_{}.count == 0) {{ return 0.0; }} ", name_);
    if (is_led_by_one()) {
      said += fmt::format("whole leader = leading_of_{0}(s); real full = strength_of_{0}(s, leader); real moved = "
                          "kick_{1}_of_{0}(s, leader); ",
                          name_, t);
    } else {
      const bool roots = shake_.stacking == Stacking::root_sum;
      said += fmt::format("real moved = 0.0; real full = 0.0; for k = 0 below s.hits_of_{0}.count {{ moved = moved + "
                          "kick_{1}_of_{0}(s, k); real one = strength_of_{0}(s, k); full = full + {2}; }} ",
                          name_, t, roots ? "one * one" : "one");
      if (roots) said += "full = sqrt(full); ";
    }
    if (!std::isinf(shake_.cap)) said += fmt::format("if (full > {0}) {{ return moved * ({0} / full); }} ", cap);
    to_.add("real part_{}_of_{}(State s) {{ {}return moved; }}", t, name_, said);
  }

  Lowering& to_;
  const Shake& shake_;
  std::string name_;
  std::string w_, z_;
};

/// The call that sets a shake off. \param along in a direction of its own.
void write_hit(Lowering& to, const std::vector<std::size_t>& carried, bool along) {
  if (along)
    to.add(
        "/// A ring is kicked so far in each of the values that it shakes, in their units; 1 is a full hit.\nopen act "
        "hit_along(changing State s, whole shake, real strength, real x, real y, real z) {{");
  else
    to.add("/// A shake is set off; 1 is a full hit.\nopen act hit(changing State s, whole shake, real strength) {{");
  to.add("  if (strength <= 0.0) {{ return; }}");
  for (const std::size_t s : carried) {
    const Shake& shake = to.feel.shakes[s];
    const bool directed = is_directed(to.feel, shake);
    if (along && !directed) continue;
    const std::string name = identifier(shake.name);
    std::string way;
    if (directed) {
      const auto part = [&](std::size_t t) {
        return t < shake.targets.size() ? literal(shake.targets[t].amplitude) : "0.0";
      };
      way = along ? fmt::format(" set_way(s.hits_of_{}, x, y, z);", name)
                  : fmt::format(" set_way(s.hits_of_{}, {}, {}, {});", name, part(0), part(1), part(2));
    }
    to.add("  if (shake == SHAKE_{}) {{ {}keep_hit(s.hits_of_{}, {}, s.frame, strength, {});{} }}", to.capitals(name),
           shake.stacking == Stacking::latest ? fmt::format("s.hits_of_{}.count = 0; ", name) : "", name,
           time_by(shake.runs_on), literal(ShakeText(to, s).lasts()), way);
  }
  to.add("}}");
}

} // namespace

std::string lower_shake_of_time(Lowering& to, std::size_t shake) {
  const Shake& one = to.feel.shakes[shake];
  if (one.in_view) return "it goes along the camera's axes";
  if (std::holds_alternative<StrideWave>(one.wave)) return "it goes by a track";
  if (one.decay.kind == Decay::Kind::per_frame) return "it dies away by frames";
  if (std::holds_alternative<FrameWave>(one.wave)) return "it is another on each frame";
  if (one.muted) return "it is muted";
  ShakeText(to, shake).write_of_time();
  return {};
}

void lower_shakes(Lowering& to) {
  std::vector<std::size_t> carried;
  for (std::size_t s = 0; s < to.feel.shakes.size(); ++s) {
    const Shake& shake = to.feel.shakes[s];
    if (const std::string fault = fault_here(to.feel, shake); !fault.empty()) {
      to.leave("Shake {} is not in this file: {}.", shake.name, fault);
      for (const ShakeTarget& target : shake.targets) to.out.unlike.push_back(target.component);
    } else if (!shake.muted)
      carried.push_back(s);
  }
  to.out.shakes = carried;
  for (const std::size_t s : carried) ShakeText(to, s).write();
  if (!carried.empty()) {
    for (std::size_t k = 0; k < carried.size(); ++k)
      to.add("constant whole SHAKE_{} = {};", to.capitals(identifier(to.feel.shakes[carried[k]].name)), k);
    write_hit(to, carried, false);
    if (std::any_of(carried.begin(), carried.end(),
                    [&](std::size_t s) { return is_directed(to.feel, to.feel.shakes[s]); }))
      write_hit(to, carried, true);
  }
  to.add("/// What shakes add to a value.\nreal shaken(State s, whole c) {{");
  for (const ComponentRef component : to.components) {
    std::string sum;
    for (const std::size_t s : carried)
      if (const std::string part = ShakeText(to, s).part_for(component); !part.empty())
        sum += (sum.empty() ? "" : " + ") + part;
    if (!sum.empty()) to.add("  if (c == {}) {{ return {}; }}", to.value_name(component), sum);
  }
  to.add("  return 0.0;\n}}");
  // What begin() forgets.
  to.add("act clear(changing State s) {{");
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k)
    to.add("  s.down[{0}] = false;\n  s.turn[{0}] = 0;\n  s.has_click[{0}] = false;\n  s.repeats[{0}] = 0;\n  "
           "s.deflection[{0}] = 0.0;\n  s.stick_speed[{0}] = 0.0;\n  s.to_come[{0}] = 0.0;",
           k);
  for (std::size_t k = 0; k < to.feel.switches.size(); ++k) to.add("  s.in_force[{}] = false;", k);
  for (const std::size_t s : carried) to.add("  s.hits_of_{}.count = 0;", identifier(to.feel.shakes[s].name));
  to.add("}}");
}

} // namespace stasis::code
