// A program in a form that no language owns: what the source code of a feel is printed from.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace stasis::code {

struct Type {
  enum class Kind : std::uint8_t {
    nothing, ///< of a function that gives none
    real,    ///< a double
    single,  ///< a number of 32 bits: in_single_precision() makes most reals so
    whole,   ///< an integer of 32 bits
    flag,    ///< true or false
    stream,  ///< a stream of random numbers: 64 bits, only ever handed on to `bits`
    record,
  } kind = Kind::nothing;
  std::string record{}; ///< its name
  int length = 0;       ///< of an array; 0: none

  bool is_array() const noexcept { return length > 0; }
  Type element() const { return {kind, record, 0}; }
};

struct Expression {
  enum class Kind : std::uint8_t {
    literal, ///< `text` as it was written: a number, "true" or "false"
    name,    ///< a variable, a parameter or a constant
    field,   ///< of a record: parts[0].text
    index,   ///< of an array: parts[0][parts[1]]
    call,    ///< text(parts)
    unary,   ///< "-" or "!"
    binary,  ///< + - * / % < <= > >= == != && ||
  } kind = Kind::literal;
  std::string text{};
  std::vector<Expression> parts{};
  Type type{};
  std::string short_text{}; ///< of a literal that is another one in single precision; empty: the same
};

struct Statement {
  enum class Kind : std::uint8_t {
    declare,    ///< type name = value
    assign,     ///< target = value
    call,       ///< value, for what it does
    branch,     ///< if (value) body else other
    repeat,     ///< while (value) body
    count,      ///< for whole name from value below limit: body
    give,       ///< return value, if there is one
    leave_loop, ///< break
    remark,     ///< a comment: name
  } kind = Kind::give;
  std::string name{};
  Type type{};
  Expression target{}, value{}, limit{};
  bool has_value = false;
  std::vector<Statement> body{}, other{};
};

struct Parameter {
  Type type;
  std::string name;
  bool changes = false; ///< of a record: the function writes to it
};

struct Function {
  std::string name;
  std::string words;    ///< what it does, a line or more
  bool is_open = false; ///< for those who use the file
  std::vector<Parameter> parameters;
  Type gives;
  std::vector<Statement> body;
};

struct Field {
  Type type;
  std::string name, words;
};

struct Record {
  std::string name, words;
  std::vector<Field> fields;
};

struct Constant {
  Type type;
  std::string name, words;
  std::vector<std::string> values; ///< literals, as many as the array is long
  std::string heading;             ///< of a group of constants that begins here
};

struct Program {
  std::vector<Constant> constants;
  std::vector<Record> records;
  std::vector<Function> functions; ///< each after those that it calls

  const Function* function(std::string_view name) const noexcept;
};

/// Names and types of the functions that every language has by itself: abs, sqrt, exp, log, sin, cos, tan, atan, acos,
/// pow, floor, ceil, hypot, min, max; `real` of a whole number, `whole` of a real one (its floor), `choose(flag, a,
/// b)`, `single` and `wide` of the other kind of number, and `bits(stream, place)`, the share in [-1, 1) that a stream
/// of numbers has at a place.
Type built_in(std::string_view name) noexcept;

} // namespace stasis::code
