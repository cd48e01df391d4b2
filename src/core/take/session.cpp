#include "core/take/session.hpp"

#include <algorithm>
#include <limits>
#include <utility>

#include "core/take/frame_player.hpp"
#include "core/take/same_names.hpp"

namespace stasis {
namespace {

constexpr std::int64_t no_end = std::numeric_limits<std::int64_t>::max() / 4;
/// So many frames are known of before there is another allocation for their times.
constexpr std::size_t roomy = std::size_t{1} << 16;
/// Of an input that comes just now.
constexpr double just_now = std::numeric_limits<double>::infinity();

Clock endless_clock(double fps) { return {.fps = fps, .frames = no_end}; }

std::shared_ptr<FrameTimes> with_room(std::span<const double> times) {
  auto copy = std::make_shared<FrameTimes>(std::vector<double>(times.begin(), times.end()));
  copy->make_room(std::max(roomy, times.size() * 2));
  return copy;
}

} // namespace

/// The frames so far, by game time and by the clock's; their lists grow as frames come.
struct SessionTimes {
  std::shared_ptr<FrameTimes> game, drawn;
  GameTime game_time{};

  Clock clock() const { return {.fps = 60.0, .frames = no_end, .times = game, .drawn = drawn}; }
  void add(double time) {
    drawn->add(std::max(time, drawn->back()));
    game->add(std::max(game_time.at(drawn->back()), game->back()));
  }
  void shorten_to(std::size_t count) {
    game->shorten_to(count);
    drawn->shorten_to(count);
  }
};

namespace {

SessionTimes first_time() {
  constexpr double begins[] = {0.0};
  return {with_room(begins), with_room(begins)};
}
SessionTimes copy_of(const SessionTimes& times) {
  const auto all = [](const FrameTimes& list) { return with_room(list.row(0, list.size())); };
  return {all(*times.game), all(*times.drawn), times.game_time};
}

} // namespace

class Session::Saved {
public:
  std::shared_ptr<const FramePlayer::Saved> player;
  std::size_t times = 0;
  GameTime game_time;
  std::int64_t frame = -1;
  std::vector<Cue> given;
  Block before;
  bool has_before = false;
};

class Session::Inside {
public:
  Inside(const Feel& feel, const Take& take, std::optional<SessionTimes> times, double fps)
      : times_(std::move(times)), player_({&feel, &take, times_ ? times_->clock() : endless_clock(fps)}) {}

  /// Goes on from another one.
  Inside(const Feel& feel, const Take& take, const Inside& old)
      : Inside(feel, take, old.times_ ? std::optional(copy_of(*old.times_)) : std::nullopt, old.clock().fps) {
    const SameNames same(*old.player_.scene().feel, feel);
    for (const Cue& cue : old.given_)
      if (auto mine = same.cue_now(cue)) given_.push_back(std::move(*mine));
    frame_ = old.frame_;
    if (frame_ < 0) return;
    player_.go_on_from(old.player_, frame_);
    player_.show();
  }

  void give(Cue cue) { given_.push_back(std::move(cue)); }

  double game_time_at(double time) const noexcept {
    return times_ ? std::max(times_->game_time.at(time), times_->game->back()) : time;
  }
  void change_game_speed(double speed, double over) {
    if (times_) times_->game_time.change({times_->drawn->back(), speed, over});
  }

  void go_to(double time) {
    if (frame_ >= 0) {
      if (times_) times_->add(time);
      player_.go_on(1);
      before_ = player_.block();
      has_before_ = true;
    }
    ++frame_;
    const double now = clock().drawn_time(frame_);
    for (Cue& cue : given_) cue.at = std::min(cue.at, now);
    player_.begin(frame_, given_);
    given_.clear();
    player_.show();
  }

  std::shared_ptr<const Saved> save() const {
    auto saved = std::make_shared<Saved>();
    saved->player = player_.save();
    saved->times = times_ ? times_->game->size() : 0;
    if (times_) saved->game_time = times_->game_time;
    saved->frame = frame_;
    saved->given = given_;
    saved->before = before_;
    saved->has_before = has_before_;
    return saved;
  }

  void restore(const Saved& saved) {
    player_.restore(*saved.player);
    if (times_) {
      times_->shorten_to(saved.times);
      times_->game_time = saved.game_time;
    }
    frame_ = saved.frame;
    given_ = saved.given;
    before_ = saved.before;
    has_before_ = saved.has_before;
  }

  const Scene& scene() const noexcept { return player_.scene(); }
  const Clock& clock() const noexcept { return player_.scene().clock; }
  FramePlayer& player() noexcept { return player_; }
  const Block* before() const noexcept { return has_before_ ? &before_ : nullptr; }
  std::int64_t frame() const noexcept { return frame_; }

private:
  std::optional<SessionTimes> times_; // of the frames so far; none where they are equally long
  FramePlayer player_;
  std::int64_t frame_ = -1;
  std::vector<Cue> given_; // since the frame
  Block before_;
  bool has_before_ = false;
};

Session::Session(const Feel& feel, const Take& take)
    : inside_(std::make_unique<Inside>(feel, take, first_time(), 0.0)) {}
Session::Session(const Feel& feel, const Take& take, double fps)
    : inside_(std::make_unique<Inside>(feel, take, std::nullopt, fps)) {}
Session::Session(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
Session::~Session() = default;
Session::Session(Session&&) noexcept = default;
Session& Session::operator=(Session&&) noexcept = default;

Session Session::changed(const Feel& feel, const Take& take) const {
  return Session(std::make_unique<Inside>(feel, take, *inside_));
}

void Session::press(std::size_t control, std::size_t button) {
  give({.at = just_now, .action = CueAction::press, .control = control, .button = button});
}
void Session::release(std::size_t control, std::size_t button) {
  give({.at = just_now, .action = CueAction::release, .control = control, .button = button});
}
void Session::cancel(std::size_t control) { give({.at = just_now, .action = CueAction::cancel, .control = control}); }
void Session::click(std::size_t control, int count) {
  give({.at = just_now, .action = CueAction::click, .control = control, .amount = static_cast<double>(count)});
}
void Session::move_pointer(std::size_t control, double counts) {
  give({.at = just_now, .action = CueAction::pointer, .control = control, .amount = counts});
}
void Session::push_stick(std::size_t control, double deflection) {
  give({.at = just_now, .action = CueAction::stick, .control = control, .amount = deflection});
}
void Session::lock(std::size_t control, bool locked) {
  give({.at = just_now, .action = locked ? CueAction::lock : CueAction::unlock, .control = control});
}
void Session::hit(std::size_t shake, double strength) {
  give({.at = just_now, .action = CueAction::hit, .amount = strength, .shake = shake});
}
void Session::put_home(ComponentRef component, double value) {
  give({.at = just_now, .action = CueAction::goal, .goals = {{component, value}}});
}
void Session::follow(std::size_t channel, std::size_t track) {
  give({.at = just_now, .action = CueAction::follow, .tracks = {{channel, track}}});
}
double Session::game_time_at(double time) const noexcept { return inside_->game_time_at(time); }
void Session::change_game_speed(double speed, double over) { inside_->change_game_speed(speed, over); }
void Session::give(Cue cue) { inside_->give(std::move(cue)); }

void Session::advance(double dt) { inside_->go_to(time() + dt); }
void Session::advance_to(double time) { inside_->go_to(time); }

std::int64_t Session::frame() const noexcept { return inside_->frame(); }
double Session::time() const noexcept {
  return inside_->frame() < 0 ? 0.0 : inside_->clock().drawn_time(inside_->frame());
}
double Session::game_time() const noexcept {
  return inside_->frame() < 0 ? 0.0 : inside_->clock().time(inside_->frame());
}

double Session::goal(ComponentRef component) const { return inside_->player().goal(component); }
double Session::smooth(ComponentRef component) const { return inside_->player().present()(component); }
double Session::value(ComponentRef component) const {
  return now().channels[component.channel].component[component.component].value.front();
}
double Session::velocity(ComponentRef component) const { return inside_->player().arriving_rate(component); }

std::optional<std::array<double, 7>> Session::eye() const {
  if (now().eye[0].empty()) return std::nullopt;
  std::array<double, 7> eye{};
  for (std::size_t i = 0; i < eye.size(); ++i) eye[i] = now().eye[i].front();
  return eye;
}

bool Session::is_down(std::size_t control) const { return now().control_down[control] != 0; }
double Session::state(std::size_t control) const { return now().control_state[control]; }
double Session::strength(std::size_t shake) const {
  const ShakeBlock& felt = now().shakes[shake];
  return felt.is_felt ? felt.amplitude.front() : 0.0;
}

const Scene& Session::scene() const noexcept { return inside_->scene(); }
const Block& Session::now() const { return inside_->player().block(); }
const Block* Session::frame_before() const noexcept { return inside_->before(); }
std::vector<std::string> Session::take_notes() { return inside_->player().take_notes(); }

std::shared_ptr<const Session::Saved> Session::save() const { return inside_->save(); }
void Session::restore(const Saved& saved) { inside_->restore(saved); }

} // namespace stasis
