// stasis.hpp: feels for C++ programs.
#include "core/feel/key_table.hpp"
#include "embed/describe.hpp"
#include "embed/memory_folder.hpp"
#include "embed/played_feel.hpp"
#include "embed/stasis.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"

namespace stasis {

struct OpenedFeel::Inside {
  std::shared_ptr<const embed::ReadFeel> read;

  static tl::expected<OpenedFeel, Faults> open(const embed::FeelText& text, const io::FeelFolder& folder) {
    auto read = embed::read_feel_text(text, folder);
    if (!read) return tl::unexpected(embed::faults_in_words(read.error()));
    return OpenedFeel(std::make_shared<const Inside>(Inside{std::move(*read)}));
  }
};

namespace {

template<class Named> std::optional<std::size_t> index_of_name(const std::vector<Named>& all, std::string_view name) {
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].name == name) return i;
  return std::nullopt;
}

} // namespace

tl::expected<OpenedFeel, OpenedFeel::Faults> OpenedFeel::open(const std::string& path, const FeelChoice& choice) {
  auto text = io::read_file(path, most_document_bytes);
  if (!text)
    return tl::unexpected(embed::faults_in_words(
        {{{"file.unreadable", "", {0, 0, 1, -1}, text.error().message, "Give the path of a feel."}}, {}}));
  return Inside::open({path, std::move(*text), choice.variant, choice.take, 0.0}, *io::disk_folder({path}));
}

tl::expected<OpenedFeel, OpenedFeel::Faults> OpenedFeel::from_text(const std::string& name, const std::string& text,
                                                                   const FeelChoice& choice,
                                                                   std::map<std::string, std::string> files) {
  return Inside::open({name, text, choice.variant, choice.take, 0.0}, embed::MemoryFolder(std::move(files)));
}

const Feel& OpenedFeel::feel() const noexcept { return inside_->read->feel; }
const Take& OpenedFeel::surroundings() const noexcept { return inside_->read->around; }

Session OpenedFeel::play() const { return {feel(), surroundings()}; }
Session OpenedFeel::play(double fps) const { return {feel(), surroundings(), fps}; }

std::optional<ComponentRef> OpenedFeel::component(std::string_view name) const noexcept {
  std::size_t component = 0;
  auto channel = index_of_name(feel().channels, name);
  if (const std::size_t dot = name.rfind('.'); !channel && dot != std::string_view::npos) {
    while (component < most_components && component_suffixes[component] != name.substr(dot)) ++component;
    channel = index_of_name(feel().channels, name.substr(0, dot));
  }
  if (!channel || component >= feel().channels[*channel].components) return std::nullopt;
  return ComponentRef{*channel, component};
}

std::optional<std::size_t> OpenedFeel::control(std::string_view name) const noexcept {
  return index_of_name(feel().controls, name);
}
std::optional<std::size_t> OpenedFeel::shake(std::string_view name) const noexcept {
  return index_of_name(feel().shakes, name);
}
std::optional<std::size_t> OpenedFeel::track(std::string_view name) const noexcept {
  return index_of_name(feel().tracks, name);
}

} // namespace stasis
