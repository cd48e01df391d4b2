// Any bytes as calls of stasis.h, in any order, with odd arguments: no crash, no hang, no fault of a sanitizer. The
// first line chooses a feel, or is one; each byte after that is a call.
#include <cmath>
#include <cstdint>
#include <limits>
#include <string>
#include <vector>

#include "embed/stasis.h"

namespace {

constexpr const char* small_feel = R"(feel = 1
[channel.fov]
space = "zoom"
unit = "deg"
rest = 60
range = [20, 100]
motion = "soft"
[channel.focus]
rest = [0, 0, 0]
range = [-50, 50]
motion = { kind = "stages", stages = [{ kind = "delay", delay = 0.05 }, { kind = "glide", half_life = 0.05 }] }
follow = "otter"
[motion.soft]
kind = "spring"
frequency = 2
damping_ratio = 0.6
[track.otter]
kind = "circle"
centre = [0, 0, 0]
diameter = 2
speed = 1
[pose.near]
fov = 40
[control.near]
kind = "hold"
pose = "near"
[control.wheel]
kind = "clicks"
channel = "fov"
step = 5
[shake.rattle]
on = { fov = 1.5 }
wave = { kind = "noise", frequency = 9 }
decay = { kind = "half_life", half_life = 0.15 }
[take.t]
length = 1
)";

/// Takes what the bytes say, and nothing once they are used up.
class Bytes {
public:
  Bytes(const std::uint8_t* data, std::size_t size) : at_(data), end_(data + size) {}
  bool empty() const { return at_ == end_; }
  std::uint8_t byte() { return empty() ? 0 : *at_++; }
  int index() { return static_cast<int>(byte() % 6) - 1; }
  double number() {
    constexpr double odd[] = {0.0, 1.0, -1.0, 0.5, 1e9, -1e300, 1.0 / 60.0, 0.25};
    const std::uint8_t which = byte();
    if (which == 255) return std::nan("");
    if (which == 254) return std::numeric_limits<double>::infinity();
    return which < 200 ? static_cast<double>(which) / 60.0 : odd[which % 8];
  }
  std::string text() {
    std::string text;
    for (std::size_t length = byte() % 40; length > 0 && !empty(); --length) text += static_cast<char>(byte());
    return text;
  }

private:
  const std::uint8_t* at_;
  const std::uint8_t* end_;
};

const char* path_named(std::uint8_t which) {
  constexpr const char* paths[] = {"motion.soft.frequency",
                                   "channel.fov.rest",
                                   "pose.near.fov",
                                   "channel.fov.motion",
                                   "nothing.at.all",
                                   "title",
                                   "include",
                                   "channel.focus.follow"};
  return paths[which % 8];
}

void call(stasis_session* session, Bytes& bytes, std::vector<stasis_moment*>& moments) {
  stasis_faults* faults = nullptr;
  switch (bytes.byte() % 26) {
  case 0: stasis_press(session, bytes.index(), bytes.index()); break;
  case 1: stasis_release(session, bytes.index(), bytes.index()); break;
  case 2: stasis_cancel(session, bytes.index()); break;
  case 3: stasis_click(session, bytes.index(), bytes.index() * 5000); break;
  case 4: stasis_pointer(session, bytes.index(), bytes.number()); break;
  case 5: stasis_stick(session, bytes.index(), bytes.number()); break;
  case 6: stasis_hit(session, bytes.index(), bytes.number()); break;
  case 7: stasis_goal(session, bytes.index(), bytes.index(), bytes.number()); break;
  case 8: stasis_follow(session, bytes.index(), bytes.index()); break;
  case 9: stasis_place(session, bytes.index(), bytes.number(), bytes.number(), bytes.number()); break;
  case 10: stasis_set(session, path_named(bytes.byte()), bytes.text().c_str(), &faults); break;
  case 11: stasis_use_variant(session, bytes.text().c_str(), &faults); break;
  case 12:
    stasis_tune(session, "fov", bytes.byte() % 2 == 0 ? "snappier" : bytes.text().c_str(), bytes.number(), &faults);
    break;
  case 13:
    if (stasis_moment* const moment = stasis_save(session); moment != nullptr) moments.push_back(moment);
    break;
  case 14:
    if (!moments.empty()) stasis_restore(session, moments[bytes.byte() % moments.size()]);
    break;
  case 15: stasis_lock(session, bytes.index(), bytes.byte() % 2); break;
  case 16: stasis_free(stasis_last_moves(session)); break;
  case 17: stasis_free(stasis_measures(session)); break;
  case 18: stasis_free(stasis_explain(session, bytes.index())); break;
  case 19: stasis_free(stasis_recorded_take(session, bytes.text().c_str(), nullptr)); break;
  case 20: {
    double out[8];
    stasis_camera(session, out);
    stasis_subject(session, bytes.index(), out);
    break;
  }
  case 21: {
    const std::string text = bytes.text();
    stasis_reload(session, text.data(), text.size(), &faults);
    break;
  }
  case 22: stasis_start(session, bytes.index()); break;
  case 23:
    stasis_skip(session, bytes.index());
    stasis_is_running(session, bytes.index());
    break;
  default: stasis_advance(session, bytes.number());
  }
  if (faults != nullptr) stasis_free(stasis_faults_text(faults));
  stasis_faults_free(faults);
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size > 2000) return 0;
  Bytes bytes(data, size);
  const std::string text = bytes.byte() % 8 == 0 ? bytes.text() : small_feel;
  stasis_source source{};
  source.text = text.data();
  source.length = text.size();
  source.fps = bytes.byte() % 3 == 0 ? 60.0 : 0.0;
  stasis_session* const session = stasis_open(&source, nullptr);
  stasis_record(session, bytes.byte() % 2);
  std::vector<stasis_moment*> moments;
  while (!bytes.empty()) call(session, bytes, moments);
  for (stasis_moment* const moment : moments) stasis_moment_free(moment);
  stasis_close(session);
  return 0;
}
