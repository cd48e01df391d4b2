// Buffered text to a descriptor. A reader that went away is no fault: the rest is dropped quietly.
#pragma once

#include <string>
#include <string_view>

namespace stasis::cli {

class Output {
public:
  explicit Output(int descriptor) : descriptor_(descriptor) {}
  /// Text that is kept in `kept`, as it would have been written; faults in the way of `like`.
  Output(std::string& kept, const Output& like) : descriptor_(-1), kept_(&kept), tells_as_json_(like.tells_as_json_) {}
  ~Output() { flush(); }
  Output(const Output&) = delete;
  Output& operator=(const Output&) = delete;

  /// Text for people, or for programs that read text: what would steer a terminal is shown escaped.
  void write(std::string_view text);
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
  bool closed_ = false;
  int error_ = 0;
  std::string buffer_;
};

} // namespace stasis::cli
