// The files of demo/ and the parts of the page as they were when the program was built, so that they are at hand
// anywhere.
#pragma once

#include <span>
#include <string_view>

namespace stasis::cli {

struct EmbeddedFile {
  std::string_view name;
  std::string_view text;
};

/// The demo: its feel and whatever the feel names.
std::span<const EmbeddedFile> embedded_demo() noexcept;
/// The parts of the page of `stasis report`: its template, style, scripts, typeface and licences.
std::span<const EmbeddedFile> embedded_page() noexcept;
/// JSON Schemas of what commands print, as templates: see output_schema.hpp.
std::span<const EmbeddedFile> embedded_outputs() noexcept;
/// Small feels, each for one wish, which its first line says.
std::span<const EmbeddedFile> embedded_recipes() noexcept;
/// The feel that `stasis new` writes.
std::string_view embedded_starter() noexcept;

} // namespace stasis::cli
