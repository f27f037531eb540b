// SPDX-License-Identifier: GPL-3.0-or-later
// A pointer of a C library that is given back by the library's own function.
#pragma once

#include <memory>

namespace zl {

template <class T, void (*destroy)(T*)>
struct Destroys {
    void operator()(T* t) const { destroy(t); }
};

template <class T, void (*destroy)(T*)>
using Owned = std::unique_ptr<T, Destroys<T, destroy>>;

}  // namespace zl
