// Buffered text to a descriptor. A reader that went away is no fault: the rest is dropped quietly.
#pragma once

#include <string>
#include <string_view>

namespace stasis {

class Output {
public:
  explicit Output(int descriptor) : descriptor_(descriptor) {}
  ~Output() { flush(); }
  Output(const Output&) = delete;
  Output& operator=(const Output&) = delete;

  void write(std::string_view text);
  void line(std::string_view text = {});
  void flush() noexcept;
  /// True once a write has failed for another reason than a closed pipe (a full disk, say).
  bool failed() const noexcept { return failed_; }

private:
  int descriptor_;
  bool closed_ = false;
  bool failed_ = false;
  std::string buffer_;
};

} // namespace stasis
