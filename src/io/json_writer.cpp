#include "io/json_writer.hpp"

#include <array>
#include <cmath>

#include <fmt/compile.h>
#include <fmt/format.h>

namespace stasis::io {

void JsonWriter::separate() {
  if (out_.empty()) return;
  const char last = out_.back();
  if (last != '{' && last != '[' && last != ':') out_ += ',';
}

JsonWriter& JsonWriter::open(char bracket) {
  separate();
  out_ += bracket;
  return *this;
}

JsonWriter& JsonWriter::close(char bracket) {
  out_ += bracket;
  return *this;
}

JsonWriter& JsonWriter::key(std::string_view name) {
  separate();
  append_quoted(name);
  out_ += ':';
  return *this;
}

JsonWriter& JsonWriter::number(std::optional<double> value) {
  if (!value || !std::isfinite(*value)) return null();
  separate();
  std::array<char, 32> digits;
  char* const end = fmt::format_to(digits.data(), FMT_COMPILE("{}"), *value);
  out_.append(digits.data(), end);
  return *this;
}

JsonWriter& JsonWriter::integer(long long value) {
  separate();
  out_ += fmt::format_int(value).c_str();
  return *this;
}

JsonWriter& JsonWriter::flag(bool value) {
  separate();
  out_ += value ? "true" : "false";
  return *this;
}

JsonWriter& JsonWriter::null() {
  separate();
  out_ += "null";
  return *this;
}

JsonWriter& JsonWriter::text(std::string_view text) {
  separate();
  append_quoted(text);
  return *this;
}

JsonWriter& JsonWriter::written(std::string_view json) {
  separate();
  out_ += json;
  return *this;
}

void JsonWriter::append_quoted(std::string_view text) {
  out_ += '"';
  for (const char c : text) {
    if (c == '"' || c == '\\') {
      out_ += '\\';
      out_ += c;
    } else if (static_cast<unsigned char>(c) < 0x20) {
      out_ += fmt::format("\\u{:04x}", static_cast<unsigned>(c));
    } else {
      out_ += c;
    }
  }
  out_ += '"';
}

} // namespace stasis::io
