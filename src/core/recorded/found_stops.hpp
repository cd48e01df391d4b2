// From a recorded path to the stops of a sequence: the fewest that pass it within what is allowed. Method:
// docs/maths.md, section "Recordings".
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/sequence.hpp"
#include "core/recorded/stretch_legs.hpp"

namespace stasis {

struct FoundStop {
  SequenceStop::Way way = SequenceStop::Way::flown; ///< flown, eased or cut
  double after = 0.0;                               ///< s since the stop before was left; of a cut 0
  double hold = 0.0;                                ///< s
  std::string curve;                                ///< of an eased leg, as a feel has it
  std::vector<std::optional<double>> values;        ///< by column, in its unit; nothing where it is not given
};

struct FoundStops {
  std::vector<FoundStop> stops;                    ///< the first is there at once, at the first row
  bool begins_moving = false, ends_moving = false; ///< the flight has its full speed at that end
  std::vector<std::vector<double>> path;           ///< by column and row: where the sequence of these numbers leads
  std::vector<double> off;                         ///< by column, in its unit: the largest distance from a row
  std::vector<double> within; ///< likewise: what it may be off by in the stretch where that is most
};

/// The columns of one channel: "focus.x", "focus.y", "focus.z" in this order, or one column alone.
struct ColumnGroup {
  std::string channel;
  std::vector<std::size_t> columns;
};
std::vector<ColumnGroup> groups_of(const std::vector<std::string>& names);

/// What the path of a column may be off by if nobody says: what is random in it, its last digit, or a millionth of how
/// far it goes.
double usual_within(const std::vector<double>& values);

/// How many cubics one after the other pass a column: fewer in the space in which it was led.
std::size_t cubic_pieces(const std::vector<double>& times, const LedColumn& column);

/// \param times s, ascending, at least 8; \param columns one at least, each with as many values.
/// \param looser what each column may be off by instead, as shares of how far it goes, ascending: a stretch that no few
/// stops pass as near as `within` is passed as near as the first of these that few stops can. Without any, and at the
/// last one, it gets as many stops as it takes.
FoundStops find_stops(const std::vector<double>& times, const std::vector<LedColumn>& columns,
                      const std::vector<double>& looser = {});

/// True if few stops pass every row within what is allowed: a search that ends soon where they do not.
bool few_stops_pass(const std::vector<double>& times, const std::vector<LedColumn>& columns);

} // namespace stasis
