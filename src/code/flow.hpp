// Text that may be broken in places: groups are put on one line where they fit, and broken at all their own places
// where they do not, the outer ones first (after D. C. Oppen, "Prettyprinting", ACM TOPLAS 2 (4), 1980).
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace stasis::code {

struct Flow {
  enum class Kind : std::uint8_t {
    text,         ///< as it is
    blank,        ///< a blank, or a new line
    nothing,      ///< nothing, or a new line
    all,          ///< the parts, one after the other
    indented,     ///< parts whose new lines are indented
    group,        ///< parts that are on one line, if they fit
    if_broken,    ///< `text` in a group that is broken, nothing in one that is not
    indented_with ///< parts that are indented if group `number` is broken
  } kind = Kind::text;
  std::string text{};
  std::vector<Flow> parts{};
  int number = 0; ///< of a group that others ask about; 0: none does
};

Flow flow_text(std::string text);
Flow flow_blank();
Flow flow_nothing();
Flow flow_all(std::vector<Flow> parts);
Flow flow_indented(std::vector<Flow> parts);
Flow flow_group(std::vector<Flow> parts);
Flow flow_if_broken(std::string text);

/// The text, with '\n' where it breaks. \param begins the column of its first sign \param indent of its first line
/// \param step of an indentation
std::string flowed(const Flow& flow, std::size_t widest, std::size_t indent, std::size_t step);

} // namespace stasis::code
