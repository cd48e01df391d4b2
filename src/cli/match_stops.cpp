#include "cli/match_stops.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/match/row_cleaning.hpp"
#include "core/recorded/led_space.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "figure/stops_figure.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr std::size_t most_columns = 24;

class MatchStops {
public:
  MatchStops(const StopsCall& call, Streams streams) : call_(call), match_(*call.match), streams_(streams) {}

  Exit run() {
    if (const Exit fine = check_call(); fine != Exit::fine) return fine;
    auto opened = OpenedRecording::open(match_.table, streams_.err);
    if (!opened) return opened.error();
    recording_.emplace(std::move(*opened));
    if (const Exit fine = read(); fine != Exit::fine) return fine;
    find();
    const std::string table = sequence_text();
    if (call_.json)
      streams_.out.exact_line(json(table));
    else
      print(table);
    if (call_.figure != "none")
      if (const auto drawn = draw(); !drawn) return failed(drawn.error(), streams_.err);
    if (!call_.write.empty())
      if (const Exit written =
              add_table(*target_, table, call_.typed, call_.json ? streams_.err : streams_.out, streams_.err);
          written != Exit::fine)
        return written;
    return holds() ? Exit::fine : Exit::does_not_hold;
  }

private:
  // --- what is asked for

  Exit refuse(const std::string& message) const {
    print_error(message, streams_.err);
    return Exit::bad_input;
  }

  Exit check_call() {
    for (const auto& [option, given] : {std::pair{"--start", !match_.start.empty()},
                                        {"--from", !match_.from.empty()},
                                        {"--goal", !match_.goal.empty()},
                                        {"--goal-from", !match_.goal_from.empty()},
                                        {"--kinds", !match_.kinds.empty()}})
      if (given) return refuse(fmt::format("{} belongs to a move; --stops takes the whole path.", option));
    if (call_.write.empty()) return Exit::fine;
    target_ = new_table(call_.write, "sequence");
    if (!target_)
      return refuse(fmt::format("--write: with --stops expected FEEL:sequence.NAME, such as weir.toml:sequence.caught, "
                                "found \"{}\".",
                                printable(call_.write, 80)));
    return Exit::fine;
  }

  /// The columns named, "focus" meaning focus.x, focus.y and focus.z where there are such.
  Exit read() {
    if (match_.value.empty())
      return recording_->refuse("--stops: say with --value which columns are led, such as --value focus,yaw,fov");
    std::vector<std::size_t> places;
    for (const std::string_view part : split(match_.value, ',')) {
      const std::string name(trimmed(part));
      std::vector<std::string> all;
      if (!recording_->has_column(name))
        for (const std::string_view suffix : component_suffixes)
          if (recording_->has_column(name + std::string(suffix))) all.push_back(name + std::string(suffix));
      if (all.empty()) all.push_back(name);
      for (const std::string& one : all) {
        const auto column = recording_->column("--value", one);
        if (!column) return column.error();
        if (std::find(places.begin(), places.end(), *column) != places.end())
          return recording_->refuse(fmt::format("--value: \"{}\" is named twice", printable(one, 60)));
        places.push_back(*column);
        names_.push_back(one);
      }
    }
    if (places.size() > most_columns)
      return recording_->refuse(fmt::format("--value: up to {} columns, found {}", most_columns, places.size()));
    auto rows = recording_->rows(places);
    if (!rows) return rows.error();
    clean(*rows);
    times_ = std::move(rows->times);
    constexpr std::size_t fewest_rows = 8;
    if (times_.size() < fewest_rows)
      return recording_->refuse(fmt::format("a path needs {} rows at least, {} are left", fewest_rows, times_.size()));
    for (std::vector<double>& values : rows->cells) {
      LedColumn column;
      column.values = std::move(values);
      columns_.push_back(std::move(column));
    }
    if (const Exit fine = take_spaces(); fine != Exit::fine) return fine;
    return take_within();
  }

  /// Without the rows that repeat the one before while anything moves, and those far off their neighbours. Of columns
  /// without noise none is: two rows at one place are a short rest.
  void clean(NumberRows& rows) {
    std::vector<std::size_t> kept_by(rows.times.size(), 0);
    RowCleaning cleaning;
    for (const std::vector<double>& column : rows.cells) {
      const auto [low, high] = std::minmax_element(column.begin(), column.end());
      constexpr double hardly = 1e-3; // of the way
      if (digit_of(column) == 0.0 && noise_of(column) < hardly * (*high - *low)) {
        for (std::size_t& kept : kept_by) ++kept;
        continue;
      }
      for (const std::size_t k : clean_rows(column, cleaning)) ++kept_by[k];
    }
    const auto drop = [&](std::vector<double>& values) {
      std::size_t place = 0;
      std::erase_if(values, [&](double) { return kept_by[place++] < rows.cells.size(); });
    };
    const std::size_t before = rows.times.size();
    drop(rows.times);
    for (std::vector<double>& column : rows.cells) drop(column);
    if (const std::size_t dropped = before - rows.times.size(); dropped > 0)
      notes_.push_back(fmt::format("{} row{} left out, repeated or far off", dropped, dropped == 1 ? "" : "s"));
  }

  /// "zoom" for all columns, or "fov=zoom" for one.
  Exit take_spaces() {
    is_space_given_.assign(columns_.size(), false);
    for (const std::string& word : match_.spaces) {
      const auto equals = word.find('=');
      const std::string of = equals == std::string::npos ? "" : word.substr(0, equals);
      const std::string name = equals == std::string::npos ? word : word.substr(equals + 1);
      std::optional<Space> space;
      for (const Space one : {Space::linear, Space::ratio, Space::turn, Space::zoom})
        if (name == name_of(one)) space = one;
      if (!space) {
        constexpr std::array<std::string_view, 4> known{"linear", "ratio", "turn", "zoom"};
        return recording_->refuse(fmt::format("--space: there is no space \"{}\".{} Known: {}", printable(name, 20),
                                              did_you_mean(name, known), listed(known)));
      }
      bool any = false;
      for (std::size_t c = 0; c < columns_.size(); ++c) {
        const bool is_meant =
            of.empty() || names_[c] == of
            || (names_[c].starts_with(of) && names_[c].size() == of.size() + 2 && names_[c][of.size()] == '.');
        if (!is_meant) continue;
        any = true;
        if (!can_be(c, *space))
          return recording_->refuse(
              fmt::format("--space: {} holds values that {} cannot", printable(names_[c], 60), name_of(*space)));
        set_space(c, *space);
        is_space_given_[c] = true;
      }
      if (!any)
        return recording_->refuse(
            fmt::format("--space: \"{}\" is not one of the columns of --value", printable(of, 60)));
    }
    return Exit::fine;
  }

  SpaceMap space_map(Space space) const {
    const bool is_radians = match_.unit == "rad";
    return {space, is_radians ? 1.0 : radians(1.0), is_radians ? whole_turn : 360.0};
  }

  void set_space(std::size_t c, Space space) {
    columns_[c].space = space_map(space);
    if (space == Space::turn) unwrap(columns_[c].values, columns_[c].space.units_per_turn);
  }

  bool can_be(std::size_t c, Space space) const {
    const auto [low, high] = std::minmax_element(columns_[c].values.begin(), columns_[c].values.end());
    const double half_turn = match_.unit == "rad" ? 0.5 * whole_turn : 180.0;
    switch (space) {
    case Space::linear:
    case Space::turn: return true;
    case Space::ratio: return *low > 0.0;
    case Space::zoom: return *low > 0.0 && *high < half_turn;
    }
    return false;
  }

  /// An angle that was cut at a whole turn goes on instead.
  static void unwrap(std::vector<double>& values, double turn) {
    double added = 0.0;
    for (std::size_t k = 1; k < values.size(); ++k) {
      values[k] += added;
      const double turns = std::round((values[k] - values[k - 1]) / turn);
      values[k] -= turns * turn;
      added -= turns * turn;
    }
  }

  Exit take_within() {
    const std::vector<std::string_view> words = split(call_.within, ',');
    const std::size_t named = split(match_.value, ',').size();
    if (words.size() > 1 && words.size() != columns_.size() && words.size() != named)
      return recording_->refuse(
          fmt::format("--within: one number for all columns, or {}, found {}", columns_.size(), words.size()));
    std::vector<double> given;
    for (const std::string_view word : words) {
      const auto number = number_option("--within", std::string(trimmed(word)), 1e-12, 1e12, false, streams_.err);
      if (!number) return number.error();
      given.push_back(*number);
    }
    const auto groups = split(match_.value, ',');
    for (std::size_t c = 0; c < columns_.size(); ++c) {
      LedColumn& column = columns_[c];
      if (given.empty()) {
        column.within = usual_within(column.values);
        continue;
      }
      std::size_t place = given.size() == columns_.size() ? c : 0;
      if (given.size() != columns_.size())
        for (std::size_t g = 0; g < given.size(); ++g)
          if (names_[c].starts_with(trimmed(groups[g]))) place = g;
      column.within = given[place];
    }
    return Exit::fine;
  }

  // --- what is found

  void find() {
    std::vector<SpaceChoice> choices;
    std::vector<std::string> channels;
    for (const ColumnGroup& group : groups_of(names_)) {
      const auto is_given = [&](std::size_t c) { return is_space_given_[c]; };
      if (std::any_of(group.columns.begin(), group.columns.end(), is_given)) continue;
      choices.push_back(choice_of(group));
      channels.push_back(printable(group.channel, 60));
    }
    // Where nobody said how near, few stops that nearly pass a stretch say more than many that pass it exactly.
    const std::vector<double> looser{1e-4, 1e-3, 1e-2, 3e-2, 0.1}; // of the way
    found_ = find_stops_and_spaces(times_, columns_, choices, call_.within.empty() ? looser : std::vector<double>{});
    for (std::size_t c = 0; c < columns_.size(); ++c) loosened_ = loosened_ || found_.within[c] > columns_[c].within;
    for (std::size_t c = 0; c < choices.size(); ++c)
      if (choices[c].chosen != 0)
        notes_.push_back(
            fmt::format("{0} is taken for a channel with space = \"{1}\"; --space {0}=linear says otherwise",
                        channels[c], name_of(choices[c].spaces[choices[c].chosen].space)));
  }

  /// The spaces in which a channel may have been led, where nobody said which.
  SpaceChoice choice_of(const ColumnGroup& group) const {
    SpaceChoice choice{group.columns, {columns_[group.columns.front()].space}};
    const bool may_be_a_lens = match_.unit == "deg" || match_.unit == "rad" || group.channel.starts_with("fov");
    for (const Space space : {Space::zoom, Space::ratio}) {
      const bool can = std::all_of(group.columns.begin(), group.columns.end(),
                                   [&](std::size_t column) { return can_be(column, space); });
      if (can && (space != Space::zoom || may_be_a_lens)) choice.spaces.push_back(space_map(space));
    }
    return choice;
  }

  bool holds() const {
    for (std::size_t c = 0; c < columns_.size(); ++c)
      if (found_.off[c] > 1.001 * found_.within[c]) return false;
    return true;
  }

  // --- what is said

  static std::string key(const std::string& name) {
    const bool is_bare = !name.empty() && std::all_of(name.begin(), name.end(), [](char letter) {
      return (letter >= 'a' && letter <= 'z') || (letter >= 'A' && letter <= 'Z') || is_digit(letter) || letter == '_'
             || letter == '-';
    });
    if (is_bare) return name;
    std::string quoted = "\"";
    for (const char letter : printable(name, 200)) {
      if (letter == '"' || letter == '\\') quoted += '\\';
      quoted += letter;
    }
    return quoted + "\"";
  }

  std::string stop_text(const FoundStop& stop) const {
    std::vector<std::string> parts;
    if (stop.way != SequenceStop::Way::cut) parts.push_back("after = " + shortest(stop.after));
    for (const ColumnGroup& group : groups_of(names_)) {
      const bool whole = group.columns.size() > 1
                         && std::any_of(group.columns.begin(), group.columns.end(),
                                        [&](std::size_t c) { return stop.values[c].has_value(); });
      if (whole && std::all_of(group.columns.begin(), group.columns.end(), [&](std::size_t c) {
            return stop.values[c].has_value();
          })) {
        std::string list;
        for (const std::size_t c : group.columns) list += (list.empty() ? "" : ", ") + shortest(*stop.values[c]);
        parts.push_back(fmt::format("{} = [{}]", key(group.channel), list));
        continue;
      }
      for (const std::size_t c : group.columns)
        if (stop.values[c]) parts.push_back(fmt::format("{} = {}", key(names_[c]), shortest(*stop.values[c])));
    }
    if (stop.way == SequenceStop::Way::cut) parts.emplace_back("cut = true");
    if (stop.way == SequenceStop::Way::eased) parts.push_back(fmt::format("curve = \"{}\"", stop.curve));
    if (stop.hold > 0.0) parts.push_back("hold = " + shortest(stop.hold));
    return fmt::format("{{ {} }}", fmt::join(parts, ", "));
  }

  std::string name() const { return target_ ? target_->name : "caught"; }

  std::string sequence_text() const {
    std::string out = fmt::format("[sequence.{}]  # from {}\n", key(name()), printable(match_.table.recording, 200));
    if (found_.begins_moving) out += "ease_in = 0\n";
    if (found_.ends_moving) out += "ease_out = 0\n";
    out += "stops = [\n";
    for (const FoundStop& stop : found_.stops) out += "  " + stop_text(stop) + ",\n";
    return out + "]\n";
  }

  std::vector<std::string> cautions() const {
    std::vector<std::string> out;
    if (loosened_) out.emplace_back("--within was not given, and few stops do not pass a part of the path exactly");
    if (!holds())
      out.emplace_back("no list of stops that these rows can determine passes it so nearly: try a larger --within, a "
                       "part by --between, or more rows a second");
    if (const std::vector<std::string> hasty = hasty_stops(); !hasty.empty()) {
      constexpr std::size_t most_named = 6;
      const std::vector<std::string_view> names(hasty.begin(), hasty.end());
      out.push_back(fmt::format("too few rows lie on the way to {} to tell how long it takes and along which curve; "
                                "more rows a second would",
                                hasty.size() > most_named ? fmt::format("{} of the stops", hasty.size())
                                : hasty.size() == 1       ? "stop " + hasty.front()
                                                          : "stops " + listed(names)));
    }
    for (std::size_t c = 0; c < columns_.size(); ++c)
      // What was not given is told by a note.
      if (is_space_given_[c] && columns_[c].space.space != Space::linear)
        out.push_back(fmt::format("{} belongs to a channel with space = \"{}\"", printable(names_[c], 60),
                                  name_of(columns_[c].space.space)));
    return out;
  }

  /// The numbers of the stops that are come to within fewer rows than tell a leg.
  std::vector<std::string> hasty_stops() const {
    constexpr auto enough_rows = 5;
    std::vector<std::string> out;
    double now = times_.front();
    for (std::size_t s = 0; s < found_.stops.size(); ++s) {
      const FoundStop& stop = found_.stops[s];
      const auto first = std::upper_bound(times_.begin(), times_.end(), now);
      now += stop.after;
      const auto rows = std::lower_bound(times_.begin(), times_.end(), now) - first;
      if (stop.way != SequenceStop::Way::cut && rows < enough_rows) out.push_back(std::to_string(s + 1));
      now += stop.hold;
    }
    return out;
  }

  std::size_t times_given(std::size_t column) const {
    return static_cast<std::size_t>(std::count_if(found_.stops.begin(), found_.stops.end(), [&](const FoundStop& stop) {
      return stop.values[column].has_value();
    }));
  }

  void print(const std::string& table) const {
    Output& out = streams_.out;
    out.line(fmt::format("{}: {} rows from {} to {} s, passed by {} stop{}", printable(match_.table.recording, 200),
                         times_.size(), concise(times_.front(), 4), concise(times_.back(), 4), found_.stops.size(),
                         found_.stops.size() == 1 ? "" : "s"));
    for (const auto* notes : {&recording_->notes, &notes_})
      for (const std::string& note : *notes) out.write(wrapped("note: " + note, "  ", line_width() - 2));
    TextTable rows({"column", "off by at most", "allowed", "given at"}, {false, true, true, true});
    for (std::size_t c = 0; c < columns_.size(); ++c)
      rows.add({printable(names_[c], 40), readable(found_.off[c], 2), readable(found_.within[c], 2),
                fmt::format("{} stop{}", times_given(c), times_given(c) == 1 ? "" : "s")});
    out.write(rows.text());
    for (const std::string& words : cautions()) out.write(wrapped(words, "  ", line_width() - 2));
    out.exactly(table);
    out.exact_line(fmt::format("begun by: cues = [{{ at = {}, start = \"{}\" }}]",
                               concise(std::max(0.0, times_.front()), 6), name()));
  }

  static std::string_view word_of(SequenceStop::Way way) noexcept {
    switch (way) {
    case SequenceStop::Way::flown: return "flown";
    case SequenceStop::Way::eased: return "eased";
    case SequenceStop::Way::moved: return "moved";
    case SequenceStop::Way::cut: return "cut";
    }
    return "";
  }

  std::string json(const std::string& table) const {
    io::JsonWriter json;
    json.begin_object().key("stasis").text(version).key("recording").text(printable(match_.table.recording, 10'000));
    json.key("rows").integer(static_cast<long long>(times_.size())).key("columns").begin_array();
    for (std::size_t c = 0; c < columns_.size(); ++c) {
      json.begin_object().key("name").text(printable(names_[c], 10'000));
      json.key("space").text(name_of(columns_[c].space.space));
      json.key("within").number(found_.within[c]).key("off").number(found_.off[c]).end_object();
    }
    json.end_array().key("holds").flag(holds()).key("begins_moving").flag(found_.begins_moving);
    json.key("ends_moving").flag(found_.ends_moving).key("stops").begin_array();
    double now = times_.front();
    for (const FoundStop& stop : found_.stops) {
      now += stop.after;
      json.begin_object().key("way").text(word_of(stop.way)).key("reached").number(now);
      json.key("after").number(stop.after).key("hold").number(stop.hold).key("curve").text(stop.curve);
      json.key("values").begin_object();
      for (std::size_t c = 0; c < columns_.size(); ++c)
        if (stop.values[c]) json.key(printable(names_[c], 10'000)).number(*stop.values[c]);
      json.end_object().end_object();
      now += stop.hold;
    }
    json.end_array().key("sequence").text(table).key("notes").begin_array();
    for (const auto& notes : {recording_->notes, notes_, cautions()})
      for (const std::string& note : notes) json.text(note);
    return json.end_array().end_object().take();
  }

  io::FileResult<void> draw() const {
    figure::StopsDrawing drawing;
    drawing.title = fmt::format("{}: led through {} stop{}", stem_of(match_.table.recording), found_.stops.size(),
                                found_.stops.size() == 1 ? "" : "s");
    double worst = 0.0;
    for (std::size_t c = 0; c < columns_.size(); ++c) worst = std::max(worst, found_.off[c] / found_.within[c]);
    drawing.subtitle =
        fmt::format("{} rows; the worst is off by {} % of what is allowed", times_.size(), readable(100.0 * worst, 2));
    drawing.times = times_;
    drawing.names = names_;
    drawing.columns = &columns_;
    drawing.found = &found_;
    return draw_into({call_.out, call_.figure, call_.force},
                     {{"stops." + stem_of(match_.table.recording), figure::stops_figure(drawing)}},
                     call_.json ? streams_.err : streams_.out, streams_.err);
  }

  const StopsCall& call_;
  const MatchCall& match_;
  Streams streams_;
  std::optional<OpenedRecording> recording_;
  std::vector<std::string> names_;
  std::vector<LedColumn> columns_;
  std::vector<bool> is_space_given_;
  std::vector<double> times_;
  std::vector<std::string> notes_;
  FoundStops found_;
  bool loosened_ = false;
  std::optional<NewTable> target_;
};

} // namespace

Exit run_match_stops(const StopsCall& call, Streams streams) { return MatchStops(call, streams).run(); }

} // namespace stasis::cli
