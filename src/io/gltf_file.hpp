// A file of glTF 2.0 (ISO/IEC 12113), .gltf or .glb: its JSON, and the numbers behind its accessors.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <nlohmann/json.hpp>

#include "io/files.hpp"

namespace stasis::io {

/// Numbers of an accessor, element after element.
struct GltfNumbers {
  std::size_t width = 1; ///< of an element: 1 of a SCALAR, 3 of a VEC3, 4 of a VEC4
  std::vector<double> values;
  std::size_t count() const noexcept { return values.size() / width; }
};

class GltfFile {
public:
  using Json = nlohmann::json;

  /// Reads the file and its buffers: those inside it, as data URIs, or beside it.
  /// \param allow_outside buffers may lie outside the file's folder.
  static FileResult<GltfFile> read(const std::string& path, bool allow_outside);

  const Json& json() const noexcept { return json_; }
  /// Floats, and whole numbers that are normalised; sparse ones with what stands in their stead.
  FileResult<GltfNumbers> numbers(std::size_t accessor) const;
  /// An error of this file: "PATH: what.".
  FileError refuse(const std::string& what) const;

private:
  explicit GltfFile(std::string path) : path_(std::move(path)) {}
  FileResult<std::string> unpacked(const std::string& bytes);
  FileResult<void> read_buffers(const std::string& binary, bool allow_outside);

  /// Where numbers stand, and of which type.
  struct Stored {
    std::size_t view = 0, offset = 0, count = 0, width = 1;
    std::size_t type = 0;
    bool is_normalised = false;
  };
  FileResult<std::vector<double>> stored(const Stored& what) const;

  std::string path_;
  Json json_;
  std::vector<std::string> buffers_;
};

/// The whole number at a key, if there is one and it is not below 0.
std::optional<std::size_t> whole_at(const nlohmann::json& object, const char* key);

} // namespace stasis::io
