// SPDX-License-Identifier: GPL-3.0-or-later
// Originals and layers, as plain values. Positions and lengths are frame px, from the top left
// corner.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "base/bytes.h"
#include "base/colour_value.h"
#include "base/geometry.h"
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

// The video that a picture shows, so that it moves. The picture's original is a frame of it, which
// stands in where the video is not there, and whose px its crop and its cuts are in.
struct Clip {
    std::string file;      // its path; one without a root begins at the kit's folder
    std::string identity;  // what the file held when it was brought in (film/strip.h)
    double length = 0;     // s, of the whole video
    double fps = 0;        // mean
    bool sounds = false;   // it has sound
    double in = 0;         // s: the part of the video that is shown
    double out = 0;        // s; 0: to its end
    double begins = 0;     // s of the piece
    bool loops = false;    // it begins again
    bool holds = true;     // its last frame stays; else nothing is seen after it
    bool muted = false;
    double loudness = 1;  // 0..2, of the samples
    double shown() const { return (out > 0 ? out : length) - in; }
    // The second of the video at a moment of the piece; nothing where it is not seen.
    std::optional<double> timeAt(double moment) const;
    bool operator==(const Clip&) const = default;
};

// When a layer of a moving piece is seen, s of the piece.
struct ShowTime {
    double from = 0;
    std::optional<double> to{};  // nothing: to the end
    double fade = 0;  // s: it comes over that long, and goes so where it goes before the end
    bool operator==(const ShowTime&) const = default;
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
    std::optional<Clip> clip{};  // it moves
    // Whether its subject was cut out: then it is what matters, however large.
    bool showsSubject() const;
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
    Turn turn{};                      // about the centre of its box
    int group = 0;                    // layers of one group move and hide together; 0: none
    std::vector<Finish> finishes{};   // in the order in which they are put on
    std::optional<ShowTime> shows{};  // nothing: all the time
    int twin = 0;  // in a piece laid out from another: the id of its layer there; 0: none

    const PictureLayer* picture() const { return std::get_if<PictureLayer>(&what); }
    const LetteringLayer* lettering() const { return std::get_if<LetteringLayer>(&what); }
    PictureLayer* picture() { return std::get_if<PictureLayer>(&what); }
    bool isReference() const { return picture() && picture()->reference; }
    LetteringLayer* lettering() { return std::get_if<LetteringLayer>(&what); }
    bool operator==(const Layer&) const = default;
};

}  // namespace zl
