// What the parts of read_feel share: the feel so far, the problems found, and how names are looked up.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"
#include "core/feel/key_table.hpp"
#include "core/feel/read_feel.hpp"
#include "core/feel/section_reader.hpp"

namespace stasis {

template<class Named> std::optional<std::size_t> index_of(const std::vector<Named>& all, std::string_view name) {
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].name == name) return i;
  return std::nullopt;
}

template<class Named> std::vector<std::string_view> names_of(const std::vector<Named>& all) {
  std::vector<std::string_view> names;
  for (const Named& one : all) names.push_back(one.name);
  return names;
}

struct Reading {
  const Node& document;
  const KnownNames& vocabulary;
  Feel feel;
  Problems problems;
  std::vector<std::pair<std::string, std::shared_ptr<RecordedPath>>> recorded; ///< by name of the track
  std::vector<std::string> broken; ///< names of motions and curves that are there but wrong, reported already

  explicit Reading(const Node& root, const KnownNames& names = no_names) : document(root), vocabulary(names) {}

  void report(std::string_view code, std::string path, Position where, std::string message, std::string hint = {}) {
    problems.push_back({std::string(code), std::move(path), where, std::move(message), std::move(hint)});
  }

  bool is_broken(std::string_view name) const noexcept;
  /// The document has no table of this name, but one of a name close to it, which is reported as such: nothing else is
  /// said of what stands there.
  bool is_misspelt(std::string_view section) const;
  /// True if there is no channel because of that: what names one says no more than the misspelling.
  bool lacks_channels() const { return feel.channels.empty() && is_misspelt("channel"); }

  /// Visits the named tables under `key`: (entry, path).
  template<class Visit> void each(std::string_view key, Visit visit) {
    const Node* tables = named_tables(key);
    if (tables == nullptr) return;
    for (const Entry& entry : *tables->table()) visit(entry, joined_path(key, entry.key));
  }
  /// Visits the tables of the list under `key`: (node, path).
  template<class Visit> void each_of_list(std::string_view key, Visit visit) {
    const Node* list = list_of_tables(key);
    if (list == nullptr) return;
    for (std::size_t i = 0; i < list->list()->size(); ++i)
      visit((*list->list())[i], std::string(key) + "[" + std::to_string(i) + "]");
  }

  void report_unknown(const std::string& path, Position where, NameKind kind, std::string_view name,
                      std::span<const std::string_view> known);

  /// The index of the thing that the key names. Nothing where there is none, which is said here, or where the tables of
  /// its kind are, if their own name is misspelt.
  template<class Named>
  std::optional<std::size_t> resolve(SectionReader& reader, std::string_view key, const std::string& name,
                                     const std::vector<Named>& all, NameKind kind) {
    if (const auto found = index_of(all, name)) return found;
    const auto known = names_of(all);
    report_unknown(joined_path(reader.path(), key), reader.where(key), kind, name, known);
    return std::nullopt;
  }

private:
  const Node* named_tables(std::string_view key);
  const Node* list_of_tables(std::string_view key);
};

/// The table of a kind with the keys that it cannot do without, to be filled in: `{ kind = "glide", half_life = ... }`.
std::string table_of_kind(std::string_view kind, const SectionSpec& section);

/// Says what is wrong with the key `kind` of a table of a family such as "motion.": absent, no text, or no such kind.
/// \param section any section of the family; its key `kind` lists them all.
void report_kind(Reading& reading, const Node& node, const std::string& path, std::string_view section);

void read_curves(Reading& reading);
void read_motions(Reading& reading);
void read_channels(Reading& reading);
void read_tracks(Reading& reading);
void read_poses(Reading& reading);
/// Goals of channels: all keys of the reader's table that are none of its section.
std::vector<PoseGoal> read_goals(Reading& reading, SectionReader& reader);
/// Motions under a key, of all those channels or by channel. \param owner whose goals they are, for names.
// many: what is read, where, for whom, and into which of two motions
void read_goal_motions(Reading& reading, SectionReader& reader, const char* key,
                       std::optional<MotionChoices> PoseGoal::*motion, const std::string& owner,
                       std::vector<PoseGoal>& goals);
/// Sequences. After tracks, controls and the picture.
void read_sequences(Reading& reading);
void read_controls(Reading& reading);
void read_groups(Reading& reading);
void read_switches(Reading& reading);
/// Motions and settings that a variant names, or that a shared file brings along: last of all.
void mark_used_elsewhere(Reading& reading);
/// Which way recorded subjects travel, where anything asks for it. After all that may ask.
void add_headings(Reading& reading);
/// Shakes. After channels, curves, tracks and the picture.
void read_shakes(Reading& reading);
/// What channels follow. After controls, whose sticks may be a throttle.
void read_follows(Reading& reading);
/// The formulas of channels, which may read any channel and control; the order in which channels are worked out.
void read_formulas(Reading& reading);
/// Profiles. After formulas and follows, which own goals too.
void read_profiles(Reading& reading);
/// A distance that keeps the subject's size. After profiles, which own goals too.
void read_kept_widths(Reading& reading);
/// Obstacles. After tracks and the picture.
void read_obstacles(Reading& reading);
/// What obstacles hold in, and an eye that is placed. After obstacles, and all else that owns goals.
void read_obstacle_rules(Reading& reading);
/// The obstacles that stand in a take.
void read_take_obstacles(Reading& reading, SectionReader& reader, Take& take);
/// What turns back to a heading by itself. After tracks and formulas.
void read_realigns(Reading& reading);
/// After all that channels read of each other: the order in which they are worked out.
void read_order(Reading& reading);
/// After controls and formulas: two that own one component's home.
void check_control_owners(Reading& reading);
/// The clock of a take.
void read_clock(Reading& reading, SectionReader& reader, Take& take);
/// The cues of a take, sorted by time.
void read_cues(Reading& reading, SectionReader& reader, Take& take);
/// A control and which of its buttons.
struct ControlButton {
  std::size_t control, button;
};
/// Every control that a name presses: a control by its own name, or all that have a button of that name.
std::vector<ControlButton> buttons_named(const Feel& feel, const std::string& name);
/// What a take's recorded input does, as cues that are not sorted yet.
void read_recorded_input(Reading& reading, SectionReader& reader, Take& take);
void read_takes(Reading& reading);
void read_picture(Reading& reading);
void read_settings(Reading& reading);
void read_wants(Reading& reading);
void read_silences(Reading& reading);

/// A number, or the component whose value is taken instead. Without the key, its default.
void number_or_channel(Reading& reading, SectionReader& reader, std::string_view key, double& number,
                       std::optional<ComponentRef>& channel);
/// Motions that take longer or shorter. After motions.
void read_motion_times(Reading& reading);

/// The component that `text` names: "fov", or "focus.y" of a channel of several; a problem under `key` where there is
/// none.
std::optional<ComponentRef> component_named(Reading& reading, SectionReader& reader, std::string_view key,
                                            const std::string& text);
/// The motions by component that `node` describes for a channel: one for all, by direction, or by component; cuts where
/// there is no node.
MotionChoices read_motion_choices(Reading& reading, const Node* node, const std::string& path, const Channel& channel,
                                  const std::string& own_name);
/// False, with a problem at `path`, where a motion of the channel waits and so cannot follow a goal that moves.
bool can_follow(Reading& reading, const Channel& channel, const std::string& path, Position where);
/// False, with a problem, where a value cannot lie in the channel's space.
bool is_in_space(Reading& reading, const std::string& path, Position where, const Channel& channel, double value);

} // namespace stasis
