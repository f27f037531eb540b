// SPDX-License-Identifier: GPL-3.0-or-later
// Lettering: text shaped by Pango, drawn as coverage by Cairo, inked in 16 bit, in the
// fonts that this thread uses (lettering/fonts.h). Any thread.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "kit/kit.h"
#include "lettering/fonts.h"
#include "raster/over.h"

namespace zl {

// Relative to the layer's own `at`, in frame px.
struct LetteringBox {
    RealRect block;  // the text block as set: what is aligned and dragged
    RealRect ink;    // what the letters touch; zero width or height when there is none
};

// Empty text has a block one line high and no ink. Code::badUsage when the text cannot be drawn at
// all.
[[nodiscard]] Result<LetteringBox> measure(const LetteringLayer& letters);

// The letters without their finishes, turned about the block's centre; `want` (frame px) of it at
// most. The ink's box is in frame px.
[[nodiscard]] Result<Ink> drawLettering(const LetteringLayer& letters, const Turn& turn,
                                        PixelRect want);

// What is shown of what was typed: in capitals, or one letter below another.
std::string shownText(const LetteringLayer& letters);

// Letters that the font lacks, each once, with the family that is used for them; empty: none is,
// and a box stands there.
struct LackingGlyph {
    std::string letter, family;
    bool drawn = true;  // false: that family's letters are coloured pictures without an outline,
                        // and a gap stands there
};
std::vector<LackingGlyph> lackingGlyphs(const LetteringLayer& letters);

// The size at which the block is `width` px wide; nothing when it has no width.
std::optional<double> sizeForWidth(const LetteringLayer& letters, double width);

// The height of a capital letter in frame px, by the font's own OS/2 table (OpenType 1.9,
// sCapHeight); a font without it is measured on its H. Code::badUsage as above.
[[nodiscard]] Result<double> capHeight(const LetteringLayer& letters);

// The family that is really used for it: another than asked for when the font is not here.
std::string familyUsed(const LetteringLayer& letters);

}  // namespace zl
