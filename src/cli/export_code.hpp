// A feel as source code: which files there are, and what is said of them.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "cli/load_feel.hpp"
#include "code/lower_feel.hpp"

namespace stasis::cli {

/// "c", "cpp", ...
std::vector<std::string> code_languages();

struct CodeCall {
  std::string language, prefix;
  bool with_check = false;
  bool motions_alone = false;
  bool is_single = false; ///< values are numbers of 32 bits
};
/// True if a language has numbers of both lengths.
bool has_short_numbers(std::string_view language) noexcept;
struct CodeFile {
  std::string name, text;
};
struct CodeFiles {
  std::vector<CodeFile> files;
  std::vector<std::string> notes; ///< for whoever asked: what is not in them
};

/// The error is a sentence without its full stop.
tl::expected<CodeFiles, std::string> code_files(const LoadedFeel& loaded, const CodeCall& call);

} // namespace stasis::cli
