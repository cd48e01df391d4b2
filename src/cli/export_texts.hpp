// What `stasis export` writes, as texts.
#pragma once

#include <string>
#include <vector>

#include "cli/load_feel.hpp"
#include "core/export/take_curves.hpp"

namespace stasis::cli {

/// A stylesheet of custom properties, an easing function and a duration for each motion of the feel. \param tolerance a
/// share of the way. What has no such function is said in `left_out`, a line each.
std::string css_text(const LoadedFeel& loaded, double tolerance, std::vector<std::string>& left_out);

/// One channel's fewest keys.
struct ChannelKeys {
  TakeCurve curve;
  std::vector<std::size_t> keys; ///< indices of its samples
  double tolerance = 0.0;        ///< in the channel's unit
  std::string unit;
};

/// The fewest keys of each component of a take. \param share of the component's way, > 0. \param only these channels;
/// empty: all.
std::vector<ChannelKeys> keys_of(const Scene& scene, double share, const std::vector<std::string>& only);
std::string keys_csv(const std::vector<ChannelKeys>& all);
std::string keys_json(const LoadedFeel& loaded, const Scene& scene, const std::vector<ChannelKeys>& all);

enum class TableForm { csv, json_lines, c_array };
/// Rows of a take: frame, time and chosen columns of its trace. \param columns as trace_header() has them.
std::string table_text(const LoadedFeel& loaded, const Scene& scene, const std::vector<std::string>& columns,
                       TableForm form);

/// Every number of a feel by its path, and every motion in every equivalent form.
std::string numbers_json(const LoadedFeel& loaded, const Node& document);

} // namespace stasis::cli
