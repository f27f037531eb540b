// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/film.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "base/parallel.h"
#include "demo/scene.h"
#include "raster/over.h"
#include "raster/resample.h"
#include "video/write.h"

namespace zl::demo {
namespace {

constexpr int soundRate = 48'000;
constexpr double fullTurn = 6.283185307179586;

// The part of a picture that fills the film's frame.
Straight8 closeUp(const Straight8& whole, const RealRect& part) {
    const auto source = std::make_shared<const Straight8>(whole.clone());
    return rounded8(resampled(source, true, part, RealRect::of(filmSize), PixelRect::of(filmSize)));
}

// A cut-out laid on a ground at whole pixels.
void lay(const Straight8& cutOut, int left, int top, Straight8& onto) {
    for (int y = 0; y < cutOut.height(); ++y)
        for (int x = 0; x < cutOut.width(); ++x) {
            const int tx = left + x, ty = top + y;
            if (tx < 0 || ty < 0 || tx >= onto.width() || ty >= onto.height()) continue;
            const std::uint32_t p = cutOut.row(y)[x];
            std::uint32_t& to = onto.row(ty)[tx];
            const int a = alphaOf(p);
            const auto mix = [a](int over, int under) {
                return (over * a + under * (255 - a) + 127) / 255;
            };
            to = packed(mix(redOf(p), redOf(to)), mix(greenOf(p), greenOf(to)),
                        mix(blueOf(p), blueOf(to)), 255);
        }
}

// A lamp that somebody carries along the line.
void lamp(double x, double y, Straight8& onto) {
    constexpr int reach = 42;
    for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx) {
            const int tx = static_cast<int>(x) + dx, ty = static_cast<int>(y) + dy;
            if (tx < 0 || ty < 0 || tx >= onto.width() || ty >= onto.height()) continue;
            const double r = std::hypot(tx - x, ty - y) / reach;
            const double dim = std::max(0.0, 1 - r);
            const double light = r < 0.14 ? 1 : 0.6 * dim * dim;
            std::uint32_t& p = onto.row(ty)[tx];
            const auto lit = [light](int to, int from) {
                return static_cast<int>(from + light * (to - from));
            };
            p = packed(lit(255, redOf(p)), lit(222, greenOf(p)), lit(140, blueOf(p)), 255);
        }
}

// The window of a wide picture that moves `smear` px while the shutter is open.
Straight8 panned(const Straight8& wide, int left, int top, int smear) {
    Straight8 out(filmSize);
    std::vector<std::array<int, 3>> sums(static_cast<std::size_t>(wide.width()) + 1);
    for (int y = 0; y < filmSize.height; ++y) {
        const std::uint32_t* row = wide.row(top + y);
        for (int x = 0; x < wide.width(); ++x) {
            const auto& before = sums[static_cast<std::size_t>(x)];
            sums[static_cast<std::size_t>(x) + 1] = {
                before[0] + redOf(row[x]), before[1] + greenOf(row[x]), before[2] + blueOf(row[x])};
        }
        for (int x = 0; x < filmSize.width; ++x) {
            const auto from = static_cast<std::size_t>(left + x);
            const std::size_t to =
                std::min(sums.size() - 1, from + static_cast<std::size_t>(smear));
            const int n = static_cast<int>(to - from);
            const auto mean = [&](std::size_t c) { return (sums[to][c] - sums[from][c]) / n; };
            out.row(y)[x] = packed(mean(0), mean(1), mean(2), 255);
        }
    }
    return out;
}

Straight8 faded(const Straight8& picture, double light) {
    Straight8 out(picture.size());
    const int by = static_cast<int>(std::lround(256 * light));
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const std::uint32_t p = picture.row(y)[x];
            out.row(y)[x] =
                packed(redOf(p) * by / 256, greenOf(p) * by / 256, blueOf(p) * by / 256, 255);
        }
    return out;
}

// All that the film's frames are made of, drawn once.
class Stage {
  public:
    Stage() {
        for (int y = 0; y < sky_.height(); ++y) {
            const int v = y * 255 / sky_.height();
            std::fill_n(sky_.row(y), sky_.width(),
                        packed(120 + v * 110 / 255, 160 + v * 72 / 255, 200 + v * 26 / 255, 255));
        }
        lay(channelMark({440, 440}), (filmSize.width - 440) / 2, 140, page_);
    }
    Straight8 frame(int n) const {
        if (n < armFrom) {
            Straight8 out = dusk_.clone();
            lamp(1180.0 - 6.5 * n, 640 + 4 * std::sin(n * 0.7), out);
            return out;
        }
        if (n < panFrom) {
            Straight8 out = sky_.clone();
            lay(arm_, 420, 150 - (n - armFrom), out);
            return out;
        }
        if (n < restFrom) return panned(wide_, 60 * (n - panFrom), 400, 60);
        if (n < fadeFrom) return rest_.clone();
        if (n < blackFrom)
            return faded(rest_, static_cast<double>(blackFrom - n) / (blackFrom - fadeFrom));
        if (n < markFrom) return Straight8::cleared(filmSize, packed(0, 0, 0, 255));
        if (n < windowsFrom)
            return n < markWhole ? faded(page_, static_cast<double>(n - markFrom + 1) /
                                                    (markWhole - markFrom))
                                 : page_.clone();
        return windows_.clone();
    }

  private:
    Straight8 dusk_ = duskAtTheBox(filmSize, 4), wide_ = duskAtTheBox({2560, 1440}, 3),
              rest_ = panned(wide_, 60 * (restFrom - panFrom), 400, 1), sky_ = Straight8(filmSize),
              arm_ = signalArm({480, 600}),
              page_ = Straight8::cleared(filmSize, packed(0x2B, 0x21, 0x40, 255)),
              windows_ = closeUp(wide_, {1920, 620, 640, 360});
};

// The hum of the box, a knock of iron each second, and a bell where a shot begins.
std::vector<float> soundOf(int frame) {
    constexpr int count = soundRate / filmRate;
    std::vector<float> out(count);
    for (int i = 0; i < count; ++i) {
        const double t = frame / static_cast<double>(filmRate) + i / static_cast<double>(soundRate);
        double v = 0.04 * std::sin(fullTurn * 98 * t) + 0.02 * std::sin(fullTurn * 147 * t);
        const double knock = t - std::floor(t);
        v += 0.35 * std::exp(-40 * knock) * std::sin(fullTurn * 220 * knock);
        for (const int from : {armFrom, panFrom, markFrom, windowsFrom}) {
            const double since = t - from / static_cast<double>(filmRate);
            if (since >= 0) v += 0.2 * std::exp(-3 * since) * std::sin(fullTurn * 1320 * since);
        }
        out[static_cast<std::size_t>(i)] = static_cast<float>(std::clamp(v, -1.0, 1.0));
    }
    return out;
}

}  // namespace

Result<Bytes> makeClimb() {
    VideoPlan plan;
    plan.size = climbSize;
    plan.rate = filmRate;
    plan.soundRate = soundRate;
    auto sink = writeVideo(plan);
    if (!sink) return passOn(sink.error());
    const Straight8 arm = signalArm({400, 500});
    for (int n = 0; n < climbFrames; ++n) {
        const double up = 0.5 - 0.5 * std::cos(fullTurn / 2 * n / (climbFrames - 1));
        Straight8 frame(climbSize);
        for (int y = 0; y < climbSize.height; ++y) {
            const int v =
                std::clamp(static_cast<int>(y * 160 / climbSize.height + 90 * (1 - up)), 0, 255);
            std::fill_n(frame.row(y), climbSize.width,
                        packed(96 + v / 2, 140 + v / 3, 190 + v / 8, 255));
        }
        // The mast goes down out of the picture while one looks up.
        for (int y = 0; y < climbSize.height; ++y)
            for (int x = 168; x < 192; ++x)
                frame.row(y)[x] = x < 174 ? packed(90, 84, 80, 255) : packed(52, 50, 54, 255);
        lay(arm, -20, static_cast<int>(std::lround(-480 + 560 * up)), frame);
        if (auto done = (*sink)->picture(frame); !done) return passOn(done.error());
        if (auto done = (*sink)->sound(soundOf(n)); !done) return passOn(done.error());
    }
    return (*sink)->finish();
}

Result<Bytes> makeFilm() {
    VideoPlan plan;
    plan.size = filmSize;
    plan.rate = filmRate;
    plan.soundRate = soundRate;
    auto sink = writeVideo(plan);
    if (!sink) return passOn(sink.error());
    const Stage stage;
    // Several are drawn at a time.
    constexpr int batch = 8;
    for (int first = 0; first < filmFrames; first += batch) {
        const int count = std::min(batch, filmFrames - first);
        std::vector<Straight8> drawn(static_cast<std::size_t>(count));
        overRows(count, 1, coreCount(), [&](int from, int to) {
            for (int i = from; i < to; ++i)
                drawn[static_cast<std::size_t>(i)] = stage.frame(first + i);
        });
        for (int i = 0; i < count; ++i) {
            const Straight8& frame = drawn[static_cast<std::size_t>(i)];
            if (auto done = (*sink)->picture(frame); !done) return passOn(done.error());
            if (auto done = (*sink)->sound(soundOf(first + i)); !done) return passOn(done.error());
        }
    }
    return (*sink)->finish();
}

}  // namespace zl::demo
