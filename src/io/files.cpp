#include "io/files.hpp"

#include <algorithm>
#include <array>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <mutex>
#include <set>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

tl::unexpected<FileError> file_error(std::string_view what, const std::string& path, int error) {
  return tl::unexpected(FileError{fmt::format("{} {}: {}", what, shown_name(path), std::strerror(error))});
}

std::string_view kind_of(mode_t mode) noexcept {
  switch (mode & S_IFMT) {
  case S_IFDIR: return "a folder";
  case S_IFIFO: return "a pipe";
  case S_IFSOCK: return "a socket";
  case S_IFCHR:
  case S_IFBLK: return "a device";
  default: return "something else";
  }
}

std::string read_start(const std::string& path, std::size_t bytes) {
  std::string start(bytes, '\0');
  const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  if (file < 0) return {};
  const ssize_t got = ::read(file, start.data(), bytes);
  ::close(file);
  start.resize(got > 0 ? static_cast<std::size_t>(got) : 0);
  return start;
}

} // namespace

FileResult<int> open_plain_file(const std::string& path) {
  // A pipe that nobody writes to would be waited for without an end; without blocking it is seen to be one.
  const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  if (file < 0) return file_error("could not open", path, errno);
  struct stat status {};
  if (::fstat(file, &status) == 0 && S_ISREG(status.st_mode)) return file;
  ::close(file);
  return tl::unexpected(
      FileError{fmt::format("could not read {}: it is {}; plain files are read, and - is standard input",
                            shown_name(path), kind_of(status.st_mode))});
}

FileResult<std::string> read_file(const std::string& path, std::size_t most_bytes) {
  const bool is_input = path == "-";
  const std::string shown = is_input ? "standard input" : shown_name(path);
  const auto opened = is_input ? FileResult<int>(STDIN_FILENO) : open_plain_file(path);
  if (!opened) return tl::unexpected(opened.error());
  const int file = *opened;
  struct stat status {};
  const bool size_known = ::fstat(file, &status) == 0 && S_ISREG(status.st_mode);
  // One byte more than the file holds, so that its end is seen without growing.
  std::string text(size_known ? std::min(static_cast<std::size_t>(status.st_size), most_bytes) + 1 : 1 << 14, '\0');
  std::size_t used = 0;
  ssize_t got = 0;
  do {
    if (used == text.size()) text.resize(2 * text.size());
    do got = ::read(file, text.data() + used, text.size() - used);
    while (got < 0 && errno == EINTR);
    used += got > 0 ? static_cast<std::size_t>(got) : 0;
  } while (got > 0 && used <= most_bytes);
  text.resize(used);
  const int error = errno;
  if (!is_input) ::close(file);
  if (got < 0) return file_error("could not read", shown, error);
  if (text.size() > most_bytes)
    return tl::unexpected(
        FileError{fmt::format("{} is larger than {} MiB, too large to be a feel", shown, most_bytes >> 20), true});
  return text;
}

FileResult<void> make_folder(const std::string& path) {
  std::error_code error;
  std::filesystem::create_directories(path, error);
  if (error || !std::filesystem::is_directory(path, error))
    return tl::unexpected(FileError{fmt::format("could not make the folder {}: {}", shown_name(path),
                                                error ? error.message() : "something else has that name")});
  return {};
}

bool file_exists(const std::string& path) {
  struct stat status {};
  return ::lstat(path.c_str(), &status) == 0;
}

bool is_own_output(const std::string& path) {
  constexpr std::size_t enough = 4096;
  const std::string start = read_start(path, enough);
  const std::string_view first_line = std::string_view(start).substr(0, start.find('\n'));
  const bool is_curves =
      first_line.starts_with("time,\"") && (first_line.size() == enough || first_line.ends_with(".speed\""));
  const bool is_sweep = first_line.find(",take,fps,variant,") != std::string_view::npos;
  const bool is_export = first_line == "channel,time,value,slope_in,slope_out" || start.starts_with("frame,time,")
                         || start.starts_with("{\"frame\":0,\"time\":")
                         || start.find("written by stasis export") != std::string::npos;
  const bool is_scene = start.find("\"generator\":\"stasis export ") < 200;
  return is_scene || is_curves || is_sweep || is_export || start.starts_with("frame,time,dt")
         || start.starts_with("{\"stasis\":") || start.find("<!--written by stasis check-->") != std::string::npos
         || start.find("Drawn by Stasis") != std::string::npos;
}

namespace {

constexpr std::string_view temporary_mark = ".stasis-";
constexpr std::size_t mark_letters = 6; // after it, by chance

/// Removes what runs that were killed have left beside a file: temporary files that nobody holds any more. Once a
/// folder.
void remove_leftovers(const std::string& path) {
  static std::mutex guard;
  static std::set<std::string> seen;
  const std::filesystem::path parent = std::filesystem::path(path).parent_path();
  const std::string folder = parent.empty() ? "." : parent.string();
  const std::scoped_lock lock(guard);
  if (!seen.insert(folder).second) return;
  std::error_code error;
  for (std::filesystem::directory_iterator entry(folder, error), end; !error && entry != end; entry.increment(error)) {
    const std::string name = entry->path().filename().string();
    const std::size_t mark = name.rfind(temporary_mark);
    if (mark == std::string::npos || mark + temporary_mark.size() + mark_letters != name.size()) continue;
    const int file = ::open(entry->path().c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOFOLLOW);
    if (file < 0) continue;
    if (::flock(file, LOCK_EX | LOCK_NB) == 0) ::unlink(entry->path().c_str());
    ::close(file);
  }
}

} // namespace

namespace {

/// The names of temporary files that are being written, for a signal that may come at any time: a table of fixed size
/// that is read without a lock. What does not fit into it is cleaned up by the next run.
constexpr std::size_t most_at_once = 64, longest_name = 1024;
std::array<std::array<char, longest_name>, most_at_once> half_written{};
std::array<std::atomic<bool>, most_at_once> is_half_written{};

void note_half_written(const std::string& name) {
  if (name.size() >= longest_name) return;
  static std::mutex guard;
  const std::scoped_lock lock(guard);
  for (std::size_t i = 0; i < most_at_once; ++i)
    if (!is_half_written[i]) {
      std::copy(name.begin(), name.end(), half_written[i].begin());
      half_written[i][name.size()] = '\0';
      is_half_written[i] = true;
      return;
    }
}

void forget_half_written(const std::string& name) {
  for (std::size_t i = 0; i < most_at_once; ++i)
    if (is_half_written[i] && name == half_written[i].data()) is_half_written[i] = false;
}

void end_cleanly(int signal) {
  for (std::size_t i = 0; i < most_at_once; ++i)
    if (is_half_written[i]) ::unlink(half_written[i].data());
  ::raise(signal); // with the usual end: the handler was for once
}

} // namespace

void remove_half_written_on_signals() {
  struct sigaction action {};
  action.sa_handler = end_cleanly;
  action.sa_flags = static_cast<int>(SA_RESETHAND | SA_NODEFER);
  for (const int signal : {SIGINT, SIGTERM, SIGHUP}) ::sigaction(signal, &action, nullptr);
}

FileResult<FileLock> FileLock::take(const std::string& path) {
  for (;;) {
    const auto file = open_plain_file(path);
    if (!file) return tl::unexpected(file.error());
    FileLock lock(*file);
    while (::flock(*file, LOCK_EX) != 0)
      if (errno != EINTR) return file_error("could not lock", path, errno);
    // Whoever had it may have put another file in its place meanwhile.
    struct stat held {
    }, named{};
    if (::fstat(*file, &held) != 0 || ::stat(path.c_str(), &named) != 0)
      return file_error("could not read", path, errno);
    if (held.st_ino == named.st_ino && held.st_dev == named.st_dev) return lock;
  }
}

FileLock::FileLock(FileLock&& other) noexcept : descriptor_(std::exchange(other.descriptor_, -1)) {}
FileLock::~FileLock() {
  if (descriptor_ >= 0) ::close(descriptor_);
}

FileResult<AtomicFile> AtomicFile::open(const std::string& path, bool force) {
  struct stat status {};
  if (::stat(path.c_str(), &status) == 0) {
    if (!S_ISREG(status.st_mode))
      return tl::unexpected(FileError{fmt::format("{} is not a plain file", shown_name(path))});
    if (!force && status.st_size > 0 && !is_own_output(path))
      return tl::unexpected(FileError{fmt::format(
          "{} exists and was not written by Stasis; name another place with -o, or give --force", shown_name(path))});
  }
  AtomicFile file;
  file.path_ = path;
  remove_leftovers(path);
  std::string name = path + std::string(temporary_mark) + std::string(mark_letters, 'X');
  file.descriptor_ = ::mkostemp(name.data(), O_CLOEXEC);
  if (file.descriptor_ < 0) return file_error("could not write", path, errno);
  ::flock(file.descriptor_, LOCK_EX | LOCK_NB); // so that it is no leftover
  file.temporary_ = name;
  note_half_written(name);
  // A new file gets the usual rights, a replaced one keeps its own.
  const mode_t mask = ::umask(0);
  ::umask(mask);
  const mode_t mode = status.st_mode != 0 ? status.st_mode & 07777 : 0666 & ~mask;
  if (::fchmod(file.descriptor_, mode) != 0) file.error_ = errno;
  return file;
}

AtomicFile::AtomicFile(AtomicFile&& other) noexcept
    : path_(std::move(other.path_)), temporary_(std::move(other.temporary_)),
      descriptor_(std::exchange(other.descriptor_, -1)), error_(other.error_) {
  other.temporary_.clear();
}

AtomicFile& AtomicFile::operator=(AtomicFile&& other) noexcept {
  if (this != &other) {
    discard();
    path_ = std::move(other.path_);
    temporary_ = std::exchange(other.temporary_, {});
    descriptor_ = std::exchange(other.descriptor_, -1);
    error_ = other.error_;
  }
  return *this;
}

AtomicFile::~AtomicFile() { discard(); }

void AtomicFile::discard() noexcept {
  if (descriptor_ >= 0) ::close(std::exchange(descriptor_, -1));
  if (!temporary_.empty()) {
    ::unlink(temporary_.c_str());
    forget_half_written(temporary_);
  }
  temporary_.clear();
}

void AtomicFile::write(std::string_view bytes) noexcept {
  while (!bytes.empty() && error_ == 0) {
    const ssize_t written = ::write(descriptor_, bytes.data(), bytes.size());
    if (written < 0 && errno != EINTR) error_ = errno;
    if (written > 0) bytes.remove_prefix(static_cast<std::size_t>(written));
  }
}

namespace {

/// Gives `from` the name `to` at one instant. Where a file of that name exists, the two are exchanged and the old one
/// removed: a plain rename over it makes some file systems write the data out first, which takes milliseconds.
int take_name(const std::string& from, const std::string& to) noexcept {
  if (::renameat2(AT_FDCWD, from.c_str(), AT_FDCWD, to.c_str(), RENAME_EXCHANGE) == 0) {
    ::unlink(from.c_str());
    return 0;
  }
  return ::rename(from.c_str(), to.c_str()) == 0 ? 0 : errno;
}

} // namespace

FileResult<void> AtomicFile::commit() {
  if (error_ == 0 && ::close(std::exchange(descriptor_, -1)) != 0) error_ = errno;
  if (error_ == 0) error_ = take_name(temporary_, path_);
  const int error = error_;
  if (error != 0) {
    discard();
    return file_error("could not write", path_, error);
  }
  forget_half_written(temporary_);
  temporary_.clear();
  return {};
}

FileResult<void> write_file(const std::string& path, std::string_view bytes, bool force) {
  auto file = AtomicFile::open(path, force);
  if (!file) return tl::unexpected(file.error());
  file->write(bytes);
  return file->commit();
}

} // namespace stasis::io
