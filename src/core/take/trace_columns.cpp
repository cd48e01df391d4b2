#include "core/take/trace_columns.hpp"

namespace stasis {

std::vector<std::string> trace_header(const Feel& feel) {
  std::vector<std::string> header{"frame", "time", "dt"};
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    const auto add = [&](const char* field) {
      for (std::size_t i = 0; i < channel.components; ++i)
        header.push_back(channel.name + field + (channel.components > 1 ? component_suffixes[i] : ""));
    };
    for (const char* field : {".goal", ".smooth", ".value", ".velocity"}) add(field);
    if (has_wish_column(feel, c)) add(".wish");
  }
  for (const Control& control : feel.controls) header.push_back("control." + control.name + ".down");
  return header;
}

void trace_columns(const Feel& feel, const Block& block, std::vector<ColumnView>& columns) {
  columns.clear();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const auto& components = block.channels[c].component;
    const std::size_t count = feel.channels[c].components;
    for (std::size_t i = 0; i < count; ++i) columns.push_back({{}, components[i].goal, 0});
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].smooth, 0.0, 0});
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].value, 0.0, count});
    for (std::size_t i = 0; i < count; ++i) columns.push_back({components[i].velocity, 0.0, 0});
    if (has_wish_column(feel, c))
      for (std::size_t i = 0; i < count; ++i) columns.push_back({{}, components[i].wish, 0});
  }
  for (const std::uint8_t down : block.control_down) columns.push_back({{}, static_cast<double>(down), 0});
}

} // namespace stasis
