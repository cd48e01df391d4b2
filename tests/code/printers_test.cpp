// What each language makes of one small program that has everything: read these as what the printers promise.
#include <gtest/gtest.h>

#include "code/box.hpp"

namespace stasis::code {
namespace {

TEST(Printed, InC) {
  EXPECT_EQ(printed(c_printer()), R"code(/* A box. */
/* Every name begins with box_: box_begin() and so on. */
#ifndef BOX_INCLUDED
#define BOX_INCLUDED

#include <math.h>
#include <stdbool.h>
#include <stdint.h>

/* Numbers. */
static const double BOX_HALF_TIME = 0.5; /* s */
enum { BOX_SLOTS = 2 };

/* One of them. */
typedef struct {
  double value; /* in m */
  bool is_free;
} box_slot;

typedef struct {
  box_slot slot[2];
  int used;
} box_state;

/* The slot that is free, or -1. */
static inline int box_free_slot(const box_state *s) {
  for (int k = 0; k < BOX_SLOTS; ++k) {
    if (s->slot[k].is_free && !(s->used > k)) {
      return k;
    }
  }
  return -1;
}

static inline void box_put(box_slot *one, double value) {
  one->value = value;
  one->is_free = false;
}

/* Puts a number away. */
static inline void box_keep(box_state *s, double value) {
  const int k = box_free_slot(s);
  if (k < 0) {
    return;
  } else if (value == HUGE_VAL) {
    s->used = k;
  } else {
    /* Half of it. */
    const double part = (value > 1.0 ? value : fabs(value)) * BOX_HALF_TIME;
    box_put(&s->slot[k], part);
  }
  while (s->used > 0) {
    s->used = s->used - 1;
  }
}

static inline double box_first(const box_state *s) { return s->slot[0].value; }

#endif
)code");
}

TEST(Printed, InCpp) {
  EXPECT_EQ(printed(cpp_printer()), R"code(// A box.
#ifndef BOX_INCLUDED
#define BOX_INCLUDED

#include <cmath>
#include <cstdint>

namespace box {

// Numbers.
inline constexpr double HALF_TIME = 0.5; // s
inline constexpr int SLOTS = 2;

// One of them.
struct Slot {
  double value{}; // in m
  bool is_free{};
};

struct State {
  Slot slot[2];
  int used{};
};

// The slot that is free, or -1.
inline int free_slot(const State &s) {
  for (int k = 0; k < SLOTS; ++k) {
    if (s.slot[k].is_free && !(s.used > k)) {
      return k;
    }
  }
  return -1;
}

inline void put(Slot &one, double value) {
  one.value = value;
  one.is_free = false;
}

// Puts a number away.
inline void keep(State &s, double value) {
  const int k = free_slot(s);
  if (k < 0) {
    return;
  } else if (value == HUGE_VAL) {
    s.used = k;
  } else {
    // Half of it.
    const double part = (value > 1.0 ? value : std::fabs(value)) * HALF_TIME;
    put(s.slot[k], part);
  }
  while (s.used > 0) {
    s.used = s.used - 1;
  }
}

inline double first(const State &s) { return s.slot[0].value; }

} // namespace box

#endif
)code");
}

TEST(Printed, InCSharp) {
  EXPECT_EQ(printed(csharp_printer()), R"code(// A box.
using System;

public static class Box
{

    // Numbers.
    public const double HALF_TIME = 0.5; // s
    public const int SLOTS = 2;

    // One of them.
    public sealed class Slot
    {
        public double Value; // in m
        public bool IsFree;
    }

    public sealed class State
    {
        public Slot[] Slot = new Slot[2];
        public int Used;

        public State()
        {
            for (int i = 0; i < Slot.Length; ++i) Slot[i] = new Slot();
        }
    }

    // The slot that is free, or -1.
    static int FreeSlot(State s)
    {
        for (int k = 0; k < SLOTS; ++k) {
            if (s.Slot[k].IsFree && !(s.Used > k)) {
                return k;
            }
        }
        return -1;
    }

    static void Put(Slot one, double value)
    {
        one.Value = value;
        one.IsFree = false;
    }

    // Puts a number away.
    public static void Keep(State s, double value)
    {
        int k = FreeSlot(s);
        if (k < 0) {
            return;
        } else if (value == double.PositiveInfinity) {
            s.Used = k;
        } else {
            // Half of it.
            double part = (value > 1.0 ? value : Math.Abs(value)) * HALF_TIME;
            Put(s.Slot[k], part);
        }
        while (s.Used > 0) {
            s.Used = s.Used - 1;
        }
    }

    public static double First(State s)
    {
        return s.Slot[0].Value;
    }
}
)code");
}

TEST(Printed, InJavaScript) {
  EXPECT_EQ(printed(javascript_printer()), R"code(// A box.

// Numbers.
export const HALF_TIME = 0.5; // s
export const SLOTS = 2;

// One of them.
export class Slot {
  constructor() {
    this.value = 0; // in m
    this.isFree = false;
  }
}

export class State {
  constructor() {
    this.slot = Array.from({ length: 2 }, () => new Slot());
    this.used = 0;
  }
}

// The slot that is free, or -1.
function freeSlot(s) {
  for (let k = 0; k < SLOTS; ++k) {
    if (s.slot[k].isFree && !(s.used > k)) {
      return k;
    }
  }
  return -1;
}

function put(one, value) {
  one.value = value;
  one.isFree = false;
}

// Puts a number away.
export function keep(s, value) {
  const k = freeSlot(s);
  if (k < 0) {
    return;
  } else if (value === Infinity) {
    s.used = k;
  } else {
    // Half of it.
    const part = (value > 1.0 ? value : Math.abs(value)) * HALF_TIME;
    put(s.slot[k], part);
  }
  while (s.used > 0) {
    s.used = s.used - 1;
  }
}

export function first(s) {
  return s.slot[0].value;
}
)code");
}

TEST(Printed, TypesOfAModuleAreDeclaredForItsOpenFunctionsOnly) {
  const std::string types = javascript_printer()->declarations(read_whole_program(box), {"box", {"A box."}});
  EXPECT_NE(types.find("export function keep(s: State, value: number): void;"), std::string::npos) << types;
  EXPECT_NE(types.find("export function first(s: State): number;"), std::string::npos) << types;
  EXPECT_NE(types.find("isFree: boolean;"), std::string::npos) << types;
  EXPECT_EQ(types.find("freeSlot"), std::string::npos) << types;
}

TEST(Printed, LongLinesGoOnInsideTheirBracketsOnly) {
  const Program program = read_program("open real f(real first_number, real second_number, real third_number) { return "
                                       "max(first_number * second_number + third_number, min(second_number * 4.0, "
                                       "third_number * first_number)) * hypot(first_number, second_number); }");
  for (const auto& printer : printers()) {
    const std::string text = printer->print(program, {"p", {"P."}});
    int open = 0;
    std::size_t length = 0;
    for (const char c : text) {
      open += (c == '(') - (c == ')');
      length = c == '\n' ? 0 : length + 1;
      // Where everything is a method there may be no place to break.
      if (printer->language() != "rust") {
        EXPECT_LE(length, 100u) << printer->language() << text;
      }
    }
    EXPECT_EQ(open, 0) << printer->language();
  }
}

} // namespace
} // namespace stasis::code
