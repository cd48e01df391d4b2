// `stasis tradeoff`: what can be had of two measures together.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/progress.hpp"
#include "cli/search_call.hpp"
#include "cli/search_program.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/search/tradeoff.hpp"
#include "core/text.hpp"
#include "figure/tradeoff_figure.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* tradeoff_example = R"text(Worked example:
  stasis tradeoff otter.toml --free motion.soft.frequency=0.5:5 --free motion.soft.damping_ratio=0.3:1.5 \
      --between fov.settling_time fov.peak_acceleration

draws the best pairs, quick against soft: nothing is better in both than a point of the line. The table
goes from one end to the other, with the numbers that give each pair and what each step costs. At every
point the feel's wants hold, and those given by --want "fov.overshoot at_most 3".)text";

struct TradeoffOptions {
  SearchCall search;
  std::vector<std::string> between;
  std::string out = "stasis-out", figure = "png";
  bool json = false, force = false;
};

class TradeoffRun {
public:
  TradeoffRun(const TradeoffOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (const Exit opened = open_feel(); opened != Exit::fine) return opened;
    auto search = SearchProgram::start();
    if (!search) {
      print_error(search.error() + ".", streams_.err);
      return Exit::bad_file;
    }
    Solver solver(opened_->trials.trials, opened_->free, {}, {}, opened_->present, **search);
    Progress progress(streams_.err, "tries", static_cast<std::uint64_t>(opened_->tries));
    solver.tell([&](std::size_t tries) { progress.show(tries); });
    found_ = trade_off(solver, larger_, opened_->tries, opened_->seed);
    progress.clear();
    if (options_.json)
      streams_.out.exact_line(json());
    else
      streams_.out.write(text());
    if (found_.front.empty()) return Exit::does_not_hold;
    return draw();
  }

private:
  Exit refuse(const std::string& message) const {
    print_error(message + ".", streams_.err);
    return Exit::bad_input;
  }

  Exit open_feel() {
    if (options_.between.size() != 2)
      return refuse("--between is followed by two measures, such as fov.settling_time fov.peak_acceleration");
    constexpr int least_tries = 100;
    auto opened = open_search(options_.search, least_tries, false, streams_.err);
    if (!opened) return opened.error();
    opened_.emplace(std::move(*opened));
    if (!ask_for(opened_->trials, options_.between, streams_.err)) return Exit::bad_input;
    for (std::size_t m = 0; m < 2; ++m) {
      const Better side = better_side(*measure_named(opened_->trials.base, all_known_names, options_.between[m]));
      if (side == Better::neither)
        return refuse(fmt::format("{} has no better side, so nothing is given for it", options_.between[m]));
      larger_[m] = side == Better::larger;
    }
    return Exit::fine;
  }

  std::string with_unit(std::size_t m, double value) const {
    const std::string& unit = opened_->trials.units[m];
    return readable(value) + (unit.empty() ? "" : " " + printable(unit, 20));
  }

  /// Points for the table: both ends, and evenly between them by the first measure's factors.
  std::vector<std::size_t> listed_points() const {
    constexpr std::size_t most = 9;
    const auto& front = found_.front;
    const double from = front.front().first, to = front.back().first;
    const bool by_factor = from > 0.0 && to > 0.0;
    std::vector<std::size_t> out;
    for (std::size_t k = 0; k < most; ++k) {
      const double share = static_cast<double>(k) / (most - 1);
      const double wished = by_factor ? from * std::pow(to / from, share) : from + (to - from) * share;
      std::size_t nearest = 0;
      for (std::size_t p = 0; p < front.size(); ++p)
        if (std::fabs(front[p].first - wished) < std::fabs(front[nearest].first - wished)) nearest = p;
      if (out.empty() || out.back() != nearest) out.push_back(nearest);
    }
    return out;
  }

  std::string text() const {
    std::string out = fmt::format("{}: {} tries\n", printable(opened_->trials.title, 80), found_.tries);
    if (found_.front.empty()) return out + "  no numbers were found at which every want holds and both happen\n";
    std::vector<std::string> header;
    for (const FreeValue& one : opened_->free) header.push_back(one.path);
    header.insert(header.end(), options_.between.begin(), options_.between.end());
    header.emplace_back("from the line before");
    std::vector<bool> right(header.size(), true);
    right.back() = false;
    TextTable table(header, right);
    const TradePoint* before = nullptr;
    for (const std::size_t k : listed_points()) {
      const TradePoint& one = found_.front[k];
      std::vector<std::string> cells;
      for (const double number : one.numbers) cells.push_back(concise(number, 4));
      cells.push_back(with_unit(0, one.first));
      cells.push_back(with_unit(1, one.second));
      cells.push_back(before == nullptr ? "" : change_in_words(*before, one));
      table.add(std::move(cells));
      before = &one;
    }
    out += table.text();
    if (found_.present)
      out += fmt::format("  now: {} {}, {} {}\n", options_.between[0], with_unit(0, found_.present->first),
                         options_.between[1], with_unit(1, found_.present->second));
    return out;
  }

  /// "12 % more, 20 % less"
  static std::string change_in_words(const TradePoint& from, const TradePoint& to) {
    const auto change = [](double a, double b) {
      if (a == 0.0) return std::string("from nothing");
      const double share = 100.0 * (b - a) / std::fabs(a);
      return fmt::format("{} % {}", concise(std::fabs(share), 2), share < 0.0 ? "less" : "more");
    };
    return fmt::format("{}, {}", change(from.first, to.first), change(from.second, to.second));
  }

  void put(io::JsonWriter& json, const TradePoint& one) const {
    json.begin_object().key("values").begin_object();
    for (std::size_t k = 0; k < opened_->free.size(); ++k) json.key(opened_->free[k].path).number(one.numbers[k]);
    json.end_object().key("first").number(one.first).key("second").number(one.second).end_object();
  }

  std::string json() const {
    io::JsonWriter json;
    json.begin_object().key("stasis").text(version).key("feel").text(printable(opened_->trials.title, 10'000));
    json.key("between").begin_array();
    for (std::size_t m = 0; m < 2; ++m)
      json.begin_object()
          .key("measure")
          .text(options_.between[m])
          .key("unit")
          .text(opened_->trials.units[m])
          .end_object();
    json.end_array().key("tries").integer(found_.tries).key("present");
    if (found_.present)
      put(json, *found_.present);
    else
      json.null();
    json.key("front").begin_array();
    for (const TradePoint& one : found_.front) put(json, one);
    return json.end_array().end_object().take();
  }

  Exit draw() {
    if (options_.figure == "none") return Exit::fine;
    const figure::TradeoffDrawing drawing{&found_,
                                          {options_.between[0], options_.between[1]},
                                          {opened_->trials.units[0], opened_->trials.units[1]},
                                          opened_->trials.title};
    const auto drawn =
        draw_into({options_.out, options_.figure, options_.force}, {{"tradeoff", figure::tradeoff_figure(drawing)}},
                  options_.json ? streams_.err : streams_.out, streams_.err);
    return drawn ? Exit::fine : failed(drawn.error(), streams_.err);
  }

  const TradeoffOptions& options_;
  Streams streams_;
  std::array<bool, 2> larger_{};
  std::optional<OpenedSearch> opened_;
  Tradeoff found_;
};

} // namespace

Exit run_tradeoff(const Arguments& arguments, Streams streams) {
  Call call("stasis tradeoff", "The best pairs of two measures, and what one costs in the other.", tradeoff_example);
  TradeoffOptions options;
  options.search.tries = "4000";
  call.positional("feel", options.search.feel.file, "The feel, or - for standard input", true);
  declare_search_call(call, options.search, false);
  call.pair("--between", options.between, "The two measures, such as fov.settling_time fov.peak_acceleration");
  call.folder(options.out, "Folder for the figure");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn");
  call.flag("--json", options.json, "Print the best pairs as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return TradeoffRun(options, streams).run();
}

} // namespace stasis::cli
