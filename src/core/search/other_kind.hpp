// Where a motion's kind cannot do what a word of feel asks for: the kind that can.
#pragma once

#include <string>
#include <vector>

#include "core/feel/document_changes.hpp"
#include "core/motion/motion.hpp"
#include "core/search/feel_words.hpp"

namespace stasis {

/// The changes that make it so: a glide that is to set off softly becomes two in a row that settle as soon, one that is
/// to be livelier a spring that rises as fast, an eased move gets a curve that starts level. Where a change's `after`
/// is empty its key goes. Empty where the kind can do it, no other is known, or a number is a setting's. \param table,
/// path where the motion stands; \param motion what stands there.
std::vector<ValueChange> other_kind(const Node& table, const std::string& path, const Motion& motion,
                                    const FeelWord& word, double amount);

/// A number as words of feel write theirs: of five digits, the shortest text.
std::string five_digits(double value);

} // namespace stasis
