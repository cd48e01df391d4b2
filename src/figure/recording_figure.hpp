// A recorded value: its rows, the path behind them, how fast it goes, its moves.
#pragma once

#include <string>

#include "core/recorded/recording_measures.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// \param file that it was read from; \param rows as they were recorded.
Figure recording_figure(const std::string& file, const RecordedRows& rows, const RecordingMeasures& found);

} // namespace stasis::figure
