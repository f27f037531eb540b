// SPDX-License-Identifier: GPL-3.0-or-later
// A kit: one channel's pieces, as plain values. Copies are cheap (originals are shared, read only),
// so that history is a list of kits. Positions and lengths are frame px, from the top left corner.
#pragma once

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "base/result.h"
#include "base/shared.h"
#include "kit/layer.h"
#include "kit/stamp_values.h"

namespace zl {

enum class FormatChoice { best, png, jpeg, palette, gif, webp };  // palette: PNG with 256 colours
enum class ChromaChoice { best, full, half };

struct ReleaseChoice {
    std::string name;  // file name without folder; its ending follows the format unless the person
                       // typed one
    FormatChoice format = FormatChoice::best;
    int quality = 0;                           // JPEG and WebP, 1..100; 0: the best under the limit
    ChromaChoice chroma = ChromaChoice::best;  // JPEG with a quality of its own; best: full
    bool dither = true;                        // palette and GIF
    std::optional<Colour>
        matte{};           // what see-through pixels are laid on where the format has no alpha
    std::string moving{};  // the id of the kind that it moves in; empty: as the brief asks
    bool operator==(const ReleaseChoice&) const = default;
};

// A line to build along: at px of the frame, or at a share of it that follows the frame.
struct Guide {
    bool upright = true;
    double at = 0;  // px, or 0..1 of the frame's width or height
    bool isShare = false;
    double inPx(PixelSize frame) const {
        return isShare ? at * (upright ? frame.width : frame.height) : at;
    }
    bool operator==(const Guide&) const = default;
};

// Lettering and finish, saved to be worn by other layers.
struct Look {
    std::string name;
    LetteringLayer letters;  // of it: font, size, leading, tracking, capitals, colour; not its text
                             // nor its place
    std::vector<Finish> finishes;
    bool operator==(const Look&) const = default;
};

// A rectangle of the frame that leads somewhere.
struct LinkRegion {
    PixelRect place;      // frame px
    std::string address;  // http or https
    std::string says;     // what it is, for those who do not see it
    bool operator==(const LinkRegion&) const = default;
};

// A rectangle of the frame that is released as a file of its own beside the piece, pixel for pixel.
struct Slice {
    std::string name;     // its file is PIECE-NAME
    PixelRect place;      // frame px, inside the frame
    std::string brief{};  // what it is held against; empty: the piece's own formats, no frame
    bool operator==(const Slice&) const = default;
};

// The video that a piece goes with.
struct PieceVideo {
    std::string file;   // its path; one without a root begins at the kit's folder
    double length = 0;  // s
    bool operator==(const PieceVideo&) const = default;
};

// As the schema of kit files has them.
inline constexpr std::size_t mostPieces = 1000, mostLayers = 500;  // of a kit; of a piece

struct Piece {
    std::string id;  // lower case, digits, hyphens; unique in the kit
    std::string title;
    std::string brief;  // its id
    PixelSize frame;
    ReleaseChoice release;
    std::vector<Layer> layers;  // bottom first
    std::vector<Guide> guides{};
    std::string variantOf{};  // the id of the piece that it is another try at; empty: none
    std::string
        laidFrom{};  // the id of the piece that it was laid out from for another place; empty: none
    std::vector<LinkRegion> links{};
    std::vector<Slice> slices{};
    std::optional<PieceVideo> video{};
    bool ownScreen = false;  // its frame is the person's own screen, where the brief allows one
    double length = 0;       // s, of a moving piece; 0: as long as its clips are shown

    const Layer* layer(int layerId) const;
    bool operator==(const Piece&) const = default;
};

struct Kit {
    std::string title = "New kit";
    SharedList<Piece> pieces;  // an edit of one leaves the others shared with the kit before it
    SharedMap<std::string, Asset> assets;  // by SHA-256
    std::vector<std::string> fonts;        // SHA-256 of the assets that are font files of its own
    std::vector<Colour> colours;           // the channel's own
    std::vector<Look> looks;
    std::vector<Stamp> stamps;  // each of another name

    const Piece* piece(std::string_view id) const;
    const Stamp* stamp(std::string_view name) const;
    const Asset* asset(std::string_view sha256) const;
    std::set<std::string> assetsInUse() const;  // SHA-256 of what a layer shows or a font is
    bool operator==(const Kit&) const = default;
};

// An id out of a title: "Thumbnail, ep. 12" -> "thumbnail-ep-12"; "piece" when nothing is left; not
// one of `taken`.
std::string idFromTitle(std::string_view title, const Kit& taken);
// The same rule for file names, without looking at any kit.
std::string fileNameFromTitle(std::string_view title);

// The longest name or title of a kit, a piece or a layer, in bytes of UTF-8.
inline constexpr std::size_t longestName = 200;
// The text, cut to `most` bytes at the end of a letter.
std::string cutToFit(std::string text, std::size_t most = longestName);

// A layer's name out of what it says: its first words in one line, at most 40 bytes; empty when it
// says nothing.
std::string nameFromText(const std::string& text);

Asset makeAsset(Bytes bytes, std::string name);

}  // namespace zl
