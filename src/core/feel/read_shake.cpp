// Shakes: what they shake, waves, decays.
#include <algorithm>

#include <fmt/format.h>

#include "core/feel/read_motion.hpp"
#include "core/feel/reader_for.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class ShakeReader {
public:
  ShakeReader(Reading& reading, const Entry& entry, const std::string& path)
      : reading_(reading), reader_(entry.value, *find_section("shake"), path, reading.problems) {
    shake_.name = entry.key;
  }

  std::optional<Shake> read() {
    if (reader_.node().table() == nullptr) return std::nullopt;
    if (const Node* on = reader_.find("on")) read_targets(*on);
    if (const Node* wave = reader_.find("wave")) read_wave(*wave);
    read_amounts();
    read_stacking();
    read_level();
    if (const Node* decay = reader_.find("decay"))
      read_decay(*decay);
    else
      check_undecayed();
    shake_.seed = static_cast<std::uint64_t>(reader_.number("seed").value_or(1.0));
    shake_.quiet_below = reader_.number("quiet_below").value_or(2.0) / 100.0;
    shake_.muted = reader_.flag("muted").value_or(false);
    read_frame();
    read_time();
    read_falloff();
    return reader_.is_whole() ? std::optional(std::move(shake_)) : std::nullopt;
  }

private:
  void read_time() {
    if (reader_.choice("runs_on") != "clock") return;
    shake_.runs_on = RunsOn::clock;
    if (std::holds_alternative<StrideWave>(shake_.wave))
      reader_.report("feel.two_times", "runs_on", "steps go by the subject's way, which it goes by game time");
  }

  std::string below(std::string_view key) const { return joined_path(reader_.path(), key); }

  void read_targets(const Node& on) {
    SectionReader targets(on, *find_section("shake.on"), below("on"), reading_.problems);
    if (on.table() == nullptr) return;
    const KeySpec& spec = *find_key(*find_section("channel"), "rest");
    for (const Entry& entry : *on.table()) {
      const std::string path = joined_path(targets.path(), entry.key);
      const auto whole = index_of(reading_.feel.channels, entry.key);
      if (whole) {
        read_whole(*whole, entry, path, targets, spec);
        continue;
      }
      const auto target = component_named(reading_, targets, entry.key, entry.key);
      if (!target) continue;
      const auto amplitude = targets.number_of(entry.value, spec, path, reading_.feel.channels[target->channel].unit);
      if (amplitude) shake_.targets.push_back({*target, *amplitude});
    }
    if (on.table()->empty()) reader_.report("feel.too_few", "on", "it shakes nothing");
  }

  void read_whole(std::size_t channel, const Entry& entry, const std::string& path, SectionReader& targets,
                  const KeySpec& spec) {
    const Channel& one = reading_.feel.channels[channel];
    const auto values = targets.components_of(entry.value, spec, path, one.unit);
    if (!values) return;
    if (values->size() != 1 && values->size() != one.components)
      return reading_.report(
          "feel.component_count", path, entry.value.where,
          fmt::format("the channel {} has {} components, this has {}", one.name, one.components, values->size()));
    for (std::size_t i = 0; i < one.components; ++i)
      shake_.targets.push_back({{channel, i}, (*values)[values->size() == 1 ? 0 : i]});
  }

  /// The section of a family that the key `kind` chooses; nothing, with a problem, where there is none.
  const SectionSpec* kind_section(const Node& node, std::string_view family, const std::string& path,
                                  std::string_view any) {
    if (const std::string* word = node.text())
      if (const SectionSpec* meant = find_section(std::string(family) + *word)) {
        reading_.report("feel.not_a_table", path, node.where,
                        fmt::format("expected a table, found the text \"{}\"", *word),
                        fmt::format("Write {}.", table_of_kind(*word, *meant)));
        return nullptr;
      }
    const Node* kind = node.find("kind");
    const SectionSpec* section =
        kind != nullptr && kind->text() != nullptr ? find_section(std::string(family) + *kind->text()) : nullptr;
    if (section == nullptr) report_kind(reading_, node, path, any);
    return section;
  }

  void read_wave(const Node& node) {
    const SectionSpec* section = kind_section(node, "shake.wave.", below("wave"), "shake.wave.noise");
    has_wave_ = section != nullptr;
    if (section == nullptr) return;
    SectionReader wave(node, *section, below("wave"), reading_.problems);
    using Read = Wave (*)(Reading&, SectionReader&);
    static constexpr ReaderOf<Read> readers[] = {
        {"shake.wave.noise", noise},   {"shake.wave.sines", sines},   {"shake.wave.ring", ring},
        {"shake.wave.jitter", jitter}, {"shake.wave.stride", stride}, {"shake.wave.every_frame", every_frame}};
    shake_.wave = reader_for<Read>(readers, section->id)(reading_, wave);
  }

  static double number_of(SectionReader& wave, std::string_view key) { return wave.number(key).value_or(1.0); }
  static Wave noise(Reading&, SectionReader& wave) {
    return NoiseWave{number_of(wave, "frequency"), static_cast<int>(number_of(wave, "octaves"))};
  }
  static Wave sines(Reading&, SectionReader& wave) { return SinesWave{number_of(wave, "frequency")}; }
  static Wave ring(Reading&, SectionReader& wave) {
    return RingWave{number_of(wave, "frequency"), wave.number("damping_ratio").value_or(0.5)};
  }
  static Wave jitter(Reading&, SectionReader& wave) { return JitterWave{number_of(wave, "rate")}; }
  static Wave every_frame(Reading&, SectionReader&) { return FrameWave{}; }
  static Wave stride(Reading& reading, SectionReader& wave) {
    StrideWave steps{number_of(wave, "length"), 0, {}};
    if (wave.has("phase")) steps.phase = wave.number("phase");
    const auto name = wave.name("track");
    if (name && !reading.is_broken(*name))
      steps.track = reading.resolve(wave, "track", *name, reading.feel.tracks, NameKind::track).value_or(0);
    return steps;
  }

  /// What is stated by another size of the wave becomes its limit.
  void read_amounts() {
    const auto word = reader_.choice("amounts");
    if (!word || *word == "limit") return;
    const WaveSize size = size_of(shake_.wave);
    const double share = word == "rms" ? size.rms : size.typical_peak;
    if (!(share > 0.0))
      return reader_.report("feel.choice", "amounts",
                            "the root mean square of a ring depends on how long it is measured",
                            "Its first peak is its limit: leave amounts out.");
    shake_.share_stated = share;
    for (ShakeTarget& target : shake_.targets) target.amplitude /= share;
  }

  void read_decay(const Node& node) {
    if (std::holds_alternative<RingWave>(shake_.wave))
      return reader_.report("feel.too_many_keys", "decay", "a ring dies away by itself",
                            "Its damping_ratio says how soon.");
    const SectionSpec* section = kind_section(node, "shake.decay.", below("decay"), "shake.decay.half_life");
    if (section == nullptr) return;
    SectionReader reader(node, *section, below("decay"), reading_.problems);
    Decay& decay = shake_.decay;
    using Kind = Decay::Kind;
    for (const Kind kind : {Kind::half_life, Kind::linear, Kind::power, Kind::eased, Kind::per_frame})
      if (section->id == "shake.decay." + std::string(name_of(kind))) decay.kind = kind;
    decay.attack = reader.number("attack").value_or(0.0);
    decay.hold = reader.number("hold").value_or(0.0);
    if (reader.has("stop_after")) decay.stop_after = reader.number("stop_after");
    const bool endless = decay.kind == Kind::half_life || decay.kind == Kind::per_frame;
    if (endless) decay.until = reader.number("until").value_or(0.001);
    if (decay.kind == Kind::half_life) decay.half_life = reader.number("half_life").value_or(1.0);
    if (!endless) decay.duration = reader.number("duration").value_or(1.0);
    if (decay.kind == Kind::power) decay.exponent = reader.number("exponent").value_or(2.0);
    if (decay.kind == Kind::per_frame) {
      decay.factor = reader.number("factor").value_or(0.5);
      if (reader.has("amount")) decay.amount = reader.number("amount");
      decay.runs_below_zero = reader.flag("runs_below_zero").value_or(false);
      for (const std::string_view key : {"until", "runs_below_zero"})
        if (reader.has(key) && reader.has("amount") == (key == "until"))
          reader.report("feel.too_many_keys", key,
                        fmt::format("{} goes with {} only", key, key == "until" ? "factor" : "amount"));
      decay.at_fps = reader.number("at_fps").value_or(60.0);
    }
    if (decay.kind == Kind::eased)
      if (const auto text = reader.text("curve"))
        decay.curve = read_curve(reading_, *text, joined_path(reader.path(), "curve"), reader.where("curve"));
  }

  void check_undecayed() {
    if (has_wave_ && !shake_.always && !std::holds_alternative<RingWave>(shake_.wave)) // a ring takes no decay
      reading_.report("feel.missing_key", below("decay"), reader_.node().where,
                      "nothing says how it dies away after a hit",
                      "Give it a decay, such as { kind = \"half_life\", half_life = 0.2 }; or always = true if it is "
                      "there without a hit.");
  }

  void read_stacking() {
    const auto word = reader_.choice("stack");
    // Kicks of one spring add up; handing over from one to another would make the value leap.
    for (const Stacking one : {Stacking::largest, Stacking::sum, Stacking::root_sum, Stacking::latest})
      if (word == name_of(one)) shake_.stacking = one;
    if (std::holds_alternative<RingWave>(shake_.wave) && !reader_.has("stack")) shake_.stacking = Stacking::sum;
    if (reader_.has("cap")) shake_.cap = reader_.number("cap").value_or(1.0);
    const Node* strengths = reader_.find("strengths");
    if (strengths == nullptr) return;
    if (strengths->table() == nullptr)
      return reader_.report(
          "feel.not_a_table", "strengths",
          fmt::format("expected a table such as {{ ripple = 0.3 }}, found {}", kind_in_words(*strengths)));
    for (const Entry& entry : *strengths->table())
      if (const auto value = reader_.number_of(entry.value, *find_key(*find_section("take.cue"), "strength"),
                                               joined_path(below("strengths"), entry.key), ""))
        shake_.strengths.push_back({entry.key, *value});
  }

  void read_level() {
    shake_.always = reader_.flag("always").value_or(false);
    if (std::holds_alternative<RingWave>(shake_.wave) && shake_.always)
      reader_.report("feel.follow", "always", "a ring starts with a hit and cannot always be there");
    const Node* level = reader_.find("level");
    if (level == nullptr) return;
    if (!shake_.always)
      reader_.report("feel.missing_key", "level", "a level goes with always = true; hits have strengths");
    if (level->text() != nullptr)
      shake_.level_channel = component_named(reading_, reader_, "level", *level->text());
    else
      shake_.level = reader_.number("level").value_or(1.0);
  }

  void read_frame() {
    shake_.in_view = reader_.choice("frame") == "view";
    if (!shake_.in_view) return;
    // Turned axes mix all components of a place, those that are not shaken included.
    for (std::size_t c = 0; c < reading_.feel.channels.size(); ++c) {
      const auto has = [&](std::size_t i) {
        return std::any_of(shake_.targets.begin(), shake_.targets.end(), [&](const ShakeTarget& t) {
          return t.component == ComponentRef{c, i};
        });
      };
      const std::size_t components = reading_.feel.channels[c].components;
      if (components < 2 || (!has(0) && !has(1) && !(components > 2 && has(2)))) continue;
      for (std::size_t i = 0; i < components; ++i)
        if (!has(i)) shake_.targets.push_back({{c, i}, 0.0});
    }
    std::stable_sort(shake_.targets.begin(), shake_.targets.end(), [](const ShakeTarget& a, const ShakeTarget& b) {
      return std::pair(a.component.channel, a.component.component)
             < std::pair(b.component.channel, b.component.component);
    });
  }

  void read_falloff() {
    const Node* node = reader_.find("falloff");
    if (node == nullptr) return;
    SectionReader reader(*node, *find_section("shake.falloff"), below("falloff"), reading_.problems);
    const auto near = reader.number("near"), far = reader.number("far");
    if (!near || !far) return;
    if (*far <= *near)
      return reader.report("feel.out_of_bounds", "far", fmt::format("expected more than near, which is {}", *near));
    const Picture& picture = reading_.feel.picture;
    if (!picture.position && !(picture.focus && picture.distance))
      return reader_.report("feel.follow", "falloff", "nothing says where the eye is",
                            "[picture] needs position, or focus and distance.");
    shake_.falloff = Falloff{*near, *far};
  }

  Reading& reading_;
  SectionReader reader_;
  Shake shake_;
  bool has_wave_ = false; ///< of a kind that is known
};

} // namespace

void read_shakes(Reading& reading) {
  reading.each("shake", [&](const Entry& entry, const std::string& path) {
    if (auto shake = ShakeReader(reading, entry, path).read())
      reading.feel.shakes.push_back(std::move(*shake));
    else
      reading.broken.push_back(entry.key);
  });
}

} // namespace stasis
