// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/pango_part.h"

namespace zl::pango_part {

Owned<PangoFontDescription> fontOf(const std::string& family, const std::string& style,
                                   double sizePx) {
    Owned<PangoFontDescription> font(pango_font_description_from_string(style.c_str()));
    pango_font_description_set_family(font.get(), family.c_str());
    pango_font_description_set_absolute_size(font.get(), sizePx * PANGO_SCALE);
    return font;
}

Owned<PangoLayout> newLayout() {
    const Owned<PangoContext> context(pango_font_map_create_context(fontMap()));
    cairo_font_options_t* options = cairo_font_options_create();
    cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_antialias(options, CAIRO_ANTIALIAS_GRAY);
    pango_cairo_context_set_font_options(context.get(), options);
    cairo_font_options_destroy(options);
    pango_cairo_context_set_resolution(context.get(), 96);
    pango_context_set_round_glyph_positions(context.get(), FALSE);
    return Owned<PangoLayout>(pango_layout_new(context.get()));
}

}  // namespace zl::pango_part
