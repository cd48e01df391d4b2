#include "core/recorded/led_space.hpp"

#include <algorithm>
#include <optional>
#include <utility>

namespace stasis {
namespace {

class SpaceFinder {
public:
  SpaceFinder(const std::vector<double>& times, std::vector<LedColumn>& columns, std::vector<SpaceChoice>& choices,
              const std::vector<double>& looser)
      : times_(times), columns_(columns), choices_(choices), looser_(looser) {}

  FoundStops run() {
    const std::vector<Picks> all = likely_picks();
    // What passes at the strictest level was right; few stops tell that soon.
    if (all.size() > 1)
      for (const Picks& picks : all) {
        take(picks);
        if (few_stops_pass(times_, columns_)) return find_stops(times_, columns_, looser_);
      }
    std::optional<FoundStops> best;
    const Picks* best_picks = nullptr;
    constexpr std::size_t tried_in_full = 2;
    for (std::size_t p = 0; p < std::min(tried_in_full, all.size()); ++p) {
      take(all[p]);
      FoundStops found = find_stops(times_, columns_, looser_);
      if (best && !is_better(found, *best)) continue;
      best = std::move(found);
      best_picks = &all[p];
    }
    take(*best_picks);
    return std::move(*best);
  }

private:
  /// By choice: which of its spaces.
  using Picks = std::vector<std::size_t>;

  std::size_t fewest_pieces(const SpaceChoice& choice) const {
    if (choice.spaces.size() < 2) return 0;
    std::vector<std::size_t> pieces;
    for (const SpaceMap& space : choice.spaces) {
      std::size_t sum = 0;
      for (const std::size_t c : choice.columns) {
        LedColumn tried = columns_[c];
        tried.space = space;
        sum += cubic_pieces(times_, tried);
      }
      pieces.push_back(sum);
    }
    return static_cast<std::size_t>(std::min_element(pieces.begin(), pieces.end()) - pieces.begin());
  }

  void take(const Picks& picks) {
    for (std::size_t c = 0; c < choices_.size(); ++c) {
      choices_[c].chosen = picks[c];
      for (const std::size_t column : choices_[c].columns) columns_[column].space = choices_[c].spaces[picks[c]];
    }
  }

  /// Where the fewest cubics pass the columns; as they are; and what differs from that in one choice.
  std::vector<Picks> likely_picks() const {
    Picks fewest;
    for (const SpaceChoice& choice : choices_) fewest.push_back(fewest_pieces(choice));
    std::vector<Picks> all;
    constexpr std::size_t most = 6;
    const auto add = [&](const Picks& picks) {
      if (all.size() < most && std::find(all.begin(), all.end(), picks) == all.end()) all.push_back(picks);
    };
    add(fewest);
    add(Picks(choices_.size(), 0));
    for (std::size_t c = 0; c < choices_.size(); ++c)
      for (std::size_t s = 0; s < choices_[c].spaces.size(); ++s) {
        Picks other = fewest;
        other[c] = s;
        add(other);
      }
    return all;
  }

  /// Nearer to the path in the stretch where that is worst, or else with fewer stops.
  bool is_better(const FoundStops& one, const FoundStops& other) const {
    const double near = looseness(one), other_near = looseness(other);
    return near != other_near ? near < other_near : one.stops.size() < other.stops.size();
  }
  /// By how much more than asked for the path may be off in the stretch where that is most: 1 where it is passed.
  double looseness(const FoundStops& found) const {
    double most = 1.0;
    for (std::size_t c = 0; c < columns_.size(); ++c) most = std::max(most, found.within[c] / columns_[c].within);
    return most;
  }

  const std::vector<double>& times_;
  std::vector<LedColumn>& columns_;
  std::vector<SpaceChoice>& choices_;
  const std::vector<double>& looser_;
};

} // namespace

FoundStops find_stops_and_spaces(const std::vector<double>& times, std::vector<LedColumn>& columns,
                                 std::vector<SpaceChoice>& choices, const std::vector<double>& looser) {
  return SpaceFinder(times, columns, choices, looser).run();
}

} // namespace stasis
