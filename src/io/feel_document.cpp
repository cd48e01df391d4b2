#include "io/feel_document.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/key_table.hpp"
#include "core/feel/section_reader.hpp"
#include "core/text.hpp"
#include "io/csv_reader.hpp"
#include "io/toml_reader.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t most_csv_bytes = std::size_t{64} << 20;

/// Reads the files that a feel names, all beside it or below.
class Companions {
public:
  Companions(const FeelFolder& folder, std::vector<Source>& sources) : folder_(folder), sources_(sources) {}

  /// The index of the file's text among the sources; nothing, with a problem, where it may not or cannot be read.
  std::optional<int> read(const Node& node, const std::string& path, std::size_t most_bytes) {
    const auto allowed = full_path(node, path);
    if (!allowed) return std::nullopt;
    const std::string& full = *allowed;
    auto text = folder_.text(full, most_bytes);
    if (!text) {
      report(text.error().refused ? "feel.too_big" : "file.unreadable", path, node.where, text.error().message,
             text.error().refused ? "" : "The path is relative to the feel.");
      return std::nullopt;
    }
    sources_.push_back({full, std::move(*text)});
    return static_cast<int>(sources_.size()) - 1;
  }

  /// Puts the columns of a large file where its name stands. Only a faulty line of it becomes a source.
  void read_columns(Node& file, const std::string& path, const std::vector<std::string>& wanted) {
    const auto full = full_path(file, path);
    if (!full) return;
    const int source = static_cast<int>(sources_.size());
    auto columns = folder_.columns(*full, wanted, source);
    sources_.push_back({*full, ""});
    if (!columns) {
      Problems& faults = columns.error();
      for (Problem& fault : faults) {
        fault.path = path;
        if (fault.where.line == 0) fault.where = file.where;
      }
      take(faults);
    } else {
      file.value = std::make_shared<const NumberColumns>(std::move(*columns));
    }
  }

  const std::string& text(int source) const { return sources_[static_cast<std::size_t>(source)].text; }

  void report(std::string_view code, const std::string& path, Position where, std::string message,
              std::string hint = {}) {
    problems.push_back({std::string(code), path, where, std::move(message), std::move(hint)});
  }
  void take(const Problems& more) { problems.insert(problems.end(), more.begin(), more.end()); }

  Problems problems;

private:
  /// The path of the file that a text names; nothing, with a problem, where it is no text or lies outside.
  std::optional<std::string> full_path(const Node& node, const std::string& path) {
    const std::string* name = node.text();
    if (name == nullptr) {
      report("feel.not_a_text", path, node.where,
             fmt::format("expected the name of a file, found {}", kind_in_words(node)));
      return std::nullopt;
    }
    auto full = folder_.path_of(*name);
    if (!full)
      report("feel.outside", path, node.where,
             fmt::format("\"{}\" lies outside the folder of the feel", printable(*name, 80)),
             "Files are named relative to the feel and stay in its folder; --allow-outside lifts that for one call.");
    return full;
  }

  const FeelFolder& folder_;
  std::vector<Source>& sources_;
};

void read_includes(Node& document, Companions& files) {
  const Node* include = document.find("include");
  if (include == nullptr) return;
  if (include->list() == nullptr) {
    files.report("feel.not_a_list", "include", include->where,
                 fmt::format("expected a list of file names, found {}", kind_in_words(*include)));
    return;
  }
  const NodeList names = *include->list(); // the document grows while they are read
  for (std::size_t i = 0; i < names.size(); ++i) {
    const auto source = files.read(names[i], fmt::format("include[{}]", i), most_document_bytes);
    if (!source) continue;
    auto other = read_toml(files.text(*source), *source);
    if (!other) {
      files.take(other.error());
      continue;
    }
    if (auto merged = merge_included(document, std::move(*other)); !merged) files.take(merged.error());
  }
}

/// Puts the rows of a CSV file of two columns where the file's name stood.
void read_points(Node& points, const std::string& path, Companions& files) {
  const Position where = points.where;
  const auto source = files.read(points, path, most_csv_bytes);
  if (!source) return;
  const auto table = read_number_table(files.text(*source), *source);
  if (!table) {
    files.take(table.error());
    return;
  }
  if (!table->rows.empty() && table->rows.front().size() != 2) {
    files.report("csv.width", path, {table->lines.front(), 1, 1, *source},
                 fmt::format("a curve has two columns, time and value; this file has {}", table->rows.front().size()));
    return;
  }
  NodeList pairs;
  for (std::size_t r = 0; r < table->rows.size(); ++r) {
    const Position place{table->lines[r], 1, 1, *source};
    pairs.push_back({NodeList{Node{table->rows[r][0], place}, Node{table->rows[r][1], place}}, place});
  }
  points = Node{std::move(pairs), where};
}

void read_curve_files(Node& document, Companions& files) {
  Node* curves = document.find("curve");
  if (curves == nullptr || curves->table() == nullptr) return;
  for (Entry& entry : *curves->table())
    if (Node* points = entry.value.find("points"); points != nullptr && points->text() != nullptr)
      read_points(*points, joined_path(joined_path("curve", entry.key), "points"), files);
}

/// Puts the table of a CSV file where the file's name stood: { columns = ["time", ..], rows = [[..], ..] }.
void read_recording(Node& recorded, const std::string& path, Companions& files) {
  const Position where = recorded.where;
  const auto source = files.read(recorded, path, most_csv_bytes);
  if (!source) return;
  const auto table = read_number_table(files.text(*source), *source);
  if (!table) {
    files.take(table.error());
    return;
  }
  const Position top{1, 1, 1, *source};
  NodeList columns, rows;
  for (const std::string& name : table->header) columns.push_back({name, top});
  for (std::size_t r = 0; r < table->rows.size(); ++r) {
    const Position place{table->lines[r], 1, 1, *source};
    NodeList numbers;
    for (const double number : table->rows[r]) numbers.push_back({number, place});
    rows.push_back({std::move(numbers), place});
  }
  NodeTable read;
  read.push_back({"columns", top, {std::move(columns), top}});
  read.push_back({"rows", top, {std::move(rows), top}});
  recorded = Node{std::move(read), where};
}

void read_recordings(Node& document, Companions& files) {
  Node* takes = document.find("take");
  if (takes == nullptr || takes->table() == nullptr) return;
  for (Entry& entry : *takes->table()) {
    const std::string path = joined_path("take", entry.key);
    if (Node* recorded = entry.value.find("recorded"); recorded != nullptr && recorded->text() != nullptr)
      read_recording(*recorded, joined_path(path, "recorded"), files);
    Node* clock = entry.value.find("clock");
    if (clock == nullptr) continue;
    if (Node* frames = clock->find("recorded"); frames != nullptr && frames->text() != nullptr)
      files.read_columns(*frames, joined_path(joined_path(path, "clock"), "recorded"), {"time", "dt"});
  }
}

/// Puts the columns of a track's file where its name stood: those that the feel maps, or those that bear a role's name.
void read_track_files(Node& document, Companions& files) {
  Node* tracks = document.find("track");
  if (tracks == nullptr || tracks->table() == nullptr) return;
  for (Entry& entry : *tracks->table()) {
    Node* file = entry.value.find("file");
    if (file == nullptr || file->text() == nullptr) continue;
    std::vector<std::string> wanted;
    const Node* mapping = entry.value.find("columns");
    for (const KeySpec& role : find_section("track.columns")->keys) {
      const Node* named = mapping != nullptr ? mapping->find(role.key) : nullptr;
      if (mapping == nullptr) wanted.emplace_back(role.key);
      if (named == nullptr || named->text() == nullptr) continue;
      wanted.push_back(*named->text());
      if (named->text()->starts_with('-')) wanted.push_back(named->text()->substr(1));
    }
    files.read_columns(*file, joined_path(joined_path("track", entry.key), "file"), wanted);
  }
}

} // namespace

Result<Node> read_feel_document(Source feel, const FeelFolder& folder, std::vector<Source>& sources) {
  sources.push_back(std::move(feel));
  auto document = read_toml(sources.back().text, static_cast<int>(sources.size()) - 1);
  if (!document) return document;
  Companions companions(folder, sources);
  read_includes(*document, companions);
  read_curve_files(*document, companions);
  read_recordings(*document, companions);
  read_track_files(*document, companions);
  if (!companions.problems.empty()) return tl::unexpected(std::move(companions.problems));
  return document;
}

} // namespace stasis::io
