// Changes a feel's own text on disk: all of it or nothing.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "cli/command.hpp"

namespace stasis::cli {

/// A value to be written at a path, as it stands in TOML; empty: its key is taken out.
struct WrittenValue {
  std::string path, value;
};

/// Which file, and by which call: that is what the history tells.
struct Rewriting {
  std::string file;
  bool allow_outside = false;
  std::string call;                 ///< as it was typed
  std::optional<int> restores = {}; ///< the kept version whose text it becomes
};

/// The files that a feel includes, as paths; those that cannot be read, or lie outside its folder, are left out.
std::vector<std::string> included_files(const std::string& feel, bool allow_outside);

/// The file whose own text holds what a path leads to ("motion.soft.frequency"): the feel, or one that it includes. The
/// feel where neither does.
std::string owner_of(const std::string& feel, bool allow_outside, const std::string& path);

/// A call as it was typed, "stasis set otter.toml a=1".
std::string typed(std::string_view command, const Arguments& arguments);

/// The new text; nothing where it is to stay as it is, as has been said; or the status to end with.
using FeelEdit = std::function<tl::expected<std::optional<std::string>, Exit>(const std::string& text)>;

/// Locks the file until the end, reads it, and writes what `edit` makes of it if that is a feel. A link stays a link.
/// What the text was and what it becomes are kept in its history.
/// \param accepted is called with a text that is one, before it is written; \returns false to leave it at that.
Exit rewrite_feel(
    const Rewriting& rewriting, Output& err, const FeelEdit& edit,
    const std::function<bool()>& accepted = [] { return true; });

/// A table of a feel that does not have it yet: "otter.toml:motion.caught".
struct NewTable {
  std::string feel, kind, name;
};
/// What such words mean; nothing where they are none of that kind.
std::optional<NewTable> new_table(const std::string& words, const std::string& kind);
/// Adds the table's lines, a blank line before them, and says on `out` that it was written. A feel that has one of that
/// name stays as it is, and is told to have it.
Exit add_table(const NewTable& table, const std::string& lines, const std::string& call, Output& out, Output& err);

/// The same for some values, each in the file that holds it, comments kept; says on `out` which files were written.
Exit write_values(const Rewriting& rewriting, const std::vector<WrittenValue>& values, Output& out, Output& err);

} // namespace stasis::cli
