#include "support/figures.hpp"

#include <algorithm>

namespace stasis::test {

bool says(const figure::Figure& figure, const std::string& words) {
  return std::any_of(figure.texts.begin(), figure.texts.end(),
                     [&](const figure::Text& text) { return text.text.find(words) != std::string::npos; });
}

std::vector<const figure::Line*> lines_of(const figure::Figure& figure, const std::string& series) {
  std::vector<const figure::Line*> found;
  for (const figure::Shape& shape : figure.shapes)
    if (const auto* line = std::get_if<figure::Line>(&shape); line != nullptr && line->series == series)
      found.push_back(line);
  return found;
}

std::vector<std::string> misplaced_texts(const figure::Figure& figure) {
  std::vector<std::string> pairs;
  for (std::size_t a = 0; a < figure.texts.size(); ++a) {
    const figure::Box& box = figure.texts[a].box;
    if (box.left < 0 || box.right > figure.width || box.top < 0 || box.bottom > figure.height)
      pairs.push_back(figure.texts[a].text);
    for (std::size_t b = a + 1; b < figure.texts.size(); ++b)
      if (overlap(figure.texts[a].box, figure.texts[b].box))
        pairs.push_back(figure.texts[a].text + " / " + figure.texts[b].text);
  }
  return pairs;
}

} // namespace stasis::test
