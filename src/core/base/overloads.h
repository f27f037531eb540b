// SPDX-License-Identifier: GPL-3.0-or-later
// Several functions as one, to visit a variant with: a kind that none of them takes is an error of
// the compiler.
#pragma once

namespace zl {

template <class... Functions>
struct Overloads : Functions... {
    using Functions::operator()...;
};
template <class... Functions>
Overloads(Functions...) -> Overloads<Functions...>;

}  // namespace zl
