#include "figure/text_chart.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::figure {
namespace {

constexpr std::size_t scale_width = 9; // characters left of the dots
constexpr std::size_t dots_across = 2, dots_down = 4;

/// A grid of dots as braille (Unicode 2800 to 28FF): two across and four down in each character.
class Dots {
public:
  Dots(std::size_t columns, std::size_t rows) : columns_(columns), cells_(columns * rows, 0) {}

  void put(std::size_t x, std::size_t y) noexcept {
    constexpr unsigned bits[dots_down][dots_across] = {{0x01, 0x08}, {0x02, 0x10}, {0x04, 0x20}, {0x40, 0x80}};
    cells_[y / dots_down * columns_ + x / dots_across] |= bits[y % dots_down][x % dots_across];
  }
  std::string row(std::size_t row) const {
    std::string text;
    for (std::size_t column = 0; column < columns_; ++column) {
      const unsigned code = 0x2800u + cells_[row * columns_ + column];
      text += static_cast<char>(0xE0u | code >> 12);
      text += static_cast<char>(0x80u | (code >> 6 & 0x3Fu));
      text += static_cast<char>(0x80u | (code & 0x3Fu));
    }
    return text;
  }

private:
  std::size_t columns_;
  std::vector<unsigned> cells_;
};

} // namespace

void TextChart::Extent::take(double value) noexcept {
  if (!std::isfinite(value)) return;
  low = any ? std::min(low, value) : value;
  high = any ? std::max(high, value) : value;
  any = true;
}

std::size_t TextChart::columns() const noexcept { return std::max<std::size_t>(size_.width, 40) - scale_width - 1; }

std::size_t TextChart::column_of(double time) const noexcept {
  const auto dots = static_cast<double>(columns() * dots_across);
  return static_cast<std::size_t>(std::clamp(end_ > 0.0 ? time / end_ * (dots - 1.0) : 0.0, 0.0, dots - 1.0));
}

void TextChart::begin(const Scene& scene) {
  scene_ = scene;
  end_ = scene.clock.time(scene.clock.frames - 1);
  is_game_time_ = scene.clock.drawn != nullptr;
  curves_.clear();
  for (std::size_t c = 0; c < scene.feel->channels.size(); ++c) {
    const Channel& channel = scene.feel->channels[c];
    if (!only_.empty() && std::find(only_.begin(), only_.end(), channel.name) == only_.end()) continue;
    for (std::size_t i = 0; i < channel.components; ++i) {
      Curve curve;
      curve.channel = c;
      curve.component = i;
      curve.value.resize(columns() * dots_across);
      curve.goal.resize(columns() * dots_across);
      curves_.push_back(std::move(curve));
    }
  }
}

void TextChart::consume(const Block& block) {
  for (Curve& curve : curves_) {
    const ComponentBlock& component = block.channels[curve.channel].component[curve.component];
    for (std::int64_t frame = 0; frame < block.count; ++frame) {
      const auto row = static_cast<std::size_t>(frame);
      const std::size_t column = column_of(scene_.clock.time(block.first + frame));
      curve.value[column].take(component.value[row]);
      curve.goal[column].take(component.goal_at(row));
      curve.all.take(component.value[row]);
      curve.all.take(component.goal_at(row));
    }
  }
}

void TextChart::add_rows(const Curve& curve, std::string& out) const {
  const Channel& channel = scene_.feel->channels[curve.channel];
  const double low = curve.all.low, high = curve.all.high;
  const std::size_t down = size_.rows * dots_down;
  const auto dot = [&](double value) {
    const double share = high > low ? (value - low) / (high - low) : 0.5;
    return static_cast<std::size_t>(std::lround((1.0 - share) * static_cast<double>(down - 1)));
  };
  Dots dots(columns(), size_.rows);
  Extent last_value, last_goal;
  constexpr std::size_t apart = 3; // the goal: a dot, then a gap
  for (std::size_t x = 0; x < curve.value.size(); ++x) {
    if (curve.goal[x].any) last_goal = curve.goal[x];
    if (last_goal.any && x % apart == 0) dots.put(x, dot(last_goal.high));
    if (!curve.value[x].any && !last_value.any) continue;
    const Extent now = curve.value[x].any ? curve.value[x] : last_value;
    // Joined to the column before, so that a steep line has no holes.
    const std::size_t from = dot(last_value.any ? std::max(now.high, last_value.low) : now.high);
    const std::size_t to = dot(last_value.any ? std::min(now.low, last_value.high) : now.low);
    for (std::size_t y = from; y <= to; ++y) dots.put(x, y);
    last_value = now;
  }
  out += fmt::format("{} {}\n", component_name(channel, curve.component), printable(channel.unit, 16));
  for (std::size_t row = 0; row < size_.rows; ++row) {
    const std::string at = row == 0 ? concise(high, 4) : row + 1 == size_.rows ? concise(low, 4) : "";
    out += fmt::format("{}{} {}\n", std::string(scale_width - std::min(scale_width, code_points(at)), ' '), at,
                       dots.row(row));
  }
}

std::string TextChart::axis() const {
  const std::string last = concise(end_, 4) + " s";
  const std::size_t room = columns() - std::min(columns(), last.size() + 1);
  return std::string(scale_width + 1, ' ') + "0" + std::string(room, ' ') + last + "\n";
}

std::string TextChart::text() const {
  std::string out;
  for (const Curve& curve : curves_)
    if (curve.all.any && (curve.all.high > curve.all.low || !only_.empty())) add_rows(curve, out);
  return out.empty() ? "nothing moves in this take\n"
                     : out + axis() + "the line is the value, the dots its goal"
                           + (is_game_time_ ? "; seconds of game time\n" : "\n");
}

} // namespace stasis::figure
