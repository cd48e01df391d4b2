// A feel that is changed while it is played: its controls go on as those of the same names were.
#include "core/take/controls.hpp"
#include "core/take/same_names.hpp"

namespace stasis {

void Controls::go_on_from(const Controls& old, const SameNames& same, std::int64_t frame) {
  last_dt_ = old.last_dt_;
  for (std::size_t c = 0; c < each_.size(); ++c) {
    if (!same.controls[c]) continue;
    const std::size_t theirs = *same.controls[c];
    each_[c] = old.each_[theirs];
    if (runs_on_of(c) != old.runs_on_of(theirs)) { // as far on as on the other clock
      const double more = time_of(c, frame) - old.time_of(theirs, frame);
      each_[c].anchor.at += more;
      each_[c].looked_at += more;
    }
    down_[c] = old.down_[theirs];
    const auto* cycle = std::get_if<Cycle>(&feel_.controls[c].rule);
    const auto* before = std::get_if<Cycle>(&old.feel_.controls[theirs].rule);
    if (cycle != nullptr && before != nullptr && cycle->poses.size() != before->poses.size()) each_[c].turn = 0;
  }
  for (std::size_t s = 0; s < in_force_.size(); ++s)
    if (same.switches[s]) in_force_[s] = old.in_force_[*same.switches[s]];
  for (const Contender& contender : old.contenders_)
    if (const auto mine = contender_now(contender, old, same)) contenders_.push_back(*mine);
  for (std::size_t c = 0; c < feel_.channels.size(); ++c)
    if (same.channels[c]) adopt_bases(c, *same.channels[c], old, same);
}

/// A pose stays in force only where its control can still put it there.
std::optional<Controls::Contender> Controls::contender_now(const Contender& contender, const Controls& old,
                                                           const SameNames& same) const {
  const auto pose = SameNames::now(same.poses, contender.pose);
  if (!pose) return std::nullopt;
  Contender mine = contender;
  mine.pose = *pose;
  if (contender.control < old.feel_.controls.size()) {
    const auto control = SameNames::now(same.controls, contender.control);
    if (!control || !leads_to(feel_.controls[*control], *pose)) return std::nullopt;
    mine.control = *control;
    return mine;
  }
  const auto by = SameNames::now(same.switches, contender.control - old.feel_.controls.size());
  if (!by || feel_.switches[*by].pose != pose) return std::nullopt;
  mine.control = feel_.controls.size() + *by;
  return mine;
}

/// A base that nobody has moved begins where the changed feel says.
void Controls::adopt_bases(std::size_t channel, std::size_t before, const Controls& old, const SameNames& same) {
  for (std::size_t i = 0; i < feel_.channels[channel].components; ++i) {
    const std::size_t mine = index_of({channel, i}), theirs = index_of({before, i});
    if (old.base_[theirs] != starting_base(old.feel_.channels[before], i)) base_[mine] = old.base_[theirs];
    held_[mine] = old.held_[theirs];
    if (old.flipped_[theirs] == nullptr) continue;
    for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
      const auto* rule = std::get_if<Mirror>(&feel_.controls[c].rule);
      if (rule != nullptr && same.controls[c]
          && std::get_if<Mirror>(&old.feel_.controls[*same.controls[c]].rule) == old.flipped_[theirs])
        flipped_[mine] = rule;
    }
  }
  if (old.tracks_[before]) tracks_[channel] = SameNames::now(same.tracks, *old.tracks_[before]);
}

} // namespace stasis
