// Reading and writing files. Writes are atomic: a file appears whole or not at all.
#pragma once

#include <cstdio>
#include <memory>
#include <string>
#include <string_view>

#include <tl/expected.hpp>

namespace stasis::io {

/// Why a file could not be read or written, as one sentence that names it.
struct FileError {
  std::string message;
  bool refused = false; ///< nothing failed: what is there is not what was asked for
};

template<class T> using FileResult = tl::expected<T, FileError>;

/// A descriptor of a plain file, open for reading and the caller's to close. Pipes, devices and folders are errors.
FileResult<int> open_plain_file(const std::string& path);

/// The contents of a file, or of standard input for "-". At most `most_bytes` are read; a longer file is an error.
FileResult<std::string> read_file(const std::string& path, std::size_t most_bytes);

/// Makes a folder and those above it.
FileResult<void> make_folder(const std::string& path);

bool file_exists(const std::string& path);

/// True if the file was written by Stasis, judged by how it begins.
bool is_own_output(const std::string& path);

/// A file being written under another name beside its own, and renamed at the end. Without commit() nothing remains.
/// From now on, an interrupt or a request to end removes what is half written before it ends the program. Call once,
/// from the program; a command that handles these signals itself may.
void remove_half_written_on_signals();

class AtomicFile {
public:
  /// Opens a temporary file beside `path`. Refuses where something else than a plain file, or (without `force`) a
  /// file that Stasis did not write, already has that name.
  static FileResult<AtomicFile> open(const std::string& path, bool force);

  AtomicFile(AtomicFile&& other) noexcept;
  AtomicFile& operator=(AtomicFile&& other) noexcept;
  AtomicFile(const AtomicFile&) = delete;
  AtomicFile& operator=(const AtomicFile&) = delete;
  ~AtomicFile();

  /// Adds bytes; a failure is kept and reported by commit().
  void write(std::string_view bytes) noexcept;
  /// Gives the file its name.
  FileResult<void> commit();
  const std::string& path() const noexcept { return path_; }

private:
  AtomicFile() = default;
  void discard() noexcept;

  std::string path_;
  std::string temporary_;
  int descriptor_ = -1;
  int error_ = 0;
};

/// Keeps other runs of Stasis from changing a file between the time when it is read and the time when it is replaced.
/// Whoever only reads is not kept from it.
class FileLock {
public:
  /// Waits until no other run has it.
  static FileResult<FileLock> take(const std::string& path);

  FileLock(FileLock&& other) noexcept;
  FileLock& operator=(FileLock&&) = delete;
  FileLock(const FileLock&) = delete;
  FileLock& operator=(const FileLock&) = delete;
  ~FileLock();

private:
  explicit FileLock(int descriptor) : descriptor_(descriptor) {}
  int descriptor_;
};

/// Writes a whole small file atomically.
FileResult<void> write_file(const std::string& path, std::string_view bytes, bool force);

} // namespace stasis::io
