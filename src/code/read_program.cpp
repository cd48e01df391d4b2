#include "code/read_program.hpp"

#include <algorithm>
#include <array>
#include <set>
#include <stdexcept>
#include <utility>

#include <fmt/format.h>

#include "code/simplify.hpp"

namespace stasis::code {
namespace {

struct Token {
  enum class Kind : std::uint8_t { word, number, sign, words, end } kind = Kind::end;
  std::string text;
  int line = 0;
};

bool is_letter(char c) noexcept { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; }
bool is_digit(char c) noexcept { return c >= '0' && c <= '9'; }

/// `/// text` becomes a token of its own, `// text` is dropped.
std::vector<Token> tokens_of(std::string_view text) {
  std::vector<Token> tokens;
  int line = 1;
  for (std::size_t at = 0; at < text.size();) {
    const char c = text[at];
    if (c == '\n') ++line;
    if (c == ' ' || c == '\n') {
      ++at;
      continue;
    }
    std::size_t stop = at + 1;
    Token::Kind kind = Token::Kind::sign;
    if (text.substr(at, 2) == "//") {
      stop = std::min(text.find('\n', at), text.size());
      if (text.substr(at, 4) == "/// ")
        tokens.push_back({Token::Kind::words, std::string(text.substr(at + 4, stop - at - 4)), line});
      at = stop;
      continue;
    }
    if (is_letter(c)) {
      kind = Token::Kind::word;
      while (stop < text.size() && (is_letter(text[stop]) || is_digit(text[stop]))) ++stop;
    } else if (is_digit(c)) {
      kind = Token::Kind::number;
      while (stop < text.size()
             && (is_digit(text[stop]) || is_letter(text[stop]) || text[stop] == '.'
                 || ((text[stop] == '-' || text[stop] == '+') && text[stop - 1] == 'e')))
        ++stop;
    } else {
      constexpr std::array<std::string_view, 6> pairs{"<=", ">=", "==", "!=", "&&", "||"};
      if (std::find(pairs.begin(), pairs.end(), text.substr(at, 2)) != pairs.end()) stop = at + 2;
    }
    tokens.push_back({kind, std::string(text.substr(at, stop - at)), line});
    at = stop;
  }
  tokens.push_back({Token::Kind::end, "", line});
  return tokens;
}

/// Words that one of the languages keeps to itself, in the forms in which ours may take them there.
const std::set<std::string_view>& kept_words() {
  static const std::set<std::string_view> words{
      "abstract", "and",     "as",      "async",  "auto",     "await",    "base",      "become",   "bool",   "box",
      "break",    "byte",    "case",    "catch",  "char",     "class",    "const",     "continue", "crate",  "debugger",
      "def",      "default", "del",     "delete", "do",       "double",   "dyn",       "elif",     "else",   "elseif",
      "end",      "enum",    "event",   "except", "explicit", "export",   "extern",    "false",    "final",  "finally",
      "fixed",    "float",   "fn",      "for",    "from",     "function", "global",    "goto",     "if",     "impl",
      "import",   "in",      "inline",  "int",    "is",       "lambda",   "let",       "local",    "lock",   "long",
      "loop",     "macro",   "match",   "mod",    "move",     "mut",      "namespace", "new",      "nil",    "none",
      "nonlocal", "not",     "null",    "object", "operator", "or",       "out",       "override", "params", "pass",
      "private",  "public",  "pub",     "raise",  "readonly", "ref",      "register",  "repeat",   "return", "self",
      "short",    "signed",  "static",  "string", "struct",   "super",    "switch",    "template", "then",   "this",
      "throw",    "trait",   "true",    "try",    "type",     "typeof",   "union",     "unsafe",   "until",  "use",
      "using",    "var",     "virtual", "void",   "volatile", "where",    "while",     "with",     "yield"};
  return words;
}

class Reader {
public:
  explicit Reader(std::string_view text) : tokens_(tokens_of(text)) {}

  Program read() {
    while (now().kind != Token::Kind::end) {
      const std::string words = take_words();
      if (takes("heading"))
        heading_ = take(Token::Kind::words).text;
      else if (takes("constant"))
        program_.constants.push_back(constant(words));
      else if (takes("record"))
        program_.records.push_back(record(words));
      else
        program_.functions.push_back(function(words));
    }
    return std::move(program_);
  }

private:
  const Token& now() const noexcept { return tokens_[at_]; }
  [[noreturn]] void fail(const std::string& what) const {
    std::string before;
    for (std::size_t k = at_ < 8 ? 0 : at_ - 8; k < at_; ++k) before += tokens_[k].text + " ";
    throw std::logic_error(
        fmt::format("line {} of a program: {}, after \"{}\", before \"{}\"", now().line, what, before, now().text));
  }
  Token take(Token::Kind kind) {
    if (now().kind != kind) fail("something else is wanted");
    return tokens_[at_++];
  }
  bool takes(std::string_view text) {
    if (now().text != text || now().kind == Token::Kind::words) return false;
    ++at_;
    return true;
  }
  void expect(std::string_view text) {
    if (!takes(text)) fail(fmt::format("\"{}\" is wanted", text));
  }
  std::string take_words() {
    std::string words;
    for (; now().kind == Token::Kind::words; ++at_) words += (words.empty() ? "" : " ") + now().text;
    return words;
  }

  /// A name that is ours to give.
  std::string new_name() {
    if (is_kept_word(now().text)) fail("it is a keyword in a language");
    return take(Token::Kind::word).text;
  }

  bool is_type() const noexcept {
    const std::string& word = now().text;
    return word == "real" || word == "whole" || word == "flag" || word == "stream" || is_record(word);
  }
  bool is_record(std::string_view name) const noexcept {
    return std::any_of(program_.records.begin(), program_.records.end(),
                       [&](const Record& one) { return one.name == name; });
  }
  /// A number, or a constant that stands before.
  int array_length() {
    const Token& next = tokens_[at_];
    if (next.kind != Token::Kind::word) return std::stoi(take(Token::Kind::number).text);
    const std::string name = take(Token::Kind::word).text;
    const auto named = std::find_if(program_.constants.begin(), program_.constants.end(),
                                    [&](const Constant& one) { return one.name == name; });
    if (named == program_.constants.end() || named->type.kind != Type::Kind::whole) fail("a length is wanted");
    return std::stoi(named->values.front());
  }
  /// A type; of an array `real[4]`.
  Type type() {
    const std::string word = take(Token::Kind::word).text;
    Type type;
    if (word == "real")
      type.kind = Type::Kind::real;
    else if (word == "whole")
      type.kind = Type::Kind::whole;
    else if (word == "flag")
      type.kind = Type::Kind::flag;
    else if (word == "stream")
      type.kind = Type::Kind::stream;
    else if (is_record(word))
      type = {Type::Kind::record, word, 0};
    else
      fail("a type is wanted");
    if (takes("[")) {
      type.length = array_length();
      expect("]");
    }
    return type;
  }

  Constant constant(const std::string& words) {
    Constant made{type(), take(Token::Kind::word).text, words, {}, std::exchange(heading_, {})};
    expect("=");
    const auto literal = [&] {
      const std::string sign = takes("-") ? "-" : "";
      return sign + tokens_[at_++].text;
    };
    if (takes("{")) {
      do made.values.push_back(literal());
      while (takes(","));
      expect("}");
    } else {
      made.values.push_back(literal());
    }
    expect(";");
    return made;
  }

  Record record(const std::string& words) {
    Record made{take(Token::Kind::word).text, words, {}};
    expect("{");
    while (!takes("}")) {
      Type of = type();
      Field field{std::move(of), new_name(), {}};
      expect(";");
      field.words = take_words();
      made.fields.push_back(std::move(field));
    }
    return made;
  }

  Function function(const std::string& words) {
    Function made;
    made.words = words;
    made.is_open = takes("open");
    if (!takes("act")) made.gives = type();
    made.name = new_name();
    variables_.clear();
    expect("(");
    while (!takes(")")) {
      Parameter one;
      one.changes = takes("changing");
      one.type = type();
      one.name = new_name();
      variables_[one.name] = one.type;
      made.parameters.push_back(std::move(one));
      takes(",");
    }
    program_.functions.push_back(made); // so that its own name is known
    made.body = block();
    program_.functions.pop_back();
    return made;
  }

  std::vector<Statement> block() {
    std::vector<Statement> made;
    expect("{");
    while (!takes("}")) made.push_back(statement());
    return made;
  }

  Statement statement() {
    Statement made;
    if (now().kind == Token::Kind::words) {
      made.kind = Statement::Kind::remark;
      made.name = take_words();
      return made;
    }
    if (takes("if")) return branch();
    if (takes("while")) {
      made.kind = Statement::Kind::repeat;
      made.value = expression();
      made.body = block();
      return made;
    }
    if (takes("for")) {
      made.kind = Statement::Kind::count;
      made.name = new_name();
      variables_[made.name] = {Type::Kind::whole, {}, 0};
      expect("=");
      made.value = expression();
      expect("below");
      made.limit = expression();
      made.body = block();
      return made;
    }
    if (takes("break")) {
      made.kind = Statement::Kind::leave_loop;
    } else if (takes("return")) {
      made.has_value = now().text != ";";
      if (made.has_value) made.value = expression();
    } else if (is_type()) {
      made.kind = Statement::Kind::declare;
      made.type = type();
      made.name = new_name();
      variables_[made.name] = made.type;
      expect("=");
      made.value = expression();
    } else {
      made.target = expression();
      made.kind = takes("=") ? Statement::Kind::assign : Statement::Kind::call;
      if (made.kind == Statement::Kind::assign)
        made.value = expression();
      else
        made.value = made.target;
    }
    expect(";");
    return made;
  }

  Statement branch() {
    Statement made;
    made.kind = Statement::Kind::branch;
    made.value = expression();
    made.body = block();
    if (takes("else")) {
      if (takes("if"))
        made.other.push_back(branch());
      else
        made.other = block();
    }
    return made;
  }

  Expression expression() { return binary(0); }

  Expression binary(std::size_t level) {
    static const std::array<std::vector<std::string_view>, 5> levels{
        {{"||"}, {"&&"}, {"<", "<=", ">", ">=", "==", "!="}, {"+", "-"}, {"*", "/", "%"}}};
    if (level == levels.size()) return unary();
    Expression left = binary(level + 1);
    for (;;) {
      const auto& signs = levels[level];
      if (now().kind != Token::Kind::sign || std::find(signs.begin(), signs.end(), now().text) == signs.end())
        return left;
      const std::string sign = take(Token::Kind::sign).text;
      Expression right = binary(level + 1);
      const Type type = level < 3 ? Type{Type::Kind::flag, {}, 0} : left.type;
      if (level > 1 && left.type.kind != right.type.kind)
        fail(fmt::format("the two sides of {} have different types", sign));
      left = {Expression::Kind::binary, sign, {std::move(left), std::move(right)}, type};
    }
  }

  Expression unary() {
    for (const std::string_view sign : {"-", "!"})
      if (takes(sign)) {
        Expression of = unary();
        const Type type = of.type;
        return {Expression::Kind::unary, std::string(sign), {std::move(of)}, type};
      }
    return postfix(primary());
  }

  Expression postfix(Expression of) {
    for (;;) {
      if (takes(".")) {
        const std::string name = take(Token::Kind::word).text;
        const Type type = field_type(of.type, name);
        of = {Expression::Kind::field, name, {std::move(of)}, type};
      } else if (takes("[")) {
        Expression place = expression();
        expect("]");
        if (!of.type.is_array()) fail("this is no array");
        const Type type = of.type.element();
        of = {Expression::Kind::index, "", {std::move(of), std::move(place)}, type};
      } else {
        return of;
      }
    }
  }

  Expression primary() {
    if (takes("(")) {
      Expression inside = expression();
      expect(")");
      return inside;
    }
    if (now().kind == Token::Kind::number) {
      const std::string text = take(Token::Kind::number).text;
      const bool is_real = text.find_first_of(".e") != std::string::npos;
      const Type::Kind kind = text.rfind("0x", 0) == 0 ? Type::Kind::stream
                              : is_real                ? Type::Kind::real
                                                       : Type::Kind::whole;
      return {Expression::Kind::literal, text, {}, {kind, {}, 0}};
    }
    const std::string name = take(Token::Kind::word).text;
    if (name == "true" || name == "false") return {Expression::Kind::literal, name, {}, {Type::Kind::flag, {}, 0}};
    if (name == "near") return two_literals();
    if (takes("(")) return call(name);
    return {Expression::Kind::name, name, {}, variable_type(name)};
  }

  /// `near(1.0e-12, 1.0e-6)`: how near is near enough, with long numbers and with short ones.
  Expression two_literals() {
    expect("(");
    Expression made = primary();
    expect(",");
    made.short_text = primary().text;
    expect(")");
    return made;
  }

  Expression call(const std::string& name) {
    Expression made{Expression::Kind::call, name, {}, {}};
    while (!takes(")")) {
      made.parts.push_back(expression());
      takes(",");
    }
    const Type known = built_in(name);
    if (const Function* one = program_.function(name)) {
      made.type = one->gives;
      if (one->parameters.size() != made.parts.size()) fail(fmt::format("{} takes another number of values", name));
      for (std::size_t i = 0; i < made.parts.size(); ++i)
        if (made.parts[i].type.kind != one->parameters[i].type.kind)
          fail(fmt::format("{}: value {} is of another type", name, i + 1));
    } else if (known.kind != Type::Kind::nothing) {
      made.type = name == "choose" ? made.parts.at(1).type : known;
    } else {
      fail(fmt::format("no function is called {}", name));
    }
    return made;
  }

  Type field_type(const Type& of, const std::string& name) const {
    for (const Record& record : program_.records)
      if (record.name == of.record)
        for (const Field& field : record.fields)
          if (field.name == name) return field.type;
    fail(fmt::format("no field is called {}", name));
  }
  Type variable_type(const std::string& name) const {
    if (const auto found = variables_.find(name); found != variables_.end()) return found->second;
    if (name == "UNBOUNDED") return {Type::Kind::real, {}, 0};
    for (const Constant& constant : program_.constants)
      if (constant.name == name) return constant.type;
    fail(fmt::format("nothing is called {}", name));
  }

  std::vector<Token> tokens_;
  std::size_t at_ = 0;
  Program program_;
  std::map<std::string, Type> variables_;
  std::string heading_;
};

} // namespace

const Function* Program::function(std::string_view name) const noexcept {
  const auto found =
      std::find_if(functions.begin(), functions.end(), [&](const Function& f) { return f.name == name; });
  return found == functions.end() ? nullptr : &*found;
}

Type built_in(std::string_view name) noexcept {
  constexpr std::array<std::string_view, 18> real{"abs",   "sqrt", "exp",  "log",  "sin",   "cos",
                                                  "tan",   "atan", "acos", "pow",  "floor", "ceil",
                                                  "hypot", "min",  "max",  "real", "bits",  "choose"};
  if (name == "whole" || name == "least" || name == "most") return {Type::Kind::whole, {}, 0};
  if (std::find(real.begin(), real.end(), name) != real.end()) return {Type::Kind::real, {}, 0};
  return {};
}

bool is_kept_word(std::string_view word) noexcept { return kept_words().contains(word); }

Program read_whole_program(std::string_view text) { return Reader(text).read(); }

Program read_program(std::string_view text) { return simplified(read_whole_program(text)); }

} // namespace stasis::code
