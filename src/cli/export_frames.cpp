#include "cli/export_frames.hpp"

#include <cmath>

#include <fmt/format.h>

#include "cli/progress.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "figure/animation.hpp"
#include "figure/moving_picture.hpp"

namespace stasis::cli {
namespace {

/// Drawn by one process; so many that starting it costs nothing, and few enough to be held as text.
constexpr std::size_t pictures_at_once = 100;

std::string size_in_words(std::size_t bytes) {
  constexpr double thousand = 1000.0;
  const auto size = static_cast<double>(bytes);
  return size < thousand * thousand ? fmt::format("{} kB", concise(size / thousand, 3))
                                    : fmt::format("{} MB", concise(size / thousand / thousand, 3));
}

io::FileResult<std::vector<std::string>> drawn_pictures(const figure::MovingPicture& picture, std::size_t count,
                                                        Output& err) {
  Progress progress(err, "pictures", count);
  std::vector<std::string> drawn;
  figure::DisplayList list;
  while (drawn.size() < count) {
    const std::size_t last = std::min(count, drawn.size() + pictures_at_once);
    list.clear();
    for (std::size_t k = drawn.size(); k < last; ++k) picture.draw(k, list);
    auto some = figure::draw_pictures(list.words());
    if (!some || some->size() != last - drawn.size())
      return tl::unexpected(io::FileError{
          fmt::format("no pictures: {}; stasis-draw is installed beside stasis",
                      some ? std::string("stasis-draw drew fewer than it was told") : some.error().message)});
    for (std::string& one : *some) drawn.push_back(std::move(one));
    progress.show(drawn.size());
  }
  return drawn;
}

} // namespace

io::FileResult<std::vector<PictureFile>> frame_files(const LoadedFeel& loaded, const Scene& scene,
                                                     const FramesCall& call, std::vector<std::string>& notes,
                                                     Output& err) {
  if (scene.take->length * call.rate > static_cast<double>(most_pictures))
    return tl::unexpected(io::FileError{
        fmt::format("take {} of {} s is {} pictures at {} a second, and {} are drawn at most; give a lower --fps, or "
                    "shorten the take",
                    scene.take->name, concise(scene.take->length, 6),
                    concise(std::floor(scene.take->length * call.rate) + 1.0, 9), concise(call.rate), most_pictures),
        true});
  figure::MovingSink sink(call.rate);
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  const std::vector<figure::MovingState> states = sink.take();
  const std::string variant = loaded.variant.empty() ? "" : ", " + loaded.variant;
  const figure::MovingPicture picture(
      scene, fmt::format("{}: {}{}", printable(loaded.name, 60), scene.take->name, variant), states);
  auto drawn = drawn_pictures(picture, states.size(), err);
  if (!drawn) return tl::unexpected(drawn.error());
  std::vector<PictureFile> files;
  if (call.is_animated)
    files.push_back({".frames.png", figure::animated_png(*drawn, call.rate)});
  else
    for (std::string& one : *drawn)
      files.push_back({fmt::format(".frames/{:04}.png", files.size() + 1), figure::signed_png(std::move(one))});
  std::size_t bytes = 0;
  for (const PictureFile& file : files) bytes += file.bytes.size();
  notes.push_back(fmt::format("{}: {} pictures, {} a second, {} x {} px, {}", scene.take->name, states.size(),
                              concise(call.rate), figure::moving_width_px, figure::moving_height_px,
                              size_in_words(bytes)));
  return files;
}

} // namespace stasis::cli
