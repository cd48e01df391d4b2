#include "cli/export_code.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "cli/version.hpp"
#include "code/check_program.hpp"
#include "code/printer.hpp"
#include "code/read_program.hpp"
#include "code/single_precision.hpp"
#include "core/curve/curve.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

code::Header header_of(const LoadedFeel& loaded, const CodeCall& call, const code::Lowered& lowered) {
  code::Header header;
  header.prefix = call.prefix;
  const std::string title = loaded.feel.title.empty() ? loaded.name : loaded.feel.title;
  // By its first words such a file is known as ours and may be replaced.
  header.words.push_back(fmt::format("written by stasis export {}: {}.", version, code::in_comment(title)));
  header.words.push_back("How its values move. Change the feel and export again rather than this file.");
  header.words.push_back(
      "Make a state and call begin() on it. On each frame hand on what the player did (press, release, "
      "click, hit ...), then call advance() with the seconds since the last frame, then read the "
      "values. Nothing is allocated, nothing is global: as many states as you like.");
  if (call.is_single)
    header.words.push_back("Values are numbers of 32 bits; time, and what is worked out of time alone, are of 64.");
  for (const std::string& one : lowered.left) header.words.push_back(code::in_comment(one));
  return header;
}

/// How near a check in single precision must come. Noise and curves that stand upright take what rounding leaves in
/// time for more than it is.
double tolerance_of(const Feel& feel) {
  constexpr double usual = 1e-5, rough = 1e-4;
  const bool has_noise = std::any_of(feel.shakes.begin(), feel.shakes.end(), [](const Shake& shake) {
    return std::holds_alternative<NoiseWave>(shake.wave) || std::holds_alternative<JitterWave>(shake.wave);
  });
  const bool stands_upright = std::any_of(feel.motions.begin(), feel.motions.end(), [](const NamedMotion& named) {
    const Ease* ease = ease_of(named.motion);
    if (ease == nullptr) return false;
    constexpr std::array places{0.0, 0.5, 1.0};
    return std::any_of(places.begin(), places.end(),
                       [&](double at) { return !std::isfinite(evaluate(ease->curve, at).slope); });
  });
  return has_noise || stands_upright ? rough : usual;
}

} // namespace

bool has_short_numbers(std::string_view language) noexcept {
  constexpr std::array<std::string_view, 4> all{"c", "cpp", "csharp", "rust"};
  return std::find(all.begin(), all.end(), language) != all.end();
}

std::vector<std::string> code_languages() {
  std::vector<std::string> all;
  for (const auto& printer : code::printers()) all.emplace_back(printer->language());
  all.emplace_back(code::glsl_printer()->language());
  return all;
}

namespace {

/// What shaders take: motions and shakes as functions of time.
tl::expected<CodeFiles, std::string> shader_files(const LoadedFeel& loaded, const CodeCall& call) {
  if (call.with_check)
    return tl::unexpected(std::string("--with-check plays a take, and glsl keeps no state to play one"));
  if (call.motions_alone)
    return tl::unexpected(std::string("glsl has the motions and the shakes as functions of time; leave --motions out"));
  const code::Lowered lowered = code::lower_stateless(loaded.feel);
  const code::Program program = code::read_program(lowered.text);
  if (program.functions.empty())
    return tl::unexpected(std::string("the feel has no motion and no shake that is a function of time alone"));
  code::Header header = header_of(loaded, call, lowered);
  header.words[1] =
      "Its motions from rest, and what its shakes add, as functions of time. Change the feel and export again "
      "rather than this file.";
  header.words[2] = "A motion gives the share of its step that is done: value = from + (to - from) * NAME(t).";
  const auto printer = code::glsl_printer();
  return CodeFiles{{{call.prefix + std::string(printer->extension()), printer->print(program, header)}}, lowered.left};
}

} // namespace

tl::expected<CodeFiles, std::string> code_files(const LoadedFeel& loaded, const CodeCall& call) {
  if (call.language == "glsl") return shader_files(loaded, call);
  const code::Lowered lowered = call.motions_alone ? code::lower_motions_alone(loaded.feel) : code::lower(loaded.feel);
  if (!lowered.faults.empty()) {
    std::string all;
    for (const std::string& fault : lowered.faults) all += (all.empty() ? "" : " ") + fault;
    all.pop_back();
    return tl::unexpected(all);
  }
  const auto all = code::printers();
  const auto printer =
      std::find_if(all.begin(), all.end(), [&](const auto& one) { return one->language() == call.language; });
  const code::Header header = header_of(loaded, call, lowered);
  code::Program program = code::read_program(lowered.text);
  if (call.is_single) program = code::in_single_precision(std::move(program));
  const std::string extension((*printer)->extension());
  CodeFiles made;
  made.files.push_back({call.prefix + extension, (*printer)->print(program, header)});
  if (std::string text = (*printer)->declarations(program, header); !text.empty())
    made.files.push_back({call.prefix + ".d.mts", std::move(text)});
  made.notes = lowered.left;
  if (!call.with_check) return made;
  if (loaded.takes.size() != 1)
    return tl::unexpected(
        fmt::format("--with-check plays one take, and there are {}: name one by --take", loaded.takes.size()));
  const Take& take = loaded.feel.takes[loaded.takes.front()];
  const Scene scene{&loaded.feel, &take, clock_of(take)};
  constexpr std::int64_t most_frames = 20'000;
  const std::int64_t frames = code::checked_frames(scene).clock.frames;
  const bool on_tick = take.tick.order == Tick::Order::on_tick;
  if (frames > most_frames)
    return tl::unexpected(fmt::format("take {} goes over {} {}, and a check holds {} at most; shorten it, or give a {}",
                                      take.name, frames, on_tick ? "ticks" : "frames", most_frames,
                                      on_tick ? "slower tick" : "lower --fps"));
  code::Check check = code::check_of(lowered, scene);
  if (!check.no_number.empty())
    return tl::unexpected(
        fmt::format("take {} is nothing to hold the source code against: {} becomes no number; choose "
                    "another by --take, or leave out --with-check",
                    take.name, check.no_number));
  if (call.is_single) {
    check.program = code::in_single_precision(std::move(check.program), &program);
    check.tolerance = tolerance_of(loaded.feel);
  }
  if (check.columns == 0)
    return tl::unexpected(std::string("no value of the feel is completely in the file, so there is nothing to check"));
  made.files.push_back({call.prefix + "_check" + extension, (*printer)->print_check(check, program, header)});
  return made;
}

} // namespace stasis::cli
