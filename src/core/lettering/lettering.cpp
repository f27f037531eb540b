// SPDX-License-Identifier: GPL-3.0-or-later
#include "lettering/lettering.h"

#include <fmt/core.h>
#include <hb-ot.h>
#include <hb.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/cache.h"
#include "lettering/pango_part.h"
#include "raster/cairo_part.h"

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
    const std::string text = shownText(letters);
    pango_layout_set_text(layout.get(), text.data(), static_cast<int>(text.size()));
    PangoAttrList* attributes = pango_attr_list_new();
    if (letters.tracking != 0)
        pango_attr_list_insert(
            attributes, pango_attr_letter_spacing_new(static_cast<int>(
                            std::lround(letters.tracking / 1000 * letters.size * PANGO_SCALE))));
    // Brackets, long marks and full stops of a column have forms of their own (OpenType 1.9,
    // feature "vert").
    if (letters.vertical)
        pango_attr_list_insert(attributes, pango_attr_font_features_new("vert=1"));
    pango_layout_set_attributes(layout.get(), attributes);
    pango_attr_list_unref(attributes);
    pango_layout_set_alignment(layout.get(), letters.vertical                 ? PANGO_ALIGN_CENTER
                                             : letters.align == Align::left   ? PANGO_ALIGN_LEFT
                                             : letters.align == Align::centre ? PANGO_ALIGN_CENTER
                                                                              : PANGO_ALIGN_RIGHT);
    pango_layout_set_line_spacing(layout.get(), static_cast<float>(letters.leading));
    return layout;
}

RealRect realRect(const PangoRectangle& r) {
    return {px(r.x), px(r.y), px(r.width), px(r.height)};
}

LetteringBox boxOf(PangoLayout* layout) {
    PangoRectangle ink, logical;
    pango_layout_get_extents(layout, &ink, &logical);
    LetteringBox box{realRect(logical), realRect(ink)};
    if (ink.width <= 0 || ink.height <= 0) return box;
    // One px of air for anti-aliasing: extents are those of the outlines, unhinted.
    constexpr double air = 1;
    box.ink = {box.ink.x - air, box.ink.y - air, box.ink.width + 2 * air, box.ink.height + 2 * air};
    return box;
}

// All that the setting of letters depends on: neither their place nor their colour.
struct Setting {
    LetteringLayer letters;
    unsigned fonts;
    bool operator==(const Setting&) const = default;
};
struct SettingHash {
    std::size_t operator()(const Setting& s) const {
        return mixed(std::hash<std::string>{}(s.letters.text),
                     mixed(std::hash<double>{}(s.letters.size), s.fonts));
    }
};

// Text is shaped once, however often it is asked for: at every step of a drag, say.
template <class Value, class Make>
Result<Value> remembered(const LetteringLayer& letters, const Make& make) {
    constexpr std::size_t bytes = 1u << 20, most = 512;
    static Cache<Setting, Value, SettingHash> kept(bytes, most);
    Setting setting{letters, fontsInUse()};
    setting.letters.at = {};
    setting.letters.colour = {};
    const std::size_t weight = sizeof(Setting) + sizeof(Value) + 2 * letters.text.size();
    return kept.get(setting, "the lettering", {}, make, [&](const Value&) { return weight; });
}

std::uint16_t as16(double v) {
    return static_cast<std::uint16_t>(std::lround(std::clamp(v, 0.0, 1.0) * 65535.0));
}

}  // namespace

std::string shownText(const LetteringLayer& letters) {
    std::string text = letters.text;
    if (letters.caps && g_utf8_validate(text.data(), static_cast<gssize>(text.size()), nullptr)) {
        char* upper = g_utf8_strup(text.data(), static_cast<gssize>(text.size()));
        text = upper;
        g_free(upper);
    }
    if (!letters.vertical) return text;
    // A line for each letter: a byte 10xxxxxx goes on with a letter, and so does a combining mark
    // (U+0300 to U+036F).
    std::string stacked;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const auto byte = static_cast<unsigned char>(text[i]),
                   next = static_cast<unsigned char>(i + 1 < text.size() ? text[i + 1] : 0);
        const bool goesOn = (byte & 0xC0) == 0x80 || byte == 0xCC || (byte == 0xCD && next < 0xB0);
        if (!stacked.empty() && !goesOn && byte != '\n' && stacked.back() != '\n') stacked += '\n';
        stacked += text[i];
    }
    return stacked;
}

Result<LetteringBox> measure(const LetteringLayer& letters) {
    return remembered<LetteringBox>(letters, [&]() -> Result<LetteringBox> {
        const auto layout = layoutOf(letters);
        if (!layout) return passOn(layout.error());
        return boxOf(layout->get());
    });
}

Result<Ink> drawLettering(const LetteringLayer& letters, const Turn& turn, PixelRect want) {
    const auto layout = layoutOf(letters);
    if (!layout) return passOn(layout.error());
    const LetteringBox box = boxOf(layout->get());
    Ink made;
    if (box.ink.area() <= 0) return made;
    const auto inFrame = [&](RealRect r) {
        return RealRect{r.x + letters.at.x, r.y + letters.at.y, r.width, r.height};
    };
    const RealPoint about = inFrame(box.block).centre();
    made.box = roundOutwards(boundsOf(inFrame(box.ink), turn, about)).intersected(want);
    if (made.box.empty()) return Ink{};
    const auto fill = cairo_part::coverage(made.box, turn, about, [&](cairo_t* cairo) {
        cairo_translate(cairo, letters.at.x, letters.at.y);
        pango_cairo_layout_path(cairo, layout->get());
        cairo_fill(cairo);
    });
    if (!fill)
        return fail(Code::badUsage, "The lettering is too large to be drawn.",
                    "Choose a smaller size or a shorter text.");
    auto raster = std::make_shared<Ink16>(made.box.size());
    const std::array<int, 4> colour{letters.colour.red, letters.colour.green, letters.colour.blue,
                                    letters.colour.alpha};
    for (int c = 0; c < 4; ++c)
        for (int y = 0; y < made.box.height(); ++y) {
            const unsigned char* covered = cairo_part::rowOf(fill.get(), y);
            std::uint16_t* to = raster->row(c, y);
            const int code = colour[static_cast<std::size_t>(c)];
            for (int x = 0; x < made.box.width(); ++x)
                to[x] = c < 3 ? static_cast<std::uint16_t>(code * 257)
                              : as16(covered[x] / 255.0 * code / 255.0);
        }
    made.sixteen = std::move(raster);
    return made;
}

namespace {

std::vector<LackingGlyph> lookForLacking(const LetteringLayer& letters) {
    std::vector<LackingGlyph> all;
    const auto layout = layoutOf(letters);
    if (!layout) return all;
    const std::string text = pango_layout_get_text(layout->get());
    const std::string family = familyUsed(letters);
    PangoLayoutIter* line = pango_layout_get_iter(layout->get());
    do {
        const PangoLayoutRun* run = pango_layout_iter_get_run_readonly(line);
        if (!run) continue;
        const Owned<PangoFontDescription> used(pango_font_describe(run->item->analysis.font));
        const std::string other = pango_font_description_get_family(used.get());
        hb_face_t* face = hb_font_get_face(pango_font_get_hb_font(run->item->analysis.font));
        const bool pictures = hb_ot_color_has_png(face) || hb_ot_color_has_svg(face);
        for (int g = 0; g < run->glyphs->num_glyphs; ++g) {
            const PangoGlyph glyph = run->glyphs->glyphs[g].glyph;
            const bool unknown =
                (glyph & PANGO_GLYPH_UNKNOWN_FLAG) != 0 && glyph != PANGO_GLYPH_EMPTY;
            if (!unknown && other == family && !pictures) continue;
            const auto from =
                static_cast<std::size_t>(run->item->offset + run->glyphs->log_clusters[g]);
            const char* start = text.c_str() + from;
            if (g_unichar_isspace(g_utf8_get_char(start))) continue;
            const LackingGlyph lacking{
                std::string(start, static_cast<std::size_t>(g_utf8_next_char(start) - start)),
                unknown ? "" : other, unknown || !pictures};
            if (std::none_of(all.begin(), all.end(),
                             [&](const LackingGlyph& l) { return l.letter == lacking.letter; }))
                all.push_back(lacking);
        }
    } while (pango_layout_iter_next_run(line));
    pango_layout_iter_free(line);
    return all;
}

}  // namespace

std::vector<LackingGlyph> lackingGlyphs(const LetteringLayer& letters) {
    using All = std::vector<LackingGlyph>;
    auto found = remembered<All>(letters, [&]() -> Result<All> { return lookForLacking(letters); });
    return found ? std::move(*found) : All{};
}

std::optional<double> sizeForWidth(const LetteringLayer& letters, double width) {
    LetteringLayer tried = letters;
    const auto box = measure(tried);
    if (!box || box->block.width <= 0 || width <= 0) return {};
    // Widths go with the size but for roundings; a second step takes those away.
    for (int i = 0; i < 2; ++i) {
        const auto now = measure(tried);
        if (!now || now->block.width <= 0) return {};
        tried.size = std::clamp(tried.size * width / now->block.width, 1.0, 4000.0);
    }
    return tried.size;
}

namespace {

Result<double> measureCaps(const LetteringLayer& letters) {
    const auto layout = layoutOf(letters);
    if (!layout) return passOn(layout.error());
    const auto font = pango_part::fontOf(letters.family, letters.style, letters.size);
    PangoFont* loaded =
        pango_context_load_font(pango_layout_get_context(layout->get()), font.get());
    if (!loaded) return fail(Code::badUsage, "No font is there to set it with.");
    hb_position_t position = 0;
    const bool has = hb_ot_metrics_get_position(pango_font_get_hb_font(loaded),
                                                HB_OT_METRICS_TAG_CAP_HEIGHT, &position);
    g_object_unref(loaded);
    if (has && position > 0) return static_cast<double>(position) / PANGO_SCALE;
    pango_layout_set_text(layout->get(), "H", 1);
    PangoRectangle ink;
    pango_layout_get_extents(layout->get(), &ink, nullptr);
    return px(ink.height);
}

std::string askForFamily(const LetteringLayer& letters) {
    const Owned<PangoLayout> layout = pango_part::newLayout();
    const auto asked = pango_part::fontOf(letters.family, letters.style, letters.size);
    PangoFont* font = pango_context_load_font(pango_layout_get_context(layout.get()), asked.get());
    if (!font) return {};
    const Owned<PangoFontDescription> got(pango_font_describe(font));
    g_object_unref(font);
    return pango_font_description_get_family(got.get());
}

}  // namespace

Result<double> capHeight(const LetteringLayer& letters) {
    return remembered<double>(letters, [&] { return measureCaps(letters); });
}

std::string familyUsed(const LetteringLayer& letters) {
    auto family = remembered<std::string>(
        letters, [&]() -> Result<std::string> { return askForFamily(letters); });
    return family ? std::move(*family) : std::string();
}

}  // namespace zl
