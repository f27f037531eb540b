// SPDX-License-Identifier: GPL-3.0-or-later
// The demo kit, made once for all tests; and what stands in a folder.
#pragma once

#include <set>

#include "base/file.h"
#include "demo/demo_kit.h"
#include "support/demo_files.h"
#include "support/support.h"

namespace zl::test {

inline const Kit& demoKit() {
    const Kit& kit = test::madeDemo().kit;
    return kit;
}

inline std::set<std::string> namesIn(const Path& folder) {
    std::set<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        names.insert(entry.path().filename().string());
    return names;
}

}  // namespace zl::test
