#include "code/printer.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include "code/walk.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

/// How tightly an operator binds; larger is tighter.
int strength_of(const Expression& one) noexcept {
  if (one.kind == Expression::Kind::unary) return 6;
  if (one.kind != Expression::Kind::binary) return 9;
  if (one.text == "||") return 1;
  if (one.text == "&&") return 2;
  if (one.text == "+" || one.text == "-") return 4;
  return one.text == "*" || one.text == "/" || one.text == "%" ? 5 : 3;
}

const std::string& root_of(const Expression& place) noexcept {
  const Expression* one = &place;
  while (!one->parts.empty()) one = &one->parts.front();
  return one->text;
}

/// The last of the outermost places at which a line may go on below; npos without one.
std::size_t place_to_break(const std::string& text, std::size_t most) {
  std::size_t place = std::string::npos, least = 1000; // how deep inside brackets; a product is deeper than a sum
  const std::size_t begins = text.find_first_not_of(' ');
  std::size_t open = 1;
  const auto stands = [&](std::size_t at, std::initializer_list<std::string_view> signs) {
    return std::any_of(signs.begin(), signs.end(),
                       [&](std::string_view sign) { return text.compare(at, sign.size(), sign) == 0; });
  };
  for (std::size_t at = 0; at < text.size() && at < most; ++at) {
    if (text[at] == '(' || text[at] == '[') ++open;
    if ((text[at] == ')' || text[at] == ']') && open > 1) --open;
    if (text[at] != ' ' || at <= begins + 8) continue;
    const bool is_product = stands(at, {" * ", " / "});
    const bool is_one =
        is_product || text[at - 1] == ',' || stands(at, {" && ", " || ", " + ", " - ", " and ", " or "});
    const std::size_t level = 2 * open + (is_product ? 1 : 0);
    if (!is_one || level > least) continue;
    least = level;
    place = at;
  }
  return place;
}

} // namespace

std::vector<std::unique_ptr<Printer>> printers() {
  std::vector<std::unique_ptr<Printer>> all;
  all.push_back(c_printer());
  all.push_back(cpp_printer());
  all.push_back(csharp_printer());
  all.push_back(javascript_printer());
  all.push_back(lua_printer());
  all.push_back(python_printer());
  all.push_back(rust_printer());
  return all;
}

std::string in_camel_case(const std::string& name, bool begins_large) {
  std::string out;
  bool large = begins_large;
  for (const char c : name) {
    if (c == '_')
      large = true;
    else
      out += std::exchange(large, false) && c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
  }
  return out;
}

std::string in_small_letters(const std::string& name) {
  std::string out = name;
  for (char& c : out)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return out;
}

std::string in_capitals(const std::string& name) {
  std::string out = name;
  for (char& c : out)
    if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 'a' + 'A');
  return out;
}

void Printer::put(std::string_view text, std::size_t indent) {
  if (!text.empty()) text_ += std::string(indent, ' ');
  text_ += text;
  text_ += '\n';
}

/// What stands between a line and the note at its end.
std::string Printer::note_mark() const { return " " + comment("").substr(0, comment("").find(' ') + 1); }

void Printer::part(int rows) {
  while (!text_.ends_with(std::string(static_cast<std::size_t>(rows) + 1, '\n'))) text_ += '\n';
}

void Printer::line(const std::string& text) {
  const std::size_t own = std::min(text.find_first_not_of(' '), text.size());
  const std::string_view code = std::string_view(text).substr(own);
  if (code.empty() || code.starts_with(comment("").substr(0, 2))) return put(code, indent() + own / 4 * step());
  const std::size_t note = std::min(code.find(note_mark()), code.size());
  if (has_layout())
    return print_laid_out(trimmed(code.substr(0, note)), trimmed(code.substr(note)), indent() + own / 4 * step());
  if (indent() + text.size() <= widest()) return put(text, indent());
  if (note == code.size()) return print_broken(text);
  // A note at the end of a long line goes before it.
  put_note(trimmed(code.substr(note)), indent() + own);
  line(std::string(own, ' ') + std::string(trimmed(code.substr(0, note))));
}

void Printer::print_laid_out(std::string_view code, std::string_view note, std::size_t indent) {
  const std::vector<std::string> rows = laid_out(code, indent);
  const std::string gap(note_mark().find_first_not_of(' ') + notes_gap(), ' ');
  const bool fits = rows.size() == 1 && indent + code.size() + gap.size() + note.size() <= widest();
  if (!note.empty() && !fits) put_note(note, indent);
  for (const std::string& row : rows) put(row + (fits && !note.empty() ? gap + std::string(note) : ""), indent);
}

/// A note on rows of its own.
void Printer::put_note(std::string_view note, std::size_t indent) {
  const std::string none = comment("");
  const std::size_t begin = none.find(' ') + 1, end = none.size() - begin;
  const std::string text(note.substr(begin, note.size() - begin - end));
  const std::string broken = wrapped(text, "", widest() - indent - none.size());
  for (const std::string_view one : split(trimmed(broken), '\n')) put(comment(one), indent);
}

/// A line that is too wide, broken where it may be.
void Printer::print_broken(const std::string& text) {
  const std::string own(text.find_first_not_of(' '), ' ');
  // What is worked out goes below as a whole, if that is enough, or nothing else is possible.
  const std::size_t sign = text.find(" = ");
  const std::size_t most = widest() - indent();
  const bool may_part =
      sign != std::string::npos && text.find('{') == std::string::npos && text.compare(own.size(), 4, "for ") != 0;
  if (may_part
      && (own.size() + 4 + text.size() - sign - 3 <= most || place_to_break(text, most) == std::string::npos)) {
    put(text.substr(0, sign) + " =", indent());
    return line(own + "    " + text.substr(sign + 3));
  }
  const std::size_t place = place_to_break(text, most);
  if (place == std::string::npos) return put(text, indent());
  const std::string before = text.substr(0, place);
  put(before.substr(0, before.find_last_not_of(' ') + 1), indent());
  line("    " + std::string(trimmed(text.substr(place))));
}

void Printer::signature(const std::string& head, const std::vector<std::string>& parameters, const std::string& tail) {
  const std::string listed = fmt::format("{}", fmt::join(parameters, ", "));
  if (head.size() + listed.size() + tail.size() <= widest()) return line(head + listed + tail);
  line(head);
  for (const std::string& one : parameters) line("    " + one + ",");
  line(tail);
}

void Printer::words(const std::string& text, bool documents) {
  if (text.empty()) return;
  const auto shown = [&](std::string_view one) { return documents ? documentation(one) : comment(one); };
  const std::size_t width = widest() - indent() - shown("").size();
  for (const std::string_view paragraph : split(text, '\n')) {
    const std::string broken = wrapped(std::string(paragraph), "", width);
    for (const std::string_view one : split(trimmed(broken), '\n')) line(shown(one));
  }
}

void Printer::close_block() {
  --depth_;
  if (!closing().empty()) line(closing());
}

bool Printer::is_constant(std::string_view name) const noexcept {
  const auto has = [&](const Program* program) {
    return program != nullptr
           && std::any_of(program->constants.begin(), program->constants.end(),
                          [&](const Constant& one) { return one.name == name; });
  };
  return has(program_) || has(checked_);
}

const Function* Printer::called(std::string_view name) const noexcept {
  const Function* own = program_->function(name);
  return own != nullptr || checked_ == nullptr ? own : checked_->function(name);
}

bool Printer::uses(std::string_view built_in) const noexcept {
  bool does = false;
  for (const Function& one : program_->functions)
    each_expression_in(one.body, [&](const Expression& part) {
      does = does || (part.kind == Expression::Kind::call && part.text == built_in);
    });
  return does;
}

bool Printer::is_named(const std::vector<Statement>& block, std::string_view variable) noexcept {
  bool is = false;
  each_expression_in(block, [&](const Expression& part) {
    is = is || (part.kind == Expression::Kind::name && part.text == variable);
  });
  return is;
}

void Printer::note_changed(const std::vector<Statement>& block) {
  for (const Statement& one : block) {
    if (one.kind == Statement::Kind::assign) ++changed_[root_of(one.target)];
    note_changed(one.body);
    note_changed(one.other);
  }
}

void Printer::print_functions() {
  for (const Function& function : program_->functions) {
    function_ = &function;
    changed_.clear();
    note_changed(function.body);
    line("");
    begin_function(function);
    print_block(function.body);
    end_function();
  }
}

std::string Printer::print(const Program& program, const Header& header) {
  text_.clear();
  depth_ = 0;
  program_ = &program;
  checked_ = nullptr;
  prefix_ = header.prefix;
  begin_file(header);
  for (const Constant& constant : program.constants) {
    if (!constant.heading.empty()) {
      part(1);
      words(constant.heading);
    }
    print_constant(constant);
  }
  for (const Record& record : program.records) {
    part(blank_lines());
    words(record.words, true);
    print_record(record);
  }
  print_functions();
  end_file();
  return finished(std::move(text_));
}

std::string Printer::print_check(const Check& check, const Program& checked, const Header& header) {
  text_.clear();
  depth_ = 0;
  program_ = &check.program;
  checked_ = &checked;
  prefix_ = header.prefix;
  words(header.words.front());
  words("A take, played by the source code of its feel and held against what Stasis found. Run it once.");
  begin_check(check, header);
  for (const Constant& constant : check.program.constants) print_constant(constant);
  print_functions();
  end_check(check, header);
  return finished(std::move(text_));
}

void Printer::print_block(const std::vector<Statement>& block) {
  ++depth_;
  for (const Statement& one : block) print_statement(one);
  const bool is_empty =
      std::all_of(block.begin(), block.end(), [](const Statement& one) { return one.kind == Statement::Kind::remark; });
  if (is_empty && !no_statement().empty()) line(std::string(no_statement()));
}

void Printer::print_counting_loop(const Statement& one) {
  line(fmt::format("for (int {0} = {1}; {0} < {2}; ++{0}) {{", names(one.name), expression(one.value),
                   expression(one.limit)));
  print_block(one.body);
  close_block();
}

void Printer::print_statement(const Statement& one) {
  const std::string end(ending());
  switch (one.kind) {
  case Statement::Kind::declare: return print_declare(one);
  case Statement::Kind::assign: return line(expression(one.target) + " = " + expression(one.value) + end);
  case Statement::Kind::call: return line(expression(one.value) + end);
  case Statement::Kind::branch: return print_branch(one);
  case Statement::Kind::repeat:
    line(while_line(expression(one.value)));
    print_block(one.body);
    return close_block();
  case Statement::Kind::count: return print_count(one);
  case Statement::Kind::give: return line(one.has_value ? "return " + expression(one.value) + end : "return" + end);
  case Statement::Kind::leave_loop: return line("break" + end);
  case Statement::Kind::remark: return words(one.name);
  }
}

void Printer::print_branch(const Statement& one) {
  line(if_line(expression(one.value)));
  print_block(one.body);
  const Statement* now = &one;
  while (!now->other.empty()) {
    --depth_;
    const bool chained = now->other.size() == 1 && now->other.front().kind == Statement::Kind::branch;
    line(chained ? else_if_line(expression(now->other.front().value)) : else_line());
    print_block(chained ? now->other.front().body : now->other);
    if (!chained) break;
    now = &now->other.front();
  }
  close_block();
}

std::string Printer::field(const Expression& one) { return expression(one.parts[0], 9) + "." + names(one.text); }
std::string Printer::element(const Expression& one) {
  return expression(one.parts[0], 9) + "[" + expression(one.parts[1]) + "]";
}

std::string Printer::expression(const Expression& one, int above) {
  switch (one.kind) {
  case Expression::Kind::literal: return literal(one);
  case Expression::Kind::name: return name(one);
  case Expression::Kind::field: return field(one);
  case Expression::Kind::index: return element(one);
  case Expression::Kind::call: {
    const std::string said = call(one);
    // A choice stands in brackets of its own; alone it needs none.
    const bool is_choice = one.text == "choose" || one.text == "least" || one.text == "most";
    const bool in_brackets =
        (is_choice && said.starts_with('(')) || (one.text == "whole" && said.ends_with(" as i32)"));
    return above == 0 && in_brackets ? said.substr(1, said.size() - 2) : said;
  }
  case Expression::Kind::unary: {
    const std::string inside = operator_text(one.text) + expression(one.parts[0], 7);
    return above > strength_of(one) ? "(" + inside + ")" : inside;
  }
  case Expression::Kind::binary: break;
  }
  const int strength = strength_of(one);
  // "&&" inside "||" is put into brackets for whoever reads it.
  const auto side = [&](const Expression& part, bool is_right) {
    if (strength == 1) return expression(part, part.text == "||" ? 1 : 3);
    return expression(part, strength + (is_right ? 1 : 0));
  };
  const std::string inside = side(one.parts[0], false) + " " + operator_text(one.text) + " " + side(one.parts[1], true);
  return above > strength ? "(" + inside + ")" : inside;
}

std::vector<std::string> Printer::arguments(const Expression& call) {
  std::vector<std::string> all;
  for (const Expression& part : call.parts) all.push_back(expression(part));
  return all;
}

void Printer::print_list(const std::string& begin, const std::vector<std::string>& values, const std::string& end) {
  const std::string whole = begin + fmt::format("{}", fmt::join(values, ", ")) + end;
  if (whole.size() + indent() <= widest()) return line(whole);
  const bool is_table = checked_ != nullptr && !before_table().empty();
  if (!is_table && has_layout()) return line(whole);
  if (is_table) put(before_table(), indent());
  put(begin, indent());
  std::string row;
  for (const std::string& value : values) {
    if (!row.empty() && row.size() + value.size() + 2 + indent() + step() > widest())
      put(std::exchange(row, {}), indent() + step());
    row += (row.empty() ? "" : " ") + value + ",";
  }
  put(row, indent() + step());
  put(end, indent());
  if (is_table && !behind_table().empty()) put(behind_table(), indent());
}

} // namespace stasis::code
