// Sessions of the C interface, as tests hold them.
#pragma once

#include <memory>
#include <string>

#include <gtest/gtest.h>

#include "embed/stasis.h"

namespace stasis::test {

struct Close {
  void operator()(stasis_session* session) const { stasis_close(session); }
};
using Opened = std::unique_ptr<stasis_session, Close>;

inline stasis_source source_of(const std::string& text, double fps = 0.0) {
  stasis_source source{};
  source.name = "test.toml";
  source.text = text.data();
  source.length = text.size();
  source.fps = fps;
  return source;
}

inline Opened opened(const std::string& text, double fps = 0.0) {
  const stasis_source source = source_of(text, fps);
  stasis_faults* faults = nullptr;
  Opened session(stasis_open(&source, &faults));
  EXPECT_NE(session, nullptr) << (faults != nullptr ? stasis_fault_at(faults, 0).message : "");
  stasis_faults_free(faults);
  return session;
}

inline std::string taken(char* text) {
  std::string copy = text != nullptr ? text : "";
  stasis_free(text);
  return copy;
}

} // namespace stasis::test
