// Lines from a descriptor as they come.
#pragma once

#include <optional>
#include <string>

namespace stasis::io {

class LineReader {
public:
  /// \param descriptor the caller's to close.
  explicit LineReader(int descriptor) noexcept : descriptor_(descriptor) {}

  /// The next line without its end, waiting for it; the last one need not have an end. Nothing after that, or where a
  /// line is longer than `longest`.
  std::optional<std::string> next();

  /// True where a line was too long to be read.
  bool was_too_long() const noexcept { return too_long_; }

  static constexpr std::size_t longest = std::size_t{1} << 20; ///< bytes

private:
  int descriptor_;
  std::string held_;
  bool ended_ = false, too_long_ = false;
};

} // namespace stasis::io
