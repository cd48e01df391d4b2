// stasis.h: a feel from a file on disk.
#include "core/feel/key_table.hpp"
#include "embed/handles.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"

using namespace stasis;
using namespace stasis::embed;

stasis_session* stasis_open_file(const char* path, const char* variant, const char* take, double fps,
                                 stasis_faults** faults) {
  if (faults != nullptr) *faults = nullptr;
  if (path == nullptr) return nullptr;
  return guarded(
      [&]() -> stasis_session* {
        auto text = io::read_file(path, most_document_bytes);
        if (!text) {
          tell(faults,
               {{{"file.unreadable", "", {0, 0, 1, -1}, text.error().message, "Give the path of a feel."}}, {}});
          return nullptr;
        }
        FeelText feel{path, std::move(*text), variant != nullptr ? variant : "", take != nullptr ? take : "",
                      rate_given(fps)};
        return open_session(std::move(feel), io::disk_folder({path}), faults);
      },
      static_cast<stasis_session*>(nullptr));
}
