// Buffered text to a descriptor. A reader that went away is no fault: the rest is dropped quietly.
#pragma once

#include <algorithm>
#include <cstddef>
#include <string>
#include <string_view>

namespace stasis::cli {

class Output {
public:
  explicit Output(int descriptor) : descriptor_(descriptor) {}
  /// Text that is kept in `kept`, as it would have been written; faults in the way of `like`.
  Output(std::string& kept, const Output& like)
      : descriptor_(-1), kept_(&kept), tells_as_json_(like.tells_as_json_), fold_at_(like.fold_at_),
        tells_all_(like.tells_all_) {}
  ~Output() { flush(); }
  Output(const Output&) = delete;
  Output& operator=(const Output&) = delete;

  /// Text for people: what would steer a terminal is shown escaped, lines wider than the terminal are folded.
  void write(std::string_view text);
  /// What programs read or people paste: its lines stay whole; what would steer a terminal is shown escaped.
  void exactly(std::string_view text);
  void exact_line(std::string_view text);
  /// A file as it is, byte for byte.
  void bytes(const std::string& file) { put(file); }
  /// Says that a file was written: its name stays whole.
  void wrote(std::string_view path);
  /// Folds lines at so many characters; 0: none is folded.
  void fold_at(std::size_t width) noexcept { fold_at_ = width; }
  /// What we ourselves say to a terminal.
  void steer(std::string_view codes);
  void line(std::string_view text = {});
  void flush() noexcept;
  /// Faults are told as lines of JSON (--errors json), not as paragraphs.
  bool tells_as_json() const noexcept { return tells_as_json_; }
  void tell_as_json() noexcept { tells_as_json_ = true; }
  /// Nothing for people is said (--quiet): what programs read, and faults, are.
  void say_nothing(bool of_files_only) noexcept { (of_files_only ? no_files_ : no_text_) = true; }
  /// Long lists are printed in full (--verbose).
  void tell_all() noexcept { tells_all_ = true; }
  bool tells_all() const noexcept { return tells_all_; }
  /// How many of a list of `count` are told, where `most` are usually.
  std::size_t told_of(std::size_t count, std::size_t most) const noexcept {
    return tells_all_ ? count : std::min(count, most);
  }
  /// Marks are in colour: faults and what fails red, what holds green, warnings amber.
  void colour(bool is_coloured) noexcept { is_coloured_ = is_coloured; }
  /// Why a write has failed, as errno says it; 0 if none has. A closed pipe is no failure.
  int error() const noexcept { return error_; }
  /// True once a reader has gone away.
  bool is_closed() const noexcept { return closed_; }

private:
  void put(const std::string& safe);

  int descriptor_;
  std::string* kept_ = nullptr;
  bool tells_as_json_ = false;
  std::size_t fold_at_ = 0;
  bool closed_ = false;
  int error_ = 0;
  bool no_text_ = false, no_files_ = false, tells_all_ = false, is_coloured_ = false;
  std::string line_; ///< what is written of a line that may have to be folded
  std::string buffer_;
};

} // namespace stasis::cli
