#include "code/check_program.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

#include <fmt/format.h>

#include "code/read_program.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

/// The values of a take, row by row.
class ValuesSink final : public BlockSink {
public:
  explicit ValuesSink(std::vector<ComponentRef> components) : components_(std::move(components)) {}

  void begin(const Scene&) override {}
  void consume(const Block& block) override {
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
      for (const ComponentRef one : components_)
        values.push_back(block.channels[one.channel].component[one.component].value[row]);
  }
  void end() override {}

  std::vector<double> values;

private:
  std::vector<ComponentRef> components_;
};

std::string array(std::string_view name, const std::vector<double>& values) {
  std::string text = fmt::format("constant real[{}] {} = {{", values.size(), name);
  for (std::size_t i = 0; i < values.size(); ++i) text += (i > 0 ? ", " : "") + literal(values[i]);
  return text + "};\n";
}

std::string large(const std::string& name) { return in_capitals(identifier(name)); }

/// What a cue does to the state; empty for what is not in the source code. Of several buttons the first that goes down
/// is a press, the last that comes up a release.
class CueText {
public:
  explicit CueText(const Feel& feel) : feel_(feel), down_(feel.controls.size()) {}

  std::string of(const Cue& cue) {
    switch (cue.action) {
    case CueAction::press: {
      std::set<std::size_t>& down = down_[cue.control];
      const bool again = !down.insert(cue.button).second;
      return again || down.size() == 1 ? on_control("press", cue) : std::string();
    }
    case CueAction::release:
    case CueAction::cancel: {
      std::set<std::size_t>& down = down_[cue.control];
      if (cue.action == CueAction::cancel)
        down.clear();
      else
        down.erase(cue.button);
      return down.empty() ? on_control(name_of(cue.action), cue) : std::string();
    }
    case CueAction::click:
      return fmt::format("click(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name),
                         static_cast<int>(cue.amount));
    case CueAction::goal: {
      std::string said;
      for (const CueGoal& goal : cue.goals)
        said += fmt::format("goal(s, VALUE_{}, {}); ", in_capitals(component_identifier(feel_, goal.target)),
                            literal(goal.value));
      return said;
    }
    case CueAction::hit:
      return fmt::format("hit(s, SHAKE_{}, {});", large(feel_.shakes[cue.shake].name), literal(cue.amount));
    case CueAction::pointer:
    case CueAction::stick:
    case CueAction::lock:
    case CueAction::unlock:
    case CueAction::follow:
    case CueAction::start:
    case CueAction::skip: break;
    }
    return {};
  }

private:
  std::string on_control(const char* what, const Cue& cue) const {
    return fmt::format("{}(s, CONTROL_{});", what, large(feel_.controls[cue.control].name));
  }

  const Feel& feel_;
  std::vector<std::set<std::size_t>> down_;
};

/// How large a value's differences may be called small: the way it goes, or its range.
std::vector<double> sizes_of(const Feel& feel, const std::vector<ComponentRef>& components,
                             const std::vector<double>& values) {
  std::vector<double> sizes;
  for (std::size_t c = 0; c < components.size(); ++c) {
    double way = 0.0, largest = 0.0;
    for (std::size_t at = c; at < values.size(); at += components.size()) {
      if (at >= components.size()) way += std::fabs(values[at] - values[at - components.size()]);
      largest = std::max(largest, std::fabs(values[at]));
    }
    const auto [low, high] = feel.channels[components[c].channel].range[components[c].component];
    if (std::isfinite(high - low)) way = std::max(way, high - low);
    sizes.push_back(std::max(way, way > 0.0 ? largest * 1e-3 : std::max(largest, 1.0)));
  }
  return sizes;
}

} // namespace

std::string fault_of_take(const Feel& feel, const Take& take) {
  const auto uses = [&](CueAction action) {
    return std::any_of(take.cues.begin(), take.cues.end(), [&](const Cue& cue) { return cue.action == action; });
  };
  if (uses(CueAction::lock)) return "it locks a control";
  if (take.tick.order == Tick::Order::on_tick && take.tick.rate > 0.0) return "its camera is stepped on a tick";
  for (const Cue& cue : take.cues)
    if (cue.action == CueAction::hit && (!cue.direction.empty() || (cue.place && feel.shakes[cue.shake].falloff)))
      return "a hit has a direction or a place";
  return {};
}

Check check_of(const Lowered& lowered, const Scene& scene) {
  const Feel& feel = *scene.feel;
  std::vector<ComponentRef> components;
  std::string head = "time", value_of = "real check_value(State s, whole column) {\n";
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    if (std::find(lowered.given.begin(), lowered.given.end(), c) != lowered.given.end()) continue;
    for (std::size_t i = 0; i < feel.channels[c].components; ++i) {
      value_of += fmt::format("if (column == {}) {{ return value_of_{}(s); }}\n", components.size(),
                              component_identifier(feel, {c, i}));
      components.push_back({c, i});
      head += "," + component_name(feel.channels[c], i);
    }
  }
  value_of += "return 0.0; }\n";
  ValuesSink sink(components);
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  std::vector<double> times, steps;
  for (std::int64_t frame = 0; frame < scene.clock.frames; ++frame) {
    times.push_back(scene.clock.time(frame));
    steps.push_back(scene.clock.dt(frame));
  }
  std::string cues = "act apply_cues(changing State s, whole frame) {\n";
  CueText text(feel);
  for (const Cue& cue : scene.take->cues) {
    const std::int64_t frame = due_frame(scene.clock, cue.at);
    const std::string what = text.of(cue);
    if (what.empty() || frame >= scene.clock.frames) continue;
    const double at = scene.clock.drawn == nullptr ? cue.at : scene.clock.time(frame);
    cues += fmt::format("if (frame == {}) {{ s.input_time = {}; {} }}\n", frame, literal(at), what);
  }
  cues += "}\n";
  const Program own = read_program(lowered.text);
  std::string open = "open ";
  Program whole = read_program(lowered.text + array("CHECK_TIME", times) + array("CHECK_STEP", steps)
                               + array("CHECK_SIZE", sizes_of(feel, components, sink.values))
                               + array("CHECK_ROWS", sink.values) + open + cues + open + value_of
                               // Named, so that they are kept: the main program of each language reads them.
                               + "open real check_numbers(whole k) { return CHECK_TIME[k] + CHECK_STEP[k] + CHECK_SIZE[k] "
                                 "+ CHECK_ROWS[k]; }\n");
  std::erase_if(whole.functions, [&](const Function& one) {
    return one.name == "check_numbers" || own.function(one.name) != nullptr;
  });
  std::erase_if(whole.constants, [&](const Constant& one) {
    return std::any_of(own.constants.begin(), own.constants.end(),
                       [&](const Constant& other) { return other.name == one.name; });
  });
  whole.records.clear();
  for (Function& one : whole.functions) one.is_open = false;
  Check check;
  check.program = std::move(whole);
  check.head = head;
  check.columns = components.size();
  check.rows = times.size();
  return check;
}

} // namespace stasis::code
