// The files that a feel names, given as texts.
#pragma once

#include <map>
#include <string>

#include "io/feel_document.hpp"

namespace stasis::embed {

class MemoryFolder final : public io::FeelFolder {
public:
  explicit MemoryFolder(std::map<std::string, std::string> files) : files_(std::move(files)) {}

  std::optional<std::string> path_of(const std::string& name) const override { return name; }
  io::FileResult<std::string> text(const std::string& path, std::size_t most_bytes) const override;
  Result<NumberColumns> columns(const std::string& path, const std::vector<std::string>& wanted,
                                int source) const override;

private:
  std::map<std::string, std::string> files_;
};

} // namespace stasis::embed
