// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/layer_kinds.h"

#include <algorithm>

#include <cmath>

#include "base/overloads.h"

namespace zl {

const std::array<LayerKind, std::variant_size_v<LayerWhat>>& layerKinds() {
    static constexpr std::array<LayerKind, std::variant_size_v<LayerWhat>> kinds{{
        {.id = "picture", .icon = "picture", .noun = "Picture"},
        {.id = "lettering",
         .icon = "lettering",
         .noun = "Lettering",
         .isText = true,
         .keepsShape = true},
        {.id = "bar", .icon = "bar", .noun = "Bar"},
    }};
    return kinds;
}

const PictureLayer* releasedPicture(const Layer& layer) {
    const PictureLayer* picture = layer.hidden ? nullptr : layer.picture();
    return picture && !picture->reference ? picture : nullptr;
}
PictureLayer* releasedPicture(Layer& layer) {
    return const_cast<PictureLayer*>(releasedPicture(std::as_const(layer)));
}

const Asset* assetOf(const Layer& layer, const Kit& kit) {
    const PictureLayer* picture = layer.picture();
    return picture ? kit.asset(picture->source) : nullptr;
}

Layer moved(Layer layer, double dx, double dy) {
    const auto box = [&](auto& what) {
        what.place.x += dx;
        what.place.y += dy;
    };
    std::visit(
        Overloads{[&](PictureLayer& picture) { box(picture); }, [&](BarLayer& bar) { box(bar); },
                  [&](LetteringLayer& letters) {
                      letters.at.x += dx;
                      letters.at.y += dy;
                  }},
        layer.what);
    return layer;
}

Layer scaled(Layer layer, double fx, double fy, RealPoint fixed) {
    const auto about = [](double v, double f, double c) { return c + (v - c) * f; };
    const double mean = std::sqrt(fx * fy);
    const auto box = [&](RealRect& p) {
        p = {about(p.x, fx, fixed.x), about(p.y, fy, fixed.y), p.width * fx, p.height * fy};
    };
    std::visit(Overloads{[&](PictureLayer& picture) { box(picture.place); },
                         [&](LetteringLayer& l) {
                             l.at = {about(l.at.x, mean, fixed.x), about(l.at.y, mean, fixed.y)};
                             l.size *= mean;
                         },
                         [&](BarLayer& bar) {
                             box(bar.place);
                             bar.radius *= mean;
                             bar.thickness *= mean;
                         }},
               layer.what);
    for (Finish& finish : layer.finishes) finish = scaled(finish, mean);
    return layer;
}

bool PictureLayer::showsSubject() const {
    return std::any_of(cuts.begin(), cuts.end(), [](const Cut& cut) {
        return !cut.off && cut.subject() && cut.subject()->part == SubjectPart::subject;
    });
}

}  // namespace zl
