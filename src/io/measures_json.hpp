// Measures as JSON: the object of docs/design.md, section 7.
#pragma once

#include <string>

#include "core/measure/take_measures.hpp"
#include "io/json_writer.hpp"

namespace stasis::io {

/// What the object says of its origin.
struct RunOrigin {
  std::string version;
  std::string feel;    ///< title, or the file's name without its extension
  std::string variant; ///< empty for the base feel
};

/// Moves alone, as a list of the objects that stand under `moves`.
std::string moves_json(const Feel& feel, const std::vector<Move>& moves);

// Parts of the object below, each with its key.
void write_channel_measures(JsonWriter& json, const Feel& feel, const TakeMeasures& measures);
void write_move_measures(JsonWriter& json, const Feel& feel, const std::vector<Move>& moves);
void write_measure_units(JsonWriter& json, const Feel& feel);

/// One line of JSON without a line end. Numbers are in the shortest form that reads back exactly.
std::string measures_json(const RunOrigin& origin, const Scene& scene, const TakeMeasures& measures);

} // namespace stasis::io
