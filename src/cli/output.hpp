// Buffered text to a descriptor. A reader that went away is no fault: the rest is dropped quietly.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>

namespace stasis::cli {

class Output {
public:
  explicit Output(int descriptor) : descriptor_(descriptor) {}
  /// Text that is kept in `kept`, as it would have been written; faults in the way of `like`.
  Output(std::string& kept, const Output& like)
      : descriptor_(-1), kept_(&kept), tells_as_json_(like.tells_as_json_), fold_at_(like.fold_at_) {}
  ~Output() { flush(); }
  Output(const Output&) = delete;
  Output& operator=(const Output&) = delete;

  /// Text for people: what would steer a terminal is shown escaped, lines wider than the terminal are folded.
  void write(std::string_view text);
  /// What programs read or people paste: its lines stay whole; what would steer a terminal is shown escaped.
  void exactly(std::string_view text);
  void exact_line(std::string_view text);
  /// Folds lines at so many characters; 0: none is folded.
  void fold_at(std::size_t width) noexcept { fold_at_ = width; }
  /// What we ourselves say to a terminal.
  void steer(std::string_view codes);
  void line(std::string_view text = {});
  void flush() noexcept;
  /// Faults are told as lines of JSON (--errors json), not as paragraphs.
  bool tells_as_json() const noexcept { return tells_as_json_; }
  void tell_as_json() noexcept { tells_as_json_ = true; }
  /// Why a write has failed, as errno says it; 0 if none has. A closed pipe is no failure.
  int error() const noexcept { return error_; }
  /// True once a reader has gone away.
  bool is_closed() const noexcept { return closed_; }

private:
  int descriptor_;
  std::string* kept_ = nullptr;
  bool tells_as_json_ = false;
  std::size_t fold_at_ = 0;
  bool closed_ = false;
  int error_ = 0;
  std::string line_; ///< what is written of a line that may have to be folded
  std::string buffer_;
};

} // namespace stasis::cli
