// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/layer_kinds.h"

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

}  // namespace zl
