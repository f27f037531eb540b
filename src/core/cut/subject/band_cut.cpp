// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/band_cut.h"

#include <algorithm>
#include <cmath>

#include "cut/subject/graph.h"
#include "raster/components.h"

namespace zl {
namespace {

// px: how far from the border colours may speak against their label.
float reachIn(PixelSize whole) {
    return static_cast<float>(std::max(whole.width, whole.height)) / 16;
}

// Pixels further from the border whose colour speaks clearly against their label and that hang
// together with the border: spikes, spokes. Too large a one is another thing of like colour.
void openThinThings(Labels& known, const Working& large, const Labels& labels, const Plane& depth,
                    const Colours& colours, float band, PixelSize whole) {
    const PixelSize size = large.size();
    const float reach = reachIn(whole);
    constexpr float clearly = 2.5F;
    const auto disagrees = [&](int x, int y) {
        if (known.at(x, y) == undecided || depth.row(y)[x] > reach) return false;
        const float ratio = colours(large.pixels.row(y)[x]);
        return labels.at(x, y) == ofSubject ? ratio < -clearly : ratio > clearly;
    };
    const Components parts(size, Neighbours::eight, disagrees);
    std::vector<bool> joined(parts.all().size(), false);
    for (const Components::Run& run : parts.runs())
        for (int x = run.from; x < run.to; ++x)
            if (depth.row(run.y)[x] < band + 2)
                joined[static_cast<std::size_t>(run.component)] = true;
    const auto most = static_cast<long long>(0.004 * static_cast<double>(whole.count()));
    for (const Components::Run& run : parts.runs()) {
        const auto component = static_cast<std::size_t>(run.component);
        if (!joined[component] || parts.all()[component].pixels > most) continue;
        for (int y = std::max(0, run.y - 1); y <= std::min(size.height - 1, run.y + 1); ++y)
            for (int x = std::max(0, run.from - 1); x < std::min(size.width, run.to + 1); ++x)
                known.at(x, y) = undecided;
    }
}

}  // namespace

Result<Labels> bandCut(const Working& large, const Working& small, const Labels& labels,
                       std::span<const Stroke> strokes, const Leaning& leaning) {
    const PixelSize whole = large.size();
    Labels coarse = enlarged(labels, whole);
    const float band = 2 * static_cast<float>(large.scale / small.scale) + 0.5F;
    // All that can change lies near the subject: the rest is left out.
    const int room = static_cast<int>(reachIn(whole) + band) + 3;
    const PixelRect box = boxOf(coarse, ofSubject);
    if (box.empty()) return coarse;
    const PixelRect part =
        PixelRect{box.left - room, box.top - room, box.right + room, box.bottom + room}.intersected(
            PixelRect::of(whole));
    const Working near{partOf(large.pixels, part), partOf(large.sure, part), large.scale,
                       large.contrast};
    const Labels own = partOf(coarse, part);
    const Labels touched =
        strokes.empty() ? Labels{} : partOf(drawn(strokes, whole, large.scale), part);
    const Colours colours(small, labels,
                          strokes.empty() ? Labels{} : drawn(strokes, small.size(), small.scale));
    const Plane depth = depthOf(own);
    Labels known = own;
    for (int y = 0; y < known.height(); ++y)
        for (int x = 0; x < known.width(); ++x)
            if (depth.row(y)[x] <= band) known.at(x, y) = undecided;
    if (colours.apart() > 0.4) openThinThings(known, near, own, depth, colours, band, whole);
    for (std::size_t i = 0; i < known.all().size(); ++i) {
        if (!touched.empty() && touched.all()[i] != undecided) known.all()[i] = touched.all()[i];
        if (near.sure.all()[i] != undecided) known.all()[i] = near.sure.all()[i];
    }
    const auto cut = minimumCut(
        known, [&](int x, int y) { return colours(near.pixels.row(y)[x]); },
        [&](int x, int y, int dx, int dy) { return leaning.together * near.link(x, y, dx, dy); });
    if (!cut) return cut;
    for (int y = 0; y < cut->height(); ++y)
        std::copy_n(cut->row(y), cut->width(), coarse.row(part.top + y) + part.left);
    return coarse;
}

}  // namespace zl
