#include "io/scratch_shelf.hpp"

#include <cerrno>
#include <cstdlib>
#include <fcntl.h>
#include <new>
#include <sys/mman.h>
#include <unistd.h>
#include <utility>

namespace stasis::io {
namespace {

/// The numbers of a file without a name. Pages that were read leave this program's memory when they are let go; reading
/// them again brings them back.
class MappedNumbers final : public NumberStore {
public:
  /// \param file is read, and may be closed afterwards.
  MappedNumbers(int file, std::size_t count) : count_(count) {
    if (count == 0) return;
    void* const at = ::mmap(nullptr, count * sizeof(double), PROT_READ, MAP_SHARED, file, 0);
    if (at == MAP_FAILED) throw std::bad_alloc();
    data_ = static_cast<const double*>(at);
  }
  MappedNumbers(const MappedNumbers&) = delete;
  MappedNumbers& operator=(const MappedNumbers&) = delete;
  ~MappedNumbers() override {
    if (count_ > 0) ::munmap(address(0), count_ * sizeof(double));
  }

  std::span<const double> numbers() const noexcept override { return {data_, count_}; }

  void let_go(std::size_t first, std::size_t last) const noexcept override {
    static const auto page = static_cast<std::size_t>(::sysconf(_SC_PAGESIZE)) / sizeof(double);
    const std::size_t from = first / page * page;
    ::madvise(address(from), (last - from) * sizeof(double), MADV_DONTNEED); // advice: not taken is no fault
  }

private:
  void* address(std::size_t row) const noexcept { return const_cast<double*>(data_ + row); }

  const double* data_ = nullptr;
  std::size_t count_;
};

class ScratchSpool final : public NumberSpool {
public:
  explicit ScratchSpool(int file) : file_(file) {}
  ScratchSpool(const ScratchSpool&) = delete;
  ScratchSpool& operator=(const ScratchSpool&) = delete;
  ~ScratchSpool() override { ::close(file_); }

  bool take(std::span<const double> numbers) override {
    const auto bytes = std::as_bytes(numbers);
    std::size_t done = 0;
    while (done < bytes.size()) {
      const ssize_t written =
          ::pwrite(file_, bytes.data() + done, bytes.size() - done, static_cast<off_t>(count_ * sizeof(double) + done));
      if (written < 0 && errno == EINTR) continue;
      if (written <= 0) return false;
      done += static_cast<std::size_t>(written);
    }
    count_ += numbers.size();
    return true;
  }

  std::shared_ptr<const NumberStore> finish() override { return std::make_shared<const MappedNumbers>(file_, count_); }

private:
  int file_;
  std::size_t count_ = 0;
};

/// A file that is open and has no name; negative if the folder takes none.
int nameless_file(const std::string& folder) {
  const int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC | O_EXCL, 0600);
  if (file >= 0) return file;
  std::string name = folder + "/stasis-XXXXXX"; // on file systems where a file cannot be nameless from the start
  const int named = ::mkostemp(name.data(), O_CLOEXEC);
  if (named >= 0) ::unlink(name.c_str());
  return named;
}

class ScratchShelf final : public NumberShelf {
public:
  explicit ScratchShelf(std::vector<std::string> folders) : folders_(std::move(folders)) {}

  std::unique_ptr<NumberSpool> spool() const override {
    for (const std::string& folder : folders_)
      if (const int file = nameless_file(folder); file >= 0) return std::make_unique<ScratchSpool>(file);
    return nullptr;
  }

private:
  std::vector<std::string> folders_;
};

} // namespace

std::vector<std::string> scratch_folders() {
  std::vector<std::string> folders{"/var/tmp", "/tmp"};
  if (const char* const named = std::getenv("TMPDIR"); named != nullptr && *named != '\0')
    folders.insert(folders.begin(), named);
  return folders;
}

std::shared_ptr<const NumberShelf> scratch_shelf(std::vector<std::string> folders) {
  return std::make_shared<const ScratchShelf>(std::move(folders));
}

} // namespace stasis::io
