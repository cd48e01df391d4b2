// Stasis in a C++20 program: a designer's feel, read from its file and played frame by frame by the very same heart.
//
//   #include <stasis.hpp>
//
//   auto opened = stasis::OpenedFeel::open("otter.toml");
//   if (!opened) {
//     std::cerr << opened.error() << '\n'; // file, line, column, what to do
//     return 2;
//   }
//   stasis::Session camera = opened->play();
//   const auto fov = opened->component("fov");
//   const auto listen = opened->control("listen");
//   for (...) {
//     if (pressed) camera.press(*listen);
//     camera.advance(dt);                // s since the frame before; the first call begins, whatever it is
//     lens = camera.value(*fov);         // in the channel's unit
//   }
//
// What a session can be told and asked stands in core/take/session.hpp, which this includes. The rest of the core's
// headers are those by which `stasis` itself is built: the feel as read (core/feel/feel.hpp), takes played in one go
// (core/take/player.hpp), measures of them (core/measure/take_measures.hpp).
//
// Which of the two: this library is static, and made by your compiler; its classes may change with each version. The C
// interface, stasis.h, stays as it is while STASIS_INTERFACE does, and reads, edits and reloads texts as well.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include <tl/expected.hpp>

#include "core/take/session.hpp"

namespace stasis {

/// Which of what a feel's file holds.
struct FeelChoice {
  std::string variant{}; ///< empty: the feel itself
  std::string take{};    ///< empty: the first one
};

/// A feel that has been read, and one of its takes, in whose surroundings (tracks, obstacles, ticks) it is played.
class OpenedFeel {
public:
  /// What is wrong, as `stasis check` says it: several paragraphs, each with its file, line and column.
  using Faults = std::string;

  /// \param path of a feel; the files that it names are read beside it.
  static tl::expected<OpenedFeel, Faults> open(const std::string& path, const FeelChoice& choice = {});
  /// \param name for messages; \param files that the feel names, by name.
  static tl::expected<OpenedFeel, Faults> from_text(const std::string& name, const std::string& text,
                                                    const FeelChoice& choice = {},
                                                    std::map<std::string, std::string> files = {});

  /// It may be copied and moved; what it refers to stays where it is until the last copy is gone.
  const Feel& feel() const noexcept;
  const Take& surroundings() const noexcept;

  /// From the take's beginning, nothing pressed; frames as long as they turn out, or `fps` (> 0) a second. This, or a
  /// copy of it, outlives the session. As many sessions as wanted may be played at once, on threads of their own.
  Session play() const;
  Session play(double fps) const;

  /// By name, for a session's calls: "fov", "focus.y" (a channel of several components is named by its first one);
  /// nothing where there is none.
  std::optional<ComponentRef> component(std::string_view name) const noexcept;
  std::optional<std::size_t> control(std::string_view name) const noexcept;
  std::optional<std::size_t> shake(std::string_view name) const noexcept;
  std::optional<std::size_t> track(std::string_view name) const noexcept;

private:
  struct Inside;
  explicit OpenedFeel(std::shared_ptr<const Inside> inside) : inside_(std::move(inside)) {}
  std::shared_ptr<const Inside> inside_;
};

} // namespace stasis
