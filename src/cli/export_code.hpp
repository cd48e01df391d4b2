// A feel as source code: which files there are, and what is said of them.
#pragma once

#include <string>
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
};
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
