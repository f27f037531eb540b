// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of Pango: RAII. Included by the core's
// own sources.
#pragma once

#include <pango/pangocairo.h>

#include <memory>
#include <string>

namespace zl::pango_part {

struct Release {
    void operator()(PangoLayout* p) const { g_object_unref(p); }
    void operator()(PangoFontMap* p) const { g_object_unref(p); }
    void operator()(PangoContext* p) const { g_object_unref(p); }
    void operator()(PangoFontDescription* p) const { pango_font_description_free(p); }
};
template <class T>
using Owned = std::unique_ptr<T, Release>;

// This thread's fonts (lettering/fonts.h).
PangoFontMap* fontMap();

// A font of a pixel size, e.g. ("League Spartan", "ExtraBold", 100). Hinting is off: letters keep
// their shape at any size.
Owned<PangoFontDescription> fontOf(const std::string& family, const std::string& style,
                                   double sizePx);

// An empty layout with unhinted metrics on this thread's font map.
Owned<PangoLayout> newLayout();

}  // namespace zl::pango_part
