// Every measure of a feel, and what became of each when the feel was changed: for `watch` and `history`.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "cli/output.hpp"
#include "core/feel/document_changes.hpp"

namespace stasis::io {
class JsonWriter;
}

namespace stasis::cli {

/// One measure of one channel in one take.
struct NamedMeasure {
  std::string take, measure, unit;
  std::string name; ///< "approach: fov.settling_time"
  std::optional<double> value;
};

/// Every measure of the base feel's takes; nothing if it cannot be read now. \param file as a call names it.
std::vector<NamedMeasure> readings_of(const std::string& file, bool allow_outside);

/// A measure before and after; both are among the readings that were compared.
struct MeasureChange {
  const NamedMeasure* before;
  const NamedMeasure* after;
};

/// The measures that differ by more than can be seen.
std::vector<MeasureChange> changes_of(const std::vector<NamedMeasure>& before, const std::vector<NamedMeasure>& after);

/// "approach: fov.settling_time: 0.4 s to 0.32 s (-20 %)".
std::string change_text(const MeasureChange& change);

/// An array of {take, measure, from, to, unit}.
void write_changes(io::JsonWriter& json, const std::vector<MeasureChange>& changes);

/// An array of {path, before, after}.
void write_value_changes(io::JsonWriter& json, const std::vector<ValueChange>& changes);

} // namespace stasis::cli
