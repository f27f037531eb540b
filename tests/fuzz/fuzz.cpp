// SPDX-License-Identifier: GPL-3.0-or-later
// One libFuzzer target for each loader; which one is named by the compiler (ZL_FUZZ_LOADER). See
// TESTING.md.
#include "loaders.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const auto loader = [] {
        for (const auto& one : zl::test::loaders())
            if (one.name == ZL_FUZZ_LOADER) return one;
        std::abort();
    }();
    loader.feed({data, size});
    return 0;
}
