// The search program beside this one, asked line by line.
#pragma once

#include <memory>
#include <string>

#include <tl/expected.hpp>

#include "core/search/solve.hpp"

namespace stasis::cli {

class SearchProgram final : public Minimiser {
public:
  /// Starts stasis-search, which is installed beside stasis; the error says why it could not be, in a sentence.
  static tl::expected<std::unique_ptr<SearchProgram>, std::string> start();
  ~SearchProgram() override;
  SearchProgram(const SearchProgram&) = delete;
  SearchProgram& operator=(const SearchProgram&) = delete;

  bool minimise(const Call& call, const Function& function) override;

private:
  SearchProgram() = default;
  bool send(const std::string& line);
  bool receive(std::string& line);

  int to_ = -1, from_ = -1;
  int child_ = -1;
  std::string buffer_;
};

} // namespace stasis::cli
