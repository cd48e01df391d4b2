// What really moved a channel, of all that acted on the frame at which its goal jumped.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

class OwnCauses {
public:
  explicit OwnCauses(const Feel& feel);

  /// The parts of a block's cause that concern a channel, or what it is made from; all of them where none does. Where
  /// nothing acted, what gives it its goal. Never empty.
  std::string of(std::size_t channel, std::string_view cause) const;

private:
  bool concerns(std::size_t channel, std::string_view part) const;
  bool moves_any(std::size_t channel, const Pose& pose) const;

  const Feel& feel_;
  std::vector<std::vector<std::uint8_t>> made_from_; ///< by channel: by channel, itself included
};

} // namespace stasis
