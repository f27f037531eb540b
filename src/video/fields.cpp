// SPDX-License-Identifier: GPL-3.0-or-later
#include "fields.h"

#include <dlfcn.h>

#include <filesystem>

namespace zl::video {
namespace {

// Beside the module that this is in.
WeaveApart loaded() {
    Dl_info self{};
    if (::dladdr(reinterpret_cast<void*>(&wovenApart), &self) == 0 || !self.dli_fname)
        return nullptr;
    const auto place = std::filesystem::path(self.dli_fname).parent_path() / "zl_fields.so";
    void* module = ::dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL);
    return module ? reinterpret_cast<WeaveApart>(::dlsym(module, weaveApartName)) : nullptr;
}

}  // namespace

AVFrame* wovenApart(const AVFrame* before, const AVFrame* frame, const AVFrame* after) {
    static const WeaveApart weave = loaded();
    return weave ? weave(before, frame, after) : nullptr;
}

}  // namespace zl::video
