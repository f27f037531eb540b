// SPDX-License-Identifier: GPL-3.0-or-later
#include "made.h"

#include <fmt/core.h>

#include <cmath>

#include "edit/edits.h"
#include "encode/encode.h"
#include "raster/bleed.h"
#include "render/render.h"

namespace zl::cli {
namespace {

// "6,#102030": numbers, then perhaps a colour.
struct Words {
    std::vector<double> numbers;
    std::optional<Colour> colour;
};

Result<Words> split(const std::string& text, const char* option, std::size_t count,
                    bool colourAsked) {
    const auto bad = [&](const std::string& why) {
        return fail(Code::badUsage, fmt::format("{} cannot be read: \"{}\"{}.", option, text, why),
                    "See --help.");
    };
    Words words;
    std::size_t at = 0;
    while (at <= text.size()) {
        const std::size_t comma = std::min(text.find(',', at), text.size());
        const std::string part = text.substr(at, comma - at);
        at = comma + 1;
        if (part.starts_with('#')) {
            const auto colour = parseColour(part);
            if (!colour || words.colour || at <= text.size())
                return bad(": a colour is #RRGGBB, at the end");
            words.colour = *colour;
            continue;
        }
        const auto number = parseNumbers(part, 1, option);
        if (!number) return passOn(number.error());
        words.numbers.push_back(number->front());
    }
    if (words.numbers.size() != count) return bad(fmt::format(": {} numbers are wanted", count));
    if (colourAsked && !words.colour) return bad(": a colour is wanted at the end");
    return words;
}

Result<void> add(std::vector<Finish>& finishes, const std::string& text, const char* option,
                 std::string_view kind, const std::vector<std::pair<const char*, double>>& fields,
                 bool colourAsked) {
    if (text.empty()) return {};
    const auto words = split(text, option, fields.size(), colourAsked);
    if (!words) return passOn(words.error());
    Finish finish = makeFinish(kind);
    for (std::size_t i = 0; i < fields.size(); ++i)
        finish.set(fields[i].first, words->numbers[i] * fields[i].second);
    if (words->colour) finish.colour = *words->colour;
    if (auto good = checkFinish(finish); !good) return good;
    finishes.push_back(std::move(finish));
    return {};
}

}  // namespace

void declareFinishes(Options& options, FinishWords& words, bool all) {
    options
        .value("--outline", words.outlines,
               "PX,COLOUR: outside the ink; may be given again for an outline round it")
        .mayRepeat();
    options.value(
        "--shadow", words.shadow,
        "DX,DY,BLUR,OPACITY[,COLOUR]: px, px, CSS blur radius in px, 0..1; #000000 unless told");
    if (!all) return;
    options.value("--glow", words.glow,
                  "PX,COLOUR: light round the ink that ends after about 2 PX");
    options.value("--bevel", words.bevel,
                  "SIZE,DEPTH: px inside the edge, 0..1; light from the top left");
}

Result<std::vector<Finish>> finishesOf(const FinishWords& words) {
    std::vector<Finish> finishes;
    if (auto good =
            add(finishes, words.bevel, "--bevel", "bevel", {{"size", 1}, {"depth", 100}}, false);
        !good)
        return passOn(good.error());
    for (const std::string& outline : words.outlines)
        if (auto good = add(finishes, outline, "--outline", "outline", {{"px", 1}}, true); !good)
            return passOn(good.error());
    if (auto good = add(finishes, words.glow, "--glow", "glow", {{"px", 1}}, true); !good)
        return passOn(good.error());
    if (auto good = add(finishes, words.shadow, "--shadow", "shadow",
                        {{"dx", 1}, {"dy", 1}, {"blur", 1}, {"opacity", 100}}, false);
        !good)
        return passOn(good.error());
    if (finishes.size() > mostFinishes)
        return fail(Code::badUsage, fmt::format("Up to {} finishes are taken.", mostFinishes));
    return finishes;
}

Result<Sheet> drawn(const Kit& kit, Layer layer, PixelSize frame, int room, InkStore& store) {
    Piece piece;
    piece.id = piece.title = piece.release.name = "made";
    piece.frame = {frame.width + 2 * room, frame.height + 2 * room};
    if (auto good = checkPiece(piece); !good) return passOn(good.error());
    layer.id = 1;
    layer = moved(std::move(layer), room, room);
    if (auto good = checkLayer(layer, kit); !good) return passOn(good.error());
    piece.layers = {std::move(layer)};
    auto pixels = render({piece, kit}, store);
    if (!pixels) return passOn(pixels.error());
    return Sheet{std::move(*pixels), room};
}

Result<Sheet> drawn(const Kit& kit, Layer layer, PixelSize frame, int room) {
    InkStore store;
    return drawn(kit, std::move(layer), frame, room, store);
}

Result<int> writePicture(const Straight8& pixels, const Outcome& outcome,
                         const std::vector<Path>& inputs, const Common& common,
                         const OrderedJson& more) {
    const auto& [out, quality, matte, typed] = outcome;
    const auto format = formatAsked(typed, out);
    if (!format) return passOn(format.error());
    Straight8 bled = pixels.clone();
    if (auto laid = layOn(matte, *format, bled); !laid) return passOn(laid.error());
    if (!isOpaque(bled)) bleedColour(bled);
    Encoding encoding{*format, quality, Chroma::full, Effort::release};
    encoding.reduced = false;  // a working file: true colour, for whatever reads it next
    const auto encoded = encode(bled, encoding);
    if (!encoded) return passOn(encoded.error());
    return writeEncoded(*encoded, *format, pixels.size(), out, inputs, common, more);
}

Result<int> writeEncoded(ByteView encoded, Content content, PixelSize size, const std::string& out,
                         const std::vector<Path>& inputs, const Common& common,
                         const OrderedJson& more) {
    if (out != "-")
        if (auto may = mayWrite(out, inputs, common); !may) return passOn(may.error());
    if (auto done = writeOutput(out, encoded, "", common); !done) return passOn(done.error());
    if (out == "-") return Exit::done;
    OrderedJson json{{"out", out},
                     {"width", size.width},
                     {"height", size.height},
                     {"content", factsOf(content).type},
                     {"bytes", encoded.size()}};
    json.update(more);
    if (common.json)
        print(json);
    else
        fmt::print("{}: {} x {} px, {} bytes\n", out, size.width, size.height,
                   grouped(static_cast<long long>(encoded.size())));
    return Exit::done;
}

}  // namespace zl::cli
