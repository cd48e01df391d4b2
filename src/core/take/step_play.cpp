#include "core/take/step_play.hpp"

#include <limits>

#include "core/motion/equivalent.hpp"
#include "core/motion/spring_design.hpp"
#include "core/take/player.hpp"

namespace stasis {
namespace {

/// Keeps what the only channel does.
class StepSink final : public BlockSink {
public:
  void begin(const Scene&) override {}
  void consume(const Block& block) override {
    const auto& smooth = block.channels[0].component[0].smooth;
    values.insert(values.end(), smooth.begin(), smooth.begin() + static_cast<std::ptrdiff_t>(block.count));
  }
  void end() override {}

  std::vector<double> values;
};

} // namespace

Feel step_feel(const Motion& motion, double length) {
  Feel feel;
  feel.motions.push_back({"step", motion, false});
  Channel channel;
  channel.name = "a";
  channel.range.fill({-std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity()});
  feel.channels.push_back(channel);
  PoseGoal goal{0, {}, {}, {}};
  goal.value[0] = {GoalRule::value, 1.0};
  feel.poses.push_back({"up", {goal}, true});
  feel.controls.push_back({"up", Hold{}, {}, {}});
  Take take;
  take.length = length;
  take.cues.push_back({0.0, CueAction::press, 0});
  feel.takes.push_back(take);
  return feel;
}

std::vector<double> step_values(const Motion& motion, const std::vector<double>& times) {
  const Feel feel = step_feel(motion, times.back());
  std::vector<double> frames = times;
  frames.push_back(times.back() + 1.0); // of the frame that is not drawn
  StepSink sink;
  BlockSink* const sinks[] = {&sink};
  play({&feel, feel.takes.data(), clock_at(60.0, std::move(frames))}, sinks);
  return std::move(sink.values);
}

} // namespace stasis
