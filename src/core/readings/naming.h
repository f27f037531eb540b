// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace zl {

// Whether a layer's or a file's name is a default one: "layer 7", "IMG_2041.png", "untitled",
// "Screenshot 3".
bool saysNothing(const std::string& name);
// Whether a picture of that name is one to build over: "Screenshot 3", "layout sketch".
bool looksLikeReference(const std::string& name);

}  // namespace zl
