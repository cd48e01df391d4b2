// Changes a feel's own text on disk: all of it or nothing.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "cli/command.hpp"

namespace stasis::cli {

/// A value to be written at a path, as it stands in TOML.
struct WrittenValue {
  std::string path, value;
};

/// The new text; nothing where it is to stay as it is, as has been said; or the status to end with.
using FeelEdit = std::function<tl::expected<std::optional<std::string>, Exit>(const std::string& text)>;

/// Locks the file until the end, reads it, and writes what `edit` makes of it if that is a feel. A link stays a link.
/// \param accepted is called with a text that is one, before it is written; \returns false to leave it at that.
Exit rewrite_feel(
    const std::string& file, bool allow_outside, Output& err, const FeelEdit& edit,
    const std::function<bool()>& accepted = [] { return true; });

/// The same for some values, comments kept; says on `out` that the file was written.
Exit write_values(const std::string& file, bool allow_outside, const std::vector<WrittenValue>& values, Output& out,
                  Output& err);

} // namespace stasis::cli
