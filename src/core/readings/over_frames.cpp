// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/over_frames.h"

#include <algorithm>
#include <cmath>

#include "brief/player_plan.h"
#include "picture/moments.h"
#include "raster/resample.h"

namespace zl {

double LegibleCurve::lost() const {
    if (samples.empty()) return 0;
    const auto count = std::count_if(samples.begin(), samples.end(), [](const LegibleSample& s) {
        return s.share < thresholds::standingOut;
    });
    return static_cast<double>(count) / static_cast<double>(samples.size());
}

Verdict LegibleCurve::verdict() const {
    if (samples.empty()) return Verdict::notMeasured;
    const double part = lost();
    return part <= thresholds::lostPass    ? Verdict::pass
           : part <= thresholds::lostWatch ? Verdict::watch
                                           : Verdict::fail;
}

std::optional<LegibleSample> LegibleCurve::worst() const {
    if (samples.empty()) return {};
    return *std::min_element(
        samples.begin(), samples.end(),
        [](const LegibleSample& a, const LegibleSample& b) { return a.share < b.share; });
}

double LegibleCurve::mostHidden() const {
    double most = 0;
    for (const LegibleSample& s : samples) most = std::max(most, s.hides);
    return most;
}

MarkInFrame::MarkInFrame(const std::shared_ptr<const Straight8>& mark, const RealRect& place,
                         PixelSize frame, double opacity) {
    constexpr int columns = 480;  // of the places where detail is looked for
    step_ = std::max(1, frame.width / columns);
    const Ink ink =
        resampled(mark, isOpaque(*mark), RealRect::of(mark->size()), place, PixelRect::of(frame));
    box_ = ink.box;
    if (box_.empty()) return;
    mark_ = rounded8(ink);
    if (opacity < 1)
        for (int y = 0; y < mark_.height(); ++y)
            for (int x = 0; x < mark_.width(); ++x) {
                std::uint32_t& p = mark_.row(y)[x];
                const auto a = static_cast<std::uint32_t>(std::lround(alphaOf(p) * opacity));
                p = (p & 0xFFFFFFu) | a << 24;
            }
    edges_ = markEdges(mark_);
}

double MarkInFrame::standsOut(const Straight8& frame) const {
    if (edges_.at.empty()) return 0;
    return shareStandingOut(mark_, edges_, partOf(frame, box_));
}

double MarkInFrame::hides(const Straight8& frame) const {
    return hides(frame, PixelRect::of(frame.size()));
}

double MarkInFrame::hides(const Straight8& frame, const PixelRect& within) const {
    // BT.709's luma in whole numbers.
    const auto luma = [](std::uint32_t p) {
        return 54 * redOf(p) + 183 * greenOf(p) + 19 * blueOf(p);
    };
    double all = 0, under = 0;
    const int right = std::min(within.right, frame.width() - step_),
              bottom = std::min(within.bottom, frame.height() - step_);
    for (int y = within.top; y < bottom; y += step_) {
        const std::uint32_t *row = frame.row(y), *below = frame.row(y + step_);
        for (int x = within.left; x < right; x += step_) {
            const int own = luma(row[x]);
            const double detail =
                std::abs(luma(row[x + step_]) - own) + std::abs(luma(below[x]) - own);
            all += detail;
            if (box_.contains(x, y))
                under += detail * alphaOf(mark_.row(y - box_.top)[x - box_.left]) / 255.0;
        }
    }
    return all > 0 ? under / all : 0;
}

RealRect placeOver(const Subject& subject, PixelSize video) {
    int largest = 0;
    for (const SurfaceSpec& surface : subject.brief->surfaces)
        if (surface.kind == SurfaceKind::player) largest = std::max(largest, surface.width);
    if (largest == 0) {
        // A programme of that frame: a video of another shape stands in its middle, with bars.
        const PixelSize frame = subject.pixels->size();
        const double by = std::max(static_cast<double>(video.width) / frame.width,
                                   static_cast<double>(video.height) / frame.height);
        const double width = frame.width * by, height = frame.height * by;
        return {(video.width - width) / 2, (video.height - height) / 2, width, height};
    }
    const double by = static_cast<double>(video.width) / largest;
    const PixelRect on = playerPlan(largest, subject.pixels->size()).mark;
    return {on.left * by, on.top * by, on.width() * by, on.height() * by};
}

RealRect videoPlaceIn(const Subject& subject) {
    const PixelSize video = subject.moments->all.front().picture->size();
    const RealRect mark = placeOver(subject, video);
    const double across = subject.pixels->width() / mark.width,
                 down = subject.pixels->height() / mark.height;
    return {-mark.x * across, -mark.y * down, video.width * across, video.height * down};
}

LegibleSample MarkInFrame::in(const Straight8& frame, double time) const {
    return {time, standsOut(frame), hides(frame)};
}

}  // namespace zl
