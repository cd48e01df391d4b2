#include "io/history.hpp"

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <ctime>
#include <filesystem>

#include <fmt/format.h>

#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"
#include "io/toml_reader.hpp"

namespace stasis::io {
namespace {

namespace fs = std::filesystem;

std::string list_of(const std::string& feel) { return history_folder(feel) + "/list.toml"; }
std::string text_file(const std::string& feel, int number) {
  return fmt::format("{}/{}.toml", history_folder(feel), number);
}

/// The time now; builds that must repeat to the byte give it by the agreed variable of the environment.
std::string time_now() {
  std::time_t now = std::time(nullptr);
  if (const char* given = std::getenv("SOURCE_DATE_EPOCH")) {
    long long seconds = 0;
    const std::string_view text = given;
    if (std::from_chars(text.data(), text.data() + text.size(), seconds).ec == std::errc{})
      now = static_cast<std::time_t>(seconds);
  }
  std::tm utc{};
  ::gmtime_r(&now, &utc);
  char text[32];
  return {text, std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%SZ", &utc)};
}

std::optional<int> number_at(const Node& table, std::string_view key) {
  const Node* node = table.find(key);
  const auto* number = node != nullptr ? std::get_if<std::int64_t>(&node->value) : nullptr;
  return number != nullptr && *number > 0 && *number < 1'000'000'000 ? std::optional(static_cast<int>(*number))
                                                                     : std::nullopt;
}

std::string text_at(const Node& table, std::string_view key) {
  const Node* node = table.find(key);
  return node != nullptr && node->text() != nullptr ? *node->text() : "";
}

FileResult<void> write_list(const std::string& feel, const std::vector<KeptVersion>& versions) {
  std::string text = "# The texts that this feel had, oldest first: written by stasis, read by `stasis history`.\n";
  for (const KeptVersion& one : versions) {
    text += fmt::format("\n[[version]]\nnumber = {}\nwhen = \"{}\"\n", one.number, one.when);
    if (!one.call.empty()) text += fmt::format("call = {}\n", JsonWriter().text(printable(one.call, 2000)).take());
    if (one.from) text += fmt::format("from = {}\n", *one.from);
    if (one.restores) text += fmt::format("restores = {}\n", *one.restores);
  }
  return write_file(list_of(feel), text, true);
}

/// Takes the oldest away until what is left is within bounds.
void forget_oldest(const std::string& feel, std::vector<KeptVersion>& versions, const HistoryBounds& bounds) {
  std::error_code error;
  std::size_t bytes = 0, kept = 0;
  for (auto one = versions.rbegin(); one != versions.rend(); ++one, ++kept) {
    const auto size = fs::file_size(text_file(feel, one->number), error);
    bytes += error ? 0 : static_cast<std::size_t>(size);
    if (kept >= std::max<std::size_t>(bounds.versions, 2) || (kept >= 2 && bytes > bounds.bytes)) break;
  }
  versions.erase(versions.begin(), versions.end() - static_cast<std::ptrdiff_t>(kept));
}

/// Removes the texts that the list does not name any more.
void remove_unlisted(const std::string& feel, const std::vector<KeptVersion>& before,
                     const std::vector<KeptVersion>& after) {
  std::error_code error;
  for (const KeptVersion& one : before)
    if (std::none_of(after.begin(), after.end(), [&](const KeptVersion& v) { return v.number == one.number; }))
      fs::remove(text_file(feel, one.number), error);
}

} // namespace

std::string history_folder(const std::string& feel) {
  std::error_code error;
  const fs::path real = fs::canonical(feel, error); // a link and what it leads to have one history
  const fs::path path = error ? fs::path(feel) : real;
  return (path.parent_path() / "stasis-history" / path.filename()).string();
}

FileResult<std::vector<KeptVersion>> kept_versions(const std::string& feel) {
  std::vector<KeptVersion> versions;
  const std::string list = list_of(feel);
  if (!file_exists(list)) return versions;
  const auto text = read_file(list, most_document_bytes);
  if (!text) return tl::unexpected(text.error());
  const auto document = read_toml(*text, 0);
  const Node* all = document ? document->find("version") : nullptr;
  if (!document || (all != nullptr && all->list() == nullptr))
    return tl::unexpected(FileError{
        fmt::format("{} cannot be understood; without that file the history starts over", shown_name(list)), true});
  if (all == nullptr) return versions;
  for (const Node& one : *all->list()) {
    const auto number = number_at(one, "number");
    if (number)
      versions.push_back(
          {*number, text_at(one, "when"), text_at(one, "call"), number_at(one, "from"), number_at(one, "restores")});
  }
  return versions;
}

FileResult<std::string> kept_text(const std::string& feel, int number) {
  const auto versions = kept_versions(feel);
  if (!versions) return tl::unexpected(versions.error());
  if (std::none_of(versions->begin(), versions->end(), [&](const KeptVersion& v) { return v.number == number; })) {
    const std::string known =
        versions->empty() ? "nothing is kept of it yet"
                          : fmt::format("versions {} to {} are", versions->front().number, versions->back().number);
    return tl::unexpected(
        FileError{fmt::format("version {} of {} is not kept: {}", number, shown_name(feel), known), true});
  }
  return read_file(text_file(feel, number), most_document_bytes);
}

FileResult<std::optional<KeptVersion>> version_with_text(const std::string& feel, std::string_view text) {
  const auto versions = kept_versions(feel);
  if (!versions) return tl::unexpected(versions.error());
  for (auto one = versions->rbegin(); one != versions->rend(); ++one) {
    const auto kept = read_file(text_file(feel, one->number), most_document_bytes);
    if (kept && *kept == text) return *one;
  }
  return std::optional<KeptVersion>{};
}

FileResult<void> keep_version(const std::string& feel, const NewVersion& version, const HistoryBounds& bounds) {
  if (bounds.versions == 0 || version.before == version.after) return {};
  auto versions = kept_versions(feel);
  if (!versions) return tl::unexpected(versions.error());
  const auto known = version_with_text(feel, version.before);
  if (!known) return tl::unexpected(known.error());
  if (auto made = make_folder(history_folder(feel)); !made) return made;
  const std::vector<KeptVersion> before = *versions;
  int next = before.empty() ? 1 : before.back().number + 1;
  std::optional<int> from;
  if (*known) {
    from = (*known)->number;
  } else {
    from = next++;
    // Changed by hand since Stasis wrote last.
    const std::optional<int> last = before.empty() ? std::nullopt : std::optional(before.back().number);
    versions->push_back({*from, time_now(), "", last, std::nullopt});
    if (auto done = write_file(text_file(feel, *from), version.before, true); !done) return done;
  }
  versions->push_back({next, time_now(), std::string(version.call), from, version.restores});
  if (auto done = write_file(text_file(feel, next), version.after, true); !done) return done;
  forget_oldest(feel, *versions, bounds);
  if (auto done = write_list(feel, *versions); !done) return done;
  remove_unlisted(feel, before, *versions);
  return {};
}

std::optional<VersionName> version_name(const std::string& name) {
  const auto at = name.rfind('@');
  if (at == std::string::npos || at == 0 || at + 1 == name.size() || file_exists(name)) return std::nullopt;
  int number = 0;
  const char *first = name.data() + at + 1, *last = name.data() + name.size();
  if (const auto [end, error] = std::from_chars(first, last, number); error != std::errc{} || end != last || number < 1)
    return std::nullopt;
  return VersionName{name.substr(0, at), number};
}

} // namespace stasis::io
