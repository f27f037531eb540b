// SPDX-License-Identifier: GPL-3.0-or-later
// What the tests share: a folder that vanishes, small made pictures, small kits.
#pragma once

#include <gtest/gtest.h>

#include <cstdlib>
#include <functional>
#include <string>

#include "base/data_files.h"
#include "base/file.h"
#include "brief/brief.h"
#include "edit/edits.h"
#include "encode/encode.h"
#include "kit/kit.h"
#include "raster/raster.h"
#include "readings/reading.h"
#include "support/places.h"

namespace zl::test {

class Folder {
  public:
    Folder() {
        std::string pattern = (std::filesystem::temp_directory_path() / "zinc-XXXXXX").string();
        path_ = ::mkdtemp(pattern.data());
    }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    ~Folder() {
        // A program that is just ending may take its own files away at the same time.
        std::error_code failed;
        for (int tries = 0; tries < 20; ++tries) {
            std::filesystem::remove_all(path_, failed);
            if (!failed) return;
            std::this_thread::sleep_for(std::chrono::milliseconds(50));
        }
    }
    Path operator/(const std::string& name) const { return path_ / name; }
    const Path& path() const { return path_; }

  private:
    Path path_;
};

// The value of a result, or a failed test that says why.
template <class T>
T good(Result<T> result) {
    if (!result) throw std::runtime_error("unexpected error: " + result.error().sentence());
    return std::move(*result);
}

inline Straight8 painted(PixelSize size, const std::function<std::uint32_t(int, int)>& pixel) {
    Straight8 raster(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) raster.row(y)[x] = pixel(x, y);
    return raster;
}

// Neither flat nor noise: slopes in each channel with a hashed grain.
inline Straight8 textured(PixelSize size, int grain = 24) {
    return painted(size, [=](int x, int y) {
        const std::uint32_t n = (static_cast<std::uint32_t>(x) * 2654435761u) ^
                                (static_cast<std::uint32_t>(y) * 2246822519u);
        const int g = grain == 0 ? 0 : static_cast<int>((n ^ n >> 13) * 1274126177u >> 24) % grain;
        return packed(std::min(255, 200 * x / size.width + g),
                      std::min(255, 200 * y / size.height + g), std::min(255, 90 + g), 255);
    });
}

// Every byte independent: no encoder makes it small.
inline Straight8 noisy(PixelSize size) {
    return painted(size, [](int x, int y) {
        std::uint32_t n = static_cast<std::uint32_t>(x) * 2654435761u +
                          static_cast<std::uint32_t>(y) * 2246822519u + 1;
        n ^= n >> 15;
        n *= 0x2c1b3c6du;
        n ^= n >> 12;
        n *= 0x297a2d39u;
        return (n ^ n >> 15) | 0xFF000000u;
    });
}

// A picture to begin with: its pixels count, not its bytes.
inline Bytes png(const Straight8& raster) {
    return good(encode(raster, {.effort = Effort::quick}));
}
inline Bytes jpeg(const Straight8& raster, int quality = 90) {
    return good(encode(raster, {Content::jpeg, quality, Chroma::full, Effort::release}));
}

// The reading of that id; a failed test when there is none.
inline Reading one(const std::vector<Reading>& readings, const std::string& id) {
    for (const Reading& reading : readings)
        if (reading.id == id) return reading;
    ADD_FAILURE() << "no reading " << id;
    return {};
}

// What a bar is made of; nothing for another kind.
inline const BarLayer* barOf(const Layer& layer) {
    return std::get_if<BarLayer>(&layer.what);
}
inline BarLayer* barOf(Layer& layer) {
    return std::get_if<BarLayer>(&layer.what);
}

inline const Briefs& briefs() {
    static const Briefs all = good(loadBriefs(good(dataFolder()), "/nowhere"));
    return all;
}
inline const Brief& brief(const std::string& id) {
    return *briefs().find(id);
}

inline Bytes bytesOf(std::string_view text) {
    return Bytes(text.begin(), text.end());
}
inline std::string textOf(const Bytes& bytes) {
    return {bytes.begin(), bytes.end()};
}

// A kit with one piece, "p", of a brief and a frame.
inline Kit kitWith(const std::string& briefId, PixelSize frame) {
    Piece piece;
    piece.id = "p";
    piece.title = "Made for a test";
    piece.brief = briefId;
    piece.frame = frame;
    piece.release.name = "made-for-a-test";
    return good(withPiece(Kit{}, piece));
}

// The kit with a picture on top, shown at `place`, named after its file.
inline Kit withPicture(Kit kit, const Straight8& raster, RealRect place,
                       const std::string& name = "dusk.png") {
    const Asset asset = makeAsset(png(raster), name);
    kit = withAsset(kit, asset);
    Layer layer;
    layer.name = stemOf(name);
    layer.what = PictureLayer{asset.sha256, RealRect::of(raster.size()), place};
    return good(withLayer(kit, kit.pieces.front().id, layer));
}

inline Kit withLetters(Kit kit, const std::string& text, double size, RealPoint at) {
    Layer layer;
    layer.name = cutToFit(text);
    LetteringLayer letters;
    letters.text = text;
    letters.size = size;
    letters.at = at;
    layer.what = letters;
    return good(withLayer(kit, kit.pieces.front().id, layer));
}

}  // namespace zl::test
