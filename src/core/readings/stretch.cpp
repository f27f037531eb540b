// SPDX-License-Identifier: GPL-3.0-or-later
// `stretch`: per picture, max(sx/sy, sy/sx) − 1, the scales being frame px per original px (common
// practice, no source).
#include <fmt/core.h>

#include "kit/layer_kinds.h"
#include "readings/reading.h"

namespace zl {

Reading measureStretch(const Subject& subject) {
    using namespace thresholds;
    Reading reading;
    reading.unit = "ratio";
    reading.limit = stretchPass;
    reading.rule = Rule{0, stretchPass * 100, 10};
    double worst = 0;
    const Layer* worstLayer = nullptr;
    bool any = false;
    for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
        const Layer& layer = subject.piece->layers[i];
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture) continue;
        any = true;
        const double sx = picture->place.width / picture->crop.width,
                     sy = picture->place.height / picture->crop.height;
        const double stretch = std::max(sx / sy, sy / sx) - 1;
        if (stretch > worst) {
            worst = stretch;
            worstLayer = &layer;
        }
        if (stretch > stretchPass)
            reading.findings.push_back(
                {subject.layers[i].box.intersected(PixelRect::of(subject.piece->frame)),
                 layer.id,
                 {"stretch.layer",
                  {layer.name, stretch * 100, std::string(sx < sy ? "narrower" : "wider")}}});
    }
    if (!any) {
        reading.says = {"stretch.no-pictures", {}};
        return reading;
    }
    reading.value = worst;
    reading.rule->value = worst * 100;
    reading.shown = fmt::format("{:.1f} %", worst * 100);
    reading.shownBeside = "0.5 % allowed";
    reading.verdict = worst <= stretchPass    ? Verdict::pass
                      : worst <= stretchWatch ? Verdict::watch
                                              : Verdict::fail;
    if (reading.verdict == Verdict::pass) {
        reading.says = {"stretch.none", {}};
    } else {
        reading.says = {"stretch.most", {worstLayer->name, worst * 100}};
        reading.mends.emplace_back("unstretch");
    }
    return reading;
}

}  // namespace zl
