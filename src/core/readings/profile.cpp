// SPDX-License-Identifier: GPL-3.0-or-later
// `profile`: what a destination would read in another way than it was meant: a profile that is not
// sRGB (ICC.1, IEC 61966-2-1), CMYK, 16 bit a channel. A piece's release is always tagged sRGB with
// 8 bit.
#include "readings/reading.h"

namespace zl {

Reading measureProfile(const Subject& subject) {
    const FileFacts& file = subject.file;
    Reading reading;
    reading.unit = "profile";
    reading.verdict = Verdict::pass;
    reading.shown = "sRGB";
    reading.says = {subject.piece ? "profile.release" : "profile.srgb", {}};
    const auto watch = [&](const char* shown, Message says) {
        reading.verdict = Verdict::watch;
        reading.shown = shown;
        reading.says = says;
        reading.findings.push_back({{}, {}, std::move(says)});
    };
    if (file.cmyk)
        watch("CMYK", {"profile.cmyk", {}});
    else if (!file.srgb)
        watch("other", {"profile.other", {}});
    if (file.bitsPerChannel > 8) watch("16 bit", {"profile.deep", {}});
    if (reading.verdict == Verdict::watch) reading.mends.emplace_back("to-srgb");
    return reading;
}

}  // namespace zl
