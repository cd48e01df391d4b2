#include "code/flow.hpp"

#include <map>
#include <utility>

namespace stasis::code {
namespace {

struct Task {
  const Flow* flow;
  std::size_t indent;
  bool is_flat;
};

class FlowPrinter {
public:
  FlowPrinter(std::size_t widest, std::size_t indent, std::size_t step)
      : widest_(widest), step_(step), column_(indent) {}

  std::string print(const Flow& flow, std::size_t indent) {
    std::vector<Task> tasks{{&flow, indent, false}};
    while (!tasks.empty()) {
      const Task now = tasks.back();
      tasks.pop_back();
      print(now, tasks);
    }
    return std::move(out_);
  }

private:
  void print(const Task& now, std::vector<Task>& tasks) {
    const Flow& flow = *now.flow;
    switch (flow.kind) {
    case Flow::Kind::text: return put(flow.text);
    case Flow::Kind::blank:
      if (now.is_flat) return put(" ");
      return put_line(now.indent);
    case Flow::Kind::nothing:
      if (!now.is_flat) put_line(now.indent);
      return;
    case Flow::Kind::if_broken:
      if (!now.is_flat) put(flow.text);
      return;
    case Flow::Kind::group: {
      const bool is_flat = now.is_flat || fits(now, tasks);
      if (flow.number > 0) is_broken_[flow.number] = !is_flat;
      return push(flow, now.indent, is_flat, tasks);
    }
    case Flow::Kind::all: return push(flow, now.indent, now.is_flat, tasks);
    case Flow::Kind::indented: return push(flow, now.indent + step_, now.is_flat, tasks);
    case Flow::Kind::indented_with:
      return push(flow, now.indent + (is_broken_[flow.number] ? step_ : 0), now.is_flat, tasks);
    }
  }

  static void push(const Flow& flow, std::size_t indent, bool is_flat, std::vector<Task>& tasks) {
    for (std::size_t i = flow.parts.size(); i-- > 0;) tasks.push_back({&flow.parts[i], indent, is_flat});
  }

  void put(const std::string& text) {
    out_ += text;
    column_ += text.size();
  }
  void put_line(std::size_t indent) {
    while (!out_.empty() && out_.back() == ' ') out_.pop_back();
    out_ += '\n' + std::string(indent, ' ');
    column_ = indent;
  }

  /// True if a group fits in one line, with what follows up to the next place at which the line may break.
  bool fits(const Task& group, const std::vector<Task>& rest) const {
    std::size_t column = column_, next = rest.size();
    std::vector<Task> tasks{{group.flow, group.indent, true}};
    while (column <= widest_) {
      if (tasks.empty()) {
        if (next == 0) return true;
        tasks.push_back(rest[--next]);
        continue;
      }
      const Task now = tasks.back();
      tasks.pop_back();
      const Flow& flow = *now.flow;
      switch (flow.kind) {
      case Flow::Kind::text: column += flow.text.size(); break;
      case Flow::Kind::blank:
        if (!now.is_flat) return true;
        ++column;
        break;
      case Flow::Kind::nothing:
        if (!now.is_flat) return true;
        break;
      case Flow::Kind::if_broken:
        if (!now.is_flat) column += flow.text.size();
        break;
      case Flow::Kind::group: // one of what follows may break at its first place
      case Flow::Kind::all:
      case Flow::Kind::indented:
      case Flow::Kind::indented_with: push(flow, now.indent, now.is_flat, tasks); break;
      }
    }
    return false;
  }

  std::size_t widest_, step_, column_;
  std::map<int, bool> is_broken_;
  std::string out_;
};

} // namespace

Flow flow_text(std::string text) { return {Flow::Kind::text, std::move(text)}; }
Flow flow_blank() { return {Flow::Kind::blank}; }
Flow flow_nothing() { return {Flow::Kind::nothing}; }
Flow flow_all(std::vector<Flow> parts) { return {Flow::Kind::all, {}, std::move(parts)}; }
Flow flow_indented(std::vector<Flow> parts) { return {Flow::Kind::indented, {}, std::move(parts)}; }
Flow flow_group(std::vector<Flow> parts) { return {Flow::Kind::group, {}, std::move(parts)}; }
Flow flow_if_broken(std::string text) { return {Flow::Kind::if_broken, std::move(text)}; }

std::string flowed(const Flow& flow, std::size_t widest, std::size_t indent, std::size_t step) {
  return FlowPrinter(widest, indent, step).print(flow, indent);
}

} // namespace stasis::code
