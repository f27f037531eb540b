// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/write.h"

#include "base/module.h"

namespace zl {

Result<std::unique_ptr<VideoSink>> writeVideo(const VideoPlan& plan) {
    static const auto begin =
        reinterpret_cast<WriteVideo>(functionOfModule("zl_video.so", writeVideoName));
    if (!begin)
        return fail(Code::unwritable, "The part of the program that writes videos is missing.",
                    "Install Zinc Ledge again.");
    return begin(plan);
}

}  // namespace zl
