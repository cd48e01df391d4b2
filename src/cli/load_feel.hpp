// From the words of a call to checked feels: read the files, put variants and overrides in, validate.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "cli/call.hpp"
#include "core/feel/document.hpp"
#include "core/feel/feel.hpp"

namespace stasis::cli {

struct FeelCall {
  std::string file;                  ///< "-" for standard input
  std::vector<std::string> set;      ///< "path=value"
  std::vector<std::string> takes;    ///< only these; empty for all
  std::vector<std::string> variants; ///< only these ("all": the base feel and every variant); empty for the base feel
  std::string fps;                   ///< as typed; empty for each take's own
  bool instant = false;              ///< every motion a cut
  std::vector<std::string> without;  ///< shakes that are left out; "all" for all
  bool allow_outside = false;        ///< files named by the feel may lie outside its folder
};

struct LoadedFeel {
  Feel feel;
  std::vector<std::size_t> takes; ///< indices of the takes to play
  std::string name;               ///< title, or the file's name without folder and extension
  std::string variant;            ///< empty for the base feel
};

/// Declares the arguments that every command on a feel takes.
void declare_feel_call(Call& call, FeelCall& feel);
/// The same without the feel itself.
void declare_feel_versions(Call& call, FeelCall& feel);
/// The same without --variant and --set, for commands that give those a meaning of their own.
void declare_feel_basics(Call& call, FeelCall& feel);

/// A feel's text once read, of which several versions may be made.
class FeelSource {
public:
  /// The feel that a call names, or the status with which to end after the fault has been explained on `err`.
  static tl::expected<FeelSource, Exit> open(const FeelCall& call, Output& err);

  /// "" for the base feel, then every variant.
  std::vector<std::string> versions() const;
  /// The versions that words of a call name, each once: a variant, "base", or "all"; the base feel where there are
  /// none.
  std::vector<std::string> chosen(const std::vector<std::string>& words) const;

  /// Every file that was read: the feel and what it names.
  std::vector<std::string> files() const;

  /// The same with their texts.
  const std::vector<Source>& sources() const noexcept { return sources_; }

  /// A version of the feel: the variant's overrides, then those of the call, then `more` (each "path=value").
  tl::expected<LoadedFeel, Exit> version(std::string_view variant, const std::vector<std::string>& more,
                                         Output& err) const;

  /// The document of a version, for values to be put into: variant and overrides in place, settings not yet put in.
  /// \param fps as typed; empty for each take's own.
  tl::expected<Node, Exit> document_of(std::string_view variant, const std::string& fps, Output& err) const;
  /// Explains what is wrong with a version.
  void explain(const Problems& problems, Output& err) const { print_problems(problems, sources_, err); }

private:
  Result<Node> prepared(std::string_view variant, const std::vector<std::string>& more, const std::string& fps,
                        std::vector<Source>& sources) const;

  FeelCall call_;
  std::vector<Source> sources_;
  Node document_;
};

/// The versions that the call asks for, at least one, or the status with which to end after the fault was explained.
tl::expected<std::vector<LoadedFeel>, Exit> load_feels(const FeelCall& call, Output& err);

/// Whether a text is a feel, the base and every variant of it: fine, or the status to end with, explained on `err`.
Exit validity_of(const std::string& file, const std::string& text, bool allow_outside, Output& err);

/// A text that stands for a file.
struct FeelText {
  const std::string& file;
  const std::string& text;
  bool allow_outside = false;
};
/// The feel of a text, of the base or of a variant; explained on `err` where it is none.
tl::expected<Feel, Exit> feel_of_text(const FeelText& source, Output& err, std::string_view variant = {});

/// The name of a feel's file without folder and ending; "standard input" for -.
std::string stem_of(const std::string& file);

} // namespace stasis::cli
