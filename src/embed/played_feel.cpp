#include "embed/played_feel.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/check/known_names.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "core/search/feel_words.hpp"
#include "core/take/player.hpp"
#include "core/take/same_names.hpp"
#include "core/text.hpp"
#include "io/toml_edit.hpp"

namespace stasis::embed {
namespace {

Faults fault(std::string code, std::string message, std::string hint = {}) {
  return {{{std::move(code), "", {0, 0, 1, -1}, std::move(message), std::move(hint)}}, {}};
}

/// The take whose surroundings are played; one of the feel's own, or a bare one.
Opened<Take> take_around(const Feel& feel, const std::string& name) {
  Take around;
  if (!name.empty()) {
    const auto found =
        std::find_if(feel.takes.begin(), feel.takes.end(), [&](const Take& take) { return take.name == name; });
    if (found == feel.takes.end()) {
      std::vector<std::string_view> known;
      for (const Take& take : feel.takes) known.push_back(take.name);
      return tl::unexpected(fault("call", fmt::format("the feel has no take \"{}\"", printable(name, 60)),
                                  known.empty() ? "" : fmt::format("Known: {}.", listed(known))));
    }
    around = *found;
  } else if (!feel.takes.empty()) {
    around = feel.takes.front();
  }
  around.cues.clear();
  return around;
}

/// A led way as a recording of it is read.
TrackPath recorded(const LedWay& way, std::size_t components) {
  auto path = std::make_shared<RecordedPath>();
  path->time = NumberColumn(way.time);
  for (std::size_t i = 0; i < components; ++i) path->place[i] = NumberColumn(way.place[i]);
  add_travel(*path, components);
  return std::shared_ptr<const RecordedPath>(std::move(path));
}

} // namespace

Opened<std::shared_ptr<ReadFeel>> read_feel_text(const FeelText& text, const io::FeelFolder& folder) {
  std::vector<Source> sources;
  auto document = io::read_feel_document({text.name, text.text}, folder, sources);
  if (!document) return tl::unexpected(Faults{document.error(), std::move(sources)});
  std::vector<std::string> variants;
  for (const std::string_view name : variant_names(*document)) variants.emplace_back(name);
  Node version = std::move(*document);
  if (!text.variant.empty())
    if (auto done = apply_variant(version, text.variant); !done)
      return tl::unexpected(Faults{done.error(), std::move(sources)});
  auto used = resolve_settings(version);
  if (!used) return tl::unexpected(Faults{used.error(), std::move(sources)});
  auto feel = read_feel(version, all_known_names);
  if (!feel) return tl::unexpected(Faults{feel.error(), std::move(sources)});
  auto around = take_around(*feel, text.take);
  if (!around) return tl::unexpected(std::move(around.error()));
  if (text.tick > 0.0) around->tick = {.rate = text.tick};
  return std::make_shared<ReadFeel>(ReadFeel{std::move(variants), std::move(*feel), std::move(*around)});
}

Opened<std::unique_ptr<PlayedFeel>> PlayedFeel::open(FeelText text, std::shared_ptr<const io::FeelFolder> folder) {
  auto feel = read_feel_text(text, *folder);
  if (!feel) return tl::unexpected(std::move(feel.error()));
  std::unique_ptr<PlayedFeel> played(new PlayedFeel(std::move(text), std::move(folder)));
  played->read_ = std::move(*feel);
  const ReadFeel& own = *played->read_;
  played->led_.resize(own.feel.tracks.size());
  played->next_places_.resize(own.feel.tracks.size());
  played->kept_.led_ways.resize(own.feel.tracks.size());
  if (played->text_.fps > 0.0)
    played->session_.emplace(own.feel, own.around, played->text_.fps);
  else
    played->session_.emplace(own.feel, own.around);
  return played;
}

Opened<Node> PlayedFeel::document() const {
  std::vector<Source> sources;
  auto document = io::read_feel_document({text_.name, text_.text}, *folder_, sources);
  if (!document) return tl::unexpected(Faults{document.error(), std::move(sources)});
  return std::move(*document);
}

void PlayedFeel::give(Cue cue) {
  if (keeps_) {
    kept_.cues.push_back(cue);
    ++kept_.new_cues;
  }
  session_->give(std::move(cue));
}

void PlayedFeel::change_game_speed(double speed, double over) {
  if (text_.fps > 0.0) return;
  session_->change_game_speed(speed, over);
  if (keeps_) kept_.speeds.push_back({session_->time(), speed, over});
}

void PlayedFeel::place(std::size_t track, const Components& place) {
  if (track < next_places_.size()) next_places_[track] = place;
}

double PlayedFeel::next_time(double dt) const noexcept {
  if (session_->frame() < 0) return 0.0;
  if (text_.fps > 0.0) return static_cast<double>(session_->frame() + 1) / text_.fps;
  return session_->time() + dt;
}

/// Subjects that are led go to where they were told to be, or stay.
void PlayedFeel::lead(double time) {
  bool starts_elsewhere = false;
  for (std::size_t t = 0; t < led_.size(); ++t) {
    if (led_[t] == nullptr && !next_places_[t]) continue;
    Track& track = read_->feel.tracks[t];
    if (led_[t] == nullptr) {
      starts_elsewhere = session_->frame() < 0;
      ++changes_; // what was saved knows nothing of it
      led_[t] = std::make_shared<LedPlaces>();
      led_before_.push_back(track.path);
      track.path = LedPath{led_[t]};
      track.lost = LostRule::hold;
    }
    const Components place = next_places_[t].value_or(led_[t]->is_empty() ? Components{} : led_[t]->latest());
    next_places_[t].reset();
    const double own = time - track.from;
    if (led_[t]->is_empty()) lead_from(t, own, place);
    lead_to(t, own, place);
  }
  // What follows it begins where it is.
  if (!starts_elsewhere) return;
  session_.emplace(session_->changed(read_->feel, read_->around));
  measure_anew();
}

/// Where a subject sets off that is led from now on: from where its own track has brought it, or, before the first
/// frame, from standing where it is told to be.
void PlayedFeel::lead_from(std::size_t t, double time, const Components& place) {
  constexpr double before = 1.0 / 60.0; // s
  if (session_->frame() < 0) return lead_to(t, time - before, place);
  const TrackBlock& now = session_->now().tracks[t];
  Components here{};
  for (std::size_t i = 0; i < most_components; ++i) here[i] = now.place[i].empty() ? 0.0 : now.place[i].front();
  const double at = session_->game_time() - read_->feel.tracks[t].from;
  if (at < time) lead_to(t, at, here);
}

void PlayedFeel::lead_to(std::size_t t, double time, const Components& place) {
  led_[t]->lead(time, place, read_->feel.tracks[t].components);
  if (!keeps_) return;
  kept_.led_ways[t].time.push_back(time);
  for (std::size_t i = 0; i < most_components; ++i) kept_.led_ways[t].place[i].push_back(place[i]);
}

void PlayedFeel::advance(double dt) {
  const double time = next_time(std::clamp(dt, 0.0, longest_frame));
  lead(session_->game_time_at(time));
  session_->advance_to(time);
  if (!keeps_) return;
  if (const Block* const before = session_->frame_before(); before != nullptr && sink_) sink_->consume(*before);
  kept_.times.push_back(session_->time());
  for (std::size_t i = kept_.cues.size() - kept_.new_cues; i < kept_.cues.size(); ++i)
    kept_.cues[i].at = session_->time();
  kept_.new_cues = 0;
}

/// Moves are followed from this frame on.
void PlayedFeel::measure_anew() {
  sink_.reset();
  if (!keeps_) return;
  sink_.emplace();
  sink_->begin(session_->scene());
}

PlayedFeel::Moment PlayedFeel::save() const {
  Moment moment{this, changes_, session_->save(), {}, next_places_, kept_};
  for (const auto& places : led_) moment.led.push_back(places != nullptr ? std::optional(*places) : std::nullopt);
  return moment;
}

bool PlayedFeel::restore(const Moment& moment) {
  if (moment.owner != this || moment.changes != changes_) return false;
  for (std::size_t t = 0; t < led_.size(); ++t)
    if (led_[t] != nullptr && moment.led[t]) *led_[t] = *moment.led[t];
  next_places_ = moment.next_places;
  session_->restore(*moment.session);
  kept_ = moment.kept;
  measure_anew();
  return true;
}

Opened<void> PlayedFeel::change_to(FeelText text) {
  auto changed = read_feel_text(text, *folder_);
  if (!changed) return tl::unexpected(std::move(changed.error()));
  Feel& feel = (*changed)->feel;
  const Feel& before = read_->feel;
  std::vector<std::shared_ptr<LedPlaces>> led(feel.tracks.size());
  std::vector<std::optional<Components>> next_places(feel.tracks.size());
  std::vector<LedWay> led_ways(feel.tracks.size());
  for (std::size_t t = 0; t < feel.tracks.size(); ++t)
    for (std::size_t old = 0; old < before.tracks.size(); ++old) {
      if (before.tracks[old].name != feel.tracks[t].name || led_[old] == nullptr) continue;
      led[t] = led_[old];
      next_places[t] = next_places_[old];
      led_ways[t] = std::move(kept_.led_ways[old]);
      feel.tracks[t].path = LedPath{led[t]};
      feel.tracks[t].lost = LostRule::hold;
    }
  Session session = session_->changed(feel, (*changed)->around);
  session_.emplace(std::move(session));
  keep_cues(SameNames(before, feel));
  sink_.reset(); // it refers to the feel before
  read_ = std::move(*changed);
  text_ = std::move(text);
  led_ = std::move(led);
  next_places_ = std::move(next_places);
  kept_.led_ways = std::move(led_ways);
  led_before_.clear();
  ++changes_;
  measure_anew();
  return {};
}

/// What hands did to what is gone is forgotten.
void PlayedFeel::keep_cues(const SameNames& same) {
  std::vector<Cue> kept;
  std::size_t still_new = 0;
  for (std::size_t i = 0; i < kept_.cues.size(); ++i)
    if (auto cue = same.cue_now(kept_.cues[i])) {
      kept.push_back(std::move(*cue));
      still_new += i + kept_.new_cues >= kept_.cues.size() ? 1U : 0U;
    }
  kept_.cues = std::move(kept);
  kept_.new_cues = still_new;
}

Opened<void> PlayedFeel::change(std::string text) {
  FeelText changed = text_;
  changed.text = std::move(text);
  return change_to(std::move(changed));
}

Opened<void> PlayedFeel::change_variant(std::string variant) {
  FeelText changed = text_;
  changed.variant = std::move(variant);
  return change_to(std::move(changed));
}

Opened<void> PlayedFeel::change_by_word(const std::string& name, const std::string& word, double amount) {
  const FeelWord* const known = feel_word(word);
  if (known == nullptr) {
    std::vector<std::string_view> words;
    for (const FeelWord& one : feel_words()) words.push_back(one.word);
    return tl::unexpected(
        fault("call", fmt::format("\"{}\" is not a word of feel.{}", printable(word, 60), did_you_mean(word, words)),
              fmt::format("Known: {}.", listed(words))));
  }
  const bool of_shake = known->of == FeelWord::Of::shake;
  std::vector<std::string_view> names;
  for (const Channel& channel : feel().channels)
    if (!of_shake) names.push_back(channel.name);
  for (const Shake& shake : feel().shakes)
    if (of_shake) names.push_back(shake.name);
  if (std::find(names.begin(), names.end(), name) == names.end())
    return tl::unexpected(
        fault("call",
              fmt::format("\"{}\" is a word for {}, and the feel has none named \"{}\".{}", word,
                          of_shake ? "shakes" : "channels", printable(name, 60), did_you_mean(name, names)),
              names.empty() ? "" : fmt::format("Known: {}.", listed(names))));
  if (!(std::isfinite(amount) && amount != 0.0))
    return tl::unexpected(fault("call", "an amount is a number other than 0"));
  auto version = document();
  if (!version) return tl::unexpected(std::move(version.error()));
  if (!text_.variant.empty())
    if (auto done = apply_variant(*version, text_.variant); !done)
      return tl::unexpected(Faults{done.error(), {{text_.name, text_.text}}});
  const auto outcome = changes_by_word(*version, name, *known, amount);
  if (!outcome) return tl::unexpected(fault("call", outcome.error()));
  std::vector<Written> values;
  for (const ValueChange& change : outcome->changes) values.push_back({change.path, change.after});
  return change_values(values);
}

Opened<void> PlayedFeel::change_values(std::span<const Written> values) {
  std::string text = text_.text;
  for (const Written& one : values) {
    auto edit = io::edit_value(text, one.path, one.value);
    if (!edit) return tl::unexpected(Faults{edit.error(), {{text_.name, text}}});
    text = std::move(edit->text);
  }
  return change(std::move(text));
}

Opened<void> PlayedFeel::change_value(std::string_view path, std::string_view value) {
  const Written one{std::string(path), std::string(value)};
  return change_values({&one, 1});
}

void PlayedFeel::record(bool keep) {
  keeps_ = keep && session_->frame() < 0;
  kept_ = {};
  kept_.led_ways.resize(read_->feel.tracks.size());
  measure_anew();
}

Take PlayedFeel::recorded_take() const {
  Take take = read_->around;
  take.name = "hands";
  take.cues = kept_.cues;
  take.cues.resize(kept_.cues.size() - kept_.new_cues);
  take.length = kept_.times.empty() ? 0.0 : kept_.times.back();
  take.disturbance = {};
  take.disturbance.speeds = kept_.speeds;
  return take;
}

Clock PlayedFeel::recorded_clock() const {
  const Take take = recorded_take();
  if (text_.fps > 0.0) return steady_clock(text_.fps, take.length);
  std::vector<double> times = kept_.times;
  if (times.empty()) times.push_back(0.0);
  times.push_back(times.size() > 1 ? 2.0 * times.back() - times[times.size() - 2] : 1.0 / 60.0);
  return clock_at(take.fps, std::move(times), kept_.speeds);
}

TakeMeasures PlayedFeel::measures() const {
  const Take take = recorded_take();
  const Clock clock = recorded_clock();
  Feel feel = read_->feel;
  for (std::size_t t = 0; t < feel.tracks.size(); ++t)
    if (!kept_.led_ways[t].time.empty()) feel.tracks[t].path = recorded(kept_.led_ways[t], feel.tracks[t].components);
  MeasureSink sink;
  BlockSink* const sinks[] = {&sink};
  auto notes = play({&feel, &take, clock}, sinks);
  return sink.take(std::move(notes));
}

} // namespace stasis::embed
