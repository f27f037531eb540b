// SPDX-License-Identifier: GPL-3.0-or-later
// Which fonts there are. They belong to a kit: each set of fonts has a Fontconfig configuration of
// its own, which is whole before anyone sees it and never changes afterwards.
#pragma once

#include <string>
#include <vector>

#include "kit/kit.h"

namespace zl {

// From now on this thread sets lettering in the shipped fonts, the system's, and the kit's own, and
// in no others. Cheap when nothing changes. A font that cannot be used is left out: it is told as
// missing where it is asked for.
void useFontsOf(const Kit& kit);
// Which set this thread uses: what was drawn with another one may look different.
unsigned fontsInUse();

// The families in a font file. Code::unreadable when it is no font.
[[nodiscard]] Result<std::vector<std::string>> familiesIn(const Asset& font);

struct FontFamily {
    std::string name;
    std::vector<std::string> styles;  // "Regular", "ExtraBold Italic", lightest first
};
// Whether a style leans: "Italic", "Bold Oblique".
bool leans(const std::string& style);
// The same style upright or leaning, as it is called among `styles`; where there is none, as Pango
// would call it, which leans the upright one.
std::string withLean(const std::string& style, bool lean, const std::vector<std::string>& styles);

// Of the set that this thread uses: shipped families first, then the others by name.
std::vector<FontFamily> fontFamilies();

}  // namespace zl
