// SPDX-License-Identifier: GPL-3.0-or-later
// Twelve made-up photographs of the demo: upright, wide, square, tiny and huge ones, light and dark
// ones, one that breaks off, one for print.
#pragma once

#include <string>
#include <vector>

#include "base/bytes.h"
#include "base/result.h"

namespace zl::demo {

struct PhotoFile {
    std::string name;
    Bytes bytes;
};

// The same bytes at each call.
[[nodiscard]] Result<std::vector<PhotoFile>> makePhotos();

}  // namespace zl::demo
