// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/burn.h"

#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>

#include "base/module.h"
#include "video/video.h"

namespace zl {
namespace {

// A folder of its own for what an encoder writes down between two runs; gone with it.
class Notes {
  public:
    Notes() {
        std::error_code none;
        std::string name = (std::filesystem::temp_directory_path(none) / "zinc-XXXXXX").string();
        if (::mkdtemp(name.data())) folder_ = name;
    }
    ~Notes() {
        std::error_code none;
        if (!folder_.empty()) std::filesystem::remove_all(folder_, none);
    }
    Notes(const Notes&) = delete;
    Notes& operator=(const Notes&) = delete;
    Path file() const { return folder_.empty() ? Path() : folder_ / "notes"; }

  private:
    Path folder_;
};

}  // namespace

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
        const Notes notes;
        BurnPass pass;
        if (plan.limit > 0) pass.notes = notes.file();
        // A second run meets the limit nearly always; a third is there for what is very short.
        const bool solves = plan.limit > 0 && plan.quality != losslessQuality;
        const int usual = solves ? 2 : 1, most = solves ? 3 : 1;
        for (int run = 1;; ++run) {
            auto file = NewFile::begin(out, replace);
            if (!file) return passOn(file.error());
            const Progress told = [&](double part) {
                if (progress) progress(std::min(1.0, (run - 1 + part) / usual));
            };
            auto burnt = once(plan, pass, file->meanwhile(), told, stop);
            if (!burnt) return burnt;
            burnt->bytes = file->size();
            burnt->passes = run;
            burnt->bitRate = pass.bitRate;
            if (plan.limit == 0 || burnt->bytes <= plan.limit) {
                if (auto done = file->keep(); !done) return passOn(done.error());
                return burnt;
            }
            // What is no picture keeps its bytes; a fiftieth is left for the rate's own swing, and
            // what the run before swung is taken off.
            const double others = static_cast<double>(burnt->otherBytes);
            const double room = 0.98 * static_cast<double>(plan.limit) - others;
            const auto wanted = static_cast<long long>(8 * room / std::max(plan.length, 0.04));
            const double over = static_cast<double>(burnt->bytes) - others;
            const long long rate =
                pass.bitRate == 0
                    ? wanted
                    : static_cast<long long>(static_cast<double>(pass.bitRate) * room / over);
            constexpr long long leastRate = 20'000;  // bit/s; less shows nothing
            if (run == most || rate < leastRate)
                return fail(Code::limitNotMet,
                            fmt::format("{} bytes are too few for this video; the smallest that "
                                        "was made has {}.",
                                        grouped(plan.limit), grouped(burnt->bytes)),
                            "Allow more, or shorten the video.");
            pass.bitRate = rate;
        }
    });
}

}  // namespace zl
