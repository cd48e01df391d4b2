// `stasis hands`: a page on which the feel is played by hand.
#include <filesystem>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/draw.hpp"
#include "cli/hands_content.hpp"
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

writes one page that opens from disk and needs no network. Press keys, turn the wheel, push the
stick: the camera answers, by the feel as it is now and by the feel as it was saved. Every number is
a slider; you can edit the text, copy it and save it; what you did becomes a take.
  stasis watch hands otter.toml -o hands.html

writes it again at each save; the open page takes up what is saved while you play.)text";

struct HandsOptions {
  std::string file, out = "stasis-out/hands.html";
  bool allow_outside = false, force = false, json = false, watched = false;
};

Exit refused(const io::FileError& fault, Output& err) {
  failed(fault, err);
  return fault.refused ? Exit::bad_input : Exit::bad_file;
}

/// The script beside a watched page that tells it what is saved now.
io::FileResult<void> write_saved(const HandsOptions& options, const report::HandsContent& content) {
  return io::write_file(options.out + ".saved.js", report::saved_script(content), options.force);
}

void say(const HandsOptions& options, std::size_t bytes, Output& out) {
  if (!options.json)
    return out.wrote(fmt::format("{} ({:.1f} MB): open it in a browser and play", shown_name(options.out),
                                 static_cast<double>(bytes) / 1e6));
  io::JsonWriter json;
  json.begin_object()
      .key("stasis")
      .text(version)
      .key("page")
      .text(options.out)
      .key("bytes")
      .integer(static_cast<long long>(bytes));
  json.end_object();
  out.exact_line(json.take());
}

Exit write_hands(const HandsOptions& options, Streams streams) {
  if (options.out == "-" && options.json) {
    print_error("-o - and --json both want standard output; give one of them.", streams.err);
    return Exit::bad_input;
  }
  auto text = io::read_file(options.file, most_document_bytes);
  if (!text) return refused(text.error(), streams.err);
  const auto played = embed::PlayedFeel::open({options.file, *text, "", "", 0.0},
                                              io::disk_folder({options.file, options.allow_outside}));
  if (!played) {
    print_problems(played.error().problems, played.error().sources, streams.err);
    return io::is_about_reading(played.error().problems) ? Exit::bad_file : Exit::bad_input;
  }
  auto content = hands_content(options.file, *text, options.allow_outside);
  if (!content) return refused(content.error(), streams.err);
  if (options.watched) content->saved_in = std::filesystem::path(options.out).filename().string() + ".saved.js";
  const std::string html = report::hands_page_html(*content, page_part);
  if (options.out == "-") {
    streams.out.bytes(html);
    return Exit::fine;
  }
  if (const auto above = std::filesystem::path(options.out).parent_path(); !above.empty())
    if (auto made = io::make_folder(above.string()); !made) return refused(made.error(), streams.err);
  if (auto done = io::write_file(options.out, html, options.force); !done) return refused(done.error(), streams.err);
  if (options.watched)
    if (auto done = write_saved(options, *content); !done) return refused(done.error(), streams.err);
  say(options, html.size(), streams.out);
  return Exit::fine;
}

} // namespace

Exit run_hands(const Arguments& arguments, Streams streams) {
  HandsOptions options;
  Call call("stasis hands", "One page on which you play the feel by hand.", hands_example);
  call.positional("feel", options.file, "The feel, or - for standard input", true);
  call.option("-o,--out", options.out, "The page; -: standard output (stasis-out/hands.html)");
  call.flag("--allow-outside", options.allow_outside, "Files that the feel names may lie outside its folder");
  call.flag("--force", options.force, "Replace a file that Stasis did not write");
  call.flag("--watched", options.watched, "An open page takes up what is saved; `stasis watch` sets this");
  call.flag("--json", options.json, "Print where it was written, as JSON");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return write_hands(options, streams);
}

} // namespace stasis::cli
