#include "io/gltf_file.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <utility>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/feel_files.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t most_bytes = 256u << 20u;

std::uint32_t word_at(const std::string& bytes, std::size_t at) {
  std::uint32_t word = 0;
  for (std::size_t k = 0; k < 4; ++k)
    word |= static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[at + k])) << (8 * k);
  return word;
}

/// RFC 4648, section 4; nothing where a letter is not one of these.
std::optional<std::string> from_base64(std::string_view text) {
  constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  while (text.ends_with('=')) text.remove_suffix(1);
  std::string out;
  std::uint32_t group = 0;
  int bits = 0;
  for (const char letter : text) {
    const auto value = letters.find(letter);
    if (value == std::string_view::npos) return std::nullopt;
    group = (group << 6) | static_cast<std::uint32_t>(value);
    bits += 6;
    if (bits < 8) continue;
    bits -= 8;
    out += static_cast<char>((group >> bits) & 0xffu);
  }
  return out;
}

/// "a%20b" of a relative address.
std::string decoded(std::string_view uri) {
  std::string out;
  const auto digit = [](char c) {
    return c >= '0' && c <= '9' ? c - '0' : (c | 32) >= 'a' && (c | 32) <= 'f' ? (c | 32) - 'a' + 10 : -1;
  };
  for (std::size_t k = 0; k < uri.size(); ++k) {
    const bool coded = uri[k] == '%' && k + 2 < uri.size() && digit(uri[k + 1]) >= 0 && digit(uri[k + 2]) >= 0;
    out += coded ? static_cast<char>(digit(uri[k + 1]) * 16 + digit(uri[k + 2])) : uri[k];
    if (coded) k += 2;
  }
  return out;
}

/// Component types, by the numbers of the format.
struct ComponentType {
  std::size_t number, size;
  double largest; ///< what 1 is when normalised; 0 of floats
  bool is_signed;
};
constexpr ComponentType component_types[] = {{5120, 1, 127.0, true},         {5121, 1, 255.0, false},
                                             {5122, 2, 32767.0, true},       {5123, 2, 65535.0, false},
                                             {5125, 4, 4294967295.0, false}, {5126, 4, 0.0, true}};

const ComponentType* type_of(std::size_t number) noexcept {
  for (const ComponentType& type : component_types)
    if (type.number == number) return &type;
  return nullptr;
}

double number_at(const std::string& bytes, std::size_t at, const ComponentType& type, bool normalised) {
  if (type.largest == 0.0) return static_cast<double>(std::bit_cast<float>(word_at(bytes, at)));
  std::uint32_t raw = 0;
  for (std::size_t k = 0; k < type.size; ++k)
    raw |= static_cast<std::uint32_t>(static_cast<unsigned char>(bytes[at + k])) << (8 * k);
  double value = raw;
  if (type.is_signed && raw > type.largest) value -= 2.0 * (type.largest + 1.0);
  return normalised ? std::max(value / type.largest, -1.0) : value;
}

std::size_t width_of(const std::string& type) noexcept {
  return type == "SCALAR" ? 1 : type == "VEC2" ? 2 : type == "VEC3" ? 3 : type == "VEC4" ? 4 : 0;
}

} // namespace

std::optional<std::size_t> whole_at(const nlohmann::json& object, const char* key) {
  const auto found = object.find(key);
  if (found == object.end() || !found->is_number_unsigned()) return std::nullopt;
  return found->get<std::size_t>();
}

FileError GltfFile::refuse(const std::string& what) const {
  return {fmt::format("{}: {}", printable(path_, 200), what), true};
}

FileResult<GltfFile> GltfFile::read(const std::string& path, bool allow_outside) {
  auto bytes = read_file(path, most_bytes);
  if (!bytes) return tl::unexpected(bytes.error());
  GltfFile out(path);
  if (bytes->empty()) return tl::unexpected(out.refuse("there is nothing in it"));
  auto binary = out.unpacked(*bytes);
  if (!binary) return tl::unexpected(binary.error());
  if (auto done = out.read_buffers(*binary, allow_outside); !done) return tl::unexpected(done.error());
  return out;
}

/// Reads the JSON. \returns the binary chunk of a container, empty without one.
FileResult<std::string> GltfFile::unpacked(const std::string& bytes) {
  std::string text = bytes, binary;
  if (bytes.starts_with("glTF")) {
    constexpr std::size_t head = 12, chunk_head = 8;
    text.clear();
    for (std::size_t at = head; at + chunk_head <= bytes.size();) {
      const std::size_t length = word_at(bytes, at);
      const std::string kind = bytes.substr(at + 4, 4);
      if (length > bytes.size() - at - chunk_head)
        return tl::unexpected(refuse("the container ends within a chunk; the file is cut short"));
      if (kind == "JSON" && text.empty()) text = bytes.substr(at + chunk_head, length);
      if (kind == std::string("BIN\0", 4) && binary.empty()) binary = bytes.substr(at + chunk_head, length);
      at += chunk_head + length;
    }
  }
  json_ = Json::parse(text, nullptr, false);
  if (json_.is_discarded() || !json_.is_object() || !json_.contains("asset"))
    return tl::unexpected(refuse("this is not glTF 2.0: its JSON has no asset"));
  return binary;
}

FileResult<void> GltfFile::read_buffers(const std::string& binary, bool allow_outside) {
  std::size_t all = 0;
  for (const Json& buffer : json_.value("buffers", Json::array())) {
    const std::string uri = buffer.is_object() ? buffer.value("uri", "") : "";
    if (uri.empty()) {
      buffers_.push_back(binary);
    } else if (uri.starts_with("data:")) {
      const auto comma = uri.find(',');
      const bool coded = comma != std::string::npos && uri.substr(0, comma).ends_with(";base64");
      auto data = coded ? from_base64(std::string_view(uri).substr(comma + 1)) : std::nullopt;
      if (!data) return tl::unexpected(refuse(fmt::format("buffer {} is not a data URI in base64", buffers_.size())));
      buffers_.push_back(std::move(*data));
    } else {
      if (uri.find("://") != std::string::npos)
        return tl::unexpected(
            refuse(fmt::format("buffer {} is to be fetched from elsewhere, which Stasis never does", buffers_.size())));
      const auto full = companion_path({path_, allow_outside}, decoded(uri));
      if (!full)
        return tl::unexpected(refuse(fmt::format("buffer {} lies outside the file's folder ({}); --allow-outside reads "
                                                 "it",
                                                 buffers_.size(), printable(uri, 80))));
      auto data = read_file(*full, most_bytes);
      if (!data) return tl::unexpected(data.error());
      buffers_.push_back(std::move(*data));
    }
    all += buffers_.back().size();
    if (all > most_bytes) return tl::unexpected(refuse("its buffers hold more than 256 MB"));
  }
  return {};
}

FileResult<std::vector<double>> GltfFile::stored(const Stored& what) const {
  const Json views = json_.value("bufferViews", Json::array());
  const ComponentType* type = type_of(what.type);
  if (what.view >= views.size() || !views[what.view].is_object() || type == nullptr)
    return tl::unexpected(refuse("an accessor names a view or a type that does not exist"));
  const Json& view = views[what.view];
  const std::size_t buffer = whole_at(view, "buffer").value_or(buffers_.size());
  if (buffer >= buffers_.size()) return tl::unexpected(refuse("a view names a buffer that does not exist"));
  const std::string& bytes = buffers_[buffer];
  const std::size_t begin = whole_at(view, "byteOffset").value_or(0), length = whole_at(view, "byteLength").value_or(0);
  const std::size_t packed = type->size * what.width,
                    stride = std::max(whole_at(view, "byteStride").value_or(0), packed);
  const bool fits = begin <= bytes.size() && length <= bytes.size() - begin && what.offset <= length
                    && (what.count == 0 || what.count <= (length - what.offset) / packed)
                    && (what.count == 0 || packed + (what.count - 1) * stride <= length - what.offset);
  if (!fits) return tl::unexpected(refuse("an accessor reaches beyond its view or its buffer"));
  std::vector<double> out;
  out.reserve(what.count * what.width);
  for (std::size_t k = 0; k < what.count; ++k)
    for (std::size_t i = 0; i < what.width; ++i)
      out.push_back(number_at(bytes, begin + what.offset + k * stride + i * type->size, *type, what.is_normalised));
  return out;
}

FileResult<GltfNumbers> GltfFile::numbers(std::size_t accessor) const {
  const Json accessors = json_.value("accessors", Json::array());
  if (accessor >= accessors.size() || !accessors[accessor].is_object())
    return tl::unexpected(refuse(fmt::format("there is no accessor {}", accessor)));
  const Json& one = accessors[accessor];
  Stored what;
  what.count = whole_at(one, "count").value_or(0);
  what.width = width_of(one.value("type", ""));
  what.type = whole_at(one, "componentType").value_or(0);
  what.offset = whole_at(one, "byteOffset").value_or(0);
  what.is_normalised = one.value("normalized", false);
  constexpr std::size_t most_numbers = 32u << 20u;
  if (what.width == 0 || what.count > most_numbers)
    return tl::unexpected(refuse(fmt::format("accessor {} holds no numbers that are read here", accessor)));
  GltfNumbers out{what.width, std::vector<double>(what.count * what.width, 0.0)};
  if (const auto view = whole_at(one, "bufferView")) {
    what.view = *view;
    auto values = stored(what);
    if (!values) return tl::unexpected(values.error());
    out.values = std::move(*values);
  }
  const auto sparse = one.find("sparse");
  if (sparse == one.end() || !sparse->is_object()) return out;
  // Some of the elements stand elsewhere.
  const Json places = sparse->value("indices", Json::object()), others = sparse->value("values", Json::object());
  const std::size_t count = whole_at(*sparse, "count").value_or(0);
  if (count > what.count) return tl::unexpected(refuse("a sparse accessor replaces more than it holds"));
  const auto indices =
      stored({whole_at(places, "bufferView").value_or(SIZE_MAX), whole_at(places, "byteOffset").value_or(0), count, 1,
              whole_at(places, "componentType").value_or(0), false});
  if (!indices) return tl::unexpected(indices.error());
  const auto values =
      stored({whole_at(others, "bufferView").value_or(SIZE_MAX), whole_at(others, "byteOffset").value_or(0), count,
              what.width, what.type, what.is_normalised});
  if (!values) return tl::unexpected(values.error());
  for (std::size_t k = 0; k < count; ++k) {
    const double place = (*indices)[k];
    if (!(place >= 0.0 && place < static_cast<double>(what.count)))
      return tl::unexpected(refuse("a sparse accessor replaces an element that does not exist"));
    for (std::size_t i = 0; i < what.width; ++i)
      out.values[static_cast<std::size_t>(place) * what.width + i] = (*values)[k * what.width + i];
  }
  return out;
}

} // namespace stasis::io
