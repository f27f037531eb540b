// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/module.h"

#include <dlfcn.h>

#include <filesystem>

namespace zl {

void* functionOfModule(const std::string& module, const char* function) {
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path program = fs::read_symlink("/proc/self/exe", error);
    if (error) return nullptr;
    for (const fs::path& place :
         {program.parent_path() / module, program.parent_path() / "zinc-ledge" / module,
          program.parent_path().parent_path() / ZL_MODULES / module})
        if (void* opened =
                fs::exists(place, error) ? ::dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL) : nullptr)
            return ::dlsym(opened, function);
    return nullptr;
}

}  // namespace zl
