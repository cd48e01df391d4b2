// The look: colours, sizes and places that every figure shares. Reasons: docs/design.md, "Figures".
#pragma once

#include <array>
#include <string_view>

namespace stasis::figure::style {

inline constexpr std::string_view paper = "#FFFFFF", ink = "#14262E", muted = "#5A6B73";
inline constexpr std::string_view hairline = "#E1E8EA", baseline = "#9FADB3";
inline constexpr std::string_view wash = "#EEF4F3", bar = "#7F959C", wall = "#C9D3D6";

struct SeriesColour {
  std::string_view line;
  std::string_view text;  ///< dark enough to be read on paper
  std::string_view faint; ///< 60 % on paper, for goals
};
/// More than five series are small multiples, never a sixth colour.
inline constexpr std::array<SeriesColour, 5> series{{{"#064B5D", "#064B5D", "#6A939E"},
                                                     {"#CD5F33", "#AF4A1F", "#E19F85"},
                                                     {"#7F4D8B", "#744480", "#B294B9"},
                                                     {"#3BA480", "#1F7657", "#89C8B3"},
                                                     {"#B49203", "#7C6400", "#D2BE68"}}};

inline constexpr double moving_width = 3.0, resting_width = 1.2, goal_width = 1.0, derived_width = 1.4;
inline constexpr double velocity_opacity = 0.16;

inline constexpr double title_size = 21, subtitle_size = 13, panel_size = 14, label_size = 13, small_size = 12,
                        rail_size = 10;

// Places on the page of 1280 x 800, px.
inline constexpr double plot_left = 104, plot_right = 1130, page_right = 1272, label_left = 1142;
inline constexpr double title_y = 30, subtitle_y = 55, rail_top = 92, rail_pitch = 17, panels_top = 118;
inline constexpr double panel_gap = 48, last_baseline = 750, tick_row_y = 766, footnote_y = 785;

} // namespace stasis::figure::style
