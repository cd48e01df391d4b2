#include "cli/rewrite_feel.hpp"

#include <filesystem>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "core/feel/key_table.hpp"
#include "io/files.hpp"
#include "io/toml_edit.hpp"

namespace stasis::cli {

Exit rewrite_feel(const std::string& file, bool allow_outside, Output& err, const FeelEdit& edit,
                  const std::function<bool()>& accepted) {
  const auto lock = io::FileLock::take(file); // until the end: what another run writes meanwhile would be lost
  if (!lock) return failed(lock.error(), err);
  const auto text = io::read_file(file, most_document_bytes);
  if (!text) {
    failed(text.error(), err);
    return text.error().refused ? Exit::bad_input : Exit::bad_file;
  }
  auto now = edit(*text);
  if (!now) return now.error();
  if (!*now) return Exit::fine;
  if (!is_valid_feel(file, **now, allow_outside, err)) return Exit::bad_input;
  if (!accepted()) return Exit::fine;
  // A link stays a link: the file that it leads to is replaced.
  std::error_code error;
  const auto real = std::filesystem::canonical(file, error);
  if (auto done = io::write_file(error ? file : real.string(), **now, true); !done) return failed(done.error(), err);
  return Exit::fine;
}

Exit write_values(const std::string& file, bool allow_outside, const std::vector<WrittenValue>& values, Output& out,
                  Output& err) {
  const Exit written = rewrite_feel(file, allow_outside, err,
                                    [&](const std::string& text) -> tl::expected<std::optional<std::string>, Exit> {
                                      std::string now = text;
                                      for (const WrittenValue& one : values) {
                                        auto edit = io::edit_value(now, one.path, one.value);
                                        if (!edit) {
                                          print_problems(edit.error(), {{file, now}}, err);
                                          return tl::unexpected(Exit::bad_input);
                                        }
                                        now = std::move(edit->text);
                                      }
                                      return now;
                                    });
  if (written == Exit::fine) out.line("  wrote " + file);
  return written;
}

} // namespace stasis::cli
