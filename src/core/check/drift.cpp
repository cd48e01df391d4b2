#include "core/check/drift.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

/// frame, time and dt stand before the columns of trace_columns().
constexpr std::size_t columns_before = 3;

bool is_meant(const std::string& wanted, const std::string& name) {
  return wanted.empty() || name == wanted || name.starts_with(wanted + ".");
}

bool is_seen(const std::string& column) { return column.find(".value") != std::string::npos; }

std::optional<std::size_t> place_of(const std::vector<std::string>& names, const std::string& name) {
  const auto at = std::find(names.begin(), names.end(), name);
  return at == names.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - names.begin()));
}

} // namespace

void DriftSink::begin(const Scene& scene) {
  scene_ = scene;
  const auto header = trace_header(scene);
  time_ = place_of(kept_.names, "time");
  if (!time_) {
    drift_.fault = "it has no column time, so it is not a trace";
    return;
  }
  for (std::size_t c = columns_before; c < header.size(); ++c) {
    if (!is_meant(column_, header[c])) continue;
    if (const auto kept = place_of(kept_.names, header[c])) pairs_.push_back({c - columns_before, *kept, {header[c]}});
  }
  for (const std::string& name : kept_.header)
    if (is_meant(column_, name) && !place_of(header, name) && drift_.fault.empty())
      drift_.fault = fmt::format("the take has no column {} any more", printable(name, 60));
  if (pairs_.empty() && drift_.fault.empty()) {
    std::vector<std::string_view> known(header.begin() + columns_before, header.end());
    for (std::size_t c = columns_before; c < header.size(); ++c)
      known.push_back(known[c - columns_before].substr(0, header[c].find('.')));
    drift_.fault =
        fmt::format("there is no column \"{}\" in both.{}", printable(column_, 60), did_you_mean(column_, known));
  }
}

void DriftSink::compare_row(const Block& block, std::size_t row) {
  const double time = scene_.clock.drawn_time(block.first + static_cast<std::int64_t>(row));
  constexpr double same_time = 1e-9;
  const double kept_time = kept_.columns[*time_][rows_];
  if (!(std::fabs(kept_time - time) <= same_time * std::max(1.0, std::fabs(time)))) {
    drift_.fault = fmt::format("its row {} is at {} s, the take's at {} s: it was kept on another clock", rows_ + 1,
                               concise(kept_time, 9), concise(time, 9));
    return;
  }
  for (Pair& pair : pairs_) {
    const double now = columns_[pair.column].at(row), then = kept_.columns[pair.kept][rows_];
    const bool is_now = std::isfinite(now), was_then = std::isfinite(then);
    const double off = is_now && was_then   ? std::fabs(now - then)
                       : is_now == was_then ? 0.0
                                            : std::numeric_limits<double>::infinity();
    drift_.largest = std::max(drift_.largest, off);
    if (off <= within_) continue;
    if (!pair.has_strayed) pair.strayed.first_at = time;
    if (!pair.has_strayed || off > pair.strayed.largest) {
      pair.strayed.largest = off;
      pair.strayed.largest_at = time;
    }
    pair.has_strayed = true;
  }
}

void DriftSink::consume(const Block& block) {
  if (!drift_.fault.empty()) return;
  trace_columns(scene_, block, columns_);
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row, ++rows_)
    if (drift_.fault.empty() && rows_ < kept_.rows()) compare_row(block, row);
}

void DriftSink::end() {
  if (drift_.fault.empty() && rows_ != kept_.rows())
    drift_.fault = fmt::format("it has {} rows, the take {}: it was kept with another length or on another clock",
                               kept_.rows(), rows_);
}

Drift DriftSink::take() {
  for (Pair& pair : pairs_)
    if (pair.has_strayed) drift_.strayed.push_back(std::move(pair.strayed));
  std::stable_sort(drift_.strayed.begin(), drift_.strayed.end(), [](const StrayedColumn& a, const StrayedColumn& b) {
    // Of those that stray together, what is seen says most.
    return a.first_at != b.first_at ? a.first_at < b.first_at : is_seen(a.name) > is_seen(b.name);
  });
  return std::move(drift_);
}

} // namespace stasis
