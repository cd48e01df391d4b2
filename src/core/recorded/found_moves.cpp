#include "core/recorded/found_moves.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

class MoveFinder {
public:
  explicit MoveFinder(const MoveSearch& search)
      : rows_(search.rows), rest_noise_(search.rest_noise), breaks_(search.breaks), goals_(search.goals),
        is_exact_(search.is_exact) {}

  FoundMoves run() {
    out_.rests = rests_of(rows_, rest_noise_);
    if (goals_.empty())
      find_by_rests();
    else
      find_by_goals();
    return std::move(out_);
  }

private:
  /// Of a recording of many moves each costs less.
  static Thoroughness how(std::size_t moves) {
    constexpr std::size_t many = 12;
    return moves > many ? Thoroughness::few_rules : Thoroughness::all_rules;
  }

  /// Each change of the goal begins a move.
  void find_by_goals() {
    const auto goal_at = [&](std::size_t row) {
      Components goal{};
      for (std::size_t c = 0; c < goals_.size(); ++c) goal[c] = goals_[c][row];
      return goal;
    };
    for (std::size_t k = 1; k < rows_.size(); ++k) {
      if (goal_at(k) == goal_at(k - 1)) continue;
      if (!out_.moves.empty()) {
        out_.moves.back().end = rows_.times[k];
        out_.moves.back().ends_in_goal = true;
      }
      FoundMove move;
      move.start = rows_.times[k];
      move.end = rows_.times.back();
      move.goal = goal_at(k);
      move.cause = "goal";
      for (const Rest& rest : out_.rests)
        if (rest.settled < k && rest.last + 1 >= k)
          move.before = Rest{rest.first, k - 1, std::min(rest.settled, k - 1)};
      out_.moves.push_back(move);
    }
    for (FoundMove& move : out_.moves) {
      std::size_t until = rows_.size() - 1;
      while (until > 0 && rows_.times[until] > move.end) --until;
      if (!is_exact_ && move.before && move.goal)
        move.rule = explained_move(rows_, {*move.before, until, *move.goal, move.start}, how(out_.moves.size()));
    }
  }

  void find_by_rests() {
    join_wobbles();
    for (std::size_t k = 0; k < out_.rests.size(); ++k) {
      const Rest& before = out_.rests[k];
      if (before.last + 1 >= rows_.size()) break;
      const bool is_last = k + 1 == out_.rests.size();
      const std::size_t until = is_last ? rows_.size() - 1 : out_.rests[k + 1].last;
      FoundMove move;
      move.before = before;
      if (!is_last) move.after = out_.rests[k + 1];
      if (is_last && !leaves(before)) break;
      const Components to = move.after ? level_of(rows_, *move.after) : value_of(rows_.size() - 1);
      if (!is_exact_ || creeps_at(until))
        move.rule = explained_move(rows_, {before, until, to, std::nullopt, is_last ? 0 : out_.rests[k + 1].settled},
                                   how(out_.rests.size()));
      if (!is_exact_ && !move.rule && move.after) move.is_cut = find_cut(move, to);
      const SetOff off = move.is_cut ? SetOff{move.start, move.start - move.start_error, move.start + move.start_error}
                         : is_exact_ ? exact_set_off(rows_, breaks_, before, until)
                         : move.rule ? move.rule->set_off
                                     : rough_set_off(rows_, before);
      move.start = off.at;
      move.start_error = std::max(off.high - off.at, off.at - off.low);
      move.end = rows_.times.back();
      move.cause = "found";
      if (!is_exact_ && !move.rule && !move.is_cut)
        out_.notes.push_back(
            fmt::format("the move at {} s: no rule tells when it set off; its times may be off by {} s",
                        readable(off.at, 4), readable(move.start_error, 2)));
      if (!out_.moves.empty()) out_.moves.back().end = move.start;
      out_.moves.push_back(move);
    }
    if (!out_.rests.empty() && out_.rests.front().first > 0)
      out_.notes.push_back(
          fmt::format("it is already moving when the recording begins, until {} s; that is not counted as a move",
                      readable(rows_.times[out_.rests.front().first], 4)));
    if (out_.rests.empty()) out_.notes.emplace_back("it never rests for a fifth of a second, so no moves are found");
    if (!out_.moves.empty() && !out_.moves.back().after)
      out_.notes.push_back(fmt::format("the recording ends before the move at {} s does, so where it goes is not known",
                                       readable(out_.moves.back().start, 4)));
  }

  /// Where nearly all of a change lies between two rows, it sets off just after the first of them.
  bool find_cut(FoundMove& move, const Components& to) const {
    const double way = length_of(plus(to, level_of(rows_, *move.before), -1.0));
    constexpr double nearly_all = 0.85, after = 1e-6;
    for (std::size_t row = move.before->settled; row < move.after->last; ++row) {
      if (length_of(plus(value_of(row + 1), value_of(row), -1.0)) < nearly_all * way) continue;
      const double gap = rows_.times[row + 1] - rows_.times[row];
      move.start = rows_.times[row] + after * gap;
      move.start_error = gap;
      return true;
    }
    return false;
  }

  /// True if the rows up to this one have not come to rest to the last bits.
  bool creeps_at(std::size_t row) const {
    constexpr double hardly = 1e-7;
    double range = 0.0;
    for (const auto& values : rows_.values)
      range = std::max(range, *std::max_element(values.begin(), values.end())
                                  - *std::min_element(values.begin(), values.end()));
    return row > 0 && length_of(plus(value_of(row), value_of(row - 1), -1.0)) > hardly * range;
  }

  Components value_of(std::size_t row) const {
    Components out{};
    for (std::size_t c = 0; c < rows_.components(); ++c) out[c] = rows_.values[c][row];
    return out;
  }

  /// True if what comes after the last rest is a move.
  bool leaves(const Rest& rest) const {
    const Components level = level_of(rows_, rest);
    constexpr double plainly = 8.0;
    for (std::size_t c = 0; c < rows_.components(); ++c)
      if (std::fabs(rows_.values[c].back() - level[c]) > plainly * rest_noise_[c]) return true;
    return false;
  }

  /// What one rule may leave of two moves that it explains together, beside noise.
  double hardly() const {
    constexpr double share = 5e-3; // of the way
    double out = 0.0;
    for (std::size_t c = 0; c < rows_.components(); ++c) {
      const auto [low, high] = std::minmax_element(rows_.values[c].begin(), rows_.values[c].end());
      out = std::max({out, rest_noise_[c], share * (*high - *low)});
    }
    return out;
  }

  /// A short rest between two moves the second of which goes back on the first may be the turn of one that swings.
  void join_wobbles() {
    for (std::size_t k = 1; k + 1 < out_.rests.size();) {
      const Rest &a = out_.rests[k - 1], &b = out_.rests[k], &c = out_.rests[k + 1];
      const double rested = rows_.times[b.last] - rows_.times[b.first],
                   moved =
                       std::max(rows_.times[b.first] - rows_.times[a.last], rows_.times[c.first] - rows_.times[b.last]);
      const Components first = plus(level_of(rows_, b), level_of(rows_, a), -1.0),
                       second = plus(level_of(rows_, c), level_of(rows_, b), -1.0);
      constexpr double short_rest = 1.5;
      if (rested < short_rest * moved && length_of(second) < length_of(first)
          && is_one_move(rows_, a, c, how(out_.rests.size()), hardly()))
        out_.rests.erase(out_.rests.begin() + static_cast<std::ptrdiff_t>(k));
      else
        ++k;
    }
  }

  const RecordedRows& rows_;
  const std::vector<double>& rest_noise_;
  const std::vector<PathBreak>& breaks_;
  const std::vector<std::vector<double>>& goals_;
  bool is_exact_;
  FoundMoves out_;
};

} // namespace

FoundMoves find_recorded_moves(const MoveSearch& search) { return MoveFinder(search).run(); }

} // namespace stasis
