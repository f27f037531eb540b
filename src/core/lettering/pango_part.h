// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of Pango: RAII, the shipped fonts added to Fontconfig once. Included by the core's
// own sources.
#pragma once

#include <pango/pangocairo.h>

#include <memory>
#include <string>

namespace zl::pango_part {

struct Release {
    void operator()(PangoLayout* p) const { g_object_unref(p); }
    void operator()(PangoContext* p) const { g_object_unref(p); }
    void operator()(PangoFontDescription* p) const { pango_font_description_free(p); }
};
template <class T>
using Owned = std::unique_ptr<T, Release>;

// Adds data/fonts to Fontconfig's application fonts, once.
void addShippedFonts();

// Adds a font file's bytes, once; they stay. False when Fontconfig finds no font in them.
bool addFont(const std::string& sha256, const std::vector<unsigned char>& bytes,
             std::vector<std::string>& families);

unsigned fontsSoFar();  // how many came by addFont

// A font of a pixel size, e.g. ("League Spartan", "ExtraBold", 100). Hinting is off: letters keep
// their shape at any size.
Owned<PangoFontDescription> fontOf(const std::string& family, const std::string& style,
                                   double sizePx);

// An empty layout with unhinted metrics on this thread's font map.
Owned<PangoLayout> newLayout();

}  // namespace zl::pango_part
