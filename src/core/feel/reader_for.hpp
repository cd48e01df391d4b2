// What reads the sections of a family that has kinds: [motion.NAME], [control.NAME], ...
#pragma once

#include <cstdlib>
#include <span>
#include <string_view>

namespace stasis {

/// What reads a kind, by the id of its section or another word for it.
template<class Read> struct ReaderOf {
  std::string_view kind;
  Read read;
};

/// The reader of a kind. One that the key table knows and its family has no reader for ends the program at once, since
/// it would be read as nothing: Kinds.OfTheKeyTableAreAllRead tries every one.
template<class Read> const Read& reader_for(std::span<const ReaderOf<Read>> readers, std::string_view kind) {
  for (const ReaderOf<Read>& one : readers)
    if (one.kind == kind) return one.read;
  std::abort();
}

} // namespace stasis
