// A feel's document from its files: the feel itself, what it includes, the curves that stand in CSV files.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/feel/document.hpp"
#include "io/feel_document.hpp"

namespace stasis::io {

struct FeelFiles {
  std::string path;                     ///< of the feel; "-" for standard input
  bool allow_outside = false;           ///< files may lie outside the feel's folder
  std::optional<std::string> text = {}; ///< of the feel, instead of what the file holds
};

/// The document with its included files merged and its curve files read. Every text that was read is added to
/// `sources`, to which the problems' positions refer. Problems whose code begins with "file." are files that could not
/// be read.
Result<Node> read_feel_files(const FeelFiles& files, std::vector<Source>& sources);

/// The folder in which a feel lies.
std::shared_ptr<const FeelFolder> disk_folder(FeelFiles files);

/// The path of a file that a feel names; nothing where it would lie outside the feel's folder.
std::optional<std::string> companion_path(const FeelFiles& files, const std::string& name);

/// True if the problems are about a file that could not be read rather than about what stands in one.
bool is_about_reading(const Problems& problems) noexcept;

} // namespace stasis::io
