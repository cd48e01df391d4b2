// The texts that a feel had: what Stasis changes is kept beside the feel, and so is what it was before.
//
// stasis-history/NAME/ holds one file a text, N.toml, and list.toml, which says when and by which call each came. A
// text that is in the feel's place is always among them once Stasis has written it: nothing that was found is lost.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "io/files.hpp"

namespace stasis::io {

/// One kept text of a feel.
struct KeptVersion {
  int number = 0;
  std::string when;            ///< UTC, "2026-11-28T16:20:00Z"
  std::string call;            ///< that wrote it; empty: it was found like this
  std::optional<int> from;     ///< the version that it was made from
  std::optional<int> restores; ///< the version whose text it is again
};

/// How much is kept of one feel; what goes beyond it goes oldest first, never the last.
struct HistoryBounds {
  std::size_t versions = 0; ///< 0: nothing is kept
  std::size_t bytes = std::size_t{16} << 20;
};

/// A text about to be written, and what it comes from.
struct NewVersion {
  std::string_view before, after; ///< the feel's text now, and then
  std::string_view call;
  std::optional<int> restores;
};

/// The folder that holds the texts of a feel.
std::string history_folder(const std::string& feel);
/// The kept versions, oldest first; none where nothing was kept yet.
FileResult<std::vector<KeptVersion>> kept_versions(const std::string& feel);
/// The text of one of them.
FileResult<std::string> kept_text(const std::string& feel, int number);
/// Keeps the new text, and the old one where it is not kept yet. Call while the feel is locked, before it is written:
/// a program that is ended in between leaves a text that is kept and not in place.
FileResult<void> keep_version(const std::string& feel, const NewVersion& version, const HistoryBounds& bounds);
/// The newest version with this text.
FileResult<std::optional<KeptVersion>> version_with_text(const std::string& feel, std::string_view text);

/// "otter.toml@3": version 3 of otter.toml.
struct VersionName {
  std::string feel;
  int number = 0;
};
/// Nothing where a name is of another form, or where a file has it.
std::optional<VersionName> version_name(const std::string& name);

} // namespace stasis::io
