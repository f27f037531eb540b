// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/burn.h"

#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>

#include "base/module.h"
#include "video/passes.h"
#include "video/video.h"

namespace zl {
PassNotes::PassNotes() {
    std::error_code none;
    std::string name = (std::filesystem::temp_directory_path(none) / "zinc-XXXXXX").string();
    if (::mkdtemp(name.data())) folder_ = name;
}

PassNotes::~PassNotes() {
    std::error_code none;
    if (!folder_.empty()) std::filesystem::remove_all(folder_, none);
}

std::optional<VideoContainer> videoContainerBy(const std::string& ending) {
    if (ending == ".mp4" || ending == ".m4v") return VideoContainer::mp4;
    if (ending == ".mkv") return VideoContainer::matroska;
    if (ending == ".webm") return VideoContainer::webm;
    return {};
}

Result<void> checkMarkTime(const MarkTime& time, double length) {
    const double end = time.to.value_or(length);
    for (const double value : {time.from, end, time.fade, time.opacity})
        if (!std::isfinite(value))
            return fail(Code::badUsage, "A time or an opacity is no number.");
    if (time.from < 0 || time.from >= length)
        return fail(Code::badUsage,
                    fmt::format("The mark would come at {:.3f} s, and the video lasts {:.3f} s.",
                                time.from, length),
                    "Let it come earlier.");
    if (end <= time.from)
        return fail(Code::badUsage,
                    fmt::format("The mark would go at {:.3f} s, before it comes at {:.3f} s.", end,
                                time.from),
                    "Let it go later.");
    if (time.fade < 0 || 2 * time.fade > std::min(end, length) - time.from + 1e-9)
        return fail(Code::badUsage,
                    fmt::format("The mark shows for {:.3f} s, and cannot come and go over {:.3f} s "
                                "each.",
                                std::min(end, length) - time.from, time.fade),
                    "Let it fade faster.");
    if (time.opacity < 0 || time.opacity > 1)
        return fail(Code::badUsage, "An opacity is from 0 to 1.");
    return {};
}

Result<Burnt> burn(const BurnPlan& plan, const Path& out, Replace replace, const Progress& progress,
                   const std::stop_token& stop) {
    static const auto once =
        reinterpret_cast<BurnVideo>(functionOfModule("zl_video.so", burnVideoName));
    if (!once)
        return fail(Code::unwritable, "The part of the program that writes videos is missing.",
                    "Install Zinc Ledge again.");
    if (auto good = checkMarkTime(plan.time, plan.length); !good) return passOn(good.error());
    if (sameFile(plan.video, out))
        return fail(Code::unwritable,
                    fmt::format("{} is the video itself, which is never overwritten.",
                                out.filename().string()),
                    "Choose another name.");
    return unlessTooLarge("The video", [&]() -> Result<Burnt> {
        return withinLimit<Burnt>(
            {plan.quality != losslessQuality, plan.limit, plan.length, out, replace}, progress,
            [&](const BurnPass& pass, const Path& into, const Progress& told) {
                return once(plan, pass, into, told, stop);
            });
    });
}

}  // namespace zl
