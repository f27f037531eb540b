// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/letters_seen.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "colour/colour.h"
#include "raster/plane.h"
#include "raster/resample.h"

namespace zl {
namespace {

constexpr int outwards = 2, beyond = 3;  // px: an edge is that near, and what it is held against
constexpr float covered = 0.6f, beside = 0.25f;  // of a pixel

double coverageOf(const Ink& ink, int x, int y) {
    return ink.sixteen->row(3, y)[x] / 65535.0;
}
// Of any layer's ink, in frame px within its box, 0..1.
double alphaAt(const Ink& ink, int x, int y) {
    return ink.eight ? alphaOf(ink.eight->row(y - ink.box.top +
                                              ink.fromY)[x - ink.box.left + ink.fromX]) /
                           255.0
                     : ink.sixteen->row(3, y - ink.box.top)[x - ink.box.left] / 65535.0;
}

float luminanceOver(std::uint32_t p, std::uint32_t under) {
    const double a = alphaOf(p) / 255.0;
    const auto over = [&](int front, int back) { return std::round(front * a + back * (1 - a)); };
    return static_cast<float>(relativeLuminance(over(redOf(p), redOf(under)),
                                                over(greenOf(p), greenOf(under)),
                                                over(blueOf(p), blueOf(under))));
}

// Calls `tell` with the place and the coverage of each pixel within `reach`.
template <class Tell>
void around(const Plane& letters, int x, int y, int reach, const Tell& tell) {
    for (int sy = std::max(0, y - reach); sy <= std::min(letters.height() - 1, y + reach); ++sy)
        for (int sx = std::max(0, x - reach); sx <= std::min(letters.width() - 1, x + reach); ++sx)
            tell(sx, sy, letters.row(sy)[sx]);
}

// The letters' core close to their edge; where strokes are thinner than a pixel, their middle.
bool isCore(const Plane& letters, int x, int y) {
    const float own = letters.row(y)[x];
    if (own <= beside) return false;
    bool edge = false, middle = true;
    around(letters, x, y, outwards, [&](int sx, int sy, float c) {
        edge |= c <= beside;
        if (std::abs(sx - x) <= 1 && std::abs(sy - y) <= 1) middle &= c <= own;
    });
    return edge && (own >= covered || middle);
}

// The mean of the pixels close by that the letters cover most: a host's resampling leaves a ripple
// in them that the eye does not see.
double coreLuminance(const Plane& letters, const Plane& light, int x, int y) {
    constexpr int close = 2;
    constexpr float nearlyMost = 0.95f;
    float most = 0;
    double sum = 0;
    int count = 0;
    around(letters, x, y, close, [&](int, int, float c) { most = std::max(most, c); });
    around(letters, x, y, close, [&](int sx, int sy, float c) {
        if (c < nearlyMost * most) return;
        sum += static_cast<double>(light.row(sy)[sx]);
        ++count;
    });
    return sum / count;
}

// Of a core pixel, with the most contrasting one outwards.
double contrastFrom(const Plane& letters, const Plane& light, int x, int y) {
    const double core = coreLuminance(letters, light, x, y);
    float least = 2, most = -1;
    around(letters, x, y, beyond, [&](int sx, int sy, float c) {
        if (c > beside) return;
        least = std::min(least, light.row(sy)[sx]);
        most = std::max(most, light.row(sy)[sx]);
    });
    if (most < 0) return 0;
    return std::max(contrastRatio(core, static_cast<double>(least)),
                    contrastRatio(core, static_cast<double>(most)));
}

}  // namespace

// A subject in front of its title hides a part of it on purpose: that part is not read.
std::optional<Straight8> coversOf(const Subject& subject, std::size_t layer) {
    const Ink& fill = *subject.layers[layer].fill;
    const PixelRect box = fill.box.intersected(PixelRect::of(subject.piece->frame));
    std::optional<Straight8> out;
    constexpr double hides = 0.85;
    for (std::size_t above = layer + 1; above < subject.layers.size(); ++above) {
        const std::optional<Ink>& ink = subject.layers[above].ink;
        const Layer& over = subject.piece->layers[above];
        if (!ink || over.opacity < hides || over.blend != Blend::normal || over.lettering())
            continue;
        const PixelRect both = box.intersected(ink->box);
        for (int y = both.top; y < both.bottom; ++y)
            for (int x = both.left; x < both.right; ++x) {
                if (alphaAt(*ink, x, y) * over.opacity < hides) continue;
                if (!out) out = Straight8::cleared(box.size());
                out->row(y - box.top)[x - box.left] = 0xFFFFFFFFU;
            }
    }
    return out;
}

// How much of the letters is hidden, 0..1.
double shareHidden(const Subject& subject, const Ink& fill, const Straight8& covers) {
    const PixelRect box = fill.box.intersected(PixelRect::of(subject.piece->frame));
    double all = 0, hidden = 0;
    for (int y = box.top; y < box.bottom; ++y)
        for (int x = box.left; x < box.right; ++x) {
            const double letter = coverageOf(fill, x - fill.box.left, y - fill.box.top);
            all += letter;
            if (covers.row(y - box.top)[x - box.left] != 0) hidden += letter;
        }
    return all > 0 ? hidden / all : 0;
}

// The part of the frame round the letters.
struct LettersSeen::Parts {
    PixelRect box;     // px of the frame at that size
    double scale = 1;  // of it to the frame
    Straight8 seen;    // the release there, 0xAARRGGBB
    bool opaque = true;
    Plane letters;                           // their coverage, 0..1
    std::vector<std::pair<int, int>> cores;  // along the letters' edge, where nothing hides them

    Plane lightOver(const std::function<std::uint32_t(int, int)>& under) const {
        Plane light(seen.size());
        for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x)
                light.row(y)[x] = luminanceOver(seen.row(y)[x], under(x, y));
        return light;
    }
    // Over the darkest and the lightest of what may be behind it, or over one thing.
    std::optional<double> contrast(const std::vector<Plane>& lights) const {
        if (cores.empty()) return {};
        std::vector<double> along;
        along.reserve(cores.size());
        for (const auto& [x, y] : cores) {
            double worst = 21;
            for (const Plane& light : lights)
                worst = std::min(worst, contrastFrom(letters, light, x, y));
            along.push_back(worst);
        }
        const auto tenth = along.begin() + static_cast<std::ptrdiff_t>(along.size() / 10);
        std::nth_element(along.begin(), tenth, along.end());
        return *tenth;
    }
};

LettersSeen::~LettersSeen() = default;

LettersSeen::LettersSeen(const Subject& subject, const Ink& fill, const Straight8* covers,
                         double scale)
    : parts_(std::make_unique<Parts>()) {
    const PixelSize frame = subject.pixels->size();
    const PixelRect box = fill.box.intersected(PixelRect::of(frame));
    Straight8 letters(box.size());
    for (int y = 0; y < box.height(); ++y)
        for (int x = 0; x < box.width(); ++x)
            letters.row(y)[x] = packed(
                255, 255, 255,
                static_cast<int>(std::lround(255 * coverageOf(fill, x + box.left - fill.box.left,
                                                              y + box.top - fill.box.top))));
    const RealRect place{box.left * scale, box.top * scale, box.width() * scale,
                         box.height() * scale};
    const PixelRect want = roundOutwards(
        {place.x - beyond, place.y - beyond, place.width + 2 * beyond, place.height + 2 * beyond});
    const std::shared_ptr<const Straight8> pixels(subject.pixels, [](const Straight8*) {});
    const Ink seen = resampled(pixels, subject.opaque, RealRect::of(frame),
                               {0, 0, frame.width * scale, frame.height * scale}, want);
    Parts& out = *parts_;
    out.box = seen.box;
    out.scale = scale;
    out.opaque = subject.opaque;
    out.seen = rounded8(seen);
    // The alpha of what stands in the letters' box, brought to that size.
    const auto alphas = [&](Straight8 what) {
        const Ink lit = resampled(std::make_shared<const Straight8>(std::move(what)), false,
                                  RealRect::of(box.size()), place, want);
        const Straight8 lit8 = rounded8(lit);
        Plane plane(out.seen.size());
        for (int y = 0; y < out.seen.height(); ++y)
            for (int x = 0; x < out.seen.width(); ++x) {
                const int lx = x + seen.box.left - lit.box.left,
                          ly = y + seen.box.top - lit.box.top;
                if (lx >= 0 && ly >= 0 && lx < lit8.width() && ly < lit8.height())
                    plane.row(y)[x] = static_cast<float>(alphaOf(lit8.row(ly)[lx])) / 255;
            }
        return plane;
    };
    out.letters = alphas(std::move(letters));
    const Plane hidden = covers ? alphas(covers->clone()) : Plane();
    constexpr float hides = 8.5f / 255;
    for (int y = 0; y < out.letters.height(); ++y)
        for (int x = 0; x < out.letters.width(); ++x) {
            if (!isCore(out.letters, x, y)) continue;
            bool over = false;
            if (covers) around(hidden, x, y, beyond, [&](int, int, float c) { over |= c > hides; });
            if (!over) out.cores.emplace_back(x, y);
        }
}

std::optional<double> LettersSeen::contrast() const {
    std::vector<Plane> lights;
    lights.push_back(parts_->lightOver([](int, int) { return 0xFFFFFFFFU; }));
    if (!parts_->opaque) lights.push_back(parts_->lightOver([](int, int) { return 0xFF000000U; }));
    return parts_->contrast(lights);
}

std::optional<double> LettersSeen::contrastOver(const std::shared_ptr<const Straight8>& behind,
                                                const RealRect& place) const {
    const double by = parts_->scale;
    const Ink under =
        resampled(behind, true, RealRect::of(behind->size()),
                  {place.x * by, place.y * by, place.width * by, place.height * by}, parts_->box);
    const Straight8 there = under.box.empty() ? Straight8() : rounded8(under);
    std::vector<Plane> lights;
    lights.push_back(parts_->lightOver([&](int x, int y) {
        // Black bars stand beside the video, but for the part of a pixel that it reaches into.
        const int vx = x + parts_->box.left - under.box.left,
                  vy = y + parts_->box.top - under.box.top;
        if (there.empty() || vx < -1 || vy < -1 || vx > there.width() || vy > there.height())
            return 0xFF000000U;
        const int column = std::clamp(vx, 0, there.width() - 1);
        return there.row(std::clamp(vy, 0, there.height() - 1))[column];
    }));
    return parts_->contrast(lights);
}

double shareTaken(const Subject& subject) {
    const PixelRect frame = PixelRect::of(subject.piece->frame);
    double sum = 0;
    for (const LayerFacts& facts : subject.layers) {
        if (!facts.outlined) continue;
        const Ink& ink = *facts.outlined;
        const PixelRect seen = ink.box.intersected(frame);
        for (int y = seen.top; y < seen.bottom; ++y)
            for (int x = seen.left; x < seen.right; ++x)
                sum += coverageOf(ink, x - ink.box.left, y - ink.box.top);
    }
    return sum / static_cast<double>(frame.size().count());
}

}  // namespace zl
