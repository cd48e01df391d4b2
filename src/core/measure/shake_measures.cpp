#include "core/measure/shake_measures.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/root.hpp"
#include "core/shake/noise.hpp"
#include "core/take/shaker.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "core/view/camera.hpp"

namespace stasis {
namespace {

/// Share of one lattice's power above 0, 0.1, 0.2, ... 3 cycles a cell; measured like noise_centroid.
constexpr std::array power_above_table{1.000000, 0.993860, 0.953993, 0.860747, 0.715982, 0.540797, 0.365469, 0.217076,
                                       0.110658, 0.047035, 0.016658, 0.006216, 0.004327, 0.004230, 0.003499, 0.002195,
                                       0.001024, 0.000364, 0.000142, 0.000114, 0.000108, 0.000081, 0.000055, 0.000046,
                                       0.000046, 0.000040, 0.000028, 0.000015, 0.000008, 0.000006, 0.000006};

/// Looks at the shortest period of note of a wave, and at the shortest time in which its strength changes.
constexpr int looks_a_period = 64;

/// Instants a second at which a shake is looked at.
double grid_rate(const Shake& shake) {
  double fastest = 1.0;
  if (const auto* jitter = std::get_if<JitterWave>(&shake.wave))
    fastest = 4.0 * jitter->rate;
  else if (std::holds_alternative<StrideWave>(shake.wave))
    fastest = 30.0; // a run of short steps
  else if (const auto spectrum = spectrum_of(shake.wave))
    fastest = spectrum->most_power_below;
  // What comes or goes in no time beside the wave is a leap.
  constexpr double most_often = 64.0;
  const double quickest = most_often * fastest;
  const auto at_least = [&](double time) {
    if (time > 0.0 && std::isfinite(time)) fastest = std::max(fastest, std::min(quickest, 1.0 / time));
  };
  if (!std::holds_alternative<RingWave>(shake.wave)) {
    at_least(half_life_of(shake.decay, shake.decay.at_fps).value_or(0.0));
    at_least(shake.decay.attack);
  }
  return looks_a_period * fastest;
}

/// Frames from one to a time after its beginning, shares of one included; beyond the take's end as they usually are.
double frames_between(const Clock& clock, std::int64_t frame, double begin, double time) {
  std::int64_t whole = clock.frames_within(frame, time - begin, clock.frames - 1 - frame);
  const double left = time - clock.time(frame + whole);
  const double dt = frame + whole + 1 < clock.frames ? clock.dt(frame + whole) : clock.usual_dt();
  return static_cast<double>(whole) + left / dt;
}

double lattice_power_above(double cycles) noexcept {
  constexpr double step = 0.1;
  const double place = cycles / step;
  const auto k = static_cast<std::size_t>(place);
  if (place < 0.0) return 1.0;
  if (k + 1 >= power_above_table.size()) return 0.0;
  return power_above_table[k] + (power_above_table[k + 1] - power_above_table[k]) * (place - static_cast<double>(k));
}

} // namespace

std::optional<double> power_above(const Wave& wave, double frequency) {
  if (const auto* noise = std::get_if<NoiseWave>(&wave)) {
    double power = 0.0, moment = 0.0;
    for (int k = 0; k < noise->octaves; ++k) {
      power += std::pow(0.25, k);
      moment += std::pow(0.5, k);
    }
    const double pace = noise->frequency / (noise_centroid * moment / power); // cells a second of the first octave
    double above = 0.0;
    for (int k = 0; k < noise->octaves; ++k)
      above += std::pow(0.25, k) * lattice_power_above(frequency / (pace * std::pow(2.0, k)));
    return above / power;
  }
  if (const auto* sines = std::get_if<SinesWave>(&wave)) {
    // The four lie at these shares of the mean.
    double above = 0.0;
    for (const double share : {0.6295, 0.8821, 1.1388, 1.3493})
      if (sines->frequency * share > frequency) above += 0.25;
    return above;
  }
  return std::nullopt;
}

double gone_after(const Shake& shake, double strength, double fps) noexcept {
  const double share = shake.quiet_below / strength;
  if (share >= 1.0) return 0.0;
  const auto* ring = std::get_if<RingWave>(&shake.wave);
  return ring != nullptr ? ring_half_life(*ring) * std::log2(ring_reach(*ring) / share)
                         : time_above(shake.decay, share, fps);
}

ShakeTracker::ShakeTracker(const Scene& scene, std::size_t shake)
    : scene_{scene.feel, scene.take, scene.clock.of(scene.feel->shakes[shake].runs_on)}, game_(scene.clock),
      shake_(scene.feel->shakes[shake]), index_(shake), path_(scene, shake),
      rate_(goes_by_frames() ? scene.clock.fps : grid_rate(shake_)),
      records_(shake_.targets.size(), ShakeRecord(rate_, looks_a_period)), peaks_(shake_.targets.size()),
      pixels_(shake_.targets.size()) {
  for (std::size_t t = 0; t < shake_.targets.size(); ++t) {
    ShakePart part;
    part.component = shake_.targets[t].component;
    summary_.parts.push_back(std::move(part));
  }
  const auto* ring = std::get_if<RingWave>(&shake_.wave);
  summary_.half_life =
      ring != nullptr ? std::optional(ring_half_life(*ring)) : half_life_of(shake_.decay, scene.clock.fps);
  if (const auto left = left_at_cut(shake_.decay, scene.clock.fps)) summary_.left_at_cut = 100.0 * *left;
  if (const auto above = power_above(shake_.wave, 0.5 * scene.clock.fps)) summary_.folded = 100.0 * *above;
}

void ShakeTracker::take_hits(const Block& block, SceneFrames& frames) {
  const auto& hits = block.shakes[index_].hits;
  if (hits.empty()) return;
  const FrameSpan here = span_of(scene_.clock, block, 0);
  path_.look_at(here, 0.0, frames);
  const std::vector<double> before = path_.parts();
  for (const HitMark& mark : hits) {
    if (summary_.hits++ == 0) summary_.first_hit = mark.time;
    summary_.last_hit = mark.time;
    const Hit hit{mark.time, block.first, mark.strength, mark.direction};
    path_.hit(hit);
    std::erase_if(hits_, [&](const Hit& old) {
      return old.time + end_of(shake_.decay, scene_.clock.fps) < mark.time || shake_.stacking == Stacking::latest;
    });
    hits_.push_back(hit);
    for (const double turn : {shake_.decay.attack, shake_.decay.attack + shake_.decay.hold})
      if (turn > 0.0) turns_.push_back(mark.time + turn);
  }
  std::sort(turns_.begin(), turns_.end());
  path_.look_at(here, 0.0, frames);
  amplitude_peak_.add_alone(path_.amplitude(), here.begin);
  constexpr double least_leap = 0.005;
  for (std::size_t t = 0; t < summary_.parts.size(); ++t) {
    if (std::fabs(path_.parts()[t] - before[t]) > least_leap * std::fabs(shake_.targets[t].amplitude))
      records_[t].leap();
    peaks_[t].add_alone(std::fabs(path_.parts()[t]), here.begin);
    note_picture(t, path_.parts()[t], 0.0, frames, here.begin);
  }
}

/// How far the picture is shifted, in pixels.
void ShakeTracker::note_picture(std::size_t target, double part, double u, SceneFrames& frames, double time) {
  const Picture& picture = scene_.feel->picture;
  if (!picture.height_channel || picture.position != shake_.targets[target].component.channel) return;
  const double in_game = frames.game_seconds(u, shake_.runs_on);
  const double shift = std::fabs(part) * picture.height / frames.smooth({*picture.height_channel, 0}, in_game);
  if (const auto top = pixels_[target].add(shift, time, 1.0 / rate_)) pixels_[target].note(top->value, top->time);
}

void ShakeTracker::note_range(const Block& block, std::size_t row) {
  for (std::size_t t = 0; t < summary_.parts.size(); ++t) {
    ShakePart& out = summary_.parts[t];
    if (out.leaves_range || block.shakes[index_].parts[t][row] == 0.0) continue;
    const double value = block.channels[out.component.channel].component[out.component.component].value[row];
    const ComponentRange range = output_range(scene_.feel->channels[out.component.channel], out.component.component);
    if (value < range.low || value > range.high)
      out.leaves_range = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
  }
}

/// A shake that is new on each frame is what its rows are.
void ShakeTracker::read_rows(const Block& block, SceneFrames& frames) {
  const ShakeBlock& shake = block.shakes[index_];
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
    amplitude_peak_.add_alone(shake.amplitude[row], time);
    frames.go_to(row);
    for (std::size_t t = 0; t < summary_.parts.size(); ++t) {
      const double part = shake.parts[t][row];
      peaks_[t].add_alone(std::fabs(part), time);
      note_picture(t, part, 0.0, frames, time);
      if (shake.amplitude[row] > 0.0)
        records_[t].add(part);
      else
        records_[t].add_quiet(1);
    }
  }
}

/// Nothing is felt from the instant after the last one up to a time.
void ShakeTracker::pass_over(double until) {
  const auto instants = std::max(next_ + 1, static_cast<std::int64_t>(std::ceil((until - *origin_) * rate_ - 0.5)));
  for (ShakeRecord& record : records_) record.add_quiet(instants - next_ - 1);
  next_ = instants;
}

/// A frame of a shake that has been felt for very long: its beginning stands for it, among the peaks only.
void ShakeTracker::glance(const FrameSpan& frame, SceneFrames& frames) {
  path_.look_at(frame, 0.0, frames);
  amplitude_peak_.add_alone(path_.amplitude(), frame.begin);
  const auto instants = static_cast<std::int64_t>(std::ceil((frame.begin + frame.dt - *origin_) * rate_ - 0.5));
  for (std::size_t t = 0; t < records_.size(); ++t) {
    peaks_[t].add_alone(std::fabs(path_.parts()[t]), frame.begin);
    note_picture(t, path_.parts()[t], 0.0, frames, frame.begin);
    records_[t].add_quiet(std::max<std::int64_t>(0, instants - next_ - 1));
    records_[t].add(path_.parts()[t]);
  }
  next_ = std::max(next_ + 1, instants);
}

/// The instants of the grid that lie in a frame.
void ShakeTracker::follow_frame(const FrameSpan& frame, SceneFrames& frames) {
  const double end = scene_.clock.time(frame.number + 1);
  for (; !turns_.empty() && turns_.front() < end; turns_.pop_front()) {
    if (turns_.front() < frame.begin) continue;
    path_.look_at(frame, turns_.front() - frame.begin, frames);
    amplitude_peak_.add_alone(path_.amplitude(), turns_.front());
  }
  const bool is_full = !records_.empty() && records_.front().is_full();
  if (is_full) return glance(frame, frames);
  for (;; ++next_) {
    const double time = *origin_ + (static_cast<double>(next_) + 0.5) / rate_;
    if (time >= end) return;
    const double u = std::max(0.0, time - frame.begin);
    path_.look_at(frame, u, frames);
    const double amplitude = path_.amplitude();
    amplitude_peak_.add(amplitude, time, 1.0 / rate_);
    tops_.clear();
    for (std::size_t t = 0; t < summary_.parts.size(); ++t) {
      if (const auto top = peaks_[t].add(std::fabs(path_.parts()[t]), time, 1.0 / rate_)) tops_.emplace_back(t, *top);
      note_picture(t, path_.parts()[t], u, frames, time);
      if (amplitude > 0.0)
        records_[t].add(path_.parts()[t]);
      else
        records_[t].add_quiet(1);
    }
    if (amplitude == 0.0 && path_.is_over()) return pass_over(end);
    for (const auto& [target, top] : tops_) {
      // What reads channels may not be looked at before this frame.
      if (!path_.reads_channels()) path_.look_at(frame, top.time - frame.begin, frames);
      peaks_[target].note(path_.reads_channels() ? top.value : std::fabs(path_.parts()[target]), top.time);
    }
  }
}

void ShakeTracker::consume(const Block& block, SceneFrames& frames) {
  const ShakeBlock& shake = block.shakes[index_];
  const double begin = scene_.clock.time(block.first);
  path_.enter(block);
  take_hits(block, frames);
  if (!shake.is_felt && !origin_) return;
  if (!origin_) origin_ = begin;
  if (!shake.is_felt) {
    next_ -= 1; // the instant that comes next is one of those passed over
    pass_over(scene_.clock.time(std::min(block.first + block.count, scene_.clock.frames - 1)));
    return;
  }
  if (goes_by_frames()) read_rows(block, frames);
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    note_range(block, row);
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    if (goes_by_frames() || frame + 1 == scene_.clock.frames) continue;
    frames.go_to(row);
    follow_frame(span_of(scene_.clock, block, row), frames);
  }
}

void ShakeTracker::measure_part(std::size_t target, ShakePart& part) const {
  part.peak = peaks_[target].largest().value_or(0.0);
  part.peak_at = peaks_[target].at();
  if (scene_.feel->picture.height_channel && scene_.feel->picture.position == part.component.channel)
    part.margin_pixels = pixels_[target].largest().value_or(0.0);
  if (goes_by_frames() && !scene_.clock.is_steady()) return; // a spectrum needs evenly spaced samples
  const double power = records_[target].mean_square();
  if (power <= 0.0) return;
  part.rms = std::sqrt(power);
  part.spectrum = records_[target].spectrum();
  part.above_3hz = 100.0 * part.spectrum.share_between(3.0, std::numeric_limits<double>::infinity());
  part.between_0_1_and_0_5hz = 100.0 * part.spectrum.share_between(0.1, 0.5);
  if (std::holds_alternative<JitterWave>(shake_.wave)) return; // leaps have no speed, and any frequency
  part.main_frequency = part.spectrum.centroid();
  const double slope = records_[target].slope_mean_square();
  part.speed_rms = std::sqrt(slope);
  // The mean of squared frequencies is the slope's power over the power.
  const double frequency = part.speed_rms.value() / angular_frequency(1.0) / *part.rms;
  part.bandwidth = std::sqrt(std::max(0.0, frequency * frequency - *part.main_frequency * *part.main_frequency));
}

/// From the last hit on: when all hits together are as weak as that for good.
std::optional<double> ShakeTracker::quiet_after() const {
  if (hits_.empty() || shake_.always) return std::nullopt;
  ShakeStack stack(shake_);
  double end = 0.0;
  const double from = hits_.back().time, fps = scene_.clock.fps;
  for (const Hit& hit : hits_) {
    stack.hit(hit);
    // A ring, and a sum of weak ones, is cut where it ends.
    const double over = std::holds_alternative<RingWave>(shake_.wave) ? ring_end(shake_) : end_of(shake_.decay, fps);
    end = std::max(end, hit.time + over);
  }
  if (!std::isfinite(end)) return std::nullopt;
  const double last_frame = static_cast<double>(hits_.back().frame);
  const auto is_felt = [&](double time) {
    return stack.amplitude(time, last_frame + frames_between(scene_.clock, hits_.back().frame, from, time))
           >= shake_.quiet_below;
  };
  constexpr int looks = 1024;
  double high = end;
  for (int k = looks; k >= 0; --k) {
    double low = from + (end - from) * k / looks;
    if (k == looks) low = std::max(from, std::nextafter(end, from));
    if (!is_felt(low)) {
      high = low;
      continue;
    }
    return change_between(is_felt, low, high).second - from;
  }
  return 0.0;
}

ShakeSummary ShakeTracker::finish() {
  summary_.peak_amplitude = amplitude_peak_.largest().value_or(0.0);
  summary_.quiet_after = quiet_after();
  for (std::size_t t = 0; t < summary_.parts.size(); ++t) measure_part(t, summary_.parts[t]);
  if (shake_.runs_on == RunsOn::clock) put_instants_on_game_time();
  return std::move(summary_);
}

void ShakeTracker::put_instants_on_game_time() {
  for (double* const at : {&summary_.first_hit, &summary_.last_hit}) *at = game_.game_at(*at);
  for (ShakePart& part : summary_.parts) {
    part.peak_at = game_.game_at(part.peak_at);
    if (part.leaves_range) part.leaves_range = game_.game_at(*part.leaves_range);
  }
}

std::vector<std::string> ShakeTracker::notes() const {
  std::vector<std::string> out;
  if (!origin_) return out;
  if (std::holds_alternative<JitterWave>(shake_.wave))
    out.push_back(fmt::format(
        "{}: jitter jumps from value to value, so it has no speed, no main frequency and no bandwidth", shake_.name));
  if (goes_by_frames() && !scene_.clock.is_steady())
    out.push_back(
        fmt::format("{}: a new value on each frame, and frames of different lengths; no spectrum", shake_.name));
  for (const ShakeRecord& record : records_)
    if (record.left_out() > 0.0) {
      out.push_back(fmt::format("{}: it is felt for very long; the last {} s are not in its RMS and spectrum",
                                shake_.name, readable(record.left_out())));
      break;
    }
  return out;
}

} // namespace stasis
