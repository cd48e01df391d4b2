// Which motions a channel has: one, by direction, by component.
#include <algorithm>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/feel/read_motion.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class ChoiceReader {
public:
  ChoiceReader(Reading& reading, const Channel& channel) : reading_(reading), channel_(channel) {}

  MotionChoices by_component(const Node* node, const std::string& path, const std::string& own_name) {
    MotionChoices choices{};
    const bool is_table = node != nullptr && node->table() != nullptr && node->find("kind") == nullptr;
    const bool by_direction = is_table && (node->find("rising") != nullptr || node->find("falling") != nullptr);
    if (!is_table || by_direction) {
      if (by_direction && channel_.components > 1) {
        reading_.report("feel.motion", path, node->where,
                        "rising and falling are for channels of one component; a vector has no such direction",
                        "Give each component its own: { x = { rising = .., falling = .. }, y = .. }.");
        return choices;
      }
      choices.fill(by_direction_of(node, path, own_name));
      return choices;
    }
    check_letters(*node, path);
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const std::string letter(1, static_cast<char>('x' + i));
      choices[i] = by_direction_of(node->find(letter), joined_path(path, letter), own_name + "." + letter);
    }
    return choices;
  }

private:
  void check_letters(const Node& node, const std::string& path) {
    for (const Entry& entry : *node.table()) {
      if (entry.key.size() == 1 && entry.key[0] >= 'x' && entry.key[0] < static_cast<char>('x' + channel_.components))
        continue;
      const std::size_t count = channel_.components;
      if (entry.key.size() > 1) return report_kind(reading_, node, path, "motion.cut");
      reading_.report("feel.unknown_key", joined_path(path, entry.key), entry.where,
                      fmt::format("a motion by component names x{}; this channel has {}",
                                  count == 1   ? ""
                                  : count == 2 ? " and y"
                                               : ", y and z",
                                  count == 1 ? "one component" : fmt::format("{} components", count)),
                      "To write a motion in place, give it a kind; to tell directions apart, give rising and falling.");
    }
  }

  MotionChoice by_direction_of(const Node* node, const std::string& path, const std::string& own_name) {
    const bool by_direction = node != nullptr && node->table() != nullptr && node->find("kind") == nullptr
                              && (node->find("rising") != nullptr || node->find("falling") != nullptr);
    if (!by_direction) {
      const std::size_t one = index_of_motion(node, path, own_name);
      return {one, one};
    }
    for (const Entry& entry : *node->table())
      if (entry.key != "rising" && entry.key != "falling")
        reading_.report("feel.unknown_key", joined_path(path, entry.key), entry.where,
                        "a motion by direction has the keys rising and falling");
    for (const char* key : {"rising", "falling"})
      if (node->find(key) == nullptr)
        reading_.report("feel.missing_key", joined_path(path, key), node->where,
                        fmt::format("the key {} is missing", key),
                        "A motion by direction names both; \"cut\" is written { kind = \"cut\" }.");
    return {index_of_motion(node->find("rising"), joined_path(path, "rising"), own_name + ".rising"),
            index_of_motion(node->find("falling"), joined_path(path, "falling"), own_name + ".falling")};
  }

  /// The index of the motion that `node` names or is, fit for the channel's space; without a node, a cut.
  std::size_t index_of_motion(const Node* node, const std::string& path, const std::string& own_name) {
    if (node == nullptr) return add("cut", Cut{});
    if (node->table() != nullptr) {
      auto motion = read_motion(reading_, *node, path);
      return motion ? fitted(add(own_name, std::move(*motion))) : 0;
    }
    const std::string* name = node->text();
    if (name == nullptr) {
      reading_.report(
          "feel.motion", path, node->where,
          fmt::format("expected the name of a motion or a table with its kind, found {}", kind_in_words(*node)));
      return 0;
    }
    const auto& motions = reading_.feel.motions;
    if (const auto found = index_of(motions, *name); found && !motions[*found].written_in_place) return fitted(*found);
    if (reading_.is_broken(*name)) return 0;
    std::vector<std::string_view> known;
    for (const NamedMotion& motion : motions)
      if (!motion.written_in_place) known.push_back(motion.name);
    for (const std::string& broken : reading_.broken) known.push_back(broken);
    reading_.report_unknown(path, node->where, NameKind::motion, *name, known);
    return 0;
  }

  /// In the logarithmic spaces a pace's numbers are doublings a second: such a motion is kept once more, converted.
  std::size_t fitted(std::size_t index) {
    if (!is_logarithmic(channel_.space.space)) return index;
    const NamedMotion& named = reading_.feel.motions[index];
    if (const auto* frames = std::get_if<PerFrame>(&named.motion)) {
      const auto* amount = std::get_if<AmountRule>(&frames->rule);
      if (amount == nullptr) return index;
      return add(named.name, PerFrame{AmountRule{amount->amount * std::numbers::ln2}, frames->at_fps});
    }
    const Pace* pace = pace_of(named.motion);
    if (pace == nullptr) return index;
    const Pace inside{pace->speed * std::numbers::ln2, pace->acceleration * std::numbers::ln2};
    Motion motion = named.motion;
    if (auto* chain = std::get_if<Chain>(&motion))
      chain->head = inside;
    else
      motion = inside;
    return add(named.name, std::move(motion));
  }

  std::size_t add(std::string name, Motion motion) {
    reading_.feel.motions.push_back({std::move(name), std::move(motion), true});
    return reading_.feel.motions.size() - 1;
  }

  Reading& reading_;
  const Channel& channel_;
};

} // namespace

MotionChoices read_motion_choices(Reading& reading, const Node* node, const std::string& path, const Channel& channel,
                                  const std::string& own_name) {
  return ChoiceReader(reading, channel).by_component(node, path, own_name);
}

} // namespace stasis
