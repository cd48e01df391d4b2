// stasis-draw: draws pictures that are told to it as lists of shapes, and gives each back as a PNG, one after the
// other. `stasis export FEEL frames` starts it; it knows nothing of feels. A program of its own because its library
// comes as a shared one, which would double the time that every small call takes to start.
//
// It reads words, and answers each "end" with a whole PNG:
//   picture WIDTH HEIGHT N #RRGGBB ...            a new one, of paper, in N colours at most 25 and what lies between
//                                                 each of them and paper: its PNG is of few colours, and small
//   clip LEFT TOP RIGHT BOTTOM                    what is drawn from here on stays within
//   fill #RRGGBB OPACITY N X Y ...                an outline, filled
//   line #RRGGBB WIDTH DASHED N X Y ...           DASHED is 0 or 1
//   dot #RRGGBB RADIUS X Y    ring #RRGGBB RADIUS X Y
//   text #RRGGBB SIZE BOLD ALIGN X Y BYTES        then a line's end and that many bytes; ALIGN is 0, 0.5 or 1, the
//                                                 share of the width that lies before X; Y is the middle
//   end
#include <cairo.h>
#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <png.h>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/units.hpp"

namespace {

struct Colour {
  double red, green, blue;
};

Colour read_colour() {
  std::string word;
  std::cin >> word;
  const long all = word.size() == 7 ? std::strtol(word.c_str() + 1, nullptr, 16) : 0;
  return {static_cast<double>((all >> 16) & 255) / 255.0, static_cast<double>((all >> 8) & 255) / 255.0,
          static_cast<double>(all & 255) / 255.0};
}

double read_number() {
  double number = 0.0;
  std::cin >> number;
  return number;
}

void add_path(cairo_t* to) {
  const int count = static_cast<int>(read_number());
  cairo_new_path(to);
  for (int k = 0; k < count && std::cin; ++k) {
    const double x = read_number(), y = read_number();
    cairo_line_to(to, x, y);
  }
}

void draw_text(cairo_t* to) {
  const double size = read_number();
  const bool is_bold = read_number() != 0.0;
  const double align = read_number(), x = read_number(), y = read_number();
  const auto bytes = static_cast<std::size_t>(read_number());
  std::string text(bytes < 100'000 ? bytes : 0, ' ');
  std::cin.get();
  std::cin.read(text.data(), static_cast<std::streamsize>(text.size()));
  cairo_select_font_face(to, "Inter", CAIRO_FONT_SLANT_NORMAL,
                         is_bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
  cairo_set_font_size(to, size);
  cairo_text_extents_t extents;
  cairo_text_extents(to, text.c_str(), &extents);
  // The middle of a capital's height, as in the figures.
  constexpr double half_capital = 0.363;
  cairo_move_to(to, x - align * extents.x_advance, y + half_capital * size);
  cairo_show_text(to, text.c_str());
}

/// Colours that a picture may have, and which of them is nearest to any.
class Palette {
public:
  explicit Palette(const std::vector<Colour>& inks) {
    constexpr std::size_t most = 256;
    colours_.push_back({255, 255, 255});
    const std::size_t steps = inks.empty() ? 0 : (most - 1) / inks.size();
    for (const Colour& ink : inks)
      for (std::size_t k = 1; k <= steps; ++k) {
        const auto part = [&](double of) {
          const double share = static_cast<double>(k) / static_cast<double>(steps);
          return static_cast<png_byte>(std::lround(255.0 * (1.0 + share * (of - 1.0))));
        };
        colours_.push_back({part(ink.red), part(ink.green), part(ink.blue)});
      }
  }

  const std::vector<png_color>& colours() const noexcept { return colours_; }

  /// \param pixel  0xRRGGBB
  png_byte nearest(std::uint32_t pixel) {
    if (pixel == last_) return last_found_; // as most are
    const auto known = known_.find(pixel);
    last_ = pixel;
    return last_found_ = known != known_.end() ? known->second : known_[pixel] = search(pixel);
  }

private:
  png_byte search(std::uint32_t pixel) const noexcept {
    const int red = (pixel >> 16) & 255, green = (pixel >> 8) & 255, blue = pixel & 255;
    std::size_t best = 0;
    int least = 1 << 30;
    for (std::size_t k = 0; k < colours_.size(); ++k) {
      const int r = colours_[k].red - red, g = colours_[k].green - green, b = colours_[k].blue - blue;
      if (const int off = r * r + g * g + b * b; off < least) {
        least = off;
        best = k;
      }
    }
    return static_cast<png_byte>(best);
  }

  std::vector<png_color> colours_;
  std::unordered_map<std::uint32_t, png_byte> known_;
  std::uint32_t last_ = 0xFFFFFF;
  png_byte last_found_ = 0;
};

class Picture {
public:
  Picture(int width, int height)
      : surface_(cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height)), to_(cairo_create(surface_)) {
    cairo_set_source_rgb(to_, 1.0, 1.0, 1.0);
    cairo_paint(to_);
    cairo_set_line_join(to_, CAIRO_LINE_JOIN_ROUND);
    cairo_set_line_cap(to_, CAIRO_LINE_CAP_ROUND);
  }
  ~Picture() {
    cairo_destroy(to_);
    cairo_surface_destroy(surface_);
  }
  Picture(const Picture&) = delete;
  Picture& operator=(const Picture&) = delete;

  /// Draws what a word says; false if it is none that is known.
  bool draw(const std::string& word) {
    if (word == "clip") {
      cairo_reset_clip(to_);
      const double left = read_number(), top = read_number(), right = read_number(), bottom = read_number();
      cairo_rectangle(to_, left, top, right - left, bottom - top);
      cairo_clip(to_);
      return true;
    }
    const Colour colour = read_colour();
    cairo_set_source_rgb(to_, colour.red, colour.green, colour.blue);
    if (word == "fill") {
      cairo_set_source_rgba(to_, colour.red, colour.green, colour.blue, read_number());
      add_path(to_);
      cairo_fill(to_);
    } else if (word == "line") {
      cairo_set_line_width(to_, read_number());
      const double dashes[] = {5.0, 4.0};
      cairo_set_dash(to_, dashes, read_number() != 0.0 ? 2 : 0, 0.0);
      add_path(to_);
      cairo_stroke(to_);
    } else if (word == "dot" || word == "ring") {
      const double radius = read_number(), x = read_number(), y = read_number();
      cairo_new_path(to_);
      cairo_arc(to_, x, y, radius, 0.0, stasis::whole_turn);
      cairo_set_line_width(to_, 1.6);
      cairo_set_dash(to_, nullptr, 0, 0.0);
      word == "dot" ? cairo_fill(to_) : cairo_stroke(to_);
    } else if (word == "text") {
      draw_text(to_);
    } else {
      return false;
    }
    return static_cast<bool>(std::cin);
  }

  /// Writes the picture as a PNG of these colours; false if it cannot.
  bool write(Palette& palette) {
    cairo_surface_flush(surface_);
    const int width = cairo_image_surface_get_width(surface_), height = cairo_image_surface_get_height(surface_);
    const int stride = cairo_image_surface_get_stride(surface_);
    const unsigned char* const pixels = cairo_image_surface_get_data(surface_);
    if (pixels == nullptr) return false;
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
    png_infop info = png_create_info_struct(png);
    if (setjmp(png_jmpbuf(png)) != 0) return false; // the library's way of failing
    png_init_io(png, stdout);
    png_set_IHDR(png, info, static_cast<png_uint_32>(width), static_cast<png_uint_32>(height), 8,
                 PNG_COLOR_TYPE_PALETTE, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    png_set_PLTE(png, info, palette.colours().data(), static_cast<int>(palette.colours().size()));
    png_set_filter(png, 0, PNG_FILTER_NONE);
    png_set_compression_level(png, 6);
    png_write_info(png, info);
    std::vector<png_byte> indices(static_cast<std::size_t>(width));
    for (int row = 0; row < height; ++row) {
      const auto* const line =
          reinterpret_cast<const std::uint32_t*>(pixels + static_cast<std::ptrdiff_t>(row) * stride);
      for (std::size_t k = 0; k < indices.size(); ++k) indices[k] = palette.nearest(line[k] & 0xFFFFFF);
      png_write_row(png, indices.data());
    }
    png_write_end(png, info);
    png_destroy_write_struct(&png, &info);
    return true;
  }

private:
  cairo_surface_t* surface_;
  cairo_t* to_;
};

bool answer() {
  constexpr int most = 8192; // px
  const int width = static_cast<int>(read_number()), height = static_cast<int>(read_number());
  if (width < 1 || width > most || height < 1 || height > most) return false;
  const auto count = static_cast<std::size_t>(read_number());
  std::vector<Colour> inks;
  while (inks.size() < count && count <= 25 && std::cin) inks.push_back(read_colour());
  Palette palette(inks);
  Picture picture(width, height);
  std::string word;
  while (std::cin >> word) {
    if (word == "end") return picture.write(palette);
    if (!picture.draw(word)) return false;
  }
  return false;
}

} // namespace

int main() {
  std::ios::sync_with_stdio(false);
  std::string word;
  while (std::cin >> word)
    if (word != "picture" || !answer()) {
      std::fputs("stasis-draw: what came is no list of shapes\n", stderr);
      return 1;
    }
  return std::fflush(stdout) == 0 ? 0 : 1;
}
