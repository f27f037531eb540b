// SPDX-License-Identifier: GPL-3.0-or-later
// `standing-out`: for what is laid over footage. A mark is seen by its edges: the share, by length
// and alpha, of its outer contour and of the edges between its own inks (CIEDE2000 >= 20 apart), at
// the size it has on a large player, across which it stands out over the footage; on three
// footages: light, dark, busy. A mark of one ink needs a contrast of 3 : 1 (WCAG 2.2, SC 1.4.11),
// or a difference of hue of CIEDE2000 >= 20 in a room with some light, of which every kind of
// colour blindness leaves a difference >= 10; one that has a drawing of its own carries contrast
// along, and CIEDE2000 >= 10 is enough there. The shares and the differences are ours, the 10 set
// on real icons (docs/truth.md), the 20 on pairs of colours that were looked at
// (tests/core/readings/marks_test.cpp).
#include <fmt/core.h>

#include <cmath>

#include "brief/player_plan.h"
#include "colour/colour.h"
#include "raster/footage.h"
#include "raster/ink_box.h"
#include "raster/resample.h"
#include "readings/over_frames.h"
#include "readings/reading.h"
#include "readings/standing.h"

namespace zl {
namespace {

// px of the player for a px of the frame, on the largest player of the brief; 1 where it has none.
double scaleOnPlayer(const Brief& brief, PixelSize frame) {
    double most = 0;
    for (const SurfaceSpec& surface : brief.surfaces)
        if (surface.kind == SurfaceKind::player)
            most = std::max(most, static_cast<double>(markHeightOn(surface.width)) / frame.height);
    return most > 0 ? std::min(most, 1.0) : 1;
}

Straight8 scaled(const Straight8& mark, double scale) {
    if (scale >= 1) return mark.clone();
    const PixelSize size{std::max(1, static_cast<int>(std::lround(mark.width() * scale))),
                         std::max(1, static_cast<int>(std::lround(mark.height() * scale)))};
    const auto shared = std::make_shared<const Straight8>(mark.clone());
    const Ink small = resampled(shared, false, RealRect::of(mark.size()), RealRect::of(size),
                                PixelRect::of(size));
    Straight8 out = Straight8::cleared(size);
    const Straight8 part = rounded8(small);
    for (int y = 0; y < part.height(); ++y)
        std::copy_n(part.row(y), part.width(), out.row(y + small.box.top) + small.box.left);
    return out;
}

// What is told never promises more than is measured.
double wholePercent(double share) {
    return std::floor(share * 100);
}

// Over the person's own video: where the mark stands on the player, or the overlay on the stream.
Reading overVideo(const Subject& subject, Reading reading) {
    using namespace thresholds;
    const VideoMoments& video = *subject.moments;
    const auto mark = std::make_shared<const Straight8>(subject.pixels->clone());
    const PixelSize frame = video.all.front().picture->size();
    const MarkInFrame there(mark, placeOver(subject, frame), frame);
    LegibleCurve curve;
    for (const VideoMoments::One& one : video.all)
        if (one.picture->size() == frame)
            curve.samples.push_back({one.time, there.standsOut(*one.picture), 0});
    const double stands = wholePercent(1 - curve.lost());
    const LegibleSample worst = *curve.worst();
    reading.verdict = curve.verdict();
    reading.value = 1 - curve.lost();
    reading.limit = 1 - lostPass;
    reading.unit = "share of the time";
    reading.rule = Rule{stands, (1 - lostPass) * 100, 100};
    reading.shown = fmt::format("{:.0f} %", stands);
    reading.shownBeside = "of the video";
    const bool good = reading.verdict == Verdict::pass;
    reading.says = good ? Message{"standing-out.video-good", {video.name}}
                        : Message{"standing-out.video", {stands, video.name}};
    if (good) return reading;
    reading.findings.push_back({inkBoxOf(*subject.pixels, marginAlpha),
                                {},
                                {"standing-out.moment", {worst.time, wholePercent(worst.share)}}});
    reading.mends.emplace_back("outline-contrast");
    return reading;
}

}  // namespace

Reading measureStandingOut(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "share";
    reading.limit = standingOut;
    const auto box = inkBoxOf(*subject.pixels, marginAlpha);
    const Straight8 mark =
        scaled(*subject.pixels, scaleOnPlayer(*subject.brief, subject.pixels->size()));
    const auto edges = markEdges(mark);
    if (!box || edges.at.empty()) {
        reading.says = {"standing-out.nothing", {}};
        return reading;
    }
    if (subject.moments && !subject.moments->all.empty())
        return overVideo(subject, std::move(reading));
    double least = 1;
    int lost = 0;
    std::string where;
    for (const Footage footage : allFootage) {
        const double share = shareStandingOut(mark, edges, footageOf(footage, mark.size()));
        if (share < standingOut) {
            ++lost;
            reading.findings.push_back(
                {*box,
                 {},
                 {"standing-out.on", {std::string(nameOf(footage)), wholePercent(share)}}});
        }
        if (share < least) {
            least = share;
            where = nameOf(footage);
        }
    }
    reading.verdict = lost == 0 ? Verdict::pass : lost == 1 ? Verdict::watch : Verdict::fail;
    reading.value = least;
    reading.rule = Rule{least * 100, standingOut * 100, 100};
    reading.shown = fmt::format("{:.0f} %", wholePercent(least));
    reading.shownBeside = where.empty() ? "on all footage" : fmt::format("on {} footage", where);
    reading.says = lost == 0 ? Message{"standing-out.good", {}}
                             : Message{"standing-out.least", {wholePercent(least), where}};
    if (lost > 0) reading.mends.emplace_back("outline-contrast");
    return reading;
}

}  // namespace zl
