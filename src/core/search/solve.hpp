// The search for numbers with which every want holds, and of those for what is preferred.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/measure/measure_facts.hpp"
#include "core/random.hpp"
#include "core/search/number_range.hpp"
#include "core/search/trials.hpp"

namespace stasis {

/// A number that the search may choose, or a name.
struct FreeValue {
  std::string path;
  NumberRange range{};            ///< by factors where both ends are above 0, and far apart
  std::vector<std::string> names; ///< instead of a number: one of these

  bool is_choice() const noexcept { return !names.empty(); }
};
/// "PATH=LOW:HIGH" or "PATH=a|b|c"; the error is a sentence without its full stop.
tl::expected<FreeValue, std::string> parse_free_value(const std::string& text);

/// What is preferred of several answers.
struct Preference {
  enum class Kind : std::uint8_t {
    least_change, ///< of the numbers, in relative terms
    measures,     ///< the product of the measures that are asked for, as small (or large) as can be
  } kind = Kind::least_change;
  bool larger = false;
  std::vector<double> weights{}; ///< powers of the measures in the product; all 1 where there are none
  std::optional<double> limit{}; ///< the first measure goes no farther than this: at most, or at least
  bool first_is_larger = false;  ///< at least
};

/// Finds the least value of a function within 0..1 in each of its numbers.
class Minimiser {
public:
  enum class Method : std::uint8_t {
    local, ///< from a start, in simplices of subspaces
    cloud, ///< a cloud of points everywhere
  };
  struct Call {
    Method method = Method::local;
    int steps = 400;
    double precision = 2e-4; ///< of the numbers, relative
    std::vector<double> start;
    double first_step = 0.1;
  };
  /// \returns the value; nothing to end the search.
  using Function = std::function<std::optional<double>(const std::vector<double>&)>;

  virtual ~Minimiser() = default;
  /// False if it could not be run.
  virtual bool minimise(const Call& call, const Function& function) = 0;
};

/// One point that has been tried.
struct SolvePoint {
  std::vector<double> shares; ///< by free number, 0..1
  TrialOutcome outcome;
  double violation = 0.0; ///< 0: every want holds
  double value = 0.0;     ///< of the preference, less is better

  bool holds() const noexcept { return violation == 0.0; }
};

struct SolveAlternative {
  std::string why; ///< "steady": holds with every number off by half a per cent; "different": far from the answer
  std::vector<double> numbers;
};

struct SolveAnswer {
  bool solved = false;
  std::vector<double> numbers; ///< by free number: the answer, or the best compromise
  SolvePoint before, after;
  std::vector<std::pair<double, double>> tolerance; ///< by free number; of an answer only
  std::vector<std::size_t> conflict;                ///< wants of an outcome that cannot hold together
  bool conflict_is_proven = false;                  ///< none at any point of a dense scan; else in the tries
  std::vector<SolveAlternative> alternatives;
  int tries = 0;
};

/// Solves for the numbers among `free`; names are given by `fixed`.
class Solver {
public:
  // many: what is tried, what may change, what stays, what is preferred, by what
  Solver(const Trials& trials, std::vector<FreeValue> free, std::vector<Assignment> fixed, Preference preference,
         std::vector<std::optional<double>> present, Minimiser& minimiser);

  /// Tells somebody of each try how many there have been.
  void tell(std::function<void(std::size_t)> tries) { tell_ = std::move(tries); }
  /// \param most_tries of the search itself; looking for conflicts and tolerances takes more.
  SolveAnswer solve(int most_tries, std::uint64_t seed);

  /// Looks for points at which every want holds. \returns false if none was found.
  bool meet_wants(int most_tries, std::uint64_t seed);
  /// Looks on, for what is preferred now, in so many more tries.
  void look_for(Preference preference, int tries);
  /// All that has been tried, what the feel has now first.
  const std::vector<SolvePoint>& pool() const noexcept { return pool_; }
  std::vector<double> numbers_at(const std::vector<double>& shares) const;

private:
  SolvePoint tried(const std::vector<double>& shares);
  std::vector<Assignment> assignments_at(const std::vector<double>& shares) const;
  double value_of(const std::vector<double>& shares, const TrialOutcome& outcome) const;
  double product_of(const TrialOutcome& outcome) const;
  void try_present();
  /// True if the first is the better one.
  static bool beats(const SolvePoint& one, const SolvePoint& other) noexcept;
  void meet(int most_tries, Random& random);
  void prefer(int most_tries, int cloud);
  void compromise();
  void round_off(SolvePoint& answer);
  bool is_steady(const std::vector<double>& shares);
  void offer_others(SolveAnswer& answer, const SolvePoint& best);
  std::pair<double, double> tolerance_of(const SolvePoint& answer, std::size_t number);
  void find_conflict(SolveAnswer& answer);
  bool can_hold(const std::vector<std::size_t>& wants);
  void scan();
  const SolvePoint& best() const noexcept { return pool_[best_]; }

  const Trials& trials_;
  std::vector<FreeValue> free_;
  std::vector<Assignment> fixed_;
  Preference preference_;
  std::vector<std::optional<double>> present_;
  Minimiser& minimiser_;
  std::function<void(std::size_t)> tell_;
  std::vector<SolvePoint> pool_; ///< all that has been tried
  std::size_t best_ = 0;
  std::size_t unreadable_ = 0;
  bool scanned_ = false;
};

/// How far a want is from holding: 0 where it does, else about the logarithm of its value over its limit.
double violation_of(const TrialWant& want) noexcept;

} // namespace stasis
