// SPDX-License-Identifier: GPL-3.0-or-later
// A module that is loaded when it is first asked for.
#pragma once

#include <string>

namespace zl {

// The function of that name of "zl_video.so" and the like, beside the program in a build tree, in
// the library folder of an install; nothing where it is not there.
void* functionOfModule(const std::string& module, const char* function);

}  // namespace zl
