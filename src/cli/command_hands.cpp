// `stasis hands`: a page on which the feel is played by hand.
#include <filesystem>
#include <map>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/page_parts.hpp"
#include "cli/version.hpp"
#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "embed/played_feel.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"
#include "io/json_writer.hpp"
#include "report/hands_page.hpp"

namespace stasis::cli {
namespace {

constexpr const char* hands_example = R"text(Worked example:
  stasis hands otter.toml -o hands.html

writes one page that opens from disk and needs no network. It holds the program's own heart: press
keys, turn the wheel, push the stick, and the camera answers, the feel as saved beside the feel as
it is now. Every number is a slider; the text can be edited and taken away again; what the hands
did comes out as a take.)text";

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

struct HandsOptions {
  std::string file, out = "stasis-out/hands.html";
  bool allow_outside = false, force = false, json = false;
};

Exit refused(const io::FileError& fault, Output& err) {
  failed(fault, err);
  return fault.refused ? Exit::bad_input : Exit::bad_file;
}

Exit write_hands(const HandsOptions& options, Streams streams) {
  if (options.out == "-" && options.json) {
    print_error("-o - and --json both want standard output; give one of them.", streams.err);
    return Exit::bad_input;
  }
  auto text = io::read_file(options.file, most_document_bytes);
  if (!text) return refused(text.error(), streams.err);
  const auto folder = std::make_shared<NotingFolder>(io::disk_folder({options.file, options.allow_outside}));
  const auto played = embed::PlayedFeel::open({options.file, *text, "", "", 0.0}, folder);
  if (!played) {
    print_problems(played.error().problems, played.error().sources, streams.err);
    return io::is_about_reading(played.error().problems) ? Exit::bad_file : Exit::bad_input;
  }
  const bool is_input = options.file == "-";
  report::HandsContent content{(*played)->feel().title,
                               is_input ? "untitled.toml" : std::filesystem::path(options.file).filename().string(),
                               *text,
                               {}};
  std::size_t carried = 0;
  for (const auto& [name, path] : folder->named) {
    auto one = folder->text(path, most_carried);
    if (!one) return refused(one.error(), streams.err);
    carried += one->size();
    content.files[name] = std::move(*one);
  }
  if (carried > most_carried) {
    print_error(fmt::format("the files that the feel names are {} MB together; a page carries at most {}. Thin the "
                            "recordings, or play the feel with `stasis step`.",
                            carried >> 20, most_carried >> 20),
                streams.err);
    return Exit::bad_input;
  }
  const std::string html = report::hands_page_html(content, page_part);
  if (options.out == "-") {
    streams.out.write(html);
    return Exit::fine;
  }
  if (const auto above = std::filesystem::path(options.out).parent_path(); !above.empty())
    if (auto made = io::make_folder(above.string()); !made) return refused(made.error(), streams.err);
  if (auto done = io::write_file(options.out, html, options.force); !done) return refused(done.error(), streams.err);
  if (options.json) {
    io::JsonWriter json;
    json.begin_object()
        .key("stasis")
        .text(version)
        .key("page")
        .text(options.out)
        .key("bytes")
        .integer(static_cast<long long>(html.size()));
    json.end_object();
    streams.out.line(json.take());
  } else {
    streams.out.line(fmt::format("  wrote {} ({:.1f} MB): open it in a browser and play", shown_name(options.out),
                                 static_cast<double>(html.size()) / 1e6));
  }
  return Exit::fine;
}

} // namespace

Exit run_hands(const Arguments& arguments, Streams streams) {
  HandsOptions options;
  Call call("stasis hands", "one page on which the feel is played by hand", hands_example);
  call.positional("feel", options.file, "The feel, or - for standard input", true);
  call.option("-o,--out", options.out, "The page; -: standard output (stasis-out/hands.html)");
  call.flag("--allow-outside", options.allow_outside, "Files that the feel names may lie outside its folder");
  call.flag("--force", options.force, "Replace a file that Stasis did not write");
  call.flag("--json", options.json, "Where it was written, as JSON");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return write_hands(options, streams);
}

} // namespace stasis::cli
