#include "core/search/trials.hpp"

#include <algorithm>

#include "core/check/known_names.hpp"
#include "core/check/wants.hpp"
#include "core/feel/measure_name.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/player.hpp"

namespace stasis {

Trials::Trials(std::vector<TrialCase> cases, std::vector<std::string> measures)
    : cases_(std::move(cases)), measures_(std::move(measures)) {}

void Trials::play(std::size_t trial_case, const Feel& feel, TrialOutcome& out) const {
  std::vector<Want> asked, wants = feel.wants;
  for (const std::string& measure : measures_)
    asked.push_back(measure_named(feel, all_known_names, measure).value_or(Want{}));
  for (const NamedWant& one : more_wants_) {
    Want want = measure_named(feel, all_known_names, one.measure).value_or(Want{});
    want.rule = one.want.rule;
    want.bound = one.want.bound;
    want.within = one.want.within;
    want.every_take = true;
    wants.push_back(std::move(want));
  }
  std::vector<Want> all = wants;
  all.insert(all.end(), asked.begin(), asked.end());
  const auto scope = scope_of(feel, all);
  for (const std::string& name : cases_[trial_case].takes) {
    const auto take = std::find_if(feel.takes.begin(), feel.takes.end(), [&](const Take& t) { return t.name == name; });
    if (take == feel.takes.end()) continue;
    const Scene scene{&feel, &*take, clock_of(*take)};
    MeasureSink measuring(scope);
    BlockSink* const sinks[] = {&measuring};
    const TakeMeasures measures = measuring.take(stasis::play(scene, sinks));
    TrialRow row{trial_case, name, take->fps, {}};
    for (const Want& want : asked) row.measures.push_back(wanted_value(want, feel, measures));
    out.rows.push_back(std::move(row));
    const auto index = static_cast<std::size_t>(take - feel.takes.begin());
    for (const Want& want : wants) {
      if (!want.every_take && want.take != index) continue;
      WantVerdict verdict = judge(want, feel, measures);
      out.wants.push_back({trial_case, name, std::move(verdict.measure), std::move(verdict.bound),
                           std::move(verdict.unit), verdict.rule, verdict.limit, verdict.within.value_or(0.0),
                           verdict.value, verdict.holds});
    }
  }
}

Result<TrialOutcome> Trials::with(const std::vector<Assignment>& values) const {
  TrialOutcome out;
  for (std::size_t c = 0; c < cases_.size(); ++c) {
    const auto feel = cases_[c].variations.with(values);
    if (!feel) return tl::unexpected(feel.error());
    play(c, *feel, out);
  }
  return out;
}

} // namespace stasis
