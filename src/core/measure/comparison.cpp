#include "core/measure/comparison.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/goal_source.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Below this speed of setting off, in lengths of the move per settling time, a start is soft.
constexpr double least_kick = 0.05;

std::optional<double> measure_of(const Contender& c, std::size_t channel, std::string_view name) {
  return channel_measure(*c.feel, c.measures, channel, name);
}

const Move* last_move(const Contender& c, std::size_t channel) noexcept {
  const Move* last = nullptr;
  for (const Move& move : c.measures.moves)
    if (move.channel == channel) last = &move;
  return last;
}

bool only_jumps(const Contender& c, std::size_t channel) {
  bool any = false;
  for (const Move& move : c.measures.moves) {
    if (move.channel != channel) continue;
    any = true;
    if (!traits_of(c.feel->motions[move.motion[0]].motion).jumps) return false;
  }
  return any;
}

std::string with_unit(double value, const std::string& unit) {
  return readable(value) + (unit.empty() ? "" : " " + printable(unit, 16));
}

/// \param moves_a, moves_b whether there is a move at all that could settle
// many: two of each
void add_settling(std::vector<std::string>& parts, const std::optional<double>& a, bool moves_a,
                  const std::optional<double>& b, bool moves_b) {
  constexpr double noticeable = 0.005; // s
  if (a && !b && moves_b) parts.emplace_back("does not settle where the other does");
  if (!a && b && moves_a) parts.emplace_back(fmt::format("settles (in {} s) where the other does not", readable(*b)));
  if (a && b && std::fabs(*b - *a) >= noticeable)
    parts.push_back(fmt::format("settles {} s {}", readable(std::fabs(*b - *a), 2), *b < *a ? "sooner" : "later"));
}

void add_overshoot(std::vector<std::string>& parts, const std::optional<double>& measured_a,
                   const std::optional<double>& measured_b) {
  constexpr double visible = 0.05;        // per cent
  if (!measured_a || !measured_b) return; // nothing is said of what was not measured
  const double a = *measured_a, b = *measured_b;
  if (std::fabs(a - b) < visible) return;
  if (a < visible)
    parts.push_back(fmt::format("overshoots {} % where there was none", readable(b, 2)));
  else if (b < visible)
    parts.push_back(fmt::format("no longer overshoots ({} % before)", readable(a, 2)));
  else
    parts.push_back(fmt::format("overshoots {} % instead of {} %", readable(b, 2), readable(a, 2)));
}

/// How two whose goal moves by itself differ: how far they lag, and of those that follow a track how fast they must go,
/// how far off the subject stands.
void add_following(std::vector<std::string>& parts, const Contender& a, std::size_t in_a, const Contender& b,
                   std::size_t in_b) {
  const Channel& declared = b.feel->channels[in_b];
  const auto add = [&](const char* measure, const char* words, const std::string& unit) {
    const auto before = measure_of(a, in_a, measure), now = measure_of(b, in_b, measure);
    constexpr double noticeable = 0.01;
    if (!before || !now || std::fabs(*now - *before) <= noticeable * std::max(std::fabs(*before), std::fabs(*now)))
      return;
    parts.push_back(fmt::format("{} {} instead of {}", words, with_unit(*now, unit), with_unit(*before, unit)));
  };
  if (trails_goal(declared)) add("lag_distance", "lags by at most", declared.unit);
  if (!declared.follow) return;
  add("framing_error", "the subject goes as far as", "%");
  add("top_speed", "peaks at", declared.unit.empty() ? "" : declared.unit + "/s");
}

} // namespace

void RowsSink::begin(const Scene& scene) {
  writers_.clear();
  rows_.clear();
  for (const Channel& channel : scene.feel->channels) {
    rows_.emplace_back(channel.components);
    auto& writers = writers_.emplace_back();
    for (std::size_t i = 0; i < channel.components; ++i)
      writers.push_back({NumberColumnWriter(shelf_), NumberColumnWriter(shelf_)});
  }
}

void RowsSink::consume(const Block& block) {
  for (std::size_t c = 0; c < rows_.size(); ++c)
    for (std::size_t i = 0; i < rows_[c].size(); ++i) {
      const ComponentBlock& column = block.channels[c].component[i];
      for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
        writers_[c][i].smooth.add(column.smooth[row]);
        writers_[c][i].goal.add(column.goal_at(row));
        rows_[c][i].last_velocity = column.velocity[row];
      }
    }
}

void RowsSink::end() {
  for (std::size_t c = 0; c < rows_.size(); ++c)
    for (std::size_t i = 0; i < rows_[c].size(); ++i) {
      rows_[c][i].smooth = writers_[c][i].smooth.finish();
      rows_[c][i].goal = writers_[c][i].goal.finish();
    }
}

Contender play_contender(std::string name, const Feel& feel, const Take& take,
                         std::shared_ptr<const NumberShelf> shelf) {
  Contender out{std::move(name), &feel, {&feel, &take, clock_of(take)}, {}, {}};
  MeasureSink measuring;
  RowsSink rows(std::move(shelf));
  BlockSink* const sinks[] = {&measuring, &rows};
  out.measures = measuring.take(play(out.scene, sinks));
  out.rows = rows.take_rows();
  return out;
}

std::vector<SharedChannel> shared_channels(const std::vector<Contender>& contenders) {
  std::vector<SharedChannel> shared;
  for (const Channel& channel : contenders.front().feel->channels) {
    SharedChannel one{channel.name, {}};
    for (const Contender& contender : contenders) {
      const auto& all = contender.feel->channels;
      const auto found = std::find_if(all.begin(), all.end(), [&](const Channel& c) {
        return c.name == channel.name && c.components == channel.components;
      });
      if (found != all.end()) one.index.push_back(static_cast<std::size_t>(found - all.begin()));
    }
    if (one.index.size() == contenders.size()) shared.push_back(std::move(one));
  }
  return shared;
}

bool same_clock(const Contender& a, const Contender& b) noexcept {
  const Clock &x = a.scene.clock, &z = b.scene.clock;
  return x.fps == z.fps && x.frames == z.frames && (x.times == z.times || (x.times && z.times && *x.times == *z.times));
}

double value_at(const Contender& contender, std::size_t channel, std::size_t component, double time) {
  const auto& column = contender.rows[channel][component].smooth;
  const Clock& clock = contender.scene.clock;
  const std::int64_t last = clock.frames - 1;
  const std::int64_t row = std::min(last, first_frame_at(clock, time)); // at or after the time
  if (row == 0 || clock.time(row) <= time) return column[static_cast<std::size_t>(row)];
  const auto after = static_cast<std::size_t>(row);
  const double share = (time - clock.time(row - 1)) / clock.dt(row - 1);
  return column[after - 1] + (column[after] - column[after - 1]) * share;
}

Gap widest_gap(const Contender& a, std::size_t channel_a, const Contender& b, std::size_t channel_b,
               std::size_t component) {
  const bool same = same_clock(a, b);
  ColumnPass rows_a(a.rows[channel_a][component].smooth), rows_b(b.rows[channel_b][component].smooth);
  RowPass behind_b(b.rows[channel_b][component].smooth);
  Gap widest;
  for (std::size_t row = 0; row < rows_a.size(); ++row) {
    const double time = a.scene.clock.time(static_cast<std::int64_t>(row));
    if (!same) behind_b.at(static_cast<std::size_t>(std::max<std::int64_t>(0, first_frame_at(b.scene.clock, time))));
    const double other = same ? rows_b[row] : value_at(b, channel_b, component, time);
    const double difference = other - rows_a[row];
    if (std::fabs(difference) > widest.size) widest = {std::fabs(difference), difference, time};
  }
  return widest;
}

std::optional<double> largest_kick(const Contender& contender, std::size_t channel) {
  std::optional<double> kick;
  for (const Move& move : contender.measures.moves)
    if (move.channel == channel && move.start_kick && (!kick || *move.start_kick > *kick)) kick = move.start_kick;
  return kick;
}

std::string start_in_words(const Contender& contender, std::size_t channel) {
  if (last_move(contender, channel) == nullptr) return {};
  if (only_jumps(contender, channel)) return "jumps";
  const auto kick = largest_kick(contender, channel);
  if (!kick) return {};
  return *kick < least_kick ? "starts softly" : fmt::format("starts with a kick of {}", readable(*kick, 2));
}

std::string end_in_words(const Contender& contender, std::size_t channel) {
  const Move* move = last_move(contender, channel);
  if (move == nullptr || !move->remaining || *move->remaining == 0.0) return {};
  const Channel& declared = contender.feel->channels[channel];
  double speed = 0.0;
  for (const ComponentRows& rows : contender.rows[channel])
    if (std::isfinite(rows.last_velocity)) speed = std::max(speed, std::fabs(rows.last_velocity));
  constexpr double noticeable = 1e-4; // of the move
  double length = 0.0;
  for (std::size_t i = 0; i < declared.components; ++i) length = std::hypot(length, move->to[i] - move->from[i]);
  if (speed == 0.0 || (move->settling_time && *move->remaining < noticeable * length)) return {};
  return fmt::format("{} {} from its goal", move->settling_time ? "still creeping," : "still on its way,",
                     with_unit(*move->remaining, declared.unit));
}

std::string noticed(const Contender& a, const Contender& b, const SharedChannel& channel, std::size_t place_a,
                    std::size_t place_b) {
  const std::size_t in_a = channel.index[place_a], in_b = channel.index[place_b];
  const Channel& declared = a.feel->channels[in_a];
  Gap widest;
  for (std::size_t i = 0; i < declared.components; ++i)
    if (const Gap gap = widest_gap(a, in_a, b, in_b, i); gap.size > widest.size) widest = gap;
  std::vector<std::string> parts;
  add_settling(parts, measure_of(a, in_a, "settling_time"), last_move(a, in_a) != nullptr,
               measure_of(b, in_b, "settling_time"), last_move(b, in_b) != nullptr);
  add_overshoot(parts, measure_of(a, in_a, "overshoot"), measure_of(b, in_b, "overshoot"));
  add_following(parts, a, in_a, b, in_b);
  const std::string start_a = start_in_words(a, in_a), start_b = start_in_words(b, in_b);
  const auto kick_a = largest_kick(a, in_a), kick_b = largest_kick(b, in_b);
  constexpr double noticeable_kick = 0.1;
  const bool same_kick = kick_a && kick_b && std::fabs(*kick_a - *kick_b) < noticeable_kick * std::max(*kick_a, 1.0);
  if (start_a != start_b && !start_b.empty() && !same_kick)
    parts.push_back(start_b + (start_a.empty() ? "" : fmt::format(" where the other {}", start_a)));
  if (parts.empty() && widest.size == 0.0) return {};
  if (widest.size > 0.0)
    parts.push_back(fmt::format("differs by at most {}, {} s into the take", with_unit(widest.size, declared.unit),
                                concise(widest.at, 4)));
  if (const std::string end = end_in_words(b, in_b); !end.empty()) parts.push_back("at the end of the take is " + end);
  const std::vector<std::string_view> views(parts.begin(), parts.end());
  return fmt::format("{} against {}, {}: {}.", b.name, a.name, channel.name, listed(views));
}

} // namespace stasis
