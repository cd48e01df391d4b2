#include "cli/hands_content.hpp"

#include <filesystem>
#include <map>

#include <fmt/format.h>

#include "core/feel/key_table.hpp"
#include "io/feel_files.hpp"

namespace stasis::cli {
namespace {

/// What a page may carry of the files that a feel names.
constexpr std::size_t most_carried = std::size_t{8} << 20;

/// A feel's folder that remembers which files the feel has named.
class NotingFolder final : public io::FeelFolder {
public:
  explicit NotingFolder(std::shared_ptr<const io::FeelFolder> folder) : folder_(std::move(folder)) {}

  std::optional<std::string> path_of(const std::string& name) const override {
    auto path = folder_->path_of(name);
    if (path) named[name] = *path;
    return path;
  }
  io::FileResult<std::string> text(const std::string& path, std::size_t most_bytes) const override {
    return folder_->text(path, most_bytes);
  }
  Result<NumberColumns> columns(const std::string& path, const std::vector<std::string>& wanted,
                                int source) const override {
    return folder_->columns(path, wanted, source);
  }

  mutable std::map<std::string, std::string> named; ///< path by name

private:
  std::shared_ptr<const io::FeelFolder> folder_;
};

} // namespace

io::FileResult<report::HandsContent> hands_content(const std::string& file, const std::string& text,
                                                   bool allow_outside) {
  const NotingFolder folder(io::disk_folder({file, allow_outside}));
  std::vector<Source> sources;
  const auto document = io::read_feel_document({file, text}, folder, sources);
  report::HandsContent content;
  content.name = file == "-" ? "untitled.toml" : std::filesystem::path(file).filename().string();
  content.text = text;
  const Node* const title = document ? document->find("title") : nullptr;
  if (title != nullptr && title->text() != nullptr) content.title = *title->text();
  std::size_t carried = 0;
  for (const auto& [name, path] : folder.named) {
    auto one = folder.text(path, most_carried);
    if (!one) return tl::unexpected(one.error());
    carried += one->size();
    content.files[name] = std::move(*one);
  }
  if (carried > most_carried)
    return tl::unexpected(io::FileError{
        fmt::format("the files that the feel names are {} MB together, and a page carries at most {}; thin the "
                    "recordings, or play the feel with `stasis step`",
                    carried >> 20, most_carried >> 20),
        true});
  return content;
}

} // namespace stasis::cli
