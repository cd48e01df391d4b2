// Going through programs.
#pragma once

#include <type_traits>

#include "code/program.hpp"

namespace stasis::code {

/// Calls `see` with each expression of `one`, the whole before its parts.
template<class Kind, class See>
void each_expression(Kind& one, const See& see) requires(std::is_same_v<std::remove_const_t<Kind>, Expression>) {
  see(one);
  for (auto& part : one.parts) each_expression(part, see);
}

/// Calls `see` with each statement of a block, those inside others too, and the outer ones first.
template<class Block, class See> void each_statement(Block& block, const See& see) {
  for (auto& one : block) {
    see(one);
    each_statement(one.body, see);
    each_statement(one.other, see);
  }
}

/// Calls `see` with each expression of a block.
template<class Block, class See> void each_expression_in(Block& block, const See& see) {
  each_statement(block, [&](auto& one) {
    each_expression(one.target, see);
    each_expression(one.value, see);
    each_expression(one.limit, see);
  });
}

} // namespace stasis::code
