#include "core/take/step_play.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/motion/equivalent.hpp"
#include "core/motion/spring_design.hpp"
#include "core/overloaded.hpp"
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

double long_enough(const Motion& motion) {
  const auto of_spring = [](const Spring& spring) {
    constexpr double most = 1e4;
    return std::min(settling_angle(std::max(spring.damping_ratio, 1e-3), 0.002), most) / spring.angular_frequency;
  };
  const auto time = Overloaded{
      [](const Cut&) { return 0.01; },
      [](const Glide& glide) { return 12.0 / glide.rate; },
      [&](const Spring& spring) { return 2.0 * of_spring(spring); },
      [](const Ease& ease) {
        return 1.5 * total_time(ease, {0.0, 1.0, false});
      },
      [](const Pace& pace) {
        return 2.0 * (1.0 / pace.speed + pace.speed / pace.acceleration + 2.0 / std::sqrt(pace.acceleration));
      },
      [](const Chain& chain) {
        double all = 0.01 + chain.delay;
        if (chain.head) all += std::visit([](const auto& head) { return long_enough(Motion(head)); }, *chain.head);
        for (const Link& link : chain.links)
          all += std::visit([](const auto& one) { return long_enough(Motion(one)); }, link);
        return 1.5 * all;
      },
      [](const PerFrame& rule) { return long_enough(continuous_form(rule)) + 8.0 / rule.at_fps; },
      [](const Led&) { return 0.0; }, // it goes where it is led
  };
  return std::visit(time, motion);
}

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
  auto frames = std::make_shared<std::vector<double>>(times);
  frames->push_back(times.back() + 1.0); // of the frame that is not drawn
  StepSink sink;
  BlockSink* const sinks[] = {&sink};
  const auto count = static_cast<std::int64_t>(times.size());
  play({&feel, &feel.takes[0], {.fps = 60.0, .frames = count, .times = std::move(frames)}}, sinks);
  return std::move(sink.values);
}

} // namespace stasis
