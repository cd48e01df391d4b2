// What commands that search numbers have in common: what may change, what is wanted, how long to look.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "cli/trial_call.hpp"
#include "core/search/solve.hpp"

namespace stasis::cli {

struct SearchCall {
  FeelCall feel;
  std::string fps;
  std::vector<std::string> free, wants;
  std::string tries, seed = "1";
};

/// Declares all of it. \param with_names names may be chosen among too.
void declare_search_call(Call& call, SearchCall& search, bool with_names);

struct OpenedSearch {
  OpenedTrials trials; ///< with the wants of the call
  std::vector<FreeValue> free;
  std::vector<std::optional<double>> present; ///< by free value: its number now
  std::vector<std::string> present_names;     ///< by free value: what stands there now
  bool has_wants = false;                     ///< of the feel or of the call
  int tries = 0;
  std::uint64_t seed = 1;
};

/// Reads the call and opens its feel once, or explains on `err` why not.
tl::expected<OpenedSearch, Exit> open_search(const SearchCall& call, int least_tries, bool with_names, Output& err);

} // namespace stasis::cli
