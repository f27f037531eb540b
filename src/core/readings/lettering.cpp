// SPDX-License-Identifier: GPL-3.0-or-later
// `lettering`: per lettering layer, the height of its capitals at each surface's width (common practice, no source) and the
// contrast of its fill against what touches it, by WCAG 2.2 relative luminance (SC 1.4.3, 1.4.11). What touches it is an
// outline of at least 1 px at that surface, else the pixels within 3 px round the glyphs; the 10th percentile along the
// edge counts. With an outline the better of the two counts.
#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "raster/colour.h"
#include "readings/reading.h"
#include "readings/surface_notes.h"

namespace zl {
namespace {

double luminance(Colour c) {
    return relativeLuminance(c.red, c.green, c.blue);
}

// The worse of the two where the picture is see-through: nobody knows what will be behind it.
double contrastWith(double fill, std::uint32_t pixel) {
    const double a = alphaOf(pixel) / 255.0;
    double worst = 21;
    for (const double under : {255.0, 0.0}) {
        const auto over = [&](int c) { return std::round(c * a + under * (1 - a)); };
        worst = std::min(worst, contrastRatio(fill, relativeLuminance(over(redOf(pixel)), over(greenOf(pixel)), over(blueOf(pixel)))));
    }
    return worst;
}

double fillAt(const Ink& ink, int x, int y) {
    x -= ink.box.left;
    y -= ink.box.top;
    if (x < 0 || y < 0 || x >= ink.box.width() || y >= ink.box.height()) return 0;
    return ink.sixteen->row(3, y)[x] / 65535.0;
}

// The 10th percentile along the glyphs' edge of the contrast with the pixels round them; nothing when there is no edge.
std::optional<double> contrastBehind(const Ink& fill, const Ink& whole, Colour colour, const Straight8& frame) {
    const double light = luminance(colour);
    std::vector<double> along;
    const int reach = 3 + (whole.box.width() - fill.box.width() + 1) / 2;  // past the outline
    const PixelRect seen = fill.box.intersected(PixelRect::of(frame.size()));
    for (int y = seen.top; y < seen.bottom; ++y)
        for (int x = seen.left; x < seen.right; ++x) {
            if (fillAt(fill, x, y) < 0.5) continue;
            const auto outside = [&](int dx, int dy) { return fillAt(fill, x + dx, y + dy) < 0.5; };
            if (!outside(1, 0) && !outside(-1, 0) && !outside(0, 1) && !outside(0, -1)) continue;
            // Straight out in eight directions: the mean of what lies up to 3 px beyond the ink.
            double sum = 0;
            int count = 0;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    if ((dx == 0 && dy == 0) || !outside(dx, dy)) continue;
                    int beyond = 0;
                    for (int step = 1; step <= reach && beyond < 3; ++step) {
                        const int px = x + dx * step, py = y + dy * step;
                        if (px < 0 || py < 0 || px >= frame.width() || py >= frame.height()) break;
                        if (fillAt(whole, px, py) > 0.05) continue;
                        ++beyond;
                        ++count;
                        sum += contrastWith(light, frame.row(py)[px]);
                    }
                }
            if (count > 0) along.push_back(sum / count);
        }
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
    return ratio >= contrastPass ? Verdict::pass : ratio >= contrastWatch ? Verdict::watch : Verdict::fail;
}

// How large the piece is shown where it is smallest, and that surface's width, px; its own size when no surface shows it.
struct Smallest {
    double scale = 1;
    int width = 0;
};
Smallest smallestSurface(const Brief& brief, PixelSize frame) {
    Smallest least{1, frame.width};
    for (const SurfaceSpec& surface : brief.surfaces)
        if (const double scale = brief.scaleOn(surface, frame); scale > 0 && scale < least.scale) least = {scale, surface.width};
    return least;
}

}  // namespace

Reading measureLettering(const Subject& subject) {
    Reading reading;
    reading.unit = "px";
    reading.limit = thresholds::capsPass;
    const Piece& piece = *subject.piece;
    const auto [scale, width] = smallestSurface(*subject.brief, piece.frame);
    double smallest = 1e9, faintest = 21;
    bool fails = false;
    std::string smallestName, faintestName;
    for (std::size_t i = 0; i < piece.layers.size(); ++i) {
        const Layer& layer = piece.layers[i];
        const LetteringLayer* letters = layer.lettering();
        const LayerFacts& facts = subject.layers[i];
        if (!letters || !facts.fill || facts.fill->box.empty()) continue;
        const double height = facts.capHeight * scale;
        double contrast = 0;
        const Finish* outline = outerOutline(layer.finishes);
        if (outline && outerWidth(*outline) * scale >= 1) contrast = contrastRatio(luminance(letters->colour), luminance(outline->colour));
        if (contrast < thresholds::contrastPass)
            if (const auto behind = contrastBehind(*facts.fill, *facts.outlined, letters->colour, *subject.pixels))
                contrast = std::max(contrast, *behind);
        if (contrast == 0) continue;  // wholly outside the frame; `naming` tells
        const PixelRect where = facts.box.intersected(PixelRect::of(piece.frame));
        const auto place = where.empty() ? std::nullopt : std::optional(where);
        if (heightVerdict(height) > Verdict::pass)
            reading.findings.push_back({place, layer.id, {"lettering.small", {layer.name, told(height), static_cast<long long>(width)}}});
        if (contrastVerdict(contrast) > Verdict::pass) {
            reading.findings.push_back({place, layer.id, {"lettering.faint", {layer.name, contrast}}});
            fails = true;
        }
        reading.verdict = std::max({reading.verdict, heightVerdict(height), contrastVerdict(contrast)});
        if (height < smallest) {
            smallest = height;
            smallestName = layer.name;
        }
        if (contrast < faintest) {
            faintest = contrast;
            faintestName = layer.name;
        }
    }
    if (smallest == 1e9) {
        reading.says = {"lettering.none", {}};
        return reading;
    }
    reading.value = smallest;
    reading.rule = Rule{smallest, thresholds::capsPass, 4 * thresholds::capsPass};
    reading.shown = fmt::format("{:.1f} px", told(smallest));
    reading.shownBeside = fmt::format("at {} · {:.1f} : 1", width, faintest);
    if (reading.findings.empty())
        reading.says = {"lettering.good", {told(smallest), static_cast<long long>(width), faintest}};
    else
        reading.says =
            reading.findings.size() == 1
                ? reading.findings.front().says
                : Message{"lettering.several", {smallestName, told(smallest), static_cast<long long>(width), faintestName, faintest}};
    if (fails) reading.mends.emplace_back("outline-contrast");
    return reading;
}

}  // namespace zl
