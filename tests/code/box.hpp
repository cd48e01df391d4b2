// One small program that has everything, for tests of what languages make of it.
#pragma once

#include <memory>
#include <string>

#include "code/printer.hpp"
#include "code/read_program.hpp"

namespace stasis::code {

inline const char* const box = R"(
heading /// Numbers.
/// s
constant real HALF_TIME = 0.5;
constant whole SLOTS = 2;
/// One of them.
record Slot { real value; /// in m
  flag is_free; }
record State { Slot[2] slot; whole used; }
/// The slot that is free, or -1.
whole free_slot(State s) {
  for k = 0 below SLOTS {
    if (s.slot[k].is_free && !(s.used > k)) { return k; }
  }
  return -1;
}
act put(changing Slot one, real value) {
  one.value = value;
  one.is_free = false;
}
/// Puts a number away.
open act keep(changing State s, real value) {
  whole k = free_slot(s);
  if (k < 0) { return; } else if (value == UNBOUNDED) { s.used = k; } else {
    /// Half of it.
    real part = choose(value > 1.0, value, abs(value)) * HALF_TIME;
    put(s.slot[k], part);
  }
  while (s.used > 0) { s.used = s.used - 1; }
}
open real first(State s) { return s.slot[0].value; }
)";

inline std::string printed(const std::unique_ptr<Printer>& printer) {
  return printer->print(read_whole_program(box), {"box", {"A box."}});
}

} // namespace stasis::code
