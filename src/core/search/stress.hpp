// Random hands on the controls, and what must hold whatever they do.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/random.hpp"
#include "core/search/named_values.hpp"

namespace stasis {

struct StressRules {
  std::uint64_t seed = 1;
  double hands_on = 4.0;    ///< s at most for which the controls are touched
  double still_after = 5.0; ///< s after the last touch at which everything must be still
};

/// What can go wrong.
enum class Trouble : std::uint8_t {
  no_number,    ///< a value is NaN or infinite
  out_of_range, ///< a value outside its range
  in_between,   ///< it stops at a value the feel never names
  still_moving, ///< it has not come to rest
  jolt,         ///< its speed jumps although its motion lets none jump
  lost_press,   ///< a press changed nothing, by the control's rule
  double_press, ///< a key that was held counted as pressed twice, and ran to the end
  frame_rate,   ///< it ends elsewhere at another frame rate: a control does something on every frame
  overshoot,    ///< on a long frame its rule goes beyond its goal
};
inline constexpr std::size_t trouble_count = 9;
/// True if it is told of a control, and not of a channel.
bool is_about_control(Trouble trouble) noexcept;
/// "in_between", ...
std::string_view name_of(Trouble trouble) noexcept;
/// In a sentence: "stops at a value the feel never names".
std::string_view in_words(Trouble trouble) noexcept;

/// One thing done by a hand: a press held for a time, a click, a pointer's motion.
struct HandAction {
  CueAction action = CueAction::press; ///< press, click or pointer
  std::size_t control = 0;
  std::size_t button = 0;
  double at = 0.0;
  double held = 0.0;      ///< of a press, s
  bool cancelled = false; ///< of a press: it ends so
  double amount = 1.0;    ///< clicks or counts
};

struct StressPlay {
  double fps = 60.0;
  std::vector<HandAction> actions; ///< by time
  std::vector<Stall> stalls{};     ///< frames that take longer, by time
};

/// One trouble in one play.
struct TroubleFound {
  Trouble trouble;
  std::size_t about; ///< a channel, or a control
  double value;      ///< of the channel (first such component), at the end or where it happened
  double time;       ///< s
};

/// Plays at random on one feel, each the same for the same seed and number, whichever thread asks.
class Stress {
public:
  Stress(const Feel& feel, const StressRules& rules);

  /// False if no control can be touched.
  bool has_hands() const noexcept { return !buttons_.empty(); }
  StressPlay play_of(std::uint64_t number) const;
  /// Every trouble of a play, each kind once for each channel or control.
  std::vector<TroubleFound> troubles_of(const StressPlay& play) const;
  /// The shortest play that was found to show the same trouble: of up to three of its actions, there is none shorter.
  StressPlay shrunk(StressPlay play, const TroubleFound& trouble) const;
  /// The play as a take of the feel.
  Take take_of(const StressPlay& play, std::string name) const;
  /// The same as text, ready to be put into a feel.
  std::string text_of(const StressPlay& play, std::string_view name) const;

private:
  struct Button {
    std::size_t control, button;
  };
  HandAction action_of(Random& random, Button button, double at, double hurry) const;
  Stall stall_of(Random& random, const StressPlay& play) const;
  bool shows(const StressPlay& play, const TroubleFound& trouble) const;
  /// The same play with what `attempt` lets be left out left out, or made rounder.
  using Attempt = std::function<bool(const StressPlay&)>;
  static void leave_out(StressPlay& play, const Attempt& attempt);
  static void join_clicks(StressPlay& play, const Attempt& attempt);
  static void pick_few(StressPlay& play, const Attempt& attempt);
  static void make_round(StressPlay& play, std::size_t action, const Attempt& attempt);
  static void make_stalls_round(StressPlay& play, const Attempt& attempt);
  void compare_rates(const StressPlay& play, const std::vector<std::vector<double>>& wishes,
                     std::vector<TroubleFound>& found) const;
  double length_of(const StressPlay& play) const;

  const Feel& feel_;
  StressRules rules_;
  std::vector<Button> buttons_;
  std::vector<std::vector<NamedValues>> named_; ///< by channel and component
};

} // namespace stasis
