#include "cli/search_call.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// "fov.settling_time at_most 0.35", "fov.overshoot near 3 within 0.5".
tl::expected<std::pair<std::string, Want>, std::string> parse_want(const std::string& text) {
  constexpr const char* shape =
      "expected MEASURE at_most NUMBER, MEASURE at_least NUMBER or MEASURE near NUMBER within NUMBER";
  std::vector<std::string_view> words;
  for (const std::string_view word : split(text, ' '))
    if (!word.empty()) words.push_back(word);
  if (words.size() != 3 && words.size() != 5) return tl::unexpected(std::string(shape));
  Want want;
  const auto bound = read_number(words[2]);
  if (!bound) return tl::unexpected(std::string(shape));
  want.bound = *bound;
  if (words[1] == "at_most" && words.size() == 3) {
    want.rule = WantRule::at_most;
  } else if (words[1] == "at_least" && words.size() == 3) {
    want.rule = WantRule::at_least;
  } else if (words[1] == "near" && words.size() == 5 && words[3] == "within" && read_number(words[4])) {
    want.rule = WantRule::near;
    want.within = *read_number(words[4]);
  } else {
    return tl::unexpected(std::string(shape));
  }
  return std::pair(std::string(words[0]), want);
}

tl::unexpected<Exit> refused(const std::string& message, Output& err) {
  print_error(message + ".", err);
  return tl::unexpected(Exit::bad_input);
}

tl::expected<std::vector<FreeValue>, std::string> parse_free(const SearchCall& call, bool with_names) {
  if (call.free.empty())
    return tl::unexpected(std::string("--free is needed, such as --free motion.soft.frequency=0.5:5"));
  std::vector<FreeValue> free;
  for (const std::string& text : call.free) {
    auto one = parse_free_value(text);
    if (!one) return tl::unexpected(fmt::format("--free {}: {}", printable(text, 80), one.error()));
    if (one->is_choice() && !with_names)
      return tl::unexpected(fmt::format("--free {}: a trade-off is between numbers", printable(text, 80)));
    if (std::any_of(free.begin(), free.end(), [&](const FreeValue& other) { return other.path == one->path; }))
      return tl::unexpected(fmt::format("--free names {} twice", printable(one->path, 60)));
    free.push_back(std::move(*one));
  }
  return free;
}

/// Looks at what stands at each free path now, and whether its ends, or its names, may stand there.
bool look_at_free(OpenedSearch& search, Output& err) {
  for (const FreeValue& one : search.free) {
    std::vector<Node> ends;
    for (const std::string& name : one.names) ends.push_back(Node{name, {}});
    if (!one.is_choice()) ends = {number_node(one.range.low), number_node(one.range.high)};
    for (const Node& end : ends)
      if (!is_possible(search.trials, "--free", one.path, end, err)) return false;
    const Node* now = search.trials.trials.cases().front().variations.at(one.path);
    search.present_names.push_back(now == nullptr ? "" : now->text() != nullptr ? *now->text() : value_in_words(*now));
    search.present.push_back(one.is_choice() ? std::nullopt : search.trials.number_at(one.path));
  }
  return true;
}

} // namespace

void declare_search_call(Call& call, SearchCall& search, bool with_names) {
  call.repeated("--free", search.free,
                with_names ? "What may change: PATH=LOW:HIGH, or PATH=a|b|c for names"
                           : "What may change: PATH=LOW:HIGH");
  call.repeated("--want", search.wants, "A want besides those of the feel, such as \"fov.overshoot at_most 3\"");
  call.option("--tries", search.tries, "How many sets of numbers to try at most");
  call.option("--seed", search.seed, "Another seed, another search");
  declare_trial_call(call, search.feel, search.fps);
}

tl::expected<OpenedSearch, Exit> open_search(const SearchCall& call, int least_tries, bool with_names, Output& err) {
  auto free = parse_free(call, with_names);
  if (!free) return refused(free.error(), err);
  std::vector<std::pair<std::string, Want>> wants;
  for (const std::string& text : call.wants) {
    auto want = parse_want(text);
    if (!want) return refused(fmt::format("--want \"{}\": {}", printable(text, 80), want.error()), err);
    wants.push_back(std::move(*want));
  }
  const auto tries = number_option("--tries", call.tries, least_tries, 1e7, true, err),
             seed = number_option("--seed", call.seed, 0, 4294967295.0, true, err);
  if (!tries || !seed) return tl::unexpected(Exit::bad_input);
  TrialCall trial{call.feel, call.fps, {}, true, {}};
  for (const FreeValue& one : *free) trial.free_paths.push_back(one.path);
  auto opened = open_trials(trial, err);
  if (!opened) return tl::unexpected(opened.error());
  for (const auto& [measure, want] : wants) {
    if (!knows_measure(*opened, measure, err)) return tl::unexpected(Exit::bad_input);
    opened->trials.add_want(want, measure);
  }
  const bool has_wants = !wants.empty() || !opened->base.wants.empty();
  OpenedSearch out{std::move(*opened),
                   std::move(*free),
                   {},
                   {},
                   has_wants,
                   static_cast<int>(*tries),
                   static_cast<std::uint64_t>(*seed)};
  if (!look_at_free(out, err)) return tl::unexpected(Exit::bad_input);
  return out;
}

} // namespace stasis::cli
