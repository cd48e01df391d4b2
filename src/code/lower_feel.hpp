// A feel as a program of its own: everything that it uses, nothing that it does not.
#pragma once

#include <string>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis::code {

/// A feel in the language of read_program().
struct Lowered {
  std::string text;
  std::vector<std::string> faults;  ///< why it cannot be written at all, each a sentence; empty if it can
  std::vector<std::string> left;    ///< what is not in it, and what takes its place, each a sentence
  std::vector<std::size_t> given;   ///< channels whose goal the program that uses it gives
  std::vector<std::size_t> shakes;  ///< those that are in it
  std::vector<std::size_t> tracks;  ///< whose subjects it is told about
  bool reads_facing = false;        ///< which way a subject looks is told as well
  bool reads_throttle = false;      ///< and how hard it is driven
  std::vector<ComponentRef> unlike; ///< values that are not as in the feel: something that moves them is left out
};

Lowered lower(const Feel& feel);

/// The motions of a feel alone: each moves a value of its own, called as the motion is, in whatever scale it is given.
/// Those that cannot be written are left out, and said to be.
Lowered lower_motions_alone(const Feel& feel);

/// What of a feel is a function of time alone: each motion from rest as `NAME(t)`, each shake as `SHAKE_VALUE(since,
/// time)`. No state, no input.
Lowered lower_stateless(const Feel& feel);

/// The channels from which the source code works out where the eye is; none where it does not.
std::vector<std::size_t> channels_of_eye(const Feel& feel);

/// A text of a feel that neither ends the comment in which it stands nor means anything in it, whatever the language.
std::string in_comment(const std::string& text);
/// True if no file of source code should be called so: a language, or what comes with it, has the name for itself.
bool is_kept_name(const std::string& prefix);
/// A name as programs have it, from any text: small letters, digits and underscores, a letter first.
std::string identifier(const std::string& name);
/// The constant or function part that stands for a component: "fov", "focus_x".
std::string component_identifier(const Feel& feel, ComponentRef component);
/// A number as a literal that reads back exactly; with a point or an exponent.
std::string literal(double value);

} // namespace stasis::code
