// A feel's document from its text and the files that it names, wherever those come from.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/document.hpp"
#include "io/files.hpp"

namespace stasis::io {

/// Where the files lie that a feel names.
class FeelFolder {
public:
  FeelFolder() = default;
  FeelFolder(const FeelFolder&) = delete;
  FeelFolder& operator=(const FeelFolder&) = delete;
  virtual ~FeelFolder() = default;

  /// The path of a file that the feel names; nothing where it would lie outside the feel's folder.
  virtual std::optional<std::string> path_of(const std::string& name) const = 0;
  /// The whole file. A longer one than `most_bytes` is an error.
  virtual FileResult<std::string> text(const std::string& path, std::size_t most_bytes) const = 0;
  /// See read_column_file().
  virtual Result<NumberColumns> columns(const std::string& path, const std::vector<std::string>& wanted,
                                        int source) const = 0;
};

/// The document with its included files merged and its curve files read. Every text that was read is added to
/// `sources`, the feel's own first, to which the problems' positions refer. Problems whose code begins with "file." are
/// files that could not be read.
Result<Node> read_feel_document(Source feel, const FeelFolder& folder, std::vector<Source>& sources);

} // namespace stasis::io
