#include "cli/baselines.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/version.hpp"
#include "core/feel/key_table.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "io/column_file.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"
#include "io/toml_reader.hpp"
#include "io/trace_csv.hpp"

namespace stasis::cli {
namespace {

std::optional<std::string> path_of(const BaselinePlace& place) {
  return io::companion_path({place.feel_file, place.allow_outside}, place.baseline->file);
}

std::string note_beside(const std::string& trace) { return trace + ".about"; }

const Take& take_of(const BaselinePlace& place) { return place.loaded->feel.takes[place.baseline->take]; }

std::string clock_in_words(const Clock& clock) {
  return fmt::format("{} fps{}", shortest(clock.fps), clock.is_steady() ? "" : ", not steady");
}

/// Every column of the take's trace, as far as the file has it.
Result<NumberColumns> read_trace(const std::string& path, const Scene& scene) {
  auto wanted = trace_header(scene);
  std::erase(wanted, "frame");
  return io::read_column_file(path, wanted, 0);
}

} // namespace

std::string BaselineVerdict::said() const {
  if (!exists) return "is not kept yet; stasis check --keep writes it";
  if (!drift.fault.empty()) return "cannot be compared: " + drift.fault;
  if (drift.strayed.empty())
    return drift.largest == 0.0 ? "exactly as it was kept" : fmt::format("at most {} off", readable(drift.largest));
  const StrayedColumn& first = drift.strayed.front();
  const std::string rest = drift.strayed.size() == 1 ? ""
                                                     : fmt::format(", and {} more column{}", drift.strayed.size() - 1,
                                                                   drift.strayed.size() == 2 ? "" : "s");
  return fmt::format("{} strays from {} s on, {} off at {} s{}", first.name, readable(first.first_at, 4),
                     readable(first.largest), readable(first.largest_at, 4), rest);
}

tl::expected<std::string, std::string> kept_variant(const BaselinePlace& place) {
  const auto path = path_of(place);
  if (!path)
    return tl::unexpected(
        fmt::format("\"{}\" lies outside the folder of the feel", printable(place.baseline->file, 80)));
  if (!io::file_exists(note_beside(*path))) return std::string();
  const auto text = io::read_file(note_beside(*path), most_document_bytes);
  const auto note = text ? io::read_toml(*text, 0) : Result<Node>(Node{});
  const Node* variant = note ? note->find("variant") : nullptr;
  return variant != nullptr && variant->text() != nullptr ? *variant->text() : std::string();
}

BaselineVerdict judge_baseline(const BaselinePlace& place) {
  const Take& take = take_of(place);
  const Baseline& baseline = *place.baseline;
  BaselineVerdict verdict{baseline.file,   take.name,   place.loaded->variant,
                          baseline.column, take.length, baseline.within};
  const auto path = path_of(place);
  verdict.exists = path && io::file_exists(*path);
  if (!verdict.exists) return verdict;
  const Scene scene{&place.loaded->feel, &take, clock_of(take)};
  const auto kept = read_trace(*path, scene);
  if (!kept) {
    verdict.drift.fault = kept.error().front().message;
    return verdict;
  }
  DriftSink drift(*kept, baseline.column, baseline.within);
  BlockSink* const sinks[] = {&drift};
  play(scene, sinks);
  verdict.drift = drift.take();
  return verdict;
}

io::FileResult<void> keep_baseline(const BaselinePlace& place) {
  const auto path = path_of(place);
  if (!path) return tl::unexpected(io::FileError{kept_variant(place).error(), true});
  const Take& take = take_of(place);
  const Scene scene{&place.loaded->feel, &take, clock_of(take)};
  auto file = io::AtomicFile::open(*path, true);
  if (!file) return tl::unexpected(file.error());
  io::TraceCsvSink trace([&](std::string_view text) { file->write(text); });
  BlockSink* const sinks[] = {&trace};
  play(scene, sinks);
  const std::string note =
      fmt::format("# What the trace beside this is of: written by `stasis check --keep`.\n"
                  "stasis = \"{}\"\ntake = \"{}\"\nvariant = \"{}\"\nclock = \"{}\"\n"
                  "frames = {}\n",
                  version, take.name, place.loaded->variant, clock_in_words(scene.clock), scene.clock.frames);
  if (auto done = io::write_file(note_beside(*path), note, true); !done) return done;
  return file->commit();
}

} // namespace stasis::cli
