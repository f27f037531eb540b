// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/lettering.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/core.h>
#include <hb-ot.h>

#include "lettering/pango_part.h"

namespace zl {
namespace {

using pango_part::Owned;

double px(int pangoUnits) {
    return static_cast<double>(pangoUnits) / PANGO_SCALE;
}

Result<Owned<PangoLayout>> layoutOf(const LetteringLayer& letters) {
    if (!g_utf8_validate(letters.text.data(), static_cast<gssize>(letters.text.size()), nullptr))
        return fail(Code::badUsage, "The text is not good UTF-8.", "Type it again.");
    Owned<PangoLayout> layout = pango_part::newLayout();
    const auto font = pango_part::fontOf(letters.family, letters.style, letters.size);
    pango_layout_set_font_description(layout.get(), font.get());
    pango_layout_set_text(layout.get(), letters.text.data(), static_cast<int>(letters.text.size()));
    pango_layout_set_alignment(layout.get(), letters.align == Align::left     ? PANGO_ALIGN_LEFT
                                             : letters.align == Align::centre ? PANGO_ALIGN_CENTER
                                                                              : PANGO_ALIGN_RIGHT);
    pango_layout_set_line_spacing(layout.get(), static_cast<float>(letters.leading));
    return layout;
}

RealRect realRect(const PangoRectangle& r) {
    return {px(r.x), px(r.y), px(r.width), px(r.height)};
}

LetteringBox boxOf(PangoLayout* layout, const LetteringLayer& letters) {
    PangoRectangle ink, logical;
    pango_layout_get_extents(layout, &ink, &logical);
    LetteringBox box{realRect(logical), realRect(ink)};
    if (ink.width <= 0 || ink.height <= 0) return box;
    // One px of air for anti-aliasing: extents are those of the outlines, unhinted.
    const double air = letters.outline.px + 1;
    box.ink = {box.ink.x - air, box.ink.y - air, box.ink.width + 2 * air, box.ink.height + 2 * air};
    return box;
}

// Coverage 0..255 of what `paint` draws on an alpha-only surface, its origin at (originX, originY).
template <class Paint>
Owned<cairo_surface_t> coverage(PixelSize size, double originX, double originY, const Paint& paint) {
    Owned<cairo_surface_t> surface(cairo_image_surface_create(CAIRO_FORMAT_A8, size.width, size.height));
    const Owned<cairo_t> cairo(cairo_create(surface.get()));
    cairo_translate(cairo.get(), originX, originY);
    cairo_set_antialias(cairo.get(), CAIRO_ANTIALIAS_BEST);
    paint(cairo.get());
    cairo_surface_flush(surface.get());
    return surface;
}

// Pango's words for a style as fonts' own menus write them: "Ultra-Bold" -> "ExtraBold" (OpenType 1.9, usWeightClass). Pango
// reads them back, hyphens or not.
std::string styleName(std::string words) {
    if (words == "Normal") return "Regular";
    if (const auto at = words.find("Ultra-"); at != std::string::npos) words.replace(at, 6, "Extra-");
    std::erase(words, '-');
    return words;
}

std::uint16_t as16(double v) {
    return static_cast<std::uint16_t>(std::lround(std::clamp(v, 0.0, 1.0) * 65535.0));
}

// The fill over the outline, exactly, for every pair of coverages that occurs.
void ink(const LetteringLayer& letters, cairo_surface_t* fill, cairo_surface_t* rim, Ink16& out) {
    const auto channels = [](Colour c) { return std::array<double, 3>{c.red / 255.0, c.green / 255.0, c.blue / 255.0}; };
    const auto fillColour = channels(letters.colour), rimColour = channels(letters.outline.colour);
    const int width = out.size().width;
    for (int y = 0; y < out.size().height; ++y) {
        const unsigned char* f = cairo_image_surface_get_data(fill) + static_cast<std::ptrdiff_t>(cairo_image_surface_get_stride(fill)) * y;
        const unsigned char* r =
            rim ? cairo_image_surface_get_data(rim) + static_cast<std::ptrdiff_t>(cairo_image_surface_get_stride(rim)) * y : nullptr;
        for (int x = 0; x < width; ++x) {
            const double a = f[x] / 255.0, b = r ? std::max(r[x], f[x]) / 255.0 : 0.0;
            const double alpha = a + b * (1 - a);
            for (int c = 0; c < 3; ++c) {
                const auto i = static_cast<std::size_t>(c);
                const double colour = alpha > 0 ? (fillColour[i] * a + rimColour[i] * b * (1 - a)) / alpha : fillColour[i];
                out.row(c, y)[x] = as16(colour);
            }
            out.row(3, y)[x] = as16(alpha);
        }
    }
}

}  // namespace

Result<LetteringBox> measure(const LetteringLayer& letters) {
    const auto layout = layoutOf(letters);
    if (!layout) return passOn(layout.error());
    return boxOf(layout->get(), letters);
}

Result<Ink> drawLettering(const LetteringLayer& letters, PixelRect want) {
    const auto layout = layoutOf(letters);
    if (!layout) return passOn(layout.error());
    const LetteringBox box = boxOf(layout->get(), letters);
    Ink made;
    if (box.ink.area() <= 0) return made;
    const RealRect inFrame{box.ink.x + letters.at.x, box.ink.y + letters.at.y, box.ink.width, box.ink.height};
    made.box = roundOutwards(inFrame).intersected(want);
    if (made.box.empty()) return Ink{};
    const double x = letters.at.x - made.box.left, y = letters.at.y - made.box.top;
    const auto fill = coverage(made.box.size(), x, y, [&](cairo_t* cairo) {
        pango_cairo_layout_path(cairo, layout->get());
        cairo_fill(cairo);
    });
    Owned<cairo_surface_t> rim;
    if (letters.outline.px > 0)
        rim = coverage(made.box.size(), x, y, [&](cairo_t* cairo) {
            pango_cairo_layout_path(cairo, layout->get());
            cairo_set_line_join(cairo, CAIRO_LINE_JOIN_ROUND);
            cairo_set_line_width(cairo, 2 * letters.outline.px);  // half of the line lies under the letters
            cairo_stroke(cairo);
        });
    if (cairo_surface_status(fill.get()) != CAIRO_STATUS_SUCCESS || (rim && cairo_surface_status(rim.get()) != CAIRO_STATUS_SUCCESS))
        return fail(Code::badUsage, "The lettering is too large to be drawn.", "Choose a smaller size or a shorter text.");
    auto raster = std::make_shared<Ink16>(made.box.size());
    ink(letters, fill.get(), rim.get(), *raster);
    made.sixteen = std::move(raster);
    return made;
}

Result<double> capHeight(const LetteringLayer& letters) {
    const auto layout = layoutOf(letters);
    if (!layout) return passOn(layout.error());
    const auto font = pango_part::fontOf(letters.family, letters.style, letters.size);
    PangoFont* loaded = pango_context_load_font(pango_layout_get_context(layout->get()), font.get());
    if (!loaded) return fail(Code::badUsage, "No font is there to set it with.");
    hb_position_t position = 0;
    const bool has = hb_ot_metrics_get_position(pango_font_get_hb_font(loaded), HB_OT_METRICS_TAG_CAP_HEIGHT, &position);
    g_object_unref(loaded);
    if (has && position > 0) return static_cast<double>(position) / PANGO_SCALE;
    pango_layout_set_text(layout->get(), "H", 1);
    PangoRectangle ink;
    pango_layout_get_extents(layout->get(), &ink, nullptr);
    return px(ink.height);
}

Result<std::vector<std::string>> useFont(const Asset& font) {
    std::vector<std::string> families;
    if (!font.bytes || !pango_part::addFont(font.sha256, *font.bytes, families))
        return fail(Code::unreadable, fmt::format("{} is not a font that can be used.", font.name), "Bring an OpenType or TrueType font.");
    return families;
}

std::vector<FontFamily> fontFamilies() {
    pango_part::addShippedFonts();
    PangoFontFamily** families = nullptr;
    int count = 0;
    pango_font_map_list_families(pango_cairo_font_map_get_default(), &families, &count);
    std::vector<FontFamily> all;
    for (int i = 0; i < count; ++i) {
        FontFamily family{pango_font_family_get_name(families[i]), {}};
        PangoFontFace** faces = nullptr;
        int faceCount = 0;
        pango_font_family_list_faces(families[i], &faces, &faceCount);
        std::vector<std::pair<int, std::string>> styles;
        for (int f = 0; f < faceCount; ++f) {
            if (pango_font_face_is_synthesized(faces[f])) continue;
            const Owned<PangoFontDescription> font(pango_font_face_describe(faces[f]));
            pango_font_description_unset_fields(font.get(), static_cast<PangoFontMask>(PANGO_FONT_MASK_FAMILY | PANGO_FONT_MASK_SIZE));
            char* words = pango_font_description_to_string(font.get());
            const std::string style = *words ? words : "Regular";
            g_free(words);
            styles.emplace_back(
                static_cast<int>(pango_font_description_get_weight(font.get())) * 10 + pango_font_description_get_style(font.get()),
                styleName(style));
        }
        g_free(faces);
        std::sort(styles.begin(), styles.end());
        styles.erase(std::unique(styles.begin(), styles.end()), styles.end());
        for (auto& [weight, style] : styles) family.styles.push_back(std::move(style));
        if (!family.styles.empty()) all.push_back(std::move(family));
    }
    g_free(families);
    const auto shipped = [](const FontFamily& f) { return f.name == "League Spartan" ? 0 : f.name == "Zinc Sans" ? 1 : 2; };
    std::sort(all.begin(), all.end(), [&](const FontFamily& a, const FontFamily& b) {
        return shipped(a) != shipped(b) ? shipped(a) < shipped(b) : a.name < b.name;
    });
    return all;
}

std::string familyUsed(const LetteringLayer& letters) {
    const Owned<PangoLayout> layout = pango_part::newLayout();
    const auto asked = pango_part::fontOf(letters.family, letters.style, letters.size);
    PangoFont* font = pango_context_load_font(pango_layout_get_context(layout.get()), asked.get());
    if (!font) return {};
    const Owned<PangoFontDescription> got(pango_font_describe(font));
    g_object_unref(font);
    return pango_font_description_get_family(got.get());
}

}  // namespace zl
