// SPDX-License-Identifier: GPL-3.0-or-later
// letter --text T --out PNG: lettering as a picture, tight to its ink.
#include <fmt/core.h>
#include <fmt/ranges.h>

#include <algorithm>

#include <cmath>
#include <memory>

#include "base/json.h"
#include "edit/edits.h"
#include "finish/finish.h"
#include "lettering/lettering.h"
#include "made.h"
#include "raster/ink_box.h"

namespace zl::cli {
namespace {

struct LetterAsked {
    std::string text, font, fontFile, style, align = "left", colour = "#FFFFFF", out;
    double size = 100, leading = 1, tracking = 0;
    bool caps = false, vertical = false;
    FinishWords words;
};

std::vector<std::string> familyNames() {
    std::vector<std::string> names;
    for (const FontFamily& family : fontFamilies()) names.push_back(family.name);
    return names;
}

// A style that its family lacks would silently become another one.
Result<void> checkStyle(const LetteringLayer& letters) {
    for (const FontFamily& family : fontFamilies()) {
        if (family.name != letters.family || std::find(family.styles.begin(), family.styles.end(),
                                                       letters.style) != family.styles.end())
            continue;
        const std::string near = didYouMean(letters.style, family.styles);
        return fail(
            Code::badUsage,
            fmt::format("The font \"{}\" has no style \"{}\".", letters.family, letters.style),
            near.empty() ? fmt::format("It has {}.", fmt::join(family.styles, ", ")) : near);
    }
    return {};
}

// What the font cannot do is told, and is no error: something else stands there.
void tellLacks(const LetteringLayer& letters) {
    if (const std::string used = familyUsed(letters); used != letters.family)
        fmt::print(stderr, "zledge: The font \"{}\" is not here; \"{}\" is used instead. {}\n",
                   letters.family, used, didYouMean(letters.family, familyNames()));
    for (const LackingGlyph& lacking : lackingGlyphs(letters))
        fmt::print(
            stderr, "zledge: \"{}\" has no letter \"{}\"; {}.\n", letters.family, lacking.letter,
            lacking.family.empty() ? "no font here has one"
            : lacking.drawn
                ? fmt::format("\"{}\" is used for it", lacking.family)
                : fmt::format("\"{}\" has it as a coloured picture, which lettering leaves out",
                              lacking.family));
}

// The letters, and a kit that holds their font where it is a file.
struct Asking {
    LetteringLayer letters;
    Kit kit;
};

Result<Asking> askedFor(const LetterAsked& asked) {
    Asking out;
    LetteringLayer& letters = out.letters;
    letters.text = asked.text;
    // A shell passes a line break on as two signs.
    for (std::size_t at = 0; (at = letters.text.find("\\n", at)) != std::string::npos;)
        letters.text.replace(at, 2, "\n");
    if (!asked.font.empty() || !asked.fontFile.empty()) letters.style = "Regular";
    if (!asked.font.empty()) letters.family = asked.font;
    if (!asked.style.empty()) letters.style = asked.style;
    letters.size = asked.size;
    letters.leading = asked.leading;
    letters.tracking = asked.tracking;
    letters.caps = asked.caps;
    letters.vertical = asked.vertical;
    letters.align = asked.align == "left"    ? Align::left
                    : asked.align == "right" ? Align::right
                                             : Align::centre;
    const auto colour = parseColour(asked.colour);
    if (!colour) return passOn(colour.error());
    letters.colour = *colour;
    if (asked.fontFile.empty()) return out;
    auto bytes = readFile(asked.fontFile);
    if (!bytes) return passOn(bytes.error());
    Asset font = makeAsset(std::move(*bytes), Path(asked.fontFile).filename().string());
    const auto families = familiesIn(font);
    if (!families) return passOn(families.error());
    letters.family = families->front();
    out.kit = withFont({}, std::move(font));
    useFontsOf(out.kit);
    return out;
}

Result<int> runLetter(const LetterAsked& asked, const Common& common) {
    if (!asked.font.empty() && !asked.fontFile.empty())
        return fail(Code::badUsage, "--font and --font-file both name a font.", "Leave one out.");
    const auto finishes = finishesOf(asked.words);
    if (!finishes) return passOn(finishes.error());
    if (const auto format = formatFor(endingOf(asked.out)); !format) return passOn(format.error());
    const auto asking = askedFor(asked);
    if (!asking) return passOn(asking.error());
    const LetteringLayer* const letters = &asking->letters;
    if (!asked.style.empty())
        if (auto good = checkStyle(*letters); !good) return passOn(good.error());
    Layer layer;
    layer.name = "Letters";
    layer.what = *letters;
    layer.finishes = *finishes;
    if (auto good = checkLayer(layer, asking->kit); !good) return passOn(good.error());
    const auto box = measure(*letters);
    if (!box) return passOn(box.error());
    if (box->ink.area() <= 0)
        return fail(Code::badUsage, "There is nothing to be seen of that text.",
                    "Give it letters.");
    tellLacks(*letters);
    const PixelRect ink = roundOutwards(box->ink);
    layer = moved(layer, -ink.left, -ink.top);
    const auto sheet =
        drawn(asking->kit, layer, ink.size(), static_cast<int>(std::ceil(reachOf(*finishes))) + 1);
    if (!sheet) return passOn(sheet.error());
    const auto tight = inkBoxOf(sheet->pixels, 1);
    if (!tight)
        return fail(Code::badUsage, "There is nothing to be seen of that text.",
                    "Give it letters, and a colour that is not see-through.");
    const auto caps = capHeight(*letters);
    return writePicture(partOf(sheet->pixels, *tight), {asked.out}, {}, common,
                        {{"cap_height", caps ? OrderedJson(*caps) : OrderedJson(nullptr)}});
}

}  // namespace

std::function<Result<int>()> declareLetter(Options& options, const Common& common) {
    const auto asked = std::make_shared<LetterAsked>();
    options.value("--text", asked->text, "What it says; \\n parts lines").required();
    options.value("--font", asked->font, "A font family (default: League Spartan, ExtraBold)");
    options.value("--font-file", asked->fontFile, "A font file to set it with");
    options.value("--style", asked->style, "The family's style, such as Bold or \"Light Italic\"");
    options.value("--size", asked->size, "Size of the em in px (default 100)");
    options.value("--leading", asked->leading, "Line distance over the font's own (default 1)");
    options.value("--tracking", asked->tracking,
                  "Room between letters, thousandths of an em (default 0)");
    options.value("--align", asked->align, "left, centre or right (default left)")
        .oneOf({"left", "centre", "center", "right"});
    options.flag("--caps", asked->caps, "In capitals");
    options.flag("--vertical", asked->vertical, "Letters below one another");
    options.value("--colour,--color", asked->colour, "Of the letters (default #FFFFFF)");
    declareFinishes(options, asked->words, false);
    options.value("--out", asked->out, "The file to write; its ending tells the format").required();
    return [asked, &common] { return runLetter(*asked, common); };
}

}  // namespace zl::cli
