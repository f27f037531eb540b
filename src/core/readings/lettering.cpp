// SPDX-License-Identifier: GPL-3.0-or-later
// `lettering`: per lettering layer, as the eye meets it at each size the brief's surfaces show it
// at: the height of its capitals (common practice, no source), and the contrast by WCAG 2.2
// relative luminance (SC 1.4.3, 1.4.11) there. The release and the letters' coverage are brought to
// that size; along the letters' edge it is the ratio between their core (what they cover most close
// by) and the most contrasting pixel outwards within 2 px, and the 10th percentile counts. An
// outline counts for as much as is left of it at that size. Further the share of the frame that
// letters take (ours).
#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

#include "colour/colour.h"
#include "raster/plane.h"
#include "raster/resample.h"
#include "readings/reading.h"
#include "readings/surface_notes.h"

namespace zl {
namespace {

constexpr int outwards = 2,
              beyond = 3;  // px: an edge is that near, and what it stands against// px
constexpr float covered = 0.6f, beside = 0.25f;  // of a pixel

// A part of the frame at a size it is shown at, around lettering. What is see-through is seen over
// white and over black: nobody knows what will be behind it.
struct LitPart {
    Plane letters;                // their coverage, 0..1
    Plane hidden;                 // where another layer stands over them; empty: nowhere
    std::array<Plane, 2> lights;  // relative luminance over white and over black; the second is
                                  // empty where all is opaque
};

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

float luminanceOver(std::uint32_t p, double under) {
    const double a = alphaOf(p) / 255.0;
    const auto over = [&](int c) { return std::round(c * a + under * (1 - a)); };
    return static_cast<float>(relativeLuminance(over(redOf(p)), over(greenOf(p)), over(blueOf(p))));
}

// What stands over the layer, white where it hides it; nothing where nothing does. A subject in
// front of its title hides a part of it on purpose: that part is not read.
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

LitPart shownAt(const Subject& subject, const Ink& fill, const Straight8* covers, double scale) {
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
    const Ink lit = resampled(std::make_shared<const Straight8>(std::move(letters)), false,
                              RealRect::of(box.size()), place, want);
    const Straight8 seen8 = rounded8(seen), lit8 = rounded8(lit);
    LitPart out{Plane(seen8.size()),
                {},
                {Plane(seen8.size()), subject.opaque ? Plane() : Plane(seen8.size())}};
    for (int y = 0; y < seen8.height(); ++y)
        for (int x = 0; x < seen8.width(); ++x) {
            const int lx = x + seen.box.left - lit.box.left, ly = y + seen.box.top - lit.box.top;
            if (lx >= 0 && ly >= 0 && lx < lit8.width() && ly < lit8.height())
                out.letters.row(y)[x] = static_cast<float>(alphaOf(lit8.row(ly)[lx])) / 255;
            out.lights[0].row(y)[x] = luminanceOver(seen8.row(y)[x], 255);
            if (!subject.opaque) out.lights[1].row(y)[x] = luminanceOver(seen8.row(y)[x], 0);
        }
    if (!covers) return out;
    const Straight8 over8 = rounded8(resampled(std::make_shared<const Straight8>(covers->clone()),
                                               false, RealRect::of(box.size()), place, want));
    out.hidden = Plane(seen8.size());
    for (int y = 0; y < seen8.height(); ++y)
        for (int x = 0; x < seen8.width(); ++x) {
            const int lx = x + seen.box.left - lit.box.left, ly = y + seen.box.top - lit.box.top;
            if (lx >= 0 && ly >= 0 && lx < over8.width() && ly < over8.height())
                out.hidden.row(y)[x] = alphaOf(over8.row(ly)[lx]) > 8 ? 1.0F : 0.0F;
        }
    return out;
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
double contrastFrom(const LitPart& shown, int x, int y) {
    double worst = 21;
    for (const Plane& light : shown.lights) {
        if (light.empty()) continue;
        const double core = coreLuminance(shown.letters, light, x, y);
        double most = 0;
        around(shown.letters, x, y, beyond, [&](int sx, int sy, float c) {
            if (c <= beside)
                most = std::max(most, contrastRatio(core, static_cast<double>(light.row(sy)[sx])));
        });
        worst = std::min(worst, most);
    }
    return worst;
}

// The 10th percentile along the letters' edge; nothing where there is none.
std::optional<double> contrastAt(const Subject& subject, const Ink& fill, const Straight8* covers,
                                 double scale) {
    const LitPart shown = shownAt(subject, fill, covers, scale);
    const auto isSeen = [&](int x, int y) {
        bool hidden = false;
        if (!shown.hidden.empty())
            around(shown.hidden, x, y, beyond, [&](int, int, float c) { hidden |= c > 0; });
        return !hidden;
    };
    std::vector<double> along;
    for (int y = 0; y < shown.letters.height(); ++y)
        for (int x = 0; x < shown.letters.width(); ++x)
            if (isCore(shown.letters, x, y) && isSeen(x, y))
                along.push_back(contrastFrom(shown, x, y));
    if (along.empty()) return {};
    const auto tenth = along.begin() + static_cast<std::ptrdiff_t>(along.size() / 10);
    std::nth_element(along.begin(), tenth, along.end());
    return *tenth;
}

Verdict heightVerdict(double px) {
    using namespace thresholds;
    return px >= capsPass ? Verdict::pass : px >= capsWatch ? Verdict::watch : Verdict::fail;
}
Verdict contrastVerdict(double ratio) {
    using namespace thresholds;
    return ratio >= contrastPass    ? Verdict::pass
           : ratio >= contrastWatch ? Verdict::watch
                                    : Verdict::fail;
}

struct Faintest {
    double contrast = 21;
    SizeShown at;
};

Faintest faintestOf(const Subject& subject, const Ink& fill, const Straight8* covers,
                    const std::vector<SizeShown>& sizes) {
    Faintest out{21, sizes.front()};
    bool any = false;
    constexpr double alike = 1.2;  // what is nearly as large looks the same
    double looked = 0;
    for (const SizeShown& size : sizes) {
        if (size.scale < alike * looked) continue;
        looked = size.scale;
        if (const auto contrast = contrastAt(subject, fill, covers, std::min(1.0, size.scale));
            contrast && *contrast < out.contrast) {
            out = {*contrast, size};
            any = true;
        }
    }
    if (!any) out.contrast = 0;
    return out;
}

Message faintWords(const Layer& layer, const Faintest& faint, double needed) {
    const auto width = static_cast<long long>(faint.at.width);
    const Finish* outline = outerOutline(layer.finishes);
    if (outline && outerWidth(*outline) < needed)
        return {"lettering.faint-rim",
                {layer.name, told(faint.contrast), width, outerWidth(*outline) * faint.at.scale,
                 needed}};
    return {"lettering.faint", {layer.name, told(faint.contrast), width}};
}

// Of the frame, how much the letters cover, 0..1.
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

}  // namespace

namespace {

// The one finding there is, or what is said of several.
Message lettersTold(const Reading& reading, Message several) {
    return reading.findings.size() == 1 ? reading.findings.front().says : std::move(several);
}

// What is seen of a layer's letters, and where in the frame; nothing when there is none of it.
std::optional<PixelRect> seenPart(const LayerFacts& facts, PixelSize frame) {
    const PixelRect where = facts.box.intersected(PixelRect::of(frame));
    return where.empty() ? std::nullopt : std::optional(where);
}

// Some of a title may stand behind its subject; too much of it is not read any more (common
// practice, no source).
void tellHidden(Reading& reading, const Layer& layer, double share) {
    if (share < thresholds::lettersHidden) return;
    reading.findings.push_back(
        {{}, layer.id, {"lettering.hidden", {std::round(100 * share), layer.name}}});
    reading.verdict = std::max(reading.verdict, Verdict::watch);
}

void tellShare(Reading& reading, const Subject& subject) {
    const double share = shareTaken(subject);
    if (share <= thresholds::lettersShare) return;
    reading.findings.push_back({{}, {}, {"lettering.share", {std::floor(100 * share)}}});
    reading.verdict = std::max(reading.verdict, Verdict::watch);
}

}  // namespace

Reading measureLettering(const Subject& subject) {
    Reading reading;
    reading.unit = "px";
    reading.limit = thresholds::capsPass;
    const Piece& piece = *subject.piece;
    const auto sizes = sizesShown(*subject.brief, piece.frame);
    const auto [scale, width] = sizes.front();
    double smallest = 1e9, faintest = 21, needed = outlineThatCounts(scale);
    bool faint = false, widens = false;
    std::string smallestName, faintestName;
    for (std::size_t i = 0; i < piece.layers.size(); ++i) {
        const Layer& layer = piece.layers[i];
        const LayerFacts& facts = subject.layers[i];
        if (!facts.fill || facts.fill->box.intersected(PixelRect::of(piece.frame)).empty())
            continue;
        const auto covers = coversOf(subject, i);
        const Faintest seen = faintestOf(subject, *facts.fill, covers ? &*covers : nullptr, sizes);
        if (covers) tellHidden(reading, layer, shareHidden(subject, *facts.fill, *covers));
        if (seen.contrast == 0) continue;  // wholly outside the frame; `naming` tells
        const double height = facts.capHeight * scale;
        const auto place = seenPart(facts, piece.frame);
        if (heightVerdict(height) > Verdict::pass)
            reading.findings.push_back(
                {place,
                 layer.id,
                 {"lettering.small", {layer.name, told(height), static_cast<long long>(width)}}});
        if (contrastVerdict(seen.contrast) > Verdict::pass) {
            reading.findings.push_back({place, layer.id, faintWords(layer, seen, needed)});
            faint = true;
            const Finish* outline = outerOutline(layer.finishes);
            widens |= outline && outerWidth(*outline) < needed;
        }
        reading.verdict =
            std::max({reading.verdict, heightVerdict(height), contrastVerdict(seen.contrast)});
        if (height < smallest) std::tie(smallest, smallestName) = std::tuple(height, layer.name);
        if (seen.contrast < faintest)
            std::tie(faintest, faintestName) = std::tuple(seen.contrast, layer.name);
    }
    if (smallest == 1e9) {
        reading.says = reading.findings.empty() ? Message{"lettering.none", {}}
                                                : reading.findings.front().says;
        return reading;
    }
    tellShare(reading, subject);
    reading.value = smallest;
    reading.rule = Rule{smallest, thresholds::capsPass, 4 * thresholds::capsPass};
    reading.shown = fmt::format("{:.1f} px", told(smallest));
    reading.shownBeside = fmt::format("at {} · {:.1f} : 1", width, told(faintest));
    const auto px = static_cast<long long>(width);
    if (reading.findings.empty())
        reading.says = {"lettering.good", {told(smallest), px, told(faintest)}};
    else
        reading.says = lettersTold(
            reading, {"lettering.several",
                      {smallestName, told(smallest), px, faintestName, told(faintest)}});
    if (faint) {
        reading.mends.emplace_back("outline-contrast");
        if (widens) reading.mendWords = {"mend.outline-contrast.wider", {needed}};
    }
    return reading;
}

}  // namespace zl
