#include "figure/animation.hpp"

#include <array>
#include <cmath>
#include <cstdint>

#include <boost/crc.hpp>
#include <fmt/format.h>

namespace stasis::figure {
namespace {

constexpr std::size_t signature_bytes = 8, around_a_chunk = 12; // its length, its type and its checksum

std::uint32_t number_at(std::string_view bytes, std::size_t at) noexcept {
  std::uint32_t number = 0;
  for (std::size_t k = 0; k < 4; ++k) number = number << 8 | static_cast<std::uint8_t>(bytes[at + k]);
  return number;
}

void add_big_endian(std::string& to, std::uint32_t number, int bytes = 4) {
  for (int shift = 8 * (bytes - 1); shift >= 0; shift -= 8) to += static_cast<char>((number >> shift) & 0xFF);
}

std::string chunk_of(std::string_view type, std::string_view body) {
  std::string out;
  add_big_endian(out, static_cast<std::uint32_t>(body.size()));
  const std::string checked = std::string(type) + std::string(body);
  boost::crc_32_type crc;
  crc.process_bytes(checked.data(), checked.size());
  out += checked;
  add_big_endian(out, crc.checksum());
  return out;
}

struct ChunkView {
  std::string_view type, body, whole;
};

/// The chunks of a PNG that is whole.
std::vector<ChunkView> chunks_of(std::string_view png) {
  std::vector<ChunkView> chunks;
  for (std::size_t at = signature_bytes; at + around_a_chunk <= png.size();) {
    const std::size_t length = number_at(png, at);
    if (length > png.size() - at - around_a_chunk) break;
    chunks.push_back({png.substr(at + 4, 4), png.substr(at + 8, length), png.substr(at, length + around_a_chunk)});
    at += length + around_a_chunk;
  }
  return chunks;
}

std::string signature_chunk() { return chunk_of("tEXt", std::string("Software") + '\0' + "Drawn by Stasis"); }

/// fcTL: the whole picture, for so long.
std::string frame_control(std::uint32_t number, std::string_view header, double rate) {
  std::string body;
  add_big_endian(body, number);
  body += header.substr(0, 8); // width and height
  add_big_endian(body, 0);
  add_big_endian(body, 0);
  const bool is_whole = std::fabs(rate - std::round(rate)) < 1e-9 && rate <= 65535.0;
  add_big_endian(body, is_whole ? 1u : 1000u, 2);
  add_big_endian(body, static_cast<std::uint32_t>(std::lround(is_whole ? rate : 1000.0 * rate)), 2);
  body += std::string(2, '\0'); // left as it is, and put in place of what was there
  return chunk_of("fcTL", body);
}

} // namespace

tl::expected<std::vector<std::string>, ProcessError> draw_pictures(std::string_view words) {
  const auto drawn = run_process({helper_program("stasis-draw")}, words);
  if (!drawn) return tl::unexpected(drawn.error());
  std::vector<std::string> pictures;
  const std::string_view all = *drawn;
  for (std::size_t at = 0; at < all.size();) {
    std::size_t end = at + signature_bytes;
    for (const ChunkView& chunk : chunks_of(all.substr(at))) {
      end += chunk.whole.size();
      if (chunk.type == "IEND") break;
    }
    pictures.emplace_back(all.substr(at, end - at));
    at = end;
  }
  return pictures;
}

std::string signed_png(std::string png) {
  constexpr std::size_t after_header = signature_bytes + around_a_chunk + 13;
  if (png.size() >= after_header) png.insert(after_header, signature_chunk());
  return png;
}

std::string animated_png(const std::vector<std::string>& pictures, double rate) {
  std::string out;
  std::uint32_t number = 0;
  for (const std::string& picture : pictures) {
    const std::vector<ChunkView> chunks = chunks_of(picture);
    if (chunks.empty()) continue;
    const std::string_view header = chunks.front().body;
    if (out.empty()) {
      out = picture.substr(0, signature_bytes);
      out += chunks.front().whole;
      out += signature_chunk();
      std::string control;
      add_big_endian(control, static_cast<std::uint32_t>(pictures.size()));
      add_big_endian(control, 0); // forever
      out += chunk_of("acTL", control);
      for (const ChunkView& chunk : chunks)
        if (chunk.type == "PLTE") out += chunk.whole;
    }
    const bool is_first = number == 0;
    out += frame_control(number++, header, rate);
    for (const ChunkView& chunk : chunks) {
      if (chunk.type != "IDAT") continue;
      if (is_first) {
        out += chunk.whole;
        continue;
      }
      std::string body;
      add_big_endian(body, number++);
      body += chunk.body;
      out += chunk_of("fdAT", body);
    }
  }
  return out + chunk_of("IEND", "");
}

} // namespace stasis::figure
