// SPDX-License-Identifier: GPL-3.0-or-later
// `frame`: width and height against the brief (common practice, no source).
#include <fmt/core.h>

#include <cmath>

#include "readings/reading.h"

namespace zl {
namespace {

struct Judged {
    Verdict verdict;
    Message says;
};

Judged judge(PixelSize size, const Brief& brief, bool ownScreen) {
    const long long w = size.width, h = size.height, bw = brief.frame.width,
                    bh = brief.frame.height;
    const auto saying = [&](const char* id) { return Message{id, {w, h, bw, bh}}; };
    if (brief.frameRule == FrameRule::any) return {Verdict::pass, saying("frame.free")};
    // |w·bh − h·bw| / (h·bw), compared without dividing.
    const double error =
        std::abs(static_cast<double>(w * bh - h * bw)) / static_cast<double>(h * bw);
    const bool shaped = error <= thresholds::shapeError;
    if (brief.frameRule == FrameRule::minimum) {
        if (!shaped) return {Verdict::fail, saying("frame.wrong-shape")};
        return w >= bw && h >= bh ? Judged{Verdict::pass, saying("frame.enough")}
                                  : Judged{Verdict::fail, saying("frame.too-small")};
    }
    if (w == bw && h == bh) return {Verdict::pass, saying("frame.equal")};
    if (brief.ownScreen && ownScreen) return {Verdict::pass, saying("frame.own-screen")};
    if (brief.multiples && w % bw == 0 && h % bh == 0 && w / bw == h / bh)
        return {Verdict::pass, Message{"frame.multiple", {w, h, w / bw}}};
    if (!shaped) return {Verdict::fail, saying("frame.wrong-shape")};
    if (w >= bw && h >= bh) return {Verdict::watch, saying("frame.larger")};
    const bool nearly = static_cast<double>(w) > thresholds::nearlySize * static_cast<double>(bw) &&
                        static_cast<double>(h) > thresholds::nearlySize * static_cast<double>(bh);
    return nearly ? Judged{Verdict::watch, saying("frame.nearly")}
                  : Judged{Verdict::fail, saying("frame.too-small")};
}

}  // namespace

Reading measureFrame(const Subject& subject) {
    const Brief& brief = *subject.brief;
    const PixelSize size = subject.piece ? subject.piece->frame : subject.pixels->size();
    const Judged judged = judge(size, brief, subject.piece && subject.piece->ownScreen);
    Reading reading;
    reading.verdict = judged.verdict;
    reading.says = judged.says;
    reading.unit = "px";
    reading.value =
        std::array<double, 2>{static_cast<double>(size.width), static_cast<double>(size.height)};
    reading.shown = fmt::format("{} × {}", size.width, size.height);
    reading.shownBeside = shapeName(size);
    if (brief.frameRule == FrameRule::any) return reading;
    reading.limit = std::array<double, 2>{static_cast<double>(brief.frame.width),
                                          static_cast<double>(brief.frame.height)};
    // The largest share of the brief's frame that this one fills with the right shape: 1 is just
    // right.
    const double fills = std::min(static_cast<double>(size.width) / brief.frame.width,
                                  static_cast<double>(size.height) / brief.frame.height);
    reading.rule = Rule{fills, 1, 2};
    if (judged.verdict > Verdict::pass) {
        const RealRect kept =
            largestInside(RealRect::of(size), brief.frame.width, brief.frame.height);
        PixelRect part{static_cast<int>(std::lround(kept.x)), static_cast<int>(std::lround(kept.y)),
                       static_cast<int>(std::lround(kept.right())),
                       static_cast<int>(std::lround(kept.bottom()))};
        if (part.empty()) part = roundOutwards(kept);  // of a picture of hardly a pixel
        reading.findings.push_back(
            {part,
             {},
             {"frame.kept",
              {static_cast<long long>(part.width()), static_cast<long long>(part.height())}}});
        if (size.width >= brief.frame.width && size.height >= brief.frame.height)
            reading.mends.emplace_back("crop-to-frame");
        if (judged.says.id == "frame.wrong-shape" || judged.says.id == "frame.too-small")
            reading.mends.emplace_back("pad-to-frame");
    }
    return reading;
}

}  // namespace zl
