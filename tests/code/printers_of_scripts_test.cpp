// What Lua, Python and Rust make of one small program that has everything: read these as what the printers promise.
#include <gtest/gtest.h>

#include "code/box.hpp"

namespace stasis::code {
namespace {

TEST(Printed, InLua) {
  EXPECT_EQ(printed(lua_printer()), R"code(-- A box.
local M = {}

-- Numbers.
M.HALF_TIME = 0.5 -- s
M.SLOTS = 2

-- One of them.
function M.new_slot()
    local made = {}
    made.value = 0.0 -- in m
    made.is_free = false
    return made
end

function M.new_state()
    local made = {}
    made.slot = {}
    for i = 1, 2 do made.slot[i] = M.new_slot() end
    made.used = 0
    return made
end

-- The slot that is free, or -1.
function M.free_slot(s)
    for k = 0, M.SLOTS - 1 do
        if s.slot[k + 1].is_free and not (s.used > k) then
            return k
        end
    end
    return -1
end

function M.put(one, value)
    one.value = value
    one.is_free = false
end

-- Puts a number away.
function M.keep(s, value)
    local k = M.free_slot(s)
    if k < 0 then
        return
    elseif value == math.huge then
        s.used = k
    else
        -- Half of it.
        local part = (value > 1.0 and value or math.abs(value)) * M.HALF_TIME
        M.put(s.slot[k + 1], part)
    end
    while s.used > 0 do
        s.used = s.used - 1
    end
end

function M.first(s)
    return s.slot[1].value
end

return M
)code");
}

TEST(Printed, InPython) {
  EXPECT_EQ(printed(python_printer()), R"code(# A box.
from __future__ import annotations

import math

# Numbers.
HALF_TIME = 0.5  # s
SLOTS = 2


# One of them.
class Slot:
    def __init__(self) -> None:
        self.value: float = 0.0  # in m
        self.is_free: bool = False


class State:
    def __init__(self) -> None:
        self.slot: list[Slot] = [Slot() for _ in range(2)]
        self.used: int = 0


# The slot that is free, or -1.
def free_slot(s: State) -> int:
    for k in range(SLOTS):
        if s.slot[k].is_free and not (s.used > k):
            return k
    return -1


def put(one: Slot, value: float) -> None:
    one.value = value
    one.is_free = False


# Puts a number away.
def keep(s: State, value: float) -> None:
    k = free_slot(s)
    if k < 0:
        return
    elif value == math.inf:
        s.used = k
    else:
        # Half of it.
        part = (value if value > 1.0 else abs(value)) * HALF_TIME
        put(s.slot[k], part)
    while s.used > 0:
        s.used = s.used - 1


def first(s: State) -> float:
    return s.slot[0].value
)code");
}

TEST(Printed, InRust) {
  EXPECT_EQ(printed(rust_printer()), R"code(// A box.
#![allow(dead_code, unused_assignments)]

// Numbers.
pub const HALF_TIME: f64 = 0.5; // s
pub const SLOTS: i32 = 2;

/// One of them.
#[derive(Clone, Copy, Debug)]
pub struct Slot {
    /// in m
    pub value: f64,
    pub is_free: bool,
}

impl Slot {
    pub fn new() -> Self {
        Self {
            value: 0.0,
            is_free: false,
        }
    }
}

impl Default for Slot {
    fn default() -> Self {
        Self::new()
    }
}

#[derive(Clone, Copy, Debug)]
pub struct State {
    pub slot: [Slot; 2],
    pub used: i32,
}

impl State {
    pub fn new() -> Self {
        Self {
            slot: [Slot::new(); 2],
            used: 0,
        }
    }
}

impl Default for State {
    fn default() -> Self {
        Self::new()
    }
}

/// The slot that is free, or -1.
fn free_slot(s: &State) -> i32 {
    for k in 0..SLOTS {
        if s.slot[k as usize].is_free && !(s.used > k) {
            return k;
        }
    }
    return -1;
}

fn put(one: &mut Slot, value: f64) {
    one.value = value;
    one.is_free = false;
}

/// Puts a number away.
pub fn keep(s: &mut State, value: f64) {
    let k: i32 = free_slot(s);
    if k < 0 {
        return;
    } else if value == f64::INFINITY {
        s.used = k;
    } else {
        // Half of it.
        let part: f64 = (if value > 1.0 { value } else { value.abs() }) * HALF_TIME;
        put(&mut s.slot[k as usize], part);
    }
    while s.used > 0 {
        s.used = s.used - 1;
    }
}

pub fn first(s: &State) -> f64 {
    return s.slot[0].value;
}
)code");
}

} // namespace
} // namespace stasis::code
