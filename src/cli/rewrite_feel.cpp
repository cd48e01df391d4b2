#include "cli/rewrite_feel.hpp"

#include <algorithm>
#include <filesystem>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"
#include "io/history.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

namespace stasis::cli {

namespace {

/// What the feel says of how much is kept of it.
io::HistoryBounds bounds_of(const std::string& text) {
  const auto document = io::read_toml(text, 0);
  const Node* key = document ? document->find("history") : nullptr;
  const auto* given = key != nullptr ? std::get_if<std::int64_t>(&key->value) : nullptr;
  const double versions = given != nullptr ? static_cast<double>(*given)
                                           : *read_number(find_key(*find_section("feel"), "history")->fallback);
  return {static_cast<std::size_t>(versions)};
}

} // namespace

std::vector<std::string> included_files(const std::string& feel, bool allow_outside) {
  std::vector<std::string> files;
  const auto text = io::read_file(feel, most_document_bytes);
  const auto document = text ? io::read_toml(*text, 0) : tl::unexpected(Problems{});
  const Node* names = document ? document->find("include") : nullptr;
  if (names == nullptr || names->list() == nullptr) return files;
  for (const Node& name : *names->list())
    if (name.text() != nullptr)
      if (auto path = io::companion_path({feel, allow_outside}, *name.text()); path && io::file_exists(*path))
        files.push_back(std::move(*path));
  return files;
}

std::string owner_of(const std::string& feel, bool allow_outside, const std::string& path) {
  // A table of a name: two steps of the path, such as motion.soft.
  const auto kind_ends = path.find('.');
  if (kind_ends == std::string::npos) return feel;
  const std::string table = path.substr(0, path.find('.', kind_ends + 1));
  const auto holds = [&](const std::string& file) {
    const auto text = io::read_file(file, most_document_bytes);
    const auto document = text ? io::read_toml(*text, 0) : tl::unexpected(Problems{});
    return document && node_at(*document, table) != nullptr;
  };
  if (holds(feel)) return feel;
  for (const std::string& file : included_files(feel, allow_outside))
    if (holds(file)) return file;
  return feel;
}

std::string typed(std::string_view command, const Arguments& arguments) {
  std::string text(command);
  for (const std::string& word : arguments) {
    const bool is_plain = !word.empty() && word.find_first_of(" \t\n\"'$\\*?;&|<>()[]{}`#") == std::string::npos;
    text += is_plain ? " " + word : fmt::format(" \"{}\"", word);
  }
  return text;
}

Exit rewrite_feel(const Rewriting& rewriting, Output& err, const FeelEdit& edit,
                  const std::function<bool()>& accepted) {
  const std::string& file = rewriting.file;
  if (const auto kept = io::version_name(file)) {
    print_error(fmt::format("{} is a version that is kept as it was; take it up again with stasis history {} --restore "
                            "{}, then change that.",
                            printable(file, 200), printable(kept->feel, 200), kept->number),
                err);
    return Exit::bad_input;
  }
  const auto lock = io::FileLock::take(file); // until the end: what another run writes meanwhile would be lost
  if (!lock) return failed(lock.error(), err);
  const auto text = io::read_file(file, most_document_bytes);
  if (!text) {
    failed(text.error(), err);
    return text.error().refused ? Exit::bad_input : Exit::bad_file;
  }
  auto now = edit(*text);
  if (!now) return now.error();
  if (!*now) return Exit::fine;
  if (const Exit is = validity_of(file, **now, rewriting.allow_outside, err); is != Exit::fine) return is;
  if (!accepted()) return Exit::fine;
  if (auto kept = io::keep_version(file, {*text, **now, rewriting.call, rewriting.restores}, bounds_of(**now)); !kept) {
    const io::FileError fault{kept.error().message
                                  + "; so the history could not be kept, and the feel was left alone. history = 0 in "
                                    "the feel keeps none",
                              kept.error().refused};
    failed(fault, err);
    return fault.refused ? Exit::bad_input : Exit::bad_file;
  }
  // A link stays a link: the file that it leads to is replaced.
  std::error_code error;
  const auto real = std::filesystem::canonical(file, error);
  if (auto done = io::write_file(error ? file : real.string(), **now, true); !done) return failed(done.error(), err);
  return Exit::fine;
}

namespace {

/// Writes values that all stand in one file.
Result<std::string> with_value(const std::string& text, const WrittenValue& one) {
  if (one.value.empty()) {
    const auto dot = one.path.rfind('.');
    return io::change_keys(text, one.path.substr(0, dot), {{one.path.substr(dot + 1), "", ""}});
  }
  auto edit = io::edit_value(text, one.path, one.value);
  if (!edit) return tl::unexpected(edit.error());
  return std::move(edit->text);
}

Exit write_values_of(const Rewriting& rewriting, const std::vector<WrittenValue>& values, Output& err) {
  return rewrite_feel(rewriting, err, [&](const std::string& text) -> tl::expected<std::optional<std::string>, Exit> {
    std::string now = text;
    for (const WrittenValue& one : values) {
      auto next = with_value(now, one);
      if (!next) {
        print_problems(next.error(), {{rewriting.file, now}}, err);
        return tl::unexpected(Exit::bad_input);
      }
      now = std::move(*next);
    }
    return now;
  });
}

} // namespace

Exit write_values(const Rewriting& rewriting, const std::vector<WrittenValue>& values, Output& out, Output& err) {
  std::vector<std::pair<std::string, std::vector<WrittenValue>>> by_file;
  for (const WrittenValue& one : values) {
    const std::string owner = owner_of(rewriting.file, rewriting.allow_outside, one.path);
    const auto known =
        std::find_if(by_file.begin(), by_file.end(), [&](const auto& file) { return file.first == owner; });
    if (known != by_file.end())
      known->second.push_back(one);
    else
      by_file.push_back({owner, {one}});
  }
  for (const auto& [file, own] : by_file) {
    Rewriting of_file = rewriting;
    of_file.file = file;
    if (const Exit ended = write_values_of(of_file, own, err); ended != Exit::fine) return ended;
    out.wrote(file);
  }
  return Exit::fine;
}

std::optional<NewTable> new_table(const std::string& words, const std::string& kind) {
  const std::string parting = ":" + kind + ".";
  const auto at = words.rfind(parting);
  if (at == std::string::npos || at == 0 || at + parting.size() == words.size()) return std::nullopt;
  return NewTable{words.substr(0, at), kind, words.substr(at + parting.size())};
}

Exit add_table(const NewTable& table, const std::string& lines, const std::string& call, Output& out, Output& err) {
  const FeelEdit add = [&](const std::string& text) -> tl::expected<std::optional<std::string>, Exit> {
    const bool ends_in_line = text.empty() || text.back() == '\n';
    return std::optional(text + (ends_in_line ? "\n" : "\n\n") + lines);
  };
  const Exit ended = rewrite_feel({table.feel, false, call}, err, add);
  if (ended == Exit::fine) out.wrote(fmt::format("{}: {}.{}", table.feel, table.kind, table.name));
  return ended;
}

} // namespace stasis::cli
