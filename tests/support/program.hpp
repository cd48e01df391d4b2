// Runs the built program in a folder of its own, as a user would.
#pragma once

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace stasis::test {

/// A folder that is removed at the end of the test.
class TempDir {
public:
  TempDir();
  ~TempDir();
  TempDir(const TempDir&) = delete;
  TempDir& operator=(const TempDir&) = delete;
  std::string operator/(const std::string& name) const { return (path_ / name).string(); }
  const std::filesystem::path& path() const { return path_; }
  void write(const std::string& name, const std::string& text) const;
  std::string read(const std::string& name) const;
  /// Every file below, by its relative name, sorted.
  std::vector<std::string> files() const;

private:
  std::filesystem::path path_;
};

struct Ended {
  int status;
  std::string out, err;
};

/// Runs the program with `arguments` in `folder`, fed with `input`, in a scrubbed environment.
Ended run_program(const TempDir& folder, const std::vector<std::string>& arguments, const std::string& input = "");

/// Runs shell commands in `folder`, in which $0 is the program: for limits, pipes and several at once. The shell's
/// status.
Ended run_in_shell(const TempDir& folder, const std::string& commands);

/// A CSV with a header, as columns of numbers; an empty cell is NaN.
std::map<std::string, std::vector<double>> read_csv(const std::string& text);

/// A feel whose one channel "a" goes from 2 to 12 m while the control "c" is down, in a take "t" of `length` s.
/// \param presses s: pressed at the first, let go at the second, and so on.
std::string held_feel(const std::string& motion, double length, double fps, const std::vector<double>& presses);

} // namespace stasis::test
