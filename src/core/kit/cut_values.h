// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts as values: non-destructive changes of a picture's alpha. Lengths and places are px of the
// original, so that a cut goes where its picture goes. They are put on in their order: keys and
// cleanings first on the original's pixels, then shapes, with exact coverage, at the size the
// picture is placed in.
#pragma once

#include <array>
#include <optional>
#include <variant>
#include <vector>

#include "base/colour_value.h"
#include "base/geometry.h"
#include "base/result.h"

namespace zl {

// A stroke of the brush over a key or a subject: what it touches comes back as it was, or goes.
struct Stroke {
    bool restores = true;
    double radius = 12;
    std::vector<RealPoint> points;  // one or more
    bool operator==(const Stroke&) const = default;
};

// What becomes of a soft shadow on the background: it stays, see-through; it goes; or none is
// looked for, and it is ink.
enum class KeyShadow { keep, drop, off };

// The flat background taken off, the edge unmixed from it.
struct KeyCut {
    std::optional<Colour> colour{};     // nothing: the border's
    std::optional<double> tolerance{};  // code values 0..100; nothing: measured near the ink
    bool everywhere = false;  // also what touches neither the rim nor `from`: the holes inside
    std::optional<RealPoint> from{};  // linked to this point instead of the rim
    KeyShadow shadow = KeyShadow::keep;
    std::vector<Stroke> strokes{};
    bool operator==(const KeyCut&) const = default;
};

enum class CutShape { ellipse, rounded, polygon };

struct ShapeCut {
    CutShape shape = CutShape::ellipse;
    RealRect box;  // of an ellipse and a rounded rectangle
    std::array<double, 4>
        radii{};                  // of the corners: top left, top right, bottom right, bottom left
    bool radiiAreShares = false;  // radii as 0..50 % of the shorter side
    std::vector<RealPoint> points{};  // of a polygon, three or more
    double feather = 0;               // CSS blur radius, px
    bool inverted = false;            // takes away what is inside
    bool operator==(const ShapeCut&) const = default;
};

// Repairs of a cut-out that came with its alpha; what each does stands in cut/clean.h.
enum class Cleaning { fringe, steps, specks, pinholes, haze, premultiplied };
struct CleanCut {
    Cleaning what = Cleaning::fringe;
    double scale =
        1;  // px of the original to one px where the fault was seen: what counts as small
    bool operator==(const CleanCut&) const = default;
};

// How the edge of a subject is taken where colours leave it open.
enum class SubjectEdge { asFound, tighter, fuller };

// What stays of a picture whose subject is known: the subject; the ground round it; or the whole
// ground, the colours round the subject carried on behind it.
enum class SubjectPart { subject, ground, filled };

// The subject of a photograph, its soft edge solved.
struct SubjectCut {
    std::optional<RealRect> box{};  // round the subject; nothing: the program's own guess
    int guess = 0;                  // which of its guesses, the first is 0
    std::vector<Stroke> strokes{};  // what belongs to the subject (restores), and what does not
    SubjectEdge edge = SubjectEdge::asFound;
    SubjectPart part = SubjectPart::subject;
    bool keepsShadow =
        false;  // the shadow that the subject throws on the ground stays, see-through
    bool operator==(const SubjectCut&) const = default;
};
inline constexpr int mostGuesses = 3;

struct Cut {
    std::variant<KeyCut, ShapeCut, CleanCut, SubjectCut> what;
    bool off = false;  // kept, but not put on

    const KeyCut* key() const { return std::get_if<KeyCut>(&what); }
    KeyCut* key() { return std::get_if<KeyCut>(&what); }
    const ShapeCut* shape() const { return std::get_if<ShapeCut>(&what); }
    ShapeCut* shape() { return std::get_if<ShapeCut>(&what); }
    const CleanCut* clean() const { return std::get_if<CleanCut>(&what); }
    const SubjectCut* subject() const { return std::get_if<SubjectCut>(&what); }
    SubjectCut* subject() { return std::get_if<SubjectCut>(&what); }
    std::vector<Stroke>* strokes();  // of a key or a subject; nothing for others
    const std::vector<Stroke>* strokes() const { return const_cast<Cut*>(this)->strokes(); }
    bool operator==(const Cut&) const = default;
};

inline constexpr std::size_t mostCuts = 24, mostStrokes = 500,
                             mostPoints = 20'000;  // of a picture; of a key; of a stroke or polygon

// Code::badUsage: a number that is none or out of its range, too few or too many points.
[[nodiscard]] Result<void> checkCut(const Cut& cut);

}  // namespace zl
