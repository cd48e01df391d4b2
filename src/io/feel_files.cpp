#include "io/feel_files.hpp"

#include <algorithm>
#include <filesystem>

#include "core/feel/key_table.hpp"
#include "io/column_file.hpp"
#include "io/feel_document.hpp"
#include "io/files.hpp"
#include "io/history.hpp"

namespace stasis::io {
namespace {

namespace fs = std::filesystem;

/// The text of a file, of standard input, or of a version that is kept ("otter.toml@3").
FileResult<std::string> text_named(const std::string& path) {
  const auto kept = version_name(path);
  return kept ? kept_text(kept->feel, kept->number) : read_file(path, most_document_bytes);
}

bool lies_inside(const fs::path& in, const std::string& name) {
  if (name.empty() || name.find('\0') != std::string::npos || fs::path(name).is_absolute()) return false;
  std::error_code error;
  const fs::path folder = fs::weakly_canonical(in, error), file = fs::weakly_canonical(in / name, error);
  if (error) return false;
  const auto [rest, unused] = std::mismatch(folder.begin(), folder.end(), file.begin(), file.end());
  return rest == folder.end();
}

/// The folder on disk in which a feel lies.
class DiskFolder final : public FeelFolder {
public:
  explicit DiskFolder(FeelFiles files) : files_(std::move(files)) {}

  std::optional<std::string> path_of(const std::string& name) const override { return companion_path(files_, name); }
  FileResult<std::string> text(const std::string& path, std::size_t most_bytes) const override {
    return read_file(path, most_bytes);
  }
  Result<NumberColumns> columns(const std::string& path, const std::vector<std::string>& wanted,
                                int source) const override {
    return read_column_file(path, wanted, source);
  }

private:
  FeelFiles files_;
};

} // namespace

std::shared_ptr<const FeelFolder> disk_folder(FeelFiles files) {
  return std::make_shared<const DiskFolder>(std::move(files));
}

std::optional<std::string> companion_path(const FeelFiles& files, const std::string& name) {
  const fs::path beside = files.path == "-" ? fs::path() : fs::path(files.path).parent_path();
  const fs::path folder = beside.empty() ? fs::path(".") : beside;
  if (!files.allow_outside && !lies_inside(folder, name)) return std::nullopt;
  // Never the one character that means standard input.
  const fs::path full = (folder / name).lexically_normal();
  return full == "-" ? "./-" : full.string();
}

Result<Node> read_feel_files(const FeelFiles& files, std::vector<Source>& sources) {
  auto text = files.text ? FileResult<std::string>(*files.text) : text_named(files.path);
  if (!text)
    return fail({text.error().refused ? "feel.too_big" : "file.unreadable",
                 "",
                 {0, 0, 1, -1},
                 text.error().message,
                 "Give the path of a feel, or - for standard input."});
  return read_feel_document({files.path == "-" ? "standard input" : files.path, std::move(*text)}, DiskFolder(files),
                            sources);
}

bool is_about_reading(const Problems& problems) noexcept {
  return std::all_of(problems.begin(), problems.end(), [](const Problem& p) { return p.code.starts_with("file."); });
}

} // namespace stasis::io
