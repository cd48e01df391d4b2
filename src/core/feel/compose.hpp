// What happens to a document before it is read: variants put in, settings put in their places, included files merged.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"

namespace stasis {

/// The names of the document's variants, in the order of the text.
std::vector<std::string_view> variant_names(const Node& document);

/// Puts the overrides of the variant `name` into the document. The problems stand where the variant says so.
Result<void> apply_variant(Node& document, std::string_view name);

/// Puts `value` at a path in words, such as "motion.soft.frequency". A path that leads to a motion, channel, ... that
/// the document does not have is a problem, not a new one.
Result<void> put_override(Node& document, std::string_view path, Node value);

/// Replaces every { setting = "NAME", times = .., add = .. } by the setting's number: value * times + add.
/// \returns the names of the settings that something refers to.
Result<std::vector<std::string>> resolve_settings(Node& document);

/// True if a document holds rules to be included by feels, and nothing else: motions, curves, settings.
bool is_rules_only(const Node& document) noexcept;

/// Brings the motions, curves and settings of `other` into the document. Other sections, and names given twice, are
/// problems.
Result<void> merge_included(Node& document, Node other);

} // namespace stasis
