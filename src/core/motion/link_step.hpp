// Glides and springs in a row, stepped together as one linear system. Source: docs/maths.md, section 11.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <variant>
#include <vector>

#include "core/motion/glide.hpp"
#include "core/motion/instant.hpp"
#include "core/motion/spring.hpp"

namespace stasis {

using Link = std::variant<Glide, Spring>;

inline constexpr std::size_t most_links = 6;

/// The links' values and velocities (the velocity of a glide follows from the rest and is not kept).
using LinkStates = std::array<SpringState, most_links>;

/// What the links follow during one step, measured from the goal: a polynomial of the share of the step's time. Part n
/// is its n-th derivative at the start, by that share.
struct LinkInput {
  static constexpr std::size_t most_parts = 8;
  std::array<double, most_parts> part{};
};

/// How many parts of an input may differ from 0.
enum class InputParts : std::uint8_t {
  none = 0,                                        ///< the first link follows the goal, which stands
  straight = 2,                                    ///< the goal runs straight
  curved = static_cast<int>(LinkInput::most_parts) ///< an eased or paced move
};

/// One exact step of all links for a fixed length; keep it while the length stays the same.
class LinkStep {
public:
  /// \param links 1 to most_links; \param h s, >= 0.
  LinkStep(std::span<const Link> links, double h, InputParts parts);

  /// Advances the links toward `goal`, the first of them following goal + `input`. Exact for an input that is such a
  /// polynomial.
  void advance(LinkStates& states, double goal, const LinkInput& input) const noexcept;
  /// The same where the input is the goal, which stands (made with InputParts::none): the same numbers, sooner.
  void advance_standing(LinkStates& states, double goal) const noexcept;

  /// So many steps as there are values but one, behind a goal that stands: value and rate of the last link on each
  /// frame, before the first step and after each. \param links those of which this is a step.
  void advance_rows(std::span<const Link> links, LinkStates& states, double goal, std::span<double> value,
                    std::span<double> rate) const noexcept;

private:
  template<bool... HasVelocity> struct Rows;
  /// Calls `known` with whether each link keeps a velocity where the compiler is to know it, else `any`.
  template<class Known, class Any> void by_kinds(Known known, Any any) const noexcept;

  static constexpr std::size_t most_rows = 2 * most_links;
  std::size_t rows_ = 0;  ///< of the links' own states
  std::size_t parts_ = 0; ///< of the input
  std::size_t links_ = 0;
  std::array<bool, most_links> has_velocity_{};
  /// By row: what the states, then the parts of the input, add to it.
  std::array<std::array<double, most_rows + LinkInput::most_parts>, most_rows> gain_;
};

/// The steps that were made last, by their length. A step stays until the next one is asked for.
class LinkSteps {
public:
  const LinkStep& of(std::span<const Link> links, double h, InputParts parts);

private:
  struct Kept {
    double h;
    InputParts parts;
    LinkStep step;
  };
  static constexpr std::size_t most_kept = 6;
  std::vector<Kept> kept_;
  std::size_t oldest_ = 0;
};

/// Advances links as a LinkStep of `h` seconds does, without making one: for a length that does not come again.
void advance_once(std::span<const Link> links, double h, LinkStates& states, double goal, const LinkInput& input);

/// The last link at an instant, the input of the first being `input` then.
Instant output_of(std::span<const Link> links, const LinkStates& states, Instant input) noexcept;

} // namespace stasis
