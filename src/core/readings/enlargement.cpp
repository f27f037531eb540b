// SPDX-License-Identifier: GPL-3.0-or-later
// `enlargement`: per picture, frame px per original px after its crop (common practice, no source).
// An SVG has as many px as it is drawn with; a picture of pixels that it holds has its own.
#include "readings/enlargement.h"

#include <fmt/core.h>

#include <cmath>

#include "kit/layer_kinds.h"
#include "readings/reading.h"

namespace zl {
namespace {

double placedScale(const PictureLayer& picture) {
    return std::max(picture.place.width / picture.crop.width,
                    picture.place.height / picture.crop.height);
}

bool isTooLarge(double scale) {
    return scale > thresholds::enlargementPass * (1 + 1e-9);
}

Message found(const Layer& layer, const PictureLayer& picture, const LayerFacts& facts) {
    const auto whole = [](double v) { return static_cast<long long>(std::llround(v)); };
    if (const double held = placedScale(picture) * facts.held.enlarged; isTooLarge(held))
        return {"enlargement.held", {layer.name, held}};
    return {"enlargement.layer",
            {layer.name, whole(picture.crop.width), whole(picture.crop.height),
             whole(picture.place.width), whole(picture.place.height)}};
}

}  // namespace

double enlargementOf(const PictureLayer& picture, int timesDrawn, const SvgPictures& held) {
    return placedScale(picture) * std::max(1.0 / timesDrawn, held.enlarged);
}

Reading measureEnlargement(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "×";
    reading.limit = enlargementPass;
    reading.rule = Rule{0, enlargementPass, 2};
    double worst = 0;
    const Layer* worstLayer = nullptr;
    bool unmeasured = false;
    for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
        const Layer& layer = subject.piece->layers[i];
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture) continue;
        const LayerFacts& facts = subject.layers[i];
        const double scale = enlargementOf(*picture, facts.timesDrawn, facts.held);
        if (!worstLayer || scale > worst) {
            worst = scale;
            worstLayer = &layer;
        }
        const PixelRect box = facts.box.intersected(PixelRect::of(subject.piece->frame));
        if (isTooLarge(scale))
            reading.findings.push_back({box, layer.id, found(layer, *picture, facts)});
        if (facts.held.unmeasured) {
            unmeasured = true;
            reading.findings.push_back({box, layer.id, {"enlargement.unmeasured", {layer.name}}});
        }
    }
    if (!worstLayer) {
        reading.says = {"enlargement.no-pictures", {}};
        return reading;
    }
    reading.value = worst;
    reading.rule->value = worst;
    reading.shown = fmt::format("{:.2f} ×", worst);
    reading.shownBeside = "of its pixels";
    reading.verdict = !isTooLarge(worst)          ? Verdict::pass
                      : worst <= enlargementWatch ? Verdict::watch
                                                  : Verdict::fail;
    if (isTooLarge(worst)) reading.mends.emplace_back("scale-to-source");
    reading.says = isTooLarge(worst) ? Message{"enlargement.most", {worstLayer->name, worst}}
                   : unmeasured      ? reading.findings.front().says
                                     : Message{"enlargement.none", {}};
    if (unmeasured && reading.verdict == Verdict::pass) reading.verdict = Verdict::watch;
    return reading;
}

}  // namespace zl
