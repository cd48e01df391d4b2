#include "core/feel/read_feel.hpp"

#include <algorithm>
#include <map>
#include <tuple>

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Names are well formed, and unique across kinds; a control may share the name of a pose.
void check_names(Reading& reading) {
  std::map<std::string, std::string, std::less<>> taken;
  for (const std::string_view kind : {"channel", "motion", "curve", "track", "pose", "control", "switch", "sequence",
                                      "group", "shake", "profile", "obstacle", "take", "setting", "variant"})
    reading.each(kind, [&](const Entry& entry, const std::string& path) {
      if (!is_valid_name(entry.key)) {
        reading.report("feel.name", path, entry.where, fmt::format("\"{}\" cannot be a name", printable(entry.key, 60)),
                       "A name is a small letter, then small letters, digits and underscores, at most 64 in all.");
        return;
      }
      if (kind == "channel" && find_key(*find_section("pose"), entry.key) != nullptr) {
        reading.report("feel.name", path, entry.where,
                       fmt::format("a channel cannot be named {}, which means something else in a pose", entry.key));
        return;
      }
      const auto [at, fresh] = taken.emplace(entry.key, kind);
      if (fresh || (at->second == "pose" && kind == "control")) return;
      reading.report("feel.name_taken", path, entry.where,
                     fmt::format("there is already a {} named {}", at->second, entry.key),
                     "Names are unique across kinds; only a control may share the name of a pose.");
    });
}

void check_whole(Reading& reading) {
  if (!reading.feel.channels.empty() || !reading.problems.empty() || is_rules_only(reading.document)) return;
  reading.report("feel.no_channel", "channel", {}, "the feel has no channel, so nothing can move",
                 "Add one, such as [channel.fov] with unit = \"deg\" and rest = 62. `stasis new` writes a feel to "
                 "start from.");
}

} // namespace

bool is_valid_name(std::string_view name) noexcept {
  constexpr std::size_t longest = 64;
  const auto allowed = [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_'; };
  return !name.empty() && name.size() <= longest && name.front() >= 'a' && name.front() <= 'z'
         && std::all_of(name.begin(), name.end(), allowed);
}

Result<Feel> read_feel(const Node& document, const KnownNames& known) {
  Reading reading(document, known);
  SectionReader root(document, *find_section("feel"), "", reading.problems);
  if (document.table() != nullptr) {
    root.number("feel");
    root.number("history"); // read where a feel is written
    reading.feel.title = root.text("title").value_or("");
    check_names(reading);
    // Each part may refer to those before it.
    read_curves(reading);
    read_motions(reading);
    read_channels(reading);
    read_tracks(reading);
    read_poses(reading);
    read_controls(reading);
    read_groups(reading);
    read_switches(reading);
    read_picture(reading);
    read_sequences(reading);
    read_obstacles(reading);
    read_shakes(reading);
    read_follows(reading);
    read_formulas(reading);
    read_profiles(reading);
    read_kept_widths(reading);
    read_realigns(reading);
    read_obstacle_rules(reading);
    read_motion_times(reading);
    read_order(reading);
    add_headings(reading);
    check_control_owners(reading);
    read_takes(reading);
    read_settings(reading);
    read_wants(reading);
    read_silences(reading);
    mark_used_elsewhere(reading);
    check_whole(reading);
  }
  if (reading.problems.empty()) return std::move(reading.feel);
  std::stable_sort(reading.problems.begin(), reading.problems.end(), [](const Problem& a, const Problem& b) {
    return std::tie(a.where.source, a.where.line, a.where.column)
           < std::tie(b.where.source, b.where.line, b.where.column);
  });
  return tl::unexpected(std::move(reading.problems));
}

} // namespace stasis
