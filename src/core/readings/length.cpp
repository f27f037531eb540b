// SPDX-License-Identifier: GPL-3.0-or-later
// `length`: how long a moving piece lasts, against the most that its brief takes.
#include <fmt/core.h>

#include "readings/moving.h"

namespace zl {

std::string movingFormatOf(const Subject& subject) {
    const std::string& own = subject.piece->release.moving;
    if (!own.empty()) return own;
    if (!subject.brief->moving.formats.empty()) return subject.brief->moving.formats.front();
    return subject.brief->alpha == AlphaDemand::seeThrough ? "webm" : "mp4";
}

std::string movingTitle(const std::string& id) {
    return id == "mp4"    ? "MP4"
           : id == "webm" ? "WebM"
           : id == "webp" ? "Animated WebP"
           : id == "gif"  ? "Animated GIF"
                          : "Matroska";
}

bool keepsAlpha(const std::string& movingId) {
    return movingId != "mp4" && movingId != "gif";
}

Reading measureLength(const Subject& subject) {
    Reading reading;
    const double length = lengthOf(*subject.piece), most = subject.brief->moving.longest;
    reading.unit = "s";
    reading.value = length;
    reading.shown = fmt::format("{:.1f} s", length);
    if (most <= 0) {
        reading.verdict = Verdict::pass;
        reading.shownBeside = "no limit";
        reading.says = {"length.no-limit", {length}};
        return reading;
    }
    reading.limit = most;
    reading.shownBeside = fmt::format("of {:g} s", most);
    reading.rule = Rule{length, most, most * 1.25};
    constexpr double slip = 0.02;  // s: half a frame
    if (length <= most + slip) {
        reading.verdict = Verdict::pass;
        reading.says = {"length.good", {length, most}};
    } else {
        reading.verdict = Verdict::fail;
        reading.says = {"length.over", {length, most}};
        reading.findings.push_back({{}, {}, reading.says});
    }
    return reading;
}

}  // namespace zl
