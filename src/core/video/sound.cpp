// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/sound.h"

#include "base/module.h"

namespace zl {

Result<std::unique_ptr<SoundSource>> openSound(const Path& file, const std::stop_token& stop) {
    static const auto open =
        reinterpret_cast<OpenSound>(functionOfModule("zl_sound.so", openSoundName));
    if (!open) return fail(Code::unreadable, "The part of the program that plays is missing.");
    return open(file, stop);
}

}  // namespace zl
