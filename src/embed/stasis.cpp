// stasis.h: sessions, their texts, what is read and what is changed.
#include "embed/stasis.h"

#include <algorithm>
#include <cstdlib>
#include <cstring>
#include <map>

#include "core/text.hpp"
#include "core/view/shown_camera.hpp"
#include "embed/describe.hpp"
#include "embed/handles.hpp"
#include "embed/memory_folder.hpp"
#include "io/measures_json.hpp"

namespace stasis::embed {

char* handed_out(const std::string& text) noexcept {
  auto* const copy = static_cast<char*>(std::malloc(text.size() + 1));
  if (copy != nullptr) std::memcpy(copy, text.c_str(), text.size() + 1);
  return copy;
}

void tell(stasis_faults** faults, Faults found) {
  if (faults != nullptr) *faults = new stasis_faults{std::move(found)};
}

stasis_session* open_session(FeelText text, std::shared_ptr<const io::FeelFolder> folder, stasis_faults** faults) {
  auto played = PlayedFeel::open(std::move(text), std::move(folder));
  if (!played) {
    tell(faults, std::move(played.error()));
    return nullptr;
  }
  auto session = std::make_unique<stasis_session>();
  session->played = std::move(*played);
  return session.release();
}

namespace {

std::string or_empty(const char* text) { return text != nullptr ? std::string(text) : std::string(); }

bool lies_in(int index, std::size_t count) noexcept { return index >= 0 && static_cast<std::size_t>(index) < count; }

/// The component of a channel, if there is one.
std::optional<ComponentRef> component_of(const stasis_session* session, int channel, int component) noexcept {
  if (session == nullptr) return std::nullopt;
  const Feel& feel = session->played->feel();
  if (!lies_in(channel, feel.channels.size())) return std::nullopt;
  const auto index = static_cast<std::size_t>(channel);
  if (!lies_in(component, feel.channels[index].components)) return std::nullopt;
  return ComponentRef{index, static_cast<std::size_t>(component)};
}

bool has_begun(const stasis_session* session) noexcept {
  return session != nullptr && session->played->session().frame() >= 0;
}

/// Goes on with a change, or tells why not.
int changed(stasis_session* session, stasis_faults** faults, auto change) {
  if (faults != nullptr) *faults = nullptr;
  if (session == nullptr) return 0;
  return guarded(
      [&] {
        Opened<void> done = change(*session->played);
        if (done) return 1;
        tell(faults, std::move(done.error()));
        return 0;
      },
      0);
}

char* written(const stasis_session* session, auto write) {
  if (session == nullptr) return nullptr;
  return guarded([&] { return handed_out(write(*session->played)); }, static_cast<char*>(nullptr));
}

/// The name of a part; null where there is none.
template<class Part> const char* name_at(const std::vector<Part>& parts, int index) noexcept {
  return lies_in(index, parts.size()) ? parts[static_cast<std::size_t>(index)].name.c_str() : nullptr;
}

} // namespace
} // namespace stasis::embed

using namespace stasis;
using namespace stasis::embed;

const char* stasis_version(void) { return STASIS_VERSION; }
void stasis_free(char* text) { std::free(text); }

size_t stasis_fault_count(const stasis_faults* faults) {
  return faults == nullptr ? 0 : faults->faults.problems.size();
}

stasis_fault stasis_fault_at(const stasis_faults* faults, size_t index) {
  stasis_fault fault{nullptr, nullptr, 0, 0, nullptr, nullptr, nullptr};
  if (index >= stasis_fault_count(faults)) return fault;
  const Problem& problem = faults->faults.problems[index];
  const auto source = static_cast<std::size_t>(problem.where.source);
  fault.code = problem.code.c_str();
  if (source < faults->faults.sources.size()) {
    fault.file = faults->faults.sources[source].name.c_str();
    fault.line = problem.where.line;
    fault.column = problem.where.line > 0 ? problem.where.column : 0;
  }
  fault.key = problem.path.c_str();
  fault.message = problem.message.c_str();
  fault.fix = problem.hint.c_str();
  return fault;
}

char* stasis_faults_text(const stasis_faults* faults) {
  if (faults == nullptr) return nullptr;
  return guarded([&] { return handed_out(faults_in_words(faults->faults)); }, static_cast<char*>(nullptr));
}
void stasis_faults_free(stasis_faults* faults) { delete faults; }

stasis_session* stasis_open(const stasis_source* source, stasis_faults** faults) {
  if (faults != nullptr) *faults = nullptr;
  if (source == nullptr || (source->text == nullptr && source->length > 0)) return nullptr;
  return guarded(
      [&] {
        std::map<std::string, std::string> files;
        for (std::size_t i = 0; i < source->file_count; ++i) {
          const stasis_file& file = source->files[i];
          if (file.name != nullptr && file.text != nullptr) files[file.name] = std::string(file.text, file.length);
        }
        FeelText text;
        text.name = source->name != nullptr ? source->name : "feel";
        if (source->length > 0) text.text.assign(source->text, source->length);
        text.variant = or_empty(source->variant);
        text.take = or_empty(source->take);
        text.fps = rate_given(source->fps);
        text.tick = rate_given(source->tick);
        return open_session(std::move(text), std::make_shared<const MemoryFolder>(std::move(files)), faults);
      },
      static_cast<stasis_session*>(nullptr));
}
void stasis_close(stasis_session* session) { delete session; }

const char* stasis_name(const stasis_session* session, stasis_kind kind, int index) {
  if (session == nullptr) return nullptr;
  const Feel& feel = session->played->feel();
  switch (kind) {
  case STASIS_CHANNEL: return name_at(feel.channels, index);
  case STASIS_CONTROL: return name_at(feel.controls, index);
  case STASIS_SHAKE: return name_at(feel.shakes, index);
  case STASIS_TRACK: return name_at(feel.tracks, index);
  case STASIS_POSE: return name_at(feel.poses, index);
  case STASIS_SWITCH: return name_at(feel.switches, index);
  case STASIS_TAKE: return name_at(feel.takes, index);
  case STASIS_SETTING: return name_at(feel.settings, index);
  case STASIS_SEQUENCE: return name_at(feel.sequences, index);
  case STASIS_VARIANT:
    return lies_in(index, session->played->variants().size())
               ? session->played->variants()[static_cast<std::size_t>(index)].c_str()
               : nullptr;
  }
  return nullptr;
}

int stasis_count(const stasis_session* session, stasis_kind kind) {
  int count = 0;
  while (stasis_name(session, kind, count) != nullptr) ++count;
  return count;
}

int stasis_find(const stasis_session* session, stasis_kind kind, const char* name) {
  if (name == nullptr) return -1;
  for (int i = 0; const char* const known = stasis_name(session, kind, i); ++i)
    if (std::strcmp(known, name) == 0) return i;
  return -1;
}

int stasis_components(const stasis_session* session, int channel) {
  const auto first = component_of(session, channel, 0);
  return first ? static_cast<int>(session->played->feel().channels[first->channel].components) : 0;
}

const char* stasis_unit(const stasis_session* session, int channel) {
  const auto first = component_of(session, channel, 0);
  return first ? session->played->feel().channels[first->channel].unit.c_str() : nullptr;
}

char* stasis_describe(const stasis_session* session) { return written(session, description_json); }

void stasis_advance(stasis_session* session, double dt) {
  if (session == nullptr || !(dt >= 0.0)) return;
  guarded([&] { return session->played->advance(dt), 0; }, 0);
}
long long stasis_frame(const stasis_session* session) {
  return session == nullptr ? -1 : session->played->session().frame();
}
double stasis_time(const stasis_session* session) {
  return session == nullptr ? 0.0 : session->played->session().time();
}

double stasis_game_time(const stasis_session* session) {
  return session == nullptr ? 0.0 : session->played->session().game_time();
}

double stasis_value(const stasis_session* session, int channel, int component) {
  const auto at = component_of(session, channel, component);
  return at && has_begun(session) ? session->played->session().value(*at) : 0.0;
}
double stasis_smooth(const stasis_session* session, int channel, int component) {
  const auto at = component_of(session, channel, component);
  return at && has_begun(session) ? session->played->session().smooth(*at) : 0.0;
}
double stasis_goal_of(const stasis_session* session, int channel, int component) {
  const auto at = component_of(session, channel, component);
  return at && has_begun(session) ? session->played->session().goal(*at) : 0.0;
}
double stasis_velocity(const stasis_session* session, int channel, int component) {
  const auto at = component_of(session, channel, component);
  return at && has_begun(session) ? session->played->session().velocity(*at) : 0.0;
}

int stasis_eye(const stasis_session* session, double out[7]) {
  if (out == nullptr || !has_begun(session)) return 0;
  const auto eye = session->played->session().eye();
  if (!eye) return 0;
  std::copy(eye->begin(), eye->end(), out);
  return 1;
}

int stasis_camera(const stasis_session* session, double out[8]) {
  if (out == nullptr || !has_begun(session)) return 0;
  const Session& played = session->played->session();
  const ShownCamera camera =
      shown_camera(session->played->feel(), [&](ComponentRef read) { return played.value(read); });
  const Quaternion turn = quaternion_of(camera.axes);
  const double all[8] = {camera.eye[0], camera.eye[1], camera.eye[2], turn.x,
                         turn.y,        turn.z,        turn.w,        camera.half_height};
  std::copy(std::begin(all), std::end(all), out);
  return 1;
}

int stasis_subject(const stasis_session* session, int track, double out[3]) {
  if (out == nullptr || !has_begun(session)) return 0;
  const Block& now = session->played->session().now();
  if (!lies_in(track, now.tracks.size())) return 0;
  const TrackBlock& subject = now.tracks[static_cast<std::size_t>(track)];
  for (std::size_t i = 0; i < most_components; ++i) out[i] = subject.place[i].empty() ? 0.0 : subject.place[i].front();
  return subject.lost.empty() || subject.lost.front() == 0 ? 1 : 0;
}

int stasis_is_down(const stasis_session* session, int control) {
  if (!has_begun(session) || !lies_in(control, session->played->feel().controls.size())) return 0;
  return session->played->session().is_down(static_cast<std::size_t>(control)) ? 1 : 0;
}
double stasis_state(const stasis_session* session, int control) {
  if (!has_begun(session) || !lies_in(control, session->played->feel().controls.size())) return 0.0;
  return session->played->session().state(static_cast<std::size_t>(control));
}
int stasis_is_in(const stasis_session* session, int which_switch) {
  if (!has_begun(session) || !lies_in(which_switch, session->played->feel().switches.size())) return 0;
  return session->played->session().now().switches[static_cast<std::size_t>(which_switch)];
}
int stasis_is_running(const stasis_session* session, int sequence) {
  if (!has_begun(session) || !lies_in(sequence, session->played->feel().sequences.size())) return 0;
  const auto& running = session->played->session().now().sequences;
  return std::any_of(running.begin(), running.end(),
                     [&](const SequenceMark& mark) { return mark.sequence == static_cast<std::size_t>(sequence); })
             ? 1
             : 0;
}
double stasis_strength(const stasis_session* session, int shake) {
  if (!has_begun(session) || !lies_in(shake, session->played->feel().shakes.size())) return 0.0;
  return session->played->session().strength(static_cast<std::size_t>(shake));
}

char* stasis_notes(stasis_session* session) {
  if (session == nullptr) return nullptr;
  return guarded(
      [&]() -> char* {
        std::string lines;
        for (const std::string& note : session->played->take_notes()) lines += note + "\n";
        return lines.empty() ? nullptr : handed_out(lines);
      },
      static_cast<char*>(nullptr));
}

stasis_moment* stasis_save(const stasis_session* session) {
  if (session == nullptr) return nullptr;
  return guarded([&] { return new stasis_moment{session->played->save()}; }, static_cast<stasis_moment*>(nullptr));
}
int stasis_restore(stasis_session* session, const stasis_moment* moment) {
  if (session == nullptr || moment == nullptr) return 0;
  return guarded([&] { return session->played->restore(moment->moment) ? 1 : 0; }, 0);
}
void stasis_moment_free(stasis_moment* moment) { delete moment; }

int stasis_reload(stasis_session* session, const char* text, size_t length, stasis_faults** faults) {
  if (text == nullptr && length > 0) return 0;
  return changed(session, faults, [&](PlayedFeel& played) {
    return played.change(length > 0 ? std::string(text, length) : std::string());
  });
}
int stasis_set(stasis_session* session, const char* path, const char* value, stasis_faults** faults) {
  return changed(session, faults,
                 [&](PlayedFeel& played) { return played.change_value(or_empty(path), or_empty(value)); });
}
int stasis_tune(stasis_session* session, const char* name, const char* word, double amount, stasis_faults** faults) {
  return changed(session, faults,
                 [&](PlayedFeel& played) { return played.change_by_word(or_empty(name), or_empty(word), amount); });
}
char* stasis_words(void) {
  return guarded([] { return handed_out(words_json()); }, static_cast<char*>(nullptr));
}
int stasis_use_variant(stasis_session* session, const char* variant, stasis_faults** faults) {
  return changed(session, faults, [&](PlayedFeel& played) { return played.change_variant(or_empty(variant)); });
}
char* stasis_text(const stasis_session* session) {
  return written(session, [](const PlayedFeel& played) { return played.text(); });
}
char* stasis_numbers(const stasis_session* session) { return written(session, numbers_json); }
char* stasis_curves(const stasis_session* session) { return written(session, curves_json); }
char* stasis_explain(const stasis_session* session, int channel) {
  if (!component_of(session, channel, 0)) return nullptr;
  return written(session, [&](const PlayedFeel& played) {
    return channel_in_words(played.feel(), static_cast<std::size_t>(channel));
  });
}

void stasis_record(stasis_session* session, int keep) {
  if (session != nullptr) session->played->record(keep != 0);
}
char* stasis_recorded_take(const stasis_session* session, const char* name, const char* clock) {
  if (session == nullptr || !session->played->is_recorded()) return nullptr;
  return written(session, [&](const PlayedFeel& played) {
    return take_toml(played, name != nullptr ? name : "hands", or_empty(clock));
  });
}
char* stasis_recorded_clock(const stasis_session* session) {
  if (session == nullptr || !session->played->is_recorded()) return nullptr;
  return written(session, clock_csv);
}
char* stasis_recorded_track(const stasis_session* session, int track) {
  if (session == nullptr || !lies_in(track, session->played->led_ways().size())) return nullptr;
  if (session->played->led_ways()[static_cast<std::size_t>(track)].time.empty()) return nullptr;
  return written(session, [&](const PlayedFeel& played) { return track_csv(played, static_cast<std::size_t>(track)); });
}
char* stasis_last_moves(const stasis_session* session) {
  if (session == nullptr || !session->played->is_recorded()) return nullptr;
  return written(session, [](const PlayedFeel& played) { return io::moves_json(played.feel(), played.last_moves()); });
}
char* stasis_measures(const stasis_session* session) {
  if (session == nullptr || !session->played->is_recorded()) return nullptr;
  return written(session, [](const PlayedFeel& played) {
    const Take take = played.recorded_take();
    const io::RunOrigin origin{STASIS_VERSION, played.feel().title.empty() ? played.source().name : played.feel().title,
                               played.source().variant};
    return io::measures_json(origin, {&played.feel(), &take, played.recorded_clock()}, played.measures());
  });
}
