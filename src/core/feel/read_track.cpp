// Tracks: recorded columns checked and mended, and simple paths.
#include <algorithm>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include "core/feel/reader_for.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

constexpr std::array<std::string_view, most_components> place_names{"x", "y", "z"};
constexpr std::array<std::string_view, most_components> velocity_names{"velocity_x", "velocity_y", "velocity_z"};

/// The columns of a recording become a path: mapped, scaled, in order, without gaps.
class RecordingBuilder {
public:
  RecordingBuilder(Reading& reading, SectionReader& reader, const NumberColumns& file)
      : reading_(reading), reader_(reader), file_(file) {
    if (const auto words = reader_.texts("repair"))
      for (const std::string& word : *words) add_repair(word);
  }

  std::shared_ptr<RecordedPath> build() {
    const std::size_t before = reading_.problems.size();
    read_columns();
    if (reading_.problems.size() > before) return nullptr;
    read_times();
    if (reading_.problems.size() > before || !put_in_order() || !bridge_gaps() || !check_spacing()) return nullptr;
    if (!path_->facing.empty()) path_->facing = changed(path_->facing, UnwrapDegrees());
    return reading_.problems.size() > before ? nullptr : path_;
  }

private:
  void add_repair(const std::string& word) {
    constexpr std::array<std::string_view, 3> known{"unsorted", "repeated", "gaps"};
    if (std::find(known.begin(), known.end(), word) == known.end())
      reader_.report("feel.choice", "repair",
                     fmt::format("expected {}, found \"{}\"", listed(known, "or"), printable(word, 40)),
                     known_names(word, known));
    repairs_.push_back(word);
  }
  bool repairs(std::string_view fault) const {
    return std::find(repairs_.begin(), repairs_.end(), fault) != repairs_.end();
  }

  void report(std::size_t row, std::string_view code, std::string message, std::string hint) {
    reading_.report(code, joined_path(reader_.path(), "file"), file_.where(row), std::move(message), std::move(hint));
  }

  /// The file's column that plays a role, with its sign and scale; empty where there is none.
  NumberColumn column(std::string_view role, double scale) {
    std::string name(role);
    if (const Node* columns = reader_.find("columns")) {
      const Node* text = columns->find(role);
      if (text == nullptr || text->text() == nullptr) return {};
      name = *text->text();
    }
    const bool negative =
        name.starts_with('-') && std::find(file_.names.begin(), file_.names.end(), name) == file_.names.end();
    if (negative) name.erase(0, 1), scale = -scale;
    const auto found = std::find(file_.names.begin(), file_.names.end(), name);
    if (found == file_.names.end()) {
      if (reader_.has("columns")) report_column(role, name);
      return {};
    }
    const NumberColumn& numbers = file_.columns[static_cast<std::size_t>(found - file_.names.begin())];
    return scale == 1.0 ? numbers : changed(numbers, [&](double number) { return number * scale; });
  }

  void report_column(std::string_view role, const std::string& name) {
    std::vector<std::string_view> known(file_.header.begin(), file_.header.end());
    const Node* columns = reader_.find("columns");
    reading_.report("feel.column", joined_path(joined_path(reader_.path(), "columns"), role),
                    columns->find(role)->where, fmt::format("the file has no column \"{}\"", printable(name, 40)),
                    known_names(name, known));
  }

  void read_columns() {
    if (const Node* columns = reader_.find("columns"))
      SectionReader mapping(*columns, *find_section("track.columns"), joined_path(reader_.path(), "columns"),
                            reading_.problems);
    const double scale = reader_.number("scale").value_or(1.0);
    for (std::size_t i = 0; i < most_components; ++i) {
      path_->place[i] = column(place_names[i], scale);
      path_->velocity[i] = column(velocity_names[i], scale);
    }
    path_->facing = column("heading", 1.0);
    path_->throttle = column("throttle", 1.0);
    path_->time = column("time", reader_.choice("time_unit") == "ms" ? 1e-3 : 1.0);
    if (file_.rows() == 0 && !file_.names.empty())
      reader_.report("feel.column", "file", "the file has no row of numbers");
    else if (path_->place[0].empty())
      reader_.report("feel.column", "file", "the file has no column x, which every place needs",
                     "Say which column it is: columns = { time = \"..\", x = \"..\" }.");
  }

  void read_times() {
    const auto rate = reader_.has("rate") ? reader_.number("rate") : std::nullopt;
    if (rate && !path_->time.empty()) {
      // With a rate given, a column of times that merely bears that name is not needed.
      if (reader_.has("columns"))
        return reader_.report("feel.too_many_keys", "rate",
                              "a rate and a column of times say the same thing; give one");
      path_->time = {};
    }
    if (!path_->time.empty()) return;
    if (!rate)
      return reader_.report("feel.column", "file", "the file has no column of times, and no rate is given",
                            "Name the column, columns = { time = \"..\" }, or give rate = 60 for rows a second.");
    NumberColumnWriter times(path_->place[0].shelf());
    for (std::size_t row = 0; row < file_.rows(); ++row) times.add(static_cast<double>(row) / *rate);
    path_->time = times.finish();
  }

  template<class Change> void each_column(const Change& change) {
    for (auto* columns : {&path_->place, &path_->velocity})
      for (auto& one : *columns)
        if (!one.empty()) change(one);
    for (auto* one : {&path_->facing, &path_->throttle})
      if (!one->empty()) change(*one);
  }

  /// Puts rows in the order of `rows`, which may leave some out.
  void take_rows(const std::vector<std::size_t>& rows) {
    const auto pick = [&](NumberColumn& column) {
      NumberColumnWriter picked(column.shelf());
      for (const std::size_t row : rows) picked.add(column[row]);
      column = picked.finish();
    };
    each_column(pick);
    pick(path_->time);
  }

  bool put_in_order() {
    ColumnPass every(path_->time);
    for (std::size_t row = 0; row < every.size(); ++row)
      if (!std::isfinite(every[row])) {
        report(row, "feel.track", "this row has no time", "Every row needs a time; fill it in.");
        return false;
      }
    bool unsorted = false, repeated = false;
    ColumnPass time(path_->time);
    for (std::size_t row = 1; row < time.size(); ++row) {
      const bool back = time[row] < time[row - 1], again = time[row] == time[row - 1];
      if ((back && !repairs("unsorted")) || (again && !repairs("repeated"))) {
        report(row, "feel.track",
               again ? fmt::format("the time {} s comes twice", time[row])
                     : fmt::format("the time {} s comes after {} s", time[row], time[row - 1]),
               again ? "repair = [\"repeated\"] takes the last of such rows."
                     : "repair = [\"unsorted\"] sorts the rows.");
        return false;
      }
      unsorted = unsorted || back;
      repeated = repeated || again;
    }
    return !unsorted && !repeated ? true : sort_rows();
  }

  bool sort_rows() {
    const NumberColumn time = path_->time;
    std::vector<std::size_t> rows(time.size());
    std::iota(rows.begin(), rows.end(), std::size_t{0});
    std::stable_sort(rows.begin(), rows.end(), [&](std::size_t a, std::size_t b) { return time[a] < time[b]; });
    std::vector<std::size_t> kept;
    for (std::size_t i = 0; i < rows.size(); ++i) {
      const bool again = i + 1 < rows.size() && time[rows[i]] == time[rows[i + 1]];
      if (again && !repairs("repeated")) {
        report(std::max(rows[i], rows[i + 1]), "feel.track", fmt::format("the time {} s comes twice", time[rows[i]]),
               "repair = [\"repeated\"] takes the last of such rows.");
        return false;
      }
      if (!again) kept.push_back(rows[i]);
    }
    take_rows(kept);
    in_order_ = false;
    return true;
  }

  /// Empty cells: refused, or bridged straight; at either end the nearest number holds.
  bool bridge_gaps() {
    bool whole = true;
    each_column([&](NumberColumn& column) {
      bool any = false;
      ColumnPass numbers(column);
      for (std::size_t row = 0; row < column.size() && whole; ++row) {
        if (std::fabs(numbers[row]) > largest_number) {
          report(row, "feel.track", fmt::format("{} is too far away: places go up to 1e15", numbers[row]),
                 "scale brings it into another unit.");
          whole = false;
        }
        if (!std::isnan(numbers[row])) continue;
        any = true;
        if (!repairs("gaps")) {
          report(row, "feel.track", "a number is missing in this row",
                 "repair = [\"gaps\"] bridges such gaps straight.");
          whole = false;
        }
      }
      if (whole && any) column = bridged(column);
    });
    return whole;
  }

  NumberColumn bridged(const NumberColumn& column) const {
    const std::size_t no_row = column.size();
    std::size_t known = no_row;
    NumberColumnWriter out(column.shelf());
    ColumnPass numbers(column), time(path_->time);
    for (std::size_t row = 0; row < column.size(); ++row) {
      if (std::isnan(numbers[row])) continue;
      for (std::size_t gap = out.size(); gap < row; ++gap)
        out.add(known == no_row
                    ? numbers[row]
                    : numbers[known]
                          + (numbers[row] - numbers[known]) * (time[gap] - time[known]) / (time[row] - time[known]));
      out.add(numbers[row]);
      known = row;
    }
    while (out.size() < column.size()) out.add(known == no_row ? 0.0 : numbers[known]);
    return out.finish();
  }

  /// A hole between two rows: longer than allowed, or than is usual in a recording.
  bool check_spacing() {
    ColumnPass time(path_->time);
    constexpr std::size_t least_rows = 20;
    const auto given = reader_.has("longest_gap") ? reader_.number("longest_gap") : std::nullopt;
    if (repairs("gaps") || time.size() < 2 || (!given && time.size() < least_rows)) return true;
    double longest = given.value_or(0.0);
    if (!given) {
      constexpr double unusual = 10.0;
      longest = unusual * middle_step(path_->time);
    }
    for (std::size_t row = 1; row < time.size(); ++row) {
      if (time[row] - time[row - 1] <= longest * (1.0 + 1e-9)) continue;
      reading_.report("feel.track", joined_path(reader_.path(), "file"), in_order_ ? file_.where(row) : file_.where(0),
                      fmt::format("there is a gap of {} s before the time {} s; the longest allowed is {} s",
                                  readable(time[row] - time[row - 1]), time[row], readable(longest)),
                      "repair = [\"gaps\"] bridges it straight; longest_gap says how long one may be.");
      return false;
    }
    return true;
  }

  Reading& reading_;
  SectionReader& reader_;
  const NumberColumns& file_;
  std::shared_ptr<RecordedPath> path_ = std::make_shared<RecordedPath>();
  std::vector<std::string> repairs_;
  bool in_order_ = true;
};

class TrackSectionReader {
public:
  TrackSectionReader(Reading& reading, const Entry& entry, const SectionSpec& section, const std::string& path)
      : reading_(reading), reader_(entry.value, section, path, reading.problems) {
    track_.name = entry.key;
  }

  std::optional<Track> read() {
    track_.unit = reader_.text("unit").value_or("");
    track_.from = reader_.number("begins_at").value_or(0.0);
    const auto in = reader_.choice("in");
    track_.in = in == "about_subject"  ? TrackPlace::about_subject
                : in == "about_camera" ? TrackPlace::about_camera
                                       : TrackPlace::world;
    read_path();
    read_body();
    return reader_.is_whole() ? std::optional(std::move(track_)) : std::nullopt;
  }

private:
  void read_path() {
    using Read = void (TrackSectionReader::*)();
    static constexpr ReaderOf<Read> readers[] = {{"track.recorded", &TrackSectionReader::read_recorded},
                                                 {"track.line", &TrackSectionReader::read_line},
                                                 {"track.stop_and_go", &TrackSectionReader::read_stop_and_go},
                                                 {"track.circle", &TrackSectionReader::read_circle},
                                                 {"track.eight", &TrackSectionReader::read_eight},
                                                 {"track.steps", &TrackSectionReader::read_steps}};
    (this->*reader_for<Read>(readers, reader_.section().id))();
  }

  void read_line() { track_.path = LinePath{vector("from", true), vector("velocity", false)}; }
  void read_stop_and_go() {
    track_.path = StopAndGoPath{vector("from", true), vector("velocity", false), number("go"), number("stop")};
  }
  void read_circle() { track_.path = CirclePath{middle(), 0.5 * number("diameter"), number("speed")}; }
  void read_eight() { track_.path = EightPath{middle(), number("width"), number("height"), number("lap")}; }

  double number(std::string_view key) { return reader_.number(key, track_.unit).value_or(1.0); }

  /// One number for each component; the first that is read says how many there are.
  Components vector(std::string_view key, bool first) {
    Components out{};
    const auto values = reader_.components(key, track_.unit);
    if (!values) return out;
    if (first)
      track_.components = values->size();
    else if (values->size() != track_.components)
      reader_.report("feel.component_count", key,
                     fmt::format("the track has {} component{}, this has {}", track_.components,
                                 track_.components == 1 ? "" : "s", values->size()));
    std::copy(values->begin(), values->end(), out.begin());
    return out;
  }

  Components middle() {
    const Components centre = vector("centre", true);
    if (reader_.has("centre") && track_.components == 1)
      reader_.report("feel.component_count", "centre", "a round path needs two or three components, this has one");
    return centre;
  }

  void read_steps() {
    StepsPath path;
    path.every = number("every");
    const Node* node = reader_.find("places");
    if (node == nullptr) return;
    const NodeList* list = node->list();
    if (list == nullptr || list->empty())
      return reader_.report("feel.not_a_list", "places", "expected a list of places, such as [[0, 0], [3, 1]]");
    const KeySpec& spec = *find_key(reader_.section(), "places");
    for (std::size_t i = 0; i < list->size(); ++i) {
      const std::string place = fmt::format("{}.places[{}]", reader_.path(), i);
      const auto values = reader_.components_of((*list)[i], spec, place, track_.unit);
      if (!values) continue;
      if (i == 0) track_.components = values->size();
      if (values->size() != track_.components)
        reading_.report("feel.component_count", place, (*list)[i].where,
                        fmt::format("the first place has {} numbers, this has {}", track_.components, values->size()));
      Components out{};
      std::copy(values->begin(), values->end(), out.begin());
      path.places.push_back(out);
    }
    if (path.places.empty()) path.places.push_back({});
    track_.path = std::move(path);
  }

  void read_recorded() {
    const auto lost = reader_.choice("lost");
    track_.lost = lost == "base" ? LostRule::base : lost == "error" ? LostRule::error : LostRule::hold;
    const Node* file = reader_.find("file");
    if (file == nullptr) return;
    if (file->columns() == nullptr)
      return reader_.report("feel.not_a_text", "file", "expected the name of a CSV file beside the feel",
                            "A variant or an option cannot put another file here; name another track instead.");
    auto path = RecordingBuilder(reading_, reader_, *file->columns()).build();
    if (path == nullptr) return;
    track_.components = !path->place[2].empty() ? 3 : !path->place[1].empty() ? 2 : 1;
    if (reader_.has("cut_beyond"))
      if (const auto beyond = reader_.number("cut_beyond", track_.unit)) add_cuts(*path, *beyond);
    reading_.recorded.emplace_back(track_.name, path);
    track_.path = std::shared_ptr<const RecordedPath>(std::move(path));
  }

  void read_body() {
    track_.radius = reader_.number("radius", track_.unit).value_or(0.0);
    const auto box = reader_.components("box", track_.unit);
    if (!box) return;
    if (reader_.has("radius")) return reader_.report("feel.too_many_keys", "box", "a radius and a box; give one");
    track_.half_box = Components{};
    for (std::size_t i = 0; i < most_components; ++i)
      (*track_.half_box)[i] = 0.5 * (*box)[box->size() == 1 ? 0 : std::min(i, box->size() - 1)];
  }

  Reading& reading_;
  SectionReader reader_;
  Track track_;
};

} // namespace

void read_tracks(Reading& reading) {
  reading.each("track", [&](const Entry& entry, const std::string& path) {
    const Node* kind = entry.value.find("kind");
    const SectionSpec* section =
        kind != nullptr && kind->text() != nullptr ? find_section("track." + *kind->text()) : nullptr;
    if (section == nullptr || section->id == "track.columns") {
      report_kind(reading, entry.value, path, "track.line");
      reading.broken.push_back(entry.key);
      return;
    }
    if (auto track = TrackSectionReader(reading, entry, *section, path).read())
      reading.feel.tracks.push_back(std::move(*track));
    else
      reading.broken.push_back(entry.key);
  });
}

void add_headings(Reading& reading) {
  const Feel& feel = reading.feel;
  const auto uses_axes = [](const Channel& channel) {
    if (channel.realign) return true;
    if (!channel.follow) return false;
    const Follow& follow = *channel.follow;
    const auto turns = [](AxisFrame frame) { return frame == AxisFrame::heading || frame == AxisFrame::subject; };
    return turns(follow.offset_frame) || turns(follow.damping_frame) || follow.lead.by == Lead::By::forward_speed
           || follow.lead.by == Lead::By::throttle;
  };
  const bool any =
      std::any_of(feel.channels.begin(), feel.channels.end(), uses_axes)
      || std::any_of(feel.variables.begin(), feel.variables.end(),
                     [](const FormulaVariable& v) { return v.field == TrackField::heading; })
      || std::any_of(feel.tracks.begin(), feel.tracks.end(), [](const Track& t) { return t.half_box.has_value(); });
  if (!any) return;
  for (const auto& [name, path] : reading.recorded)
    if (const auto track = index_of(feel.tracks, name)) add_travel(*path, feel.tracks[*track].components);
}

} // namespace stasis
