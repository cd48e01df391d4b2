// Why a channel is not the same at every frame rate, in words.
#pragma once

#include "core/measure/frame_rates.hpp"

namespace stasis {

/// True if a goal of the take may be curved between two frames, or is decided by what a frame sees: then the exact path
/// is played in small steps.
bool has_curved_goals(const Feel& feel, const Take& take);

/// Every per-frame rule that moves something, once by name.
std::vector<Replacement> replacements_of(const Feel& feel);

/// Why a channel of a finished account differs, and what to do; empty where it does not.
std::string cause_of(const RatesAccount& account, std::size_t channel);

/// The shakes that are felt and go by frames, in words: at the slowest and the quickest rate played.
std::vector<std::string> frame_shakes_of(const RatesAccount& account);

} // namespace stasis
