// What channels follow, and the snap of their output.
#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

AxisFrame frame_named(std::string_view word) noexcept {
  return word == "heading"   ? AxisFrame::heading
         : word == "subject" ? AxisFrame::subject
         : word == "view"    ? AxisFrame::view
                             : AxisFrame::world;
}

class FollowReader {
public:
  FollowReader(Reading& reading, Channel& channel, const Node& node, const std::string& path)
      : reading_(reading), channel_(channel), reader_(node, *find_section("follow"), path, reading.problems) {}

  std::optional<Follow> read() {
    if (reader_.node().table() == nullptr) return std::nullopt;
    const std::size_t before = reading_.problems.size();
    const auto text = reader_.text("track");
    if (!text || !read_track(*text) || reading_.problems.size() > before) return std::nullopt;
    read_second();
    read_offset();
    read_kept();
    if (const Node* lead = reader_.find("lead")) read_lead(*lead);
    if (const Node* zone = reader_.find("dead_zone")) read_zone(*zone);
    follow_.starts_at_rest = reader_.choice("start") == "rest";
    check_damping();
    can_follow(reading_, channel_, reader_.path(), reader_.node().where);
    return reading_.problems.size() == before ? std::optional(follow_) : std::nullopt;
  }

private:
  const Track& track() const { return reading_.feel.tracks[follow_.track]; }

  std::optional<std::size_t> track_named(std::string_view key, const std::string& name) {
    if (const auto found = index_of(reading_.feel.tracks, name)) return found;
    if (reading_.is_broken(name)) return std::nullopt; // reported where it stands
    reading_.report_unknown(joined_path(reader_.path(), key), reader_.where(key), NameKind::track, name,
                            names_of(reading_.feel.tracks));
    return std::nullopt;
  }

  bool read_track(const std::string& text) {
    const auto dot = text.find('.');
    const auto found = track_named("track", text.substr(0, dot));
    if (!found) return false;
    follow_.track = *found;
    if (dot != std::string::npos) read_part(text.substr(dot + 1));
    const std::size_t has = follow_.part ? 1 : track().components;
    if (has != channel_.components)
      reader_.report("feel.component_count", "track",
                     fmt::format("{} has {} component{}, the track {} has {}", channel_.name, channel_.components,
                                 channel_.components == 1 ? "" : "s", text, has),
                     channel_.components == 1
                         ? fmt::format("One component of it is followed by \"{}.x\".", track().name)
                         : std::string());
    check_unit(track(), "track");
    if (channel_.space.space != Space::linear && channel_.components > 1)
      reader_.report("feel.follow", "track", "a place is followed in the space linear only",
                     "Leave the channel's space out.");
    return true;
  }

  void read_part(const std::string& letter) {
    const bool known =
        letter.size() == 1 && letter[0] >= 'x' && letter[0] < static_cast<char>('x' + track().components);
    if (known)
      follow_.part = static_cast<std::size_t>(letter[0] - 'x');
    else
      reader_.report("feel.component_count", "track",
                     fmt::format("the track {} has no component \"{}\"", track().name, printable(letter, 20)));
  }

  void check_unit(const Track& one, std::string_view key) {
    if (!one.unit.empty() && !channel_.unit.empty() && one.unit != channel_.unit && one.in == TrackPlace::world)
      reader_.report("feel.unit", key,
                     fmt::format("the track {} is in {}, but {} is in {}", one.name, printable(one.unit, 16),
                                 channel_.name, printable(channel_.unit, 16)),
                     "Bring the track to the channel's unit with `scale`.");
  }

  void read_second() {
    if (const auto name = reader_.name("second"))
      if (const auto found = track_named("second", *name)) {
        follow_.second = found;
        const Track& second = reading_.feel.tracks[*found];
        const bool fits =
            second.components == track().components || (second.in != TrackPlace::world && second.components >= 2);
        if (!fits)
          reader_.report("feel.component_count", "second",
                         fmt::format("the track {} has {} components, {} has {}", second.name, second.components,
                                     track().name, track().components));
        check_unit(second, "second");
      }
    const Node* weight = reader_.find("weight");
    if (weight == nullptr) return;
    if (!reader_.has("second")) reader_.report("feel.missing_key", "weight", "a weight goes with a second track");
    number_or_channel(reading_, reader_, "weight", follow_.weight, follow_.weight_channel);
  }

  void read_offset() {
    follow_.offset_frame = frame_named(reader_.choice("offset_in").value_or("world"));
    const auto offset = reader_.components("offset", channel_.unit);
    if (!offset) return;
    if (offset->size() != channel_.components)
      reader_.report("feel.component_count", "offset",
                     fmt::format("the channel {} has {} component{}, the offset has {}", channel_.name,
                                 channel_.components, channel_.components == 1 ? "" : "s", offset->size()));
    else
      std::copy(offset->begin(), offset->end(), follow_.offset.begin());
    if (follow_.offset_frame != AxisFrame::world && channel_.components == 1)
      reader_.report("feel.component_count", "offset_in", "a channel of one component has no axes to turn");
  }

  void read_kept() {
    for (const std::string& letter : reader_.texts("keep").value_or(std::vector<std::string>{})) {
      const bool known = letter.size() == 1 && channel_.components > 1 && letter[0] >= 'x'
                         && letter[0] < static_cast<char>('x' + channel_.components);
      if (known)
        follow_.keeps[static_cast<std::size_t>(letter[0] - 'x')] = true;
      else
        reader_.report("feel.component_count", "keep",
                       fmt::format("the channel {} has no component \"{}\"", channel_.name, printable(letter, 20)));
    }
    if (std::all_of(follow_.keeps.begin(), follow_.keeps.begin() + static_cast<std::ptrdiff_t>(channel_.components),
                    [](bool kept) { return kept; }))
      reader_.report("feel.follow", "keep", "every component is kept, so nothing follows");
  }

  void read_lead(const Node& node) {
    SectionReader reader(node, *find_section("follow.lead"), joined_path(reader_.path(), "lead"), reading_.problems);
    if (node.table() == nullptr) return;
    const auto by = reader.choice("by");
    Lead& lead = follow_.lead;
    for (const Lead::By one : {Lead::By::velocity, Lead::By::forward_speed, Lead::By::throttle})
      if (by == name_of(one)) lead.by = one;
    const char* const key = lead.by == Lead::By::throttle ? "distance" : "seconds";
    if (by && !reader.has(key)) reader.report("feel.missing_key", key, fmt::format("a lead by {} takes {}", *by, key));
    lead.amount = reader.has(key) ? reader.number(key, channel_.unit).value_or(0.0) : 0.0;
    if (reader.has("longest")) lead.longest = reader.number("longest", channel_.unit).value_or(1.0);
    read_stick(reader);
    const Node* motion = reader.find("motion");
    if (motion == nullptr) return;
    const MotionChoices choices =
        read_motion_choices(reading_, motion, joined_path(reader.path(), "motion"), channel_, channel_.name + ".lead");
    lead.motion = choices[0].rising;
    const Motion& chosen = reading_.feel.motions[choices[0].rising].motion;
    const auto* chain = std::get_if<Chain>(&chosen);
    const bool runs = std::holds_alternative<Ease>(chosen) || std::holds_alternative<Pace>(chosen)
                      || std::holds_alternative<PerFrame>(chosen)
                      || (chain != nullptr && (chain->head || chain->delay > 0.0));
    if (runs || choices[0].rising != choices[0].falling)
      reader.report("feel.motion", "motion", "a lead moves by one cut, glide or spring, or stages of them");
  }

  void read_stick(SectionReader& reader) {
    const auto name = reader.name("stick");
    if (!name) {
      if (follow_.lead.by == Lead::By::throttle && !has_throttle())
        reader.report("feel.follow", "by", fmt::format("the track {} has no column of throttle", track().name),
                      "Map one in its columns, or name a stick.");
      return;
    }
    const auto index = reading_.resolve(reader, "stick", *name, reading_.feel.controls, NameKind::control);
    if (!index) return;
    if (facts_of(reading_.feel.controls[*index]).moved_by != CueAction::stick)
      reader.report("feel.cue", "stick", fmt::format("{} is not a control of kind \"stick\"", *name));
    follow_.lead.stick = *index;
  }

  bool has_throttle() const {
    const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track().path);
    return recorded == nullptr || !(*recorded)->throttle.empty(); // a simple path is at full throttle while it goes
  }

  void read_zone(const Node& node) {
    SectionReader reader(node, *find_section("follow.dead_zone"), joined_path(reader_.path(), "dead_zone"),
                         reading_.problems);
    if (node.table() == nullptr) return;
    DeadZone zone;
    zone.is_ellipse = reader.choice("shape") == "ellipse";
    const auto in = reader.choice("in");
    zone.measure = in == "picture"  ? DeadZone::Measure::picture
                   : in == "margin" ? DeadZone::Measure::margin
                                    : DeadZone::Measure::units;
    const bool shares = zone.measure != DeadZone::Measure::units;
    const double most = zone.measure == DeadZone::Measure::margin ? 0.5 : 1.0;
    const auto size = shares ? shares_of_picture(reader, most) : reader.components("size", channel_.unit);
    if (!size) return;
    const std::size_t axes = shares ? 2 : channel_.components;
    if (size->size() != 1 && size->size() != axes)
      return reader.report("feel.component_count", "size",
                           fmt::format("expected one number or {}, found {}", axes, size->size()));
    for (std::size_t i = 0; i < axes; ++i) zone.size[i] = (*size)[size->size() == 1 ? 0 : i];
    if (shares) check_shares(reader, zone, most);
    number_or_channel(reading_, reader, "times", zone.times, zone.times_channel);
    follow_.zone = zone;
  }

  /// Shares of the picture's width and height; pixels are shares of theirs. \param most that may be written
  std::optional<std::vector<double>> shares_of_picture(SectionReader& reader, double most) {
    const Node* size = reader.find("size");
    if (size == nullptr) return reader.components("size", {});
    const std::size_t before = reading_.problems.size();
    Node shares = *size;
    if (const NodeList* list = size->list()) {
      for (std::size_t i = 0; i < list->size(); ++i) put_share(std::get<NodeList>(shares.value)[i], reader, i, most);
    } else if (size->text() != nullptr) { // as many pixels wide as high
      shares.value = NodeList{*size, *size};
      for (std::size_t i = 0; i < 2 && reading_.problems.size() == before; ++i)
        put_share(std::get<NodeList>(shares.value)[i], reader, i, most);
    }
    if (reading_.problems.size() > before) return std::nullopt;
    return reader.components_of(shares, *find_key(*find_section("follow.dead_zone"), "size"),
                                joined_path(reader.path(), "size"), {});
  }

  /// A text of pixels becomes the share that they are.
  void put_share(Node& node, const SectionReader& reader, std::size_t axis, double most) {
    if (node.text() == nullptr) return;
    const Picture& picture = reading_.feel.picture;
    const double whole = axis == 0 ? picture.width : picture.height;
    const auto quantity = parse_quantity(*node.text());
    if (quantity && quantity->unit.kind == UnitKind::pixels && quantity->value >= 0.0
        && quantity->value <= most * whole) {
      node.value = quantity->value / whole;
      return;
    }
    reading_.report("feel.out_of_bounds", joined_path(reader.path(), "size"), node.where,
                    fmt::format("expected a share of the picture's {0}, or from 0 to {1} px of it, such as \"{2} px\", "
                                "found the text \"{3}\"",
                                axis == 0 ? "width" : "height", concise(most * whole), concise(0.1 * whole),
                                printable(*node.text(), 40)));
  }

  void check_shares(SectionReader& reader, const DeadZone& zone, double most) {
    if (zone.size[0] > most || zone.size[1] > most)
      reader.report("feel.out_of_bounds", "size", fmt::format("expected shares of the picture, at most {}", most));
    const Picture& picture = reading_.feel.picture;
    const bool flat = picture.is_flat();
    if (channel_.components < 2 || (!flat && (!picture.lens_channel || !picture.distance)))
      reader.report("feel.follow", "in", "nothing says how large the picture is",
                    "[picture] needs height (a flat view), or lens and distance; the channel needs two or three "
                    "components.");
  }

  /// Motions in turned axes work on all components at once, so each must be one that has value and speed only.
  void check_damping() {
    follow_.damping_frame = frame_named(reader_.choice("damping_in").value_or("world"));
    if (follow_.damping_frame == AxisFrame::world) return;
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const MotionChoice& choice = channel_.motion[i];
      const Motion& motion = reading_.feel.motions[choice.rising].motion;
      const bool plain = std::holds_alternative<Cut>(motion) || std::holds_alternative<Glide>(motion)
                         || std::holds_alternative<Spring>(motion);
      if (plain && choice.rising == choice.falling) continue;
      return reader_.report("feel.follow", "damping_in",
                            "motions in turned axes are cuts, glides and springs, the same rising and falling");
    }
    if (channel_.components == 1)
      reader_.report("feel.component_count", "damping_in", "a channel of one component has no axes to turn");
    if (std::any_of(follow_.keeps.begin(), follow_.keeps.end(), [](bool kept) { return kept; })
        && channel_.components < most_components)
      reader_.report("feel.follow", "damping_in", "axes that turn need both components");
  }

  Reading& reading_;
  Channel& channel_;
  SectionReader reader_;
  Follow follow_;
};

/// A pose may give a track to a channel that follows nothing by itself: it follows that plainly while the pose is in
/// force.
void read_track_of_pose(Reading& reading, const Pose& pose, const PoseGoal& goal) {
  Channel& channel = reading.feel.channels[goal.channel];
  const Track& track = reading.feel.tracks[*goal.track];
  const Node* poses = reading.document.find("pose");
  const Node* declared = poses != nullptr ? poses->find(pose.name) : nullptr;
  const Node* node = declared != nullptr ? declared->find(channel.name) : nullptr;
  const std::string path = joined_path(joined_path("pose", pose.name), channel.name);
  const Position where = node != nullptr ? node->where : Position{};
  if (!channel.follow || channel.follow->only_in_poses) {
    if (track.components != channel.components)
      return reading.report("feel.component_count", path, where,
                            fmt::format("the track {} has {} components, the channel {} {}", track.name,
                                        track.components, channel.name, channel.components));
  }
  if (channel.follow) return;
  const Node* of_channel = reading.document.find("channel")->find(channel.name);
  for (const char* key : {"formula", "keeps_width", "profile", "realign", "obstacles", "placed"})
    if (of_channel != nullptr && of_channel->find(key) != nullptr)
      return reading.report("feel.two_owners", path, where,
                            fmt::format("{} has its own {}, which says where its home is; it cannot follow {} as well",
                                        channel.name, key, track.name));
  if (!can_follow(reading, channel, path, where)) return;
  channel.follow.emplace();
  channel.follow->track = *goal.track;
  channel.follow->only_in_poses = true;
}

} // namespace

void read_follows(Reading& reading) {
  const Node* channels = reading.document.find("channel");
  if (channels == nullptr || channels->table() == nullptr) return;
  const auto read_own = [&](const Entry& entry) {
    const auto index = index_of(reading.feel.channels, entry.key);
    const Node* follow = entry.value.find("follow");
    if (!index || follow == nullptr) return;
    Channel& channel = reading.feel.channels[*index];
    const std::string path = joined_path(joined_path("channel", entry.key), "follow");
    if (entry.value.find("formula") != nullptr) {
      reading.report("feel.two_owners", path, follow->where,
                     fmt::format("{} has a formula already; one thing says where its home is", channel.name));
      return;
    }
    if (follow->text() == nullptr) {
      channel.follow = FollowReader(reading, channel, *follow, path).read();
      return;
    }
    Node table{NodeTable{{"track", follow->where, *follow}}, follow->where};
    channel.follow = FollowReader(reading, channel, table, path).read();
  };
  for (const Entry& entry : *channels->table()) read_own(entry);
  for (const Pose& pose : reading.feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.track) read_track_of_pose(reading, pose, goal);
}

} // namespace stasis
