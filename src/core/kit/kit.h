// SPDX-License-Identifier: GPL-3.0-or-later
// A kit: one channel's pieces, as plain values. Copies are cheap (originals are shared, read only),
// so that history is a list of kits. Positions and lengths are frame px, from the top left corner.
#pragma once

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
#include "base/shared.h"
#include "kit/cut_values.h"
#include "kit/finish_values.h"

namespace zl {

// An original as it was brought in: bytes, never pixels.
struct Asset {
    std::string sha256;  // of the bytes
    std::string name;    // the file name it came with
    std::shared_ptr<const Bytes> bytes;
    bool operator==(const Asset& o) const { return sha256 == o.sha256 && name == o.name; }
};

// A non-destructive change of a picture's colour; each from -100 to 100, 0 leaves it alone.
// docs/kit-format.md says what each does.
struct Tone {
    double brightness = 0, contrast = 0, saturation = 0, warmth = 0, tint = 0, clarity = 0;
    bool neutral() const { return *this == Tone{}; }
    bool operator==(const Tone&) const = default;
};

// A region of a picture that nobody shall read: blurred, or in coarse pixels.
struct Veil {
    enum class Kind { blur, coarse } kind = Kind::coarse;
    RealRect region;  // px of the original
    double px = 16;   // of the original: the side of a coarse pixel, or the CSS blur radius
    bool operator==(const Veil&) const = default;
};

// Which frame of which video a picture is; so that one can go back and take the next.
struct StillFrom {
    std::string file;     // the video's path; one without a root begins at the kit's folder
    double time = 0;      // s from its start
    long long frame = 0;  // from 0
    PixelSize size;       // of the frame as it is shown
    bool operator==(const StillFrom&) const = default;
};

// A picture shows the part `crop` (px of the original, after its orientation) at `place` (frame
// px).
struct PictureLayer {
    std::string source;  // SHA-256 of the asset
    RealRect crop;
    RealRect place;
    bool reference = false;  // seen while making, never released
    Tone tone{};
    std::vector<Veil> veils{};
    std::vector<Cut> cuts{};  // in the order in which they are put on
    std::optional<StillFrom> still{};
    bool operator==(const PictureLayer&) const = default;
};

enum class Align { left, centre, right };

struct LetteringLayer {
    RealPoint at;      // top left corner of the text block
    std::string text;  // UTF-8, lines parted by \n
    std::string family = "League Spartan";
    std::string style = "ExtraBold";
    double size = 100;    // px of the em
    double leading = 1;   // line distance over the font's own
    double tracking = 0;  // added between letters, thousandths of an em
    Align align = Align::left;
    bool caps = false;      // shown in capitals, whatever was typed
    bool vertical = false;  // letters stand below one another
    Colour colour{255, 246, 227, 255};
    bool operator==(const LetteringLayer&) const = default;
};

enum class BarShape { rectangle, rounded, ellipse, ring, line, arrow };

// A filled shape. A line and an arrow run along the middle of their box, from its left to its right
// end.
struct BarLayer {
    BarShape shape = BarShape::rectangle;
    RealRect place;
    double radius = 12;  // of rounded corners, px
    double thickness =
        12;  // of a ring, and of an arrow's shaft, px; a line is as thick as its box is high
    Colour colour{0, 0, 0, 255};
    std::optional<Colour> fade{};  // a gradient from `colour` to this one
    double fadeDegrees = 0;        // where it goes: 0 to the right, 90 downwards
    bool operator==(const BarLayer&) const = default;
};

// The W3C's names (Compositing and Blending Level 1).
enum class Blend { normal, multiply, screen, overlay, softLight };

// What a layer is made of. A new kind stands here, and has its row in kit/layer_kinds.h.
using LayerWhat = std::variant<PictureLayer, LetteringLayer, BarLayer>;

struct Layer {
    int id = 0;  // unique in its piece, never used again
    std::string name;
    bool hidden = false;
    double opacity = 1;  // 0..1
    LayerWhat what;
    std::optional<bool> essential{};  // whether zones may not take anything of it; nothing: as its
                                      // kind and size say
    bool rimMeant = false;            // of a picture: the dark rim round it is its design, no matte
    Blend blend = Blend::normal;
    Turn turn{};                     // about the centre of its box
    int group = 0;                   // layers of one group move and hide together; 0: none
    std::vector<Finish> finishes{};  // in the order in which they are put on
    int twin = 0;  // in a piece laid out from another: the id of its layer there; 0: none

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
    std::string name;  // file name without folder; its ending follows the format unless the person
                       // typed one
    FormatChoice format = FormatChoice::best;
    int quality = 0;                           // JPEG and WebP, 1..100; 0: the best under the limit
    ChromaChoice chroma = ChromaChoice::best;  // JPEG with a quality of its own; best: full
    bool dither = true;                        // palette and GIF
    std::optional<Colour>
        matte{};  // what see-through pixels are laid on where the format has no alpha
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

    const Piece* piece(std::string_view id) const;
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
