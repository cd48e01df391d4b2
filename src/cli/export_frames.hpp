// A take as pictures that move: one animated PNG, or numbered ones.
#pragma once

#include <string>
#include <vector>

#include "cli/load_feel.hpp"
#include "core/take/block.hpp"
#include "io/files.hpp"

namespace stasis::cli {

/// Most pictures of one take: two minutes of the usual rate.
inline constexpr std::size_t most_pictures = 3000;

struct FramesCall {
  double rate = 25.0;      ///< pictures a second
  bool is_animated = true; ///< else a PNG each
};

struct PictureFile {
  std::string name; ///< after the take's, such as ".frames.png" or ".frames/0001.png"
  std::string bytes;
};

/// Plays the take and draws it. \returns the files, and on `notes` how many pictures there are and how large; an error
/// where there would be more than most_pictures, or where what draws them is not installed.
io::FileResult<std::vector<PictureFile>> frame_files(const LoadedFeel& loaded, const Scene& scene,
                                                     const FramesCall& call, std::vector<std::string>& notes,
                                                     Output& err);

} // namespace stasis::cli
