// What gives a channel its goal beside poses. Each source says once what it is. Code that must know whether a goal
// moves by itself, bends between frames, or can come to rest at a value the feel never names, asks here.
#pragma once

#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

struct GoalSource {
  enum class Kind : std::uint8_t {
    formula, ///< a profile is one
    tie,     ///< a formula that one channel of another goes by exactly, frame by frame: a width kept with its height
    follow,
    seat,    ///< where focus, distance and angles put an eye
    heading, ///< to which a view turns back
    cap,     ///< obstacles, which take away from what the others give
    hand,    ///< a stick or a pointer
    led,     ///< by a sequence, while it runs
  } kind;
  bool by_hand;                   ///< it stands unless a hand moves it
  bool is_worked_out;             ///< where it rests is no value that anybody has named
  bool goes_on_untouched;         ///< it need never rest though nobody touches anything; beside what it reads
  bool is_curved;                 ///< between frames, where it is taken straight
  std::vector<std::size_t> reads; ///< channels from whose values it is made
};

/// The sources of a channel. \param take whose tracks are played; null: the feel's own.
std::vector<GoalSource> goal_sources(const Feel& feel, std::size_t channel, const Take* take = nullptr);

/// True if the goal of a component, or of any, moves by itself, so that the value may trail it: a track, a formula, the
/// seat of an eye, a size that is kept, a heading. A width that is tied to its height trails as that does.
bool trails_goal(const Channel& channel, std::size_t component) noexcept;
bool trails_goal(const Channel& channel) noexcept;

/// What the formulas of a channel read.
std::vector<ComponentRef> formula_reads(const Feel& feel, std::size_t channel);

/// True if anything but hands and poses moves the channel's goal.
bool is_led(const Feel& feel, std::size_t channel);
/// True if the goal of the channel may run: by itself, or after a stick or a pointer.
bool may_run(const Feel& feel, std::size_t channel);
/// True if a goal of the take is curved between frames, or frames decide what it is.
bool has_curved_goals(const Feel& feel, const Take& take);
/// By channel: true if its goal moves though nobody touches anything, so that it need never rest.
std::vector<bool> channels_that_never_rest(const Feel& feel);

} // namespace stasis
