// As rows.c, by the heart's own classes.
#include <cstdio>
#include <fstream>
#include <stasis.hpp>
#include <string>

namespace {

void act(stasis::Session& camera, const stasis::OpenedFeel& feel, const std::string& what, const std::string& name,
         double number) {
  const std::size_t control = feel.control(name).value_or(0);
  if (what == "press") camera.press(control);
  if (what == "release") camera.release(control);
  if (what == "cancel") camera.cancel(control);
  if (what == "click") camera.click(control, static_cast<int>(number));
  if (what == "stick") camera.push_stick(control, number);
  if (what == "pointer") camera.move_pointer(control, number);
  if (what == "hit") camera.hit(feel.shake(name).value(), number);
}

} // namespace

int main(int count, char** words) {
  std::ifstream list(count > 1 ? words[1] : "");
  std::string path, hands_path, rows_path;
  double fps = 0.0;
  long frames = 0;
  while (list >> path >> hands_path >> rows_path >> fps >> frames) {
    const auto opened = stasis::OpenedFeel::open(path);
    if (!opened) {
      std::fprintf(stderr, "%s\n", opened.error().c_str());
      return 2;
    }
    stasis::Session camera = opened->play(fps);
    std::ifstream hands(hands_path);
    std::FILE* const rows = std::fopen(rows_path.c_str(), "w");
    if (rows == nullptr) return 2;
    std::string what, name;
    double number = 0.0;
    long due = 0;
    bool more = static_cast<bool>(hands >> due >> what >> name >> number);
    for (long frame = 0; frame < frames; ++frame) {
      for (; more && due <= frame; more = static_cast<bool>(hands >> due >> what >> name >> number))
        act(camera, *opened, what, name, number);
      camera.advance(0.0);
      const auto& channels = opened->feel().channels;
      for (std::size_t c = 0; c < channels.size(); ++c)
        for (std::size_t i = 0; i < channels[c].components; ++i) std::fprintf(rows, "%.17g ", camera.value({c, i}));
      std::fprintf(rows, "\n");
    }
    std::fclose(rows);
  }
}
