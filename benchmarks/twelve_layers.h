// SPDX-License-Identifier: GPL-3.0-or-later
// The piece that speed is measured on: 2560 x 1440, a photograph, 3 full-frame see-through layers,
// 8 of 600 x 300.
#pragma once

#include <stdexcept>

#include "demo/scene.h"
#include "edit/edits.h"
#include "encode/encode.h"
#include "raster/raster.h"

namespace zl::bench {

inline constexpr PixelSize frame{2560, 1440}, small{600, 300};

template <class T>
T must(Result<T> result) {
    if (!result) throw std::runtime_error(result.error().sentence());
    return std::move(*result);
}

inline Straight8 seeThrough(PixelSize size, std::uint32_t seed) {
    Straight8 made(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const std::uint32_t n =
                (static_cast<std::uint32_t>(x * 31 + y * 17) + seed) * 2654435761u;
            made.row(y)[x] =
                (n & 0xFFFFFFu) |
                (static_cast<std::uint32_t>((x + y) * 255 / (size.width + size.height)) << 24);
        }
    return made;
}

// The layers' rasters, bottom first, and where each stands.
struct TwelveLayers {
    std::vector<Straight8> rasters;
    std::vector<PixelRect> places;
    TwelveLayers() {
        const auto add = [&](Straight8 raster, int x, int y) {
            places.push_back(PixelRect::of(raster.size()).moved(x, y));
            rasters.push_back(std::move(raster));
        };
        add(demo::duskAtTheBox(frame, 7), 0, 0);
        for (std::uint32_t i = 0; i < 3; ++i) add(seeThrough(frame, i), 0, 0);
        for (int i = 0; i < 8; ++i)
            add(seeThrough(small, static_cast<std::uint32_t>(10 + i)), 80 + (i % 4) * 610,
                200 + (i / 4) * 500);
    }
    Kit kit() const {
        Piece piece;
        piece.id = "twelve";
        piece.title = "Twelve layers";
        piece.brief = "video-thumbnail";
        piece.frame = frame;
        Kit kit = must(withPiece(Kit{}, piece));
        for (std::size_t i = 0; i < rasters.size(); ++i) {
            const Asset asset =
                makeAsset(must(encode(rasters[i], {Content::png, 0, Chroma::full, Effort::quick})),
                          "layer.png");
            kit = withAsset(kit, asset);
            Layer layer;
            layer.name = "Layer of a benchmark, " + std::to_string(i);
            layer.what = PictureLayer{
                asset.sha256,
                RealRect::of(rasters[i].size()),
                {static_cast<double>(places[i].left), static_cast<double>(places[i].top),
                 static_cast<double>(places[i].width()), static_cast<double>(places[i].height())}};
            kit = must(withLayer(kit, "twelve", layer));
        }
        return kit;
    }
};

}  // namespace zl::bench
