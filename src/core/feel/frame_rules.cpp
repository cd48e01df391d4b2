#include "core/feel/frame_rules.hpp"

#include "core/feel/read_motion.hpp"

namespace stasis {
namespace {

void look_into(const Node& document, const Node& node, const std::string& path, std::vector<FrameRuleAt>& out) {
  if (node.table() == nullptr) return;
  const Node* kind = node.find("kind");
  if (kind != nullptr && kind->text() != nullptr && *kind->text() == "per_frame" && node.find("rule") != nullptr) {
    Reading reading(document);
    const auto motion = read_motion(reading, node, path);
    if (motion && std::holds_alternative<PerFrame>(*motion)) out.push_back({path, std::get<PerFrame>(*motion)});
    return;
  }
  for (const Entry& entry : *node.table()) look_into(document, entry.value, joined_path(path, entry.key), out);
}

} // namespace

std::vector<FrameRuleAt> frame_rules_in(const Node& document) {
  std::vector<FrameRuleAt> out;
  look_into(document, document, "", out);
  return out;
}

} // namespace stasis
