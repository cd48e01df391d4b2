// What the names of stasis.h stand for. Included by its implementation only.
#pragma once

#include <memory>
#include <string>

#include "embed/played_feel.hpp"
#include "embed/stasis.h"

struct stasis_session {
  std::unique_ptr<stasis::embed::PlayedFeel> played;
};

struct stasis_moment {
  stasis::embed::PlayedFeel::Moment moment;
};

struct stasis_faults {
  stasis::embed::Faults faults;
};

namespace stasis::embed {

/// Runs what may run out of memory; `otherwise` then.
template<class Work, class Answer> Answer guarded(Work work, Answer otherwise) noexcept {
#ifdef __cpp_exceptions
  try {
    return work();
  } catch (...) {
    return otherwise;
  }
#else
  (void)otherwise;
  return work();
#endif
}

/// A copy that stasis_free() takes; null where there is no memory.
char* handed_out(const std::string& text) noexcept;
/// Faults for a caller who asked for them.
void tell(stasis_faults** faults, Faults found);

/// A session on a text, for stasis_open() and its like.
stasis_session* open_session(FeelText text, std::shared_ptr<const io::FeelFolder> folder, stasis_faults** faults);

} // namespace stasis::embed
