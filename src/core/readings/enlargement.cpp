// SPDX-License-Identifier: GPL-3.0-or-later
// `enlargement`: per picture, frame px per original px after its crop (common practice, no source).
// An SVG has as many px as it is drawn with.
#include <fmt/core.h>

#include <cmath>

#include "kit/layer_kinds.h"
#include "readings/reading.h"

namespace zl {

Reading measureEnlargement(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "×";
    reading.limit = enlargementPass;
    reading.rule = Rule{0, enlargementPass, 2};
    double worst = 0;
    const Layer* worstLayer = nullptr;
    for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
        const Layer& layer = subject.piece->layers[i];
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture) continue;
        const double scale = std::max(picture->place.width / picture->crop.width,
                                      picture->place.height / picture->crop.height) /
                             subject.layers[i].timesDrawn;
        if (!worstLayer || scale > worst) {
            worst = scale;
            worstLayer = &layer;
        }
        const auto whole = [](double v) { return static_cast<long long>(std::llround(v)); };
        if (scale > enlargementPass * (1 + 1e-9))
            reading.findings.push_back(
                {subject.layers[i].box.intersected(PixelRect::of(subject.piece->frame)),
                 layer.id,
                 {"enlargement.layer",
                  {layer.name, whole(picture->crop.width), whole(picture->crop.height),
                   whole(picture->place.width), whole(picture->place.height)}}});
    }
    if (!worstLayer) {
        reading.says = {"enlargement.no-pictures", {}};
        return reading;
    }
    reading.value = worst;
    reading.rule->value = worst;
    reading.shown = fmt::format("{:.2f} ×", worst);
    reading.shownBeside = "of its pixels";
    reading.verdict = worst <= enlargementPass * (1 + 1e-9) ? Verdict::pass
                      : worst <= enlargementWatch           ? Verdict::watch
                                                            : Verdict::fail;
    if (reading.verdict != Verdict::pass) reading.mends.emplace_back("scale-to-source");
    reading.says = reading.verdict == Verdict::pass
                       ? Message{"enlargement.none", {}}
                       : Message{"enlargement.most", {worstLayer->name, worst}};
    return reading;
}

}  // namespace zl
