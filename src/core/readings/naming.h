// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace zl {

// Whether a layer's or a file's name is a default one: "layer 7", "IMG_2041.png", "untitled", "Screenshot 3".
bool saysNothing(const std::string& name);

}  // namespace zl
