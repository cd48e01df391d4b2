// How often switches go on and leave, and whether they flutter.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/measure/measure_facts.hpp"
#include "core/take/block.hpp"

namespace stasis {

/// What a switch did in a take.
struct SwitchSummary {
  std::int64_t flips = 0;         ///< how often it came into force, or left
  std::int64_t quick_returns = 0; ///< how often it was back where it had been within quick_return
  double first_return_at = 0.0;   ///< s: the first of those
};

/// s: who changes a view twice within this time sees it flicker.
inline constexpr double quick_return = 0.5;

/// Watches the switches block by block. Where one is at the take's first frame is no flip.
class SwitchMeter {
public:
  explicit SwitchMeter(const Scene& scene);
  void consume(const Block& block);
  /// By switch of the feel.
  const std::vector<SwitchSummary>& summaries() const noexcept { return summaries_; }
  /// Flips of all switches that look at a channel; nothing where none does.
  std::optional<double> flips_of(std::size_t channel) const noexcept;

private:
  struct Last {
    bool in_force = false;
    std::optional<double> flipped_at{}; ///< s
  };

  Scene scene_;
  std::vector<Last> last_;
  std::vector<SwitchSummary> summaries_;
};

} // namespace stasis
