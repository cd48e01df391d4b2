// Why a channel is not the same at every frame rate, in words.
#pragma once

#include "core/measure/frame_rates.hpp"

namespace stasis {

/// Every per-frame rule that moves something, once by name.
std::vector<Replacement> replacements_of(const Feel& feel);

/// Why a channel of a finished account differs, and what to do; empty where it does not.
std::string cause_of(const RatesAccount& account, std::size_t channel);

/// The shakes that are felt and go by frames, in words: at the slowest and the quickest rate played.
std::vector<std::string> frame_shakes_of(const RatesAccount& account);

/// The controls that the take works and that go by frames, in words, each with what does not.
std::vector<std::string> frame_controls_of(const RatesAccount& account);

} // namespace stasis
