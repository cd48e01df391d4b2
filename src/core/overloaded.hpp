// One function for each kind of a variant: with std::visit, a kind that is left out does not compile.
#pragma once

namespace stasis {

template<class... Functions> struct Overloaded : Functions... { using Functions::operator()...; };
template<class... Functions>
Overloaded(Functions...) -> Overloaded<Functions...>; // which not every compiler finds itself

} // namespace stasis
