// `set --form`: the text of a feel with one of its motions by other keys, or as another kind.
#pragma once

#include <string>

#include <tl/expected.hpp>

#include "cli/load_feel.hpp"

namespace stasis::cli {

/// Which motion ("motion.soft", "channel.yaw.motion") gets which form ("stiffness").
struct WantedForm {
  std::string path, form;
};

/// The text with the motion in that form, and with it what its variants say of it. What has become of it is added to
/// `shown`; the fault has been said on `err` where there is no such text.
tl::expected<std::string, Exit> reformed(const FeelText& source, const WantedForm& wanted, std::string& shown,
                                         Output& err);

} // namespace stasis::cli
