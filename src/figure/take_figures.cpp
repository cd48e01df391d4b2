#include "figure/take_figures.hpp"

#include "figure/plan_figure.hpp"
#include "figure/take_figure.hpp"

namespace stasis::figure {

TakeFigures::TakeFigures(const Scene& scene) : scene_(scene) {}

std::vector<BlockSink*> TakeFigures::sinks() {
  const Feel& feel = *scene_.feel;
  std::vector<BlockSink*> sinks{&series_};
  if (plan_channel(feel)) sinks.push_back(&plan_);
  if (!feel.shakes.empty()) sinks.push_back(&shakes_);
  if (!feel.profiles.empty()) sinks.push_back(&side_);
  if (!feel.sequences.empty()) sinks.push_back(&sequences_);
  return sinks;
}

std::vector<TakeFigures::One> TakeFigures::all(const TakeMeasures& measures, const FigureWords& words) const {
  std::vector<One> all;
  all.push_back({"", "", [this, &measures, words] {
                   return take_figure(
                       {&scene_, &measures, &series_, words.title, words.variant, words.only, words.picture_scale});
                 }});
  if (!plan_.frames().empty())
    all.push_back({".plan", "plan", [this, &measures, words] {
                     return plan_figure({&scene_, &measures, &plan_, words.title, words.variant});
                   }});
  if (!side_.frames().empty())
    all.push_back({".side", "from the side", [this, words] {
                     return side_figure({&scene_, &side_, words.title, words.variant});
                   }});
  for (std::size_t s = 0; s < sequences_.kept().size(); ++s) {
    if (!sequences_.kept()[s].mark) continue;
    const std::string& name = scene_.feel->sequences[s].name;
    all.push_back({".sequence." + name, "sequence " + name, [this, &measures, words, s] {
                     return sequence_figure({&scene_, &measures, &sequences_, s, words.title, words.variant});
                   }});
  }
  for (std::size_t s = 0; s < shakes_.kept().size(); ++s) {
    if (!(measures.shakes[s].peak_amplitude > 0.0)) continue;
    const std::string& name = scene_.feel->shakes[s].name;
    all.push_back({".shake." + name, "shake " + name, [this, &measures, words, s] {
                     return shake_figure({&scene_, &measures, &shakes_, s, words.title, words.variant});
                   }});
  }
  return all;
}

} // namespace stasis::figure
