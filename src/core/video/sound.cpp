// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/sound.h"

#include "base/module.h"

namespace zl {

Result<std::unique_ptr<SoundReader>> readSound(const Path& file, const std::stop_token& stop) {
    static const auto read =
        reinterpret_cast<ReadSound>(functionOfModule("zl_video.so", readSoundName));
    if (!read)
        return fail(Code::unreadable, "The part of the program that reads sound is missing.");
    return read(file, stop);
}

Result<std::unique_ptr<SoundSource>> openSound(std::unique_ptr<SoundReader> reader) {
    static const auto open =
        reinterpret_cast<OpenSound>(functionOfModule("zl_sound.so", openSoundName));
    if (!open) return fail(Code::unreadable, "The part of the program that plays is missing.");
    return open(std::move(reader));
}

Result<std::unique_ptr<SoundSource>> openSound(const Path& file, const std::stop_token& stop) {
    auto reader = readSound(file, stop);
    if (!reader) return passOn(reader.error());
    return openSound(std::move(*reader));
}

}  // namespace zl
