// Source code from a program: what all languages share. One file a language says what is its own.
#pragma once

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "code/program.hpp"

namespace stasis::code {

/// What is said of a program as a whole.
struct Header {
  std::string prefix;             ///< what its file and its names begin with: `[a-z][a-z0-9_]*`
  std::vector<std::string> words; ///< paragraphs for its head
};

/// A program that plays a take on the one before it and holds what comes out against what is written in it.
struct Check {
  Program program;          ///< its functions may call the open ones of the program that is checked
  std::string head;         ///< the line of column names
  double tolerance = 1e-12; ///< of `worst`, which its function `play` leaves behind
  std::size_t columns = 0, rows = 0;
  std::string no_number; ///< what of the take becomes none, and when: there is no program then; empty: all are numbers
};

class Printer {
public:
  virtual ~Printer() = default;

  /// "c", "python", ...
  virtual std::string_view language() const noexcept = 0;
  /// What its files end in, with the dot.
  virtual std::string_view extension() const noexcept = 0;
  std::string print(const Program& program, const Header& header);
  /// The main program of a check.
  std::string print_check(const Check& check, const Program& checked, const Header& header);
  /// A file of declarations beside it, where the language has such; empty otherwise.
  virtual std::string declarations(const Program&, const Header&) { return {}; }

protected:
  // What is a language's own.
  /// A line as the formatter lays it out that a language is used to; nothing where it has none.
  virtual std::vector<std::string> laid_out(std::string_view, std::size_t /*indent*/) const { return {}; }
  /// How wide a line may be, and how far what stands inside another is indented.
  virtual std::size_t widest() const { return 100; }
  virtual std::size_t step() const { return 4; }
  /// What is done to a file as a whole in the end.
  virtual std::string finished(std::string text) const { return text; }
  /// Blanks before a note at the end of a line, beyond one.
  virtual std::size_t notes_gap() const { return 0; }
  /// What tells the formatter to leave a table of numbers as it is, and to go on behind it; nothing: it does so anyway.
  virtual std::string_view before_table() const { return ""; }
  virtual std::string_view behind_table() const { return ""; }
  /// Between one thing and the next.
  virtual int blank_lines() const { return 1; }
  virtual std::string comment(std::string_view line) const { return "// " + std::string(line); }
  /// A comment that documents what follows it.
  virtual std::string documentation(std::string_view line) const { return comment(line); }
  virtual void begin_file(const Header& header) = 0;
  virtual void end_file() {}
  virtual void print_constant(const Constant& constant) = 0;
  virtual void print_record(const Record& record) = 0;
  virtual void begin_function(const Function& function) = 0;
  virtual void end_function() { close_block(); }
  virtual void print_declare(const Statement& statement) = 0;
  virtual void print_count(const Statement& statement) = 0;
  virtual std::string if_line(const std::string& condition) const { return "if (" + condition + ") {"; }
  virtual std::string else_if_line(const std::string& condition) const { return "} else " + if_line(condition); }
  virtual std::string else_line() const { return "} else {"; }
  virtual std::string while_line(const std::string& condition) const { return "while (" + condition + ") {"; }
  virtual std::string closing() const { return "}"; }
  virtual std::string_view ending() const { return ";"; }
  virtual std::string_view no_statement() const { return ""; }
  virtual std::string operator_text(const std::string& sign) const { return sign; }
  /// A literal, a name, a field, an element.
  virtual std::string literal(const Expression& one) const { return one.text; }
  virtual std::string name(const Expression& one) { return names(one.text); }
  virtual std::string field(const Expression& one);
  virtual std::string element(const Expression& one);
  virtual std::string call(const Expression& one) = 0;
  /// A name of ours as the language writes names of variables and fields.
  virtual std::string names(const std::string& name) const { return name; }
  /// The parts that a check has of its own: a `main`, what reads and prints.
  virtual void begin_check(const Check& check, const Header& header) = 0;
  virtual void end_check(const Check& check, const Header& header) = 0;

  void line(const std::string& text);
  /// Columns before a line.
  std::size_t indent() const noexcept { return static_cast<std::size_t>(depth_) * step(); }
  /// The first line of a function; where it is too long, a parameter a line.
  void signature(const std::string& head, const std::vector<std::string>& parameters, const std::string& tail);
  /// Comments. \param documents true: of what follows, false: of the file or of a step
  void words(const std::string& text, bool documents = false);
  void close_block();
  /// Empty rows before what follows, as many as there are not yet.
  void part(int rows);
  void print_block(const std::vector<Statement>& block);
  /// A loop that counts an `int`, as C and its like write it.
  void print_counting_loop(const Statement& one);
  std::string expression(const Expression& one, int above = 0);
  std::vector<std::string> arguments(const Expression& call);
  bool is_constant(std::string_view name) const noexcept;
  /// True if the program calls a function that languages have by themselves.
  bool uses(std::string_view built_in) const noexcept;
  static bool is_named(const std::vector<Statement>& block, std::string_view variable) noexcept;
  bool is_changed(const std::string& variable) const noexcept { return changed_.contains(variable); }
  /// The function that a call means, of this program or of the one that it checks.
  const Function* called(std::string_view name) const noexcept;
  /// Lines of `{a, b, c}` between brackets, broken where a line is too wide.
  void print_list(const std::string& begin, const std::vector<std::string>& values, const std::string& end);

  std::string text_;
  int depth_ = 0;
  const Program* program_ = nullptr;
  const Program* checked_ = nullptr; // while its check is printed
  const Function* function_ = nullptr;
  std::string prefix_;

private:
  bool has_layout() const { return !laid_out("x", 0).empty(); }
  void put(std::string_view text, std::size_t indent);
  void put_note(std::string_view note, std::size_t indent);
  void print_broken(const std::string& text);
  void print_laid_out(std::string_view code, std::string_view note, std::size_t indent);
  std::string note_mark() const;
  void print_functions();
  void print_statement(const Statement& one);
  void print_branch(const Statement& one);
  void note_changed(const std::vector<Statement>& block);

  std::map<std::string, int> changed_; // local variables of the function at hand that are written to
};

/// One for each language, in the order in which they are listed.
std::vector<std::unique_ptr<Printer>> printers();

std::unique_ptr<Printer> c_printer();
std::unique_ptr<Printer> cpp_printer();
std::unique_ptr<Printer> csharp_printer();
std::unique_ptr<Printer> javascript_printer();
std::unique_ptr<Printer> lua_printer();
std::unique_ptr<Printer> python_printer();
std::unique_ptr<Printer> rust_printer();

/// For what keeps no state: lower_stateless().
std::unique_ptr<Printer> glsl_printer();

/// "end_value" as "endValue", or as "EndValue".
std::string in_camel_case(const std::string& name, bool begins_large);
/// "State" as "state".
std::string in_small_letters(const std::string& name);
/// "end_value" as "END_VALUE".
std::string in_capitals(const std::string& name);

} // namespace stasis::code
