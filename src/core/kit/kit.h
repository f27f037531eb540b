// SPDX-License-Identifier: GPL-3.0-or-later
// A kit: one channel's pieces, as plain values. Copies are cheap (originals are shared, read only), so that history is a
// list of kits. Positions and lengths are frame px, from the top left corner.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <variant>
#include <vector>

#include "base/bytes.h"
#include "base/colour_value.h"
#include "base/geometry.h"
#include "base/result.h"

namespace zl {

// An original as it was brought in: bytes, never pixels.
struct Asset {
    std::string sha256;  // of the bytes
    std::string name;    // the file name it came with
    std::shared_ptr<const Bytes> bytes;
    bool operator==(const Asset& o) const { return sha256 == o.sha256 && name == o.name; }
};

// A picture shows the part `crop` (px of the original, after its orientation) at `place` (frame px).
struct PictureLayer {
    std::string source;  // SHA-256 of the asset
    RealRect crop;
    RealRect place;
    bool reference = false;  // seen while making, never released
    bool operator==(const PictureLayer&) const = default;
};

enum class Align { left, centre, right };

struct Outline {
    double px = 0;  // outside the letters; 0: none
    Colour colour{16, 21, 28, 255};
    bool operator==(const Outline&) const = default;
};

struct LetteringLayer {
    RealPoint at;      // top left corner of the text block
    std::string text;  // UTF-8, lines parted by \n
    std::string family = "League Spartan";
    std::string style = "ExtraBold";
    double size = 100;   // px of the em
    double leading = 1;  // line distance over the font's own
    Align align = Align::left;
    Colour colour{255, 246, 227, 255};
    Outline outline;
    bool operator==(const LetteringLayer&) const = default;
};

struct Layer {
    int id = 0;  // unique in its piece, never used again
    std::string name;
    bool hidden = false;
    double opacity = 1;  // 0..1
    std::variant<PictureLayer, LetteringLayer> what;
    std::optional<bool> essential;  // whether zones may not take anything of it; nothing: as its kind and size say

    const PictureLayer* picture() const { return std::get_if<PictureLayer>(&what); }
    const LetteringLayer* lettering() const { return std::get_if<LetteringLayer>(&what); }
    PictureLayer* picture() { return std::get_if<PictureLayer>(&what); }
    bool isReference() const { return picture() && picture()->reference; }
    LetteringLayer* lettering() { return std::get_if<LetteringLayer>(&what); }
    bool operator==(const Layer&) const = default;
};

enum class FormatChoice { best, png, jpeg, palette, gif, webp };  // palette: PNG with 256 colours
enum class ChromaChoice { best, full, half };

struct ReleaseChoice {
    std::string name;  // file name without folder; its ending follows the format unless the person typed one
    FormatChoice format = FormatChoice::best;
    int quality = 0;                           // JPEG and WebP, 1..100; 0: the best under the limit
    ChromaChoice chroma = ChromaChoice::best;  // JPEG with a quality of its own; best: full
    bool dither = true;                        // palette and GIF
    std::optional<Colour> matte{};             // what see-through pixels are laid on where the format has no alpha
    bool operator==(const ReleaseChoice&) const = default;
};

struct Piece {
    std::string id;  // lower case, digits, hyphens; unique in the kit
    std::string title;
    std::string brief;  // its id
    PixelSize frame;
    ReleaseChoice release;
    std::vector<Layer> layers;  // bottom first

    const Layer* layer(int layerId) const;
    bool operator==(const Piece&) const = default;
};

struct Kit {
    std::string title = "New kit";
    std::vector<Piece> pieces;
    std::map<std::string, Asset> assets;  // by SHA-256
    std::vector<std::string> fonts;       // SHA-256 of the assets that are font files of its own

    const Piece* piece(std::string_view id) const;
    const Asset* asset(std::string_view sha256) const;
    std::set<std::string> assetsInUse() const;  // SHA-256 of what a layer shows or a font is
    bool operator==(const Kit&) const = default;
};

// An id out of a title: "Thumbnail, ep. 12" -> "thumbnail-ep-12"; "piece" when nothing is left; not one of `taken`.
std::string idFromTitle(std::string_view title, const Kit& taken);
// The same rule for file names, without looking at any kit.
std::string fileNameFromTitle(std::string_view title);

// The longest name or title of a kit, a piece or a layer, in bytes of UTF-8.
inline constexpr std::size_t longestName = 200;
// The text, cut to `most` bytes at the end of a letter.
std::string cutToFit(std::string text, std::size_t most = longestName);

Asset makeAsset(Bytes bytes, std::string name);

}  // namespace zl
