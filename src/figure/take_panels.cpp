#include "figure/take_panels.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/style.hpp"

namespace stasis::figure {
namespace {

struct Candidate {
  PanelSeries series;
  std::string unit;
  double busyness = 0.0;
};

bool is_wanted(const TakeFigureInput& input, const Channel& channel) {
  return input.only.empty() || std::find(input.only.begin(), input.only.end(), channel.name) != input.only.end();
}

/// How often a line goes through its own extent, up or down; 0 for one that stands.
double crossings_of(const std::vector<Point>& line) {
  double low = line.front().y, high = low, way = 0.0;
  for (std::size_t k = 1; k < line.size(); ++k) {
    low = std::min(low, line[k].y);
    high = std::max(high, line[k].y);
    way += std::fabs(line[k].y - line[k - 1].y);
  }
  return high - low > 1e-9 * std::max(std::fabs(low), std::fabs(high)) ? way / (high - low) : 0.0;
}

/// How much happens in a component: its moves, and how much of its own extent each crosses.
double busyness_of(const TakeFigureInput& input, std::size_t c, std::size_t i) {
  double extent = 0.0, way = 0.0;
  for (const Move& move : input.measures->moves) {
    if (move.channel != c) continue;
    const double step = std::fabs(move.to[i] - move.from[i]);
    extent = std::max(extent, step);
    way += step;
  }
  const double moves = extent > 0.0 ? way / extent : 0.0;
  // A goal that moves by itself makes no moves; how often the line crosses its own extent says as much.
  return input.measures->channels[c].goal_ran ? std::max(moves, crossings_of(input.series->series()[c][i].smooth))
                                              : moves;
}

std::vector<Candidate> candidates_of(const TakeFigureInput& input) {
  std::vector<Candidate> all;
  const Feel& feel = *input.scene->feel;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (!is_wanted(input, channel)) continue;
    for (std::size_t i = 0; i < channel.components; ++i)
      all.push_back({{c, i, component_name(channel, i), 0}, printable(channel.unit), busyness_of(input, c, i)});
  }
  return all;
}

/// Components that rest all the time are left out, unless nothing moves at all.
void drop_resting(std::vector<Candidate>& all, std::vector<std::string>& left_out) {
  const auto moves = [](const Candidate& c) { return c.busyness > 0.0; };
  if (std::none_of(all.begin(), all.end(), moves)) return;
  std::vector<std::string_view> resting;
  for (const Candidate& one : all)
    if (!moves(one)) resting.push_back(one.series.name);
  if (!resting.empty()) left_out.push_back("at rest throughout: " + listed(resting));
  std::erase_if(all, [&](const Candidate& c) { return !moves(c); });
}

/// Series of one unit share a panel; beyond five another panel of that unit begins. The lens stands alone: other
/// angles, such as headings, are of another size; and so does what obstacles hold in, whose panel shows them.
std::vector<Panel> grouped(const TakeFigureInput& input, const std::vector<Candidate>& all) {
  const Feel& feel = *input.scene->feel;
  std::vector<Panel> panels;
  for (const Candidate& one : all) {
    const auto stands_alone = [&](const PanelSeries& series) {
      return feel.picture.lens_channel == series.channel || feel.channels[series.channel].obstacles;
    };
    const auto fits = [&](const Panel& p) {
      return p.unit == one.unit && p.series.size() < style::series.size() && !stands_alone(p.series.front())
             && !stands_alone(one.series);
    };
    auto panel = std::find_if(panels.begin(), panels.end(), fits);
    if (panel == panels.end()) panel = panels.insert(panels.end(), Panel{PanelKind::value, one.unit, {}, {}});
    panel->series.push_back(one.series);
  }
  // Colours run on over the panels while they last, so that a channel keeps its colour; a sixth starts over.
  std::size_t colour = 0;
  for (Panel& panel : panels) {
    if (colour + panel.series.size() > style::series.size()) colour = 0;
    for (PanelSeries& series : panel.series) series.colour = colour++;
  }
  return panels;
}

double busyness_of(const TakeFigureInput& input, const Panel& panel) {
  double sum = 0.0;
  for (const PanelSeries& series : panel.series) sum += busyness_of(input, series.channel, series.component);
  return sum;
}

std::string names_of(const Panel& panel) {
  std::vector<std::string_view> names;
  for (const PanelSeries& series : panel.series) names.push_back(series.name);
  return listed(names);
}

double least_height(const Panel& panel) {
  constexpr double least_value = 84, least_velocity = 58;
  // End labels of one line each need this much of the panel and the gap below it.
  const double labels = 18.0 * static_cast<double>(panel.series.size()) - style::panel_gap + 8;
  const bool is_rate = panel.kind == PanelKind::velocity || panel.kind == PanelKind::picture_rate;
  return std::max(is_rate ? least_velocity : least_value, labels);
}

double weight_of(const Panel& panel, bool first) {
  if (panel.kind == PanelKind::velocity || panel.kind == PanelKind::picture_rate) return 0.9;
  return first ? 2.2 : 1.3;
}

double height_needed(const std::vector<Panel>& panels) {
  double sum = -style::panel_gap;
  for (const Panel& panel : panels) sum += least_height(panel) + style::panel_gap;
  return sum;
}

/// Behind the values: the lens as what it does to the picture, if that is asked for.
void add_picture_panels(const TakeFigureInput& input, std::vector<Panel>& panels) {
  const auto lens = input.scene->feel->picture.lens_channel;
  if (!input.picture_scale || !lens) return;
  for (const Panel& panel : panels)
    for (const PanelSeries& series : panel.series) {
      if (panel.kind != PanelKind::value || series.channel != *lens) continue;
      const PanelSeries shown{series.channel, 0, series.name, series.colour};
      panels.push_back({PanelKind::picture_scale, "times", {shown}, {}});
      panels.push_back({PanelKind::picture_rate, "doublings/s", {shown}, {}});
      return;
    }
}

/// Drops panels until the rest fits: velocities of the least busy first, then values.
void drop_to_fit(const TakeFigureInput& input, std::vector<Panel>& panels, double height,
                 std::vector<std::string>& left_out) {
  std::vector<std::string> dropped;
  while (panels.size() > 1 && height_needed(panels) > height) {
    const auto velocities =
        std::count_if(panels.begin(), panels.end(), [](const Panel& p) { return p.kind == PanelKind::velocity; });
    const PanelKind kind = velocities > 1 || panels.size() - static_cast<std::size_t>(velocities) < 2
                               ? PanelKind::velocity
                               : PanelKind::value;
    auto least = panels.end();
    for (auto panel = panels.begin(); panel != panels.end(); ++panel)
      if (panel->kind == kind && (least == panels.end() || busyness_of(input, *panel) <= busyness_of(input, *least)))
        least = panel;
    dropped.push_back((kind == PanelKind::velocity ? "speed of " : "") + names_of(*least));
    panels.erase(least);
  }
  if (dropped.empty()) return;
  const std::vector<std::string_view> views(dropped.rbegin(), dropped.rend());
  left_out.push_back(fmt::format("no room for {}; --only NAME draws it", listed(views)));
}

void place(std::vector<Panel>& panels, double top) {
  double weights = 0.0, least = 0.0;
  for (std::size_t p = 0; p < panels.size(); ++p) {
    weights += weight_of(panels[p], p == 0);
    least += least_height(panels[p]);
  }
  const double room = style::last_baseline - top - style::panel_gap * static_cast<double>(panels.size() - 1);
  const double spare = std::max(0.0, room - least);
  double y = top;
  for (std::size_t p = 0; p < panels.size(); ++p) {
    panels[p].area.top = y;
    panels[p].area.bottom = y + least_height(panels[p]) + spare * weight_of(panels[p], p == 0) / weights;
    y = panels[p].area.bottom + style::panel_gap;
  }
  panels.back().area.bottom = style::last_baseline;
}

void set_axis(const TakeFigureInput& input, Panel& panel) {
  double low = std::numeric_limits<double>::infinity(), high = -low;
  const auto cover = [&](const std::vector<Point>& points) {
    for (const Point& point : points) {
      low = std::min(low, point.y);
      high = std::max(high, point.y);
    }
  };
  for (const PanelSeries& series : panel.series) {
    const ComponentSeries& points = input.series->series()[series.channel][series.component];
    const bool of_picture = panel.kind == PanelKind::picture_scale || panel.kind == PanelKind::picture_rate;
    const ComponentSeries& shown = of_picture ? input.series->picture() : points;
    const bool is_value = panel.kind == PanelKind::value || panel.kind == PanelKind::picture_scale;
    cover(is_value ? shown.smooth : shown.velocity);
    if (is_value) cover(shown.goal);
  }
  if (panel.kind == PanelKind::velocity || panel.kind == PanelKind::picture_rate) cover({{0.0, 0.0}});
  if (low > high) low = high = 0.0;
  const double height = panel.area.bottom - panel.area.top;
  panel.area.axis = value_axis(low, high, height > 150 ? 5 : height > 90 ? 4 : 3);
}

} // namespace

PanelPlan plan_panels(const TakeFigureInput& input, double top) {
  PanelPlan plan;
  std::vector<Candidate> all = candidates_of(input);
  drop_resting(all, plan.left_out);
  std::vector<Panel> panels = grouped(input, all);
  // The busiest panel stands on top, where most room is.
  std::stable_sort(panels.begin(), panels.end(), [&](const Panel& a, const Panel& b) {
    const auto lens = input.scene->feel->picture.lens_channel;
    const auto has_lens = [&](const Panel& p) { return lens && p.series.front().channel == *lens; };
    return has_lens(a) && !has_lens(b);
  });
  const std::size_t values = panels.size();
  for (std::size_t p = 0; p < values; ++p) {
    Panel velocity = panels[p];
    velocity.kind = PanelKind::velocity;
    panels.push_back(std::move(velocity));
  }
  add_picture_panels(input, panels);
  drop_to_fit(input, panels, style::last_baseline - top, plan.left_out);
  place(panels, top);
  for (Panel& panel : panels) set_axis(input, panel);
  plan.panels = std::move(panels);
  return plan;
}

} // namespace stasis::figure
