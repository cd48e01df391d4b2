// Any bytes as a feel: refused with problems, or played without a fault. Whatever is accepted must give finite rows.
// Figures of it are laid out too, though not drawn.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <vector>

#include "core/check/known_names.hpp"
#include "core/check/warning.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/player.hpp"
#include "figure/render.hpp"
#include "figure/take_figures.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

namespace {

class FiniteSink final : public stasis::BlockSink {
public:
  void begin(const stasis::Scene& scene) override { feel_ = scene.feel; }
  void consume(const stasis::Block& block) override {
    for (std::size_t c = 0; c < feel_->channels.size(); ++c)
      for (std::size_t i = 0; i < feel_->channels[c].components; ++i)
        for (const double value : block.channels[c].component[i].smooth)
          if (!std::isfinite(value)) std::abort();
  }
  void end() override {}

private:
  const stasis::Feel* feel_ = nullptr;
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  auto document = stasis::io::read_toml(text, 0);
  if (!document) return 0;
  for (const std::string_view variant : stasis::variant_names(*document)) {
    stasis::Node other = *document;
    if (stasis::apply_variant(other, variant) && stasis::resolve_settings(other))
      (void)stasis::read_feel(other, stasis::all_known_names);
  }
  if (!stasis::resolve_settings(*document)) return 0;
  const auto feel = stasis::read_feel(*document, stasis::all_known_names);
  if (!feel) return feel.error().empty() ? (std::abort(), 0) : 0;
  stasis::warnings_of_feel(*feel);
  if (const auto edit = stasis::io::edit_value(text, "title", "edited"); edit && !stasis::io::read_toml(edit->text, 0))
    std::abort();
  for (const stasis::Take& take : feel->takes) {
    constexpr double most_work = 20'000; // frames x channels, to keep inputs quick
    if (take.length * take.fps * static_cast<double>(feel->channels.size()) > most_work) continue;
    FiniteSink finite;
    stasis::MeasureSink measures;
    const stasis::Scene scene{&*feel, &take, stasis::steady_clock(take.fps, take.length)};
    stasis::figure::TakeFigures figures(scene);
    std::vector<stasis::BlockSink*> sinks{&finite, &measures};
    for (stasis::BlockSink* sink : figures.sinks()) sinks.push_back(sink);
    auto notes = stasis::play(scene, sinks);
    const stasis::TakeMeasures measured = measures.take(std::move(notes));
    for (const auto& one : figures.all(measured, {"fuzzed", "", {}, false})) stasis::figure::gnuplot_script(one.draw());
  }
  return 0;
}
