#include "cli/motion_json.hpp"

namespace stasis::cli {

void write_motion(io::JsonWriter& json, const MotionAccount& motion) {
  json.begin_object()
      .key("motion")
      .text(motion.name)
      .key("when")
      .text(motion.when)
      .key("words")
      .text(motion.sentence)
      .key("forms")
      .begin_array();
  for (const EquivalentForm& form : motion.forms)
    json.begin_object()
        .key("form")
        .text(form.name)
        .key("value")
        .number(form.value)
        .key("unit")
        .text(form.unit)
        .key("sense")
        .text(form.sense)
        .end_object();
  json.end_array()
      .key("step")
      .begin_object()
      .key("to_50")
      .number(motion.step.to_50)
      .key("to_90")
      .number(motion.step.to_90);
  json.key("to_98")
      .number(motion.step.to_98)
      .key("settling_time")
      .number(motion.step.settling_time)
      .key("overshoot")
      .number(motion.step.overshoot);
  json.key("start_kick").number(motion.step.start_kick).key("reason");
  if (motion.step.why_not_played.empty())
    json.null();
  else
    json.text(motion.step.why_not_played);
  json.end_object().key("lag_time").number(motion.lag).key("sway").begin_array();
  for (const Sway& sway : motion.sways)
    json.begin_object()
        .key("frequency")
        .number(sway.frequency_hz)
        .key("passes")
        .number(sway.passes)
        .key("late")
        .number(sway.late)
        .end_object();
  json.end_array().end_object();
}

} // namespace stasis::cli
