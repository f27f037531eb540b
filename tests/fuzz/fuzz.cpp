// SPDX-License-Identifier: GPL-3.0-or-later
// One libFuzzer target for each loader; which one is named by the compiler (ZL_FUZZ_LOADER). See
// TESTING.md.
#include <cstdlib>

#include "loaders.h"

namespace {

// A header that promises many pixels costs the time of hundreds of small pictures, and is only one
// more number. The mangled seeds of loaders_test.cpp have such, too.
bool promisesMuch(zl::ByteView bytes) {
    constexpr long long most = 65'536;
    const auto facts = zl::readFacts(bytes, "picture");
    return facts && facts->size.count() > most;
}

}  // namespace

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    setenv("VIPS_CONCURRENCY", "1", 1);  // threads are made anew for each picture
    return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const auto loader = [] {
        for (const auto& one : zl::test::loaders())
            if (one.name == ZL_FUZZ_LOADER) return one;
        std::abort();
    }();
    const zl::ByteView bytes(data, size);
    if (loader.name == "picture" && promisesMuch(bytes)) return 0;
    loader.feed(bytes);
    return 0;
}
