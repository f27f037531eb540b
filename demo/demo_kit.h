// SPDX-License-Identifier: GPL-3.0-or-later
// The demo kit "Mossgate Signals": an invented channel, good pieces and faulty ones.
#pragma once

#include <vector>

#include "base/file.h"
#include "brief/brief.h"
#include "kit/kit.h"

namespace zl::demo {

struct Medium {
    std::string name;  // file name
    Bytes bytes;
};

struct DemoKit {
    Kit kit;
    std::vector<Medium> media;
};

[[nodiscard]] Result<DemoKit> makeDemoKit();

inline constexpr char kitFileName[] = "mossgate-signals.zlkit";

// Writes the kit, media/ and photos/ into `folder`, which is made when it is missing.
[[nodiscard]] Result<Path> writeDemoKit(const Path& folder, Replace replace);

}  // namespace zl::demo
