#include "core/feel/read_motion.hpp"

#include <fmt/format.h>

#include "core/feel/section_reader.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::optional<Motion> read_glide(SectionReader& reader) {
  if (const auto half_life = reader.number("half_life")) return Glide{rate_of_half_life(*half_life)};
  if (const auto constant = reader.number("time_constant")) return Glide{rate_of_time_constant(*constant)};
  if (const auto rate = reader.number("rate")) return Glide{*rate};
  if (const auto time = reader.number("settling_time"))
    return Glide{rate_of_settling_time(*time, default_settle_share)};
  const auto fraction = reader.number("per_frame"), fps = reader.number("at_fps");
  if (fraction && fps) return Glide{rate_of_fraction(*fraction, *fps)};
  return std::nullopt;
}

std::optional<Motion> read_spring(SectionReader& reader) {
  const auto frequency = reader.number("frequency"), ratio = reader.number("damping_ratio");
  if (!frequency || !ratio) return std::nullopt;
  return Spring{angular_frequency(*frequency), *ratio, false};
}

std::optional<Motion> read_ease(SectionReader& reader) {
  const auto duration = reader.number("duration");
  const auto name = reader.text("curve");
  reader.choice("handover");
  if (!name) return std::nullopt;
  const auto curve = parse_curve(*name);
  if (!curve) {
    reader.report("feel.curve", "curve", fmt::format("\"{}\" is not a curve: {}", printable(*name, 80), curve.error()));
    return std::nullopt;
  }
  if (!duration) return std::nullopt;
  return Ease{*duration, *curve, Handover::restart};
}

/// Says what is wrong with `kind` itself: absent, not a text, or not a kind.
void report_kind(const Node& node, const std::string& path, Problems& problems) {
  const SectionSpec& section = *find_section("motion.cut");
  if (node.table() == nullptr) {
    SectionReader reader(node, section, path, problems);
    return;
  }
  // Only the key `kind` is read here: which other keys are allowed depends on it.
  Node only_kind{NodeTable{}, node.where};
  for (const Entry& entry : *node.table())
    if (entry.key == "kind") only_kind.table()->push_back(entry);
  SectionReader(only_kind, section, path, problems).choice("kind");
}

} // namespace

std::optional<Motion> read_motion(const Node& node, const std::string& path, Problems& problems) {
  const Node* kind = node.find("kind");
  const SectionSpec* section =
      kind != nullptr && kind->text() != nullptr ? find_section("motion." + *kind->text()) : nullptr;
  if (section == nullptr) {
    report_kind(node, path, problems);
    return std::nullopt;
  }
  const std::size_t before = problems.size();
  SectionReader reader(node, *section, path, problems);
  std::optional<Motion> motion;
  if (section->id == "motion.cut") motion = Cut{};
  if (section->id == "motion.glide") motion = read_glide(reader);
  if (section->id == "motion.spring") motion = read_spring(reader);
  if (section->id == "motion.ease") motion = read_ease(reader);
  return problems.size() == before ? motion : std::nullopt;
}

} // namespace stasis
