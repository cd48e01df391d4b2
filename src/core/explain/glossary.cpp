#include "core/explain/glossary.hpp"

#include <algorithm>
#include <array>

#include <fmt/format.h>

namespace stasis {
namespace {

constexpr std::array terms{
    Term{"base",
         "Where a channel goes when no pose asks for anything. It starts at the resting value; a wheel, a stick or "
         "a pointer moves it."},
    Term{"baseline", "A trace that was kept. A want can compare a take with it, so that a build machine says when a "
                     "feel has changed."},
    Term{"channel",
         "One value of the camera that changes over time: field of view, distance, yaw, the point looked at. "
         "It has a unit, a resting value and a range."},
    Term{"clicks", "A control that moves the home by one step at each click of a wheel."},
    Term{"clock", "When the frames of a take are drawn: evenly, with jitter, with stalls, or as recorded."},
    Term{"control",
         "What an input does: hold a pose while it is down, switch one on and off, step through several, move a home."},
    Term{"cue", "One input in a take, at a time: a press, a release, a click, a hit."},
    Term{"curve", "How far an eased move has come at each share of its time: from (0, 0) to (1, 1)."},
    Term{"cycle", "A control that turns on the next of several poses at each press."},
    Term{"damping ratio",
         "How strongly a spring is held back. At 1 it reaches its goal without going beyond; at 0.5 it "
         "goes 16 % beyond and comes back; above 1 it gets there without swinging, more slowly."},
    Term{"dead zone", "How far a subject may move before the view follows it."},
    Term{"decay", "How a shake fades after a hit: by half-lives, evenly, by a power, along a curve."},
    Term{"delay", "How long a motion waits before it answers."},
    Term{"ease", "A move that takes a set time along a curve, however far it goes."},
    Term{"feel", "A TOML file that says how a camera's values move."},
    Term{"field of view",
         "The angle that the picture shows, in degrees. A smaller angle makes things look larger: it is "
         "the camera's zoom."},
    Term{"fold", "A shake that rattles faster than half the frame rate folds: it looks like another, slower rattle."},
    Term{"follow", "A channel that takes its goal from where a subject is."},
    Term{"formula", "A channel's goal worked out from other channels, tracks, controls and time."},
    Term{"frequency",
         "Of a spring: how quick it is, in Hz (swings a second it would make without damping). Of a shake: "
         "how fast it rattles. Twice the frequency is half the time."},
    Term{"glide", "A motion that closes the same share of its gap in equal times: fast at first, then slower and "
                  "slower. Its number is the half-life."},
    Term{"goal", "Where a channel is heading now."},
    Term{"group", "Controls that may be held together, and the rule that says which one wins."},
    Term{"half-life",
         "The time in which half of the gap is closed. After two half-lives a quarter is left, after six less "
         "than 2 %. It is the same at every frame rate."},
    Term{"handover",
         "What an eased move does when a new goal comes while it runs: start over, go on with its speed, or "
         "finish first."},
    Term{"hold", "A control whose pose acts while it is down."},
    Term{"Hz", "Hertz: times a second."},
    Term{"jitter", "Frames that are a little longer or shorter than they should be."},
    Term{"jolt", "The jump of speed, or of acceleration, that a motion makes when it begins or is interrupted."},
    Term{"judder", "Uneven steps of the picture from frame to frame, although the subject moves evenly."},
    Term{"lag", "How far, or how long, a value stays behind a goal that keeps moving."},
    Term{"lead", "How far ahead of a subject the view looks."},
    Term{"measure", "A number read from a finished take: settling time, overshoot, peak speed."},
    Term{"mirror", "A control that puts the home on the other side at each press: the other shoulder."},
    Term{"motion", "The rule by which a value gets to its goal: cut, glide, spring, ease, pace, stages, delay."},
    Term{"obstacle", "Geometry that the camera must not go through. It limits how far back the view may be."},
    Term{"overshoot", "How far a move goes beyond its goal before it comes back, in per cent of the move."},
    Term{"pace", "A motion with a speed limit, and perhaps a limit on how quickly that speed is gained and lost."},
    Term{"per-frame rule",
         "A rule that does the same on every frame, such as closing a tenth of the gap. It feels different at every "
         "frame rate. Stasis replays it, and gives the rule that is the same everywhere."},
    Term{"picture scale",
         "How large things look in the picture. Equal steps in picture scale look equal; equal steps in "
         "degrees do not."},
    Term{"pointer", "A control that moves a home by the counts of a mouse."},
    Term{"pose", "Goals of several channels under one name: aim, crouch, look back."},
    Term{"profile", "Goals of several channels that one other channel drives, along smooth curves."},
    Term{"range", "The lowest and the highest value that a channel may have."},
    Term{"rate",
         "Of a glide: the share of the gap that is closed each second at the start, in 1/s. The half-life is 0.693 "
         "divided by it."},
    Term{"ratio", "A space in which equal steps are equal factors: from 1 m to 2 m is as far as from 2 m to 4 m."},
    Term{"realign", "After a pause, the view turns back behind its subject."},
    Term{"rest", "The value that a channel has when nothing is pressed."},
    Term{"rise time", "The time from 10 % to 90 % of a move."},
    Term{"rung", "One step of the ladder that clicks climb."},
    Term{"sequence", "A view that is led through places, one after the other, and then given back to the play."},
    Term{"setting", "A number that a player may change, with a range. Values of the feel refer to it."},
    Term{"settle band",
         "How near to its goal a value must stay to count as settled: 2 % of the move unless the channel "
         "says otherwise."},
    Term{"settling time", "The time after which a move stays within its settle band."},
    Term{"shake", "A disturbance added to the picture after all smoothing: a rattle, a sway, a kick."},
    Term{"snap", "Rounding a value to a grid, so that a low-resolution picture does not shimmer."},
    Term{"space",
         "The scale in which a motion works: linear, ratio (factors), zoom (picture scale), turn (the short way "
         "round)."},
    Term{"spring", "A motion that starts softly and carries its speed over when the goal changes. Its numbers are a "
                   "frequency and a damping ratio."},
    Term{"stages", "Motions in a row, each following the one before. Two glides in a row start softly."},
    Term{"stall", "A single frame that takes much longer."},
    Term{"stand-off", "How far short of a surface the view stops."},
    Term{"start kick", "How abruptly a move starts: 0 starts softly, a glide has 3.9."},
    Term{"stick", "A control that moves a home at a speed, by how far it is pushed."},
    Term{"stop", "A place on the way of a sequence: goals of channels, when they are reached and how."},
    Term{"strength", "How hard a shake hits: 1 is a full hit."},
    Term{"switch", "A pose that goes on by itself when a value crosses a threshold, and off when it crosses another."},
    Term{"take", "A rehearsal: a length, a clock and timed inputs. The same take always gives the same result."},
    Term{"tick", "A fixed rate at which subjects move, whatever the frames do."},
    Term{"time constant", "The time in which a glide's gap falls to 37 %. It is 1.44 times the half-life."},
    Term{"toggle", "A control whose pose goes on with one press and off with the next."},
    Term{"trace", "The table of a finished take, a row for each frame."},
    Term{"track", "The recorded or made-up motion of a subject."},
    Term{"turn", "A space for angles: the goal is reached by the short way round."},
    Term{"variant", "Named changes to a feel, to be compared with it."},
    Term{"want", "A limit on a measure: settled within 0.4 s, at most 3 % overshoot. `stasis check` says whether it "
                 "holds."},
    Term{"wish", "The goal before a dead zone, a range or an obstacle holds it back."},
    Term{"word", "A word of feel, such as snappier or heavier: a stated change of stated measures. See `stasis tune`."},
    Term{"zoom", "A space for a field of view, even in picture scale."},
};

std::string plain(std::string_view name) {
  std::string text;
  for (const char c : name)
    text += c == '-' || c == '_' ? ' ' : c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
  return text;
}

} // namespace

std::span<const Term> glossary() noexcept { return terms; }

const Term* find_term(std::string_view name) {
  const auto found = std::find_if(terms.begin(), terms.end(),
                                  [wanted = plain(name)](const Term& t) { return plain(t.name) == wanted; });
  return found == terms.end() ? nullptr : &*found;
}

std::string glossary_page() {
  std::string page = "# Glossary\n\nThe words of the field, and what they mean here. `stasis explain --term half-life` "
                     "prints one.\n\n| word | what it means |\n|---|---|\n";
  for (const Term& term : terms) page += fmt::format("| **{}** | {} |\n", term.name, term.meaning);
  return page;
}

} // namespace stasis
