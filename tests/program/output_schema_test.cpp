// What machines read: every JSON that a command prints is of the shape that the program itself describes.
#include <algorithm>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "support/program.hpp"
#include "support/random_feels.hpp"

namespace stasis::test {
namespace {

/// Validates lines.NAME.json, one object a line, against NAME.schema.json, for every NAME there is.
constexpr const char* validate = R"(
import glob, json, jsonschema, sys
wrong = 0
for path in sorted(glob.glob("lines.*.json")):
    name = path.split(".")[1]
    schema = json.load(open(name + ".schema.json"))
    jsonschema.Draft202012Validator.check_schema(schema)
    check = jsonschema.Draft202012Validator(schema)
    lines = open(path).read().splitlines()
    if not lines: print(name, "has no line"); wrong += 1
    for number, line in enumerate(lines):
        for error in list(check.iter_errors(json.loads(line)))[:2]:
            print(name, number, "/".join(map(str, error.absolute_path)), error.message[:300]); wrong += 1
sys.exit(wrong > 0)
)";

class Collected {
public:
  /// Keeps what a command prints under the name of its schema.
  void add(const std::string& name, const std::string& text) {
    std::string& lines = lines_[name];
    for (std::size_t at = 0; at < text.size();) {
      const std::size_t end = std::min(text.find('\n', at), text.size());
      if (text[at] == '{') lines += text.substr(at, end - at) + "\n";
      at = end + 1;
    }
  }
  void run(const TempDir& folder, const std::string& name, const std::vector<std::string>& words) {
    add(name, run_program(folder, words).out);
  }
  void write(const TempDir& folder) const {
    for (const auto& [name, lines] : lines_) {
      folder.write("lines." + name + ".json", lines);
      folder.write(name + ".schema.json", run_program(folder, {"schema", "--output", name}).out);
    }
  }
  std::size_t count() const { return lines_.size(); }
  const std::string& of(const std::string& name) const { return lines_.at(name); }

private:
  std::map<std::string, std::string> lines_;
};

Collected collected(const TempDir& folder) {
  Collected all;
  EXPECT_EQ(run_program(folder, {"demo", ".", "--figure", "none"}).status, 0);
  std::vector<std::string> feels{"first.toml", "otter.toml",  "swim.toml", "frames.toml",
                                 "orbit.toml", "bridge.toml", "weir.toml"};
  for (int k = 0; k < 100; ++k) {
    feels.push_back(fmt::format("random{}.toml", k));
    folder.write(feels.back(),
                 FeelMaker(5000 + static_cast<std::uint64_t>(k), {.rules_of_frames = k % 3 == 0, .sticks = k % 4 == 0})
                     .make()
                     .text);
  }
  for (std::size_t k = 0; k < feels.size(); ++k) {
    all.run(folder, "run", {"run", feels[k], "-o", "none", "--json"});
    all.run(folder, "explain", {"explain", feels[k], "--json"});
    all.run(folder, "check", {"check", feels[k], "--variant", "all", "--json"});
    if (k > 16) continue; // the rest of the shapes does not depend on what a feel holds as much
    all.run(folder, "compare", {"compare", feels[k], feels[k], "--json", "--figure", "none", "-o", "out", "--force"});
    all.run(folder, "rates", {"rates", feels[k], "--json", "--figure", "none", "-o", "out", "--force"});
    all.run(folder, "stress",
            {"stress", feels[k], "--plays", "20", "--json", "--figure", "none", "-o", "out", "--force"});
    all.run(folder, "report", {"report", feels[k], "--json", "--figure", "none", "-o", "page.html", "--force"});
  }
  all.run(folder, "sweep",
          {"sweep", "first.toml", "--over", "channel.fov.motion.frequency=1:3:9", "--measure", "fov.settling_time",
           "--figure", "none", "--json"});
  all.run(folder, "sweep",
          {"sweep", "otter.toml", "--over", "channel.fov.motion=soft,drift", "--measure", "fov.settling_time", "--take",
           "log", "--figure", "none", "--json", "-o", "o2"});
  all.run(folder, "sweep",
          {"sweep", "first.toml", "--samples", "20", "--over", "channel.fov.motion.frequency=1:3", "--measure",
           "fov.overshoot", "--figure", "none", "--json", "-o", "o3"});
  for (const char* const word : {"snappier", "no wobble"})
    all.run(folder, "tune", {"tune", "otter.toml", "fov", word, "--figure", "none", "--json"});
  all.run(folder, "tune", {"tune", "otter.toml", "log_hit", "punchier", "0.5", "--figure", "none", "--json"});
  all.run(folder, "tradeoff",
          {"tradeoff", "first.toml", "--free", "channel.fov.motion.frequency=1:3", "--between", "fov.settling_time",
           "fov.peak_acceleration", "--figure", "none", "--json", "--tries", "300"});
  for (const char* const overshoot : {"fov.overshoot at_most 2", "fov.overshoot at_most 0.0001"})
    all.run(folder, "solve",
            {"solve", "first.toml", "--free", "channel.fov.motion.frequency=1:3", "--free",
             "channel.fov.motion.damping_ratio=0.3:0.9", "--want", overshoot, "--figure", "none", "--json"});
  for (const char* curve : {"in-out sine", "out back 1.7", "linear", "steps(4)", "ease-in", "cubic-bezier(0,1,1,0)"})
    all.run(folder, "curve", {"curve", curve, "--json", "--figure", "none", "-o", "out", "--force"});
  const std::vector<std::string> forms[] = {
      {"half_life", "0.1"}, {"fraction", "0.1"}, {"fraction", "1"}, {"vertical", "50"}, {"focal_length", "35"}};
  for (const auto& form : forms) all.run(folder, "convert", {"convert", form[0], form[1], "--json"});
  for (const std::vector<std::string>& words : {std::vector<std::string>{"run", "nothing.toml"},
                                                {"run"},
                                                {"nonsense"},
                                                {"run", "first.toml", "--set", "channel.fov.rst=1"}}) {
    std::vector<std::string> call{"--errors", "json"};
    call.insert(call.end(), words.begin(), words.end());
    all.add("errors", run_program(folder, call).err);
  }
  const Ended watched = run_in_shell(
      folder, "(sleep 0.4; sed -i 's/frequency = 2.0/frequency = 2.6/; s/frequency = 2 /frequency = 2.6 /' first.toml; "
              "\"$0\" set first.toml channel.fov.rest=61 >/dev/null) & \"$0\" watch --runs 2 check first.toml --json");
  for (const char* feel : {"otter.toml", "swim.toml", "frames.toml"}) {
    all.run(folder, "export_numbers", {"export", feel, "numbers", "-o", "-"});
    const Ended keys = run_program(folder, {"export", feel, "keys", "--form", "json", "-o", "keys"});
    EXPECT_EQ(keys.status, 0) << keys.err;
  }
  all.add("export_keys", folder.read("keys/approach.keys.json"));
  all.run(folder, "match", {"match", "capture.csv", "--unit", "deg", "--figure", "none", "--json"});
  all.run(
      folder, "match",
      {"match", "capture.csv", "--kinds", "glide", "--start", "0.437", "--goal", "38", "--figure", "none", "--json"});
  folder.write("log.csv", run_program(folder, {"run", "otter.toml", "--take", "log", "-o", "-"}).out);
  all.run(folder, "match",
          {"match", "log.csv", "--value", "fov", "--shake", "--between", "1.79:3", "--figure", "none", "--json"});
  all.add("match", run_program(folder, {"match", "swim.csv", "--value", "drive", "--kinds", "glide", "--figure", "none",
                                        "--json"})
                       .out);
  all.add("match", run_program(folder, {"match", "swim.csv", "--value", "east,up", "--goal", "south,nose", "--figure",
                                        "none", "--json"})
                       .out);
  all.add("match_stops", run_program(folder, {"match", "swim.csv", "--value", "east,up,south", "--stops", "--between",
                                              "0:3", "--within", "0.3", "--figure", "none", "--json"})
                             .out);
  all.run(folder, "measure", {"measure", "capture.csv", "--unit", "deg", "--figure", "none", "--json"});
  all.run(folder, "measure", {"measure", "swim.csv", "--value", "east,up,south", "--figure", "none", "--json"});
  all.run(folder, "measure",
          {"measure", "swim.csv", "--value", "nose", "--beside", "capture.csv:fov", "--figure", "none", "--json"});
  all.run(folder, "hands", {"hands", "first.toml", "--json"});
  for (const std::string& feel : feels)
    all.add("step", run_program(folder, {"step", feel}, "{}\n{\"dt\": 0.1}\nnonsense\n\n").out);
  all.run(folder, "history", {"history", "first.toml", "--json"});
  EXPECT_TRUE(std::all_of(watched.out.begin(), watched.out.end(), [](char c) { return c != '\x1b'; }));
  const std::size_t changed = watched.out.find("{\"stasis\":\"0.1.0\",\"changed\"");
  EXPECT_NE(changed, std::string::npos) << watched.out << watched.err;
  if (changed != std::string::npos)
    all.add("watch", watched.out.substr(changed, watched.out.find('\n', changed) - changed));
  return all;
}

TEST(Outputs, AreOfTheShapeThatTheProgramDescribes) {
  const TempDir folder;
  const Collected all = collected(folder);
  all.write(folder);
  folder.write("validate.py", validate);
  EXPECT_EQ(run_in_shell(folder, "/usr/bin/python3 validate.py").out, "");
  // Each that has a schema was tried, and one key that is other than described is a fault.
  const std::string known = run_program(folder, {"schema", "--help"}).out;
  EXPECT_EQ(all.count(), 23u) << known;
  std::string other = all.of("check");
  other.replace(other.find("\"holds\""), 7, "\"halts\"");
  folder.write("lines.check.json", other);
  EXPECT_NE(run_in_shell(folder, "/usr/bin/python3 validate.py").status, 0);
}

TEST(Outputs, SayWhichSchemasThereAre) {
  const TempDir folder;
  const Ended ended = run_program(folder, {"schema", "--output", "chek"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("Did you mean check?"), std::string::npos) << ended.err;
}

TEST(Outputs, NoneWritesNoFileAndTwoOnOneStreamAreRefused) {
  const TempDir folder;
  folder.write("feel.toml", run_program(folder, {"new", "-"}).out);
  const Ended none = run_program(folder, {"run", "feel.toml", "-o", "none", "--json"});
  EXPECT_EQ(none.status, 0) << none.err;
  EXPECT_TRUE(none.out.starts_with("{\"stasis\":")) << none.out;
  EXPECT_EQ(folder.files(), std::vector<std::string>{"feel.toml"});
  EXPECT_EQ(run_program(folder, {"run", "feel.toml", "-o", "-", "--json"}).status, 2);
}

TEST(Check, TakesSeveralFeelsAndTellsOfABrokenOneInItsFileToo) {
  const TempDir folder;
  folder.write("good.toml", run_program(folder, {"new", "-"}).out);
  folder.write("broken.toml", "feel = 1\n[channel.a]\nrst = 1\n");
  const Ended ended = run_program(folder, {"check", "good.toml", "broken.toml", "--junit", "out.xml"});
  EXPECT_EQ(ended.status, 2);
  EXPECT_NE(ended.err.find("broken.toml:3:1"), std::string::npos) << ended.err;
  const std::string xml = folder.read("out.xml");
  EXPECT_NE(xml.find("errors=\"1\""), std::string::npos) << xml;
  EXPECT_NE(xml.find("broken.toml:3:1"), std::string::npos) << xml;
  EXPECT_NE(xml.find("time=\""), std::string::npos) << xml;
}

} // namespace
} // namespace stasis::test
