// SPDX-License-Identifier: GPL-3.0-or-later
// The demo kit for tests: made once in a process, since its video takes seconds.
#pragma once

#include "demo/demo_kit.h"
#include "support/support.h"

namespace zl::test {

inline const demo::DemoKit& madeDemo() {
    static const demo::DemoKit made = good(demo::makeDemoKit());
    return made;
}

// What `zledge demo --out NAME` writes, in the folder.
inline void putDemo(const Folder& folder, const std::string& name) {
    static const Folder first;
    static const Path kit = good(demo::writeDemoKit(first / "kit", Replace::no));
    std::filesystem::copy(kit.parent_path(), folder / name,
                          std::filesystem::copy_options::recursive);
}

}  // namespace zl::test
