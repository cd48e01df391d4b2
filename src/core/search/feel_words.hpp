// Words of feel, each a stated change of stated measures: which numbers of a motion or a shake to put where.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "core/feel/document_changes.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

/// What a word changes. Its amount scales the change: 2 does it twice, -1 takes it back.
struct FeelWord {
  enum class Of : std::uint8_t { motion, shake, space } of = Of::motion;
  std::string_view word;
  std::string_view effect; ///< what it does, for people
  double times = 1.0;      ///< of a motion: its times take this many times as long
  double points = 0.0;     ///< of a spring: so many points more overshoot, the rise held
  bool without_overshoot = false, soft_start = false;
  bool of_acceleration = false;                        ///< of a motion: it is the peak acceleration that changes
  bool has_amount = true;                              ///< it may be done by half, or twice
  double peak = 1.0, half_life = 1.0, frequency = 1.0; ///< of a shake: factors
};
/// All of them, in the order in which they are listed.
std::span<const FeelWord> feel_words() noexcept;
/// Null if there is no such name.
const FeelWord* feel_word(std::string_view word) noexcept;

struct WordOutcome {
  std::vector<ValueChange> changes; ///< as they are written
  std::string exception; ///< what of the channel the word could not change, in a sentence without its full stop
};
/// The changes, or why there are none, in such a sentence.
using WordChanges = tl::expected<WordOutcome, std::string>;

/// \param document with its variant in place, settings not put in. \param name of a channel, or of a shake for words of
/// shakes. \param other_kinds_of the feel that the document is, where a motion whose kind cannot do it is to become one
/// that can: see other_kind(); null where it is to stay.
WordChanges changes_by_word(const Node& document, std::string_view name, const FeelWord& word, double amount,
                            const Feel* other_kinds_of = nullptr);

/// Where the motions of a channel stand: "motion.soft", "channel.fov.motion", each once.
std::vector<std::string> motion_paths(const Node& document, std::string_view channel);

} // namespace stasis
