// SPDX-License-Identifier: GPL-3.0-or-later
// What is true of a kind of layer as a whole, one row a kind. CONTRIBUTING.md tells how a kind is
// added: its struct in kit.h, its row here, and the overloads that the compiler then asks for.
#pragma once

#include <array>
#include <string_view>

#include "kit/kit.h"

namespace zl {

struct LayerKind {
    std::string_view id;      // in kit files: "picture", "lettering", "bar"
    std::string_view icon;    // of data/icons
    std::string_view noun;    // what a new layer of it is called: "Picture"
    bool isText = false;      // it says something: title zones count for it, and it is always
                              // essential
    bool keepsShape = false;  // it is scaled as a whole, never one side alone
};

// In the order of LayerWhat's alternatives.
const std::array<LayerKind, std::variant_size_v<LayerWhat>>& layerKinds();
inline const LayerKind& kindOf(const Layer& layer) {
    return layerKinds()[layer.what.index()];
}

// The picture of a layer that is seen and will be released; nothing for a hidden layer, a
// reference, and a layer of another kind.
const PictureLayer* releasedPicture(const Layer& layer);
PictureLayer* releasedPicture(Layer& layer);
// The original that a layer shows; nothing where it shows none, or the kit has lost it.
const Asset* assetOf(const Layer& layer, const Kit& kit);

// The layer moved by whole or part px; scaled about a fixed point, its finishes with it
// (lettering keeps its shape).
Layer moved(Layer layer, double dx, double dy);
Layer scaled(Layer layer, double factorX, double factorY, RealPoint fixed);

}  // namespace zl
