// SPDX-License-Identifier: GPL-3.0-or-later
#include "mend/mend.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>

#include "base/file.h"
#include "base/overloads.h"
#include "base/parallel.h"
#include "edit/edits.h"
#include "encode/fit_memory.h"
#include "kit/layer_kinds.h"
#include "measure/measure.h"
#include "mend/mend_parts.h"
#include "raster/resample.h"
#include "readings/naming.h"
#include "words/words.h"

namespace zl {
namespace {

// crop-to-frame
// ------------------------------------------------------------

Result<Kit> cropPiece(const PieceToMend& it) {
    const auto& [kit, piece, brief, store, stop] = it;
    Piece cropped = piece;
    cropped.frame = frameFor(piece.frame, brief);
    const RealRect cover =
        smallestCovering(RealRect::of(cropped.frame), piece.frame.width, piece.frame.height);
    const double factor = cover.width / piece.frame.width;
    for (Layer& layer : cropped.layers)
        layer = moved(scaled(layer, factor, factor, {0, 0}), cover.x, cover.y);
    carryRegions(cropped, factor, factor, cover.x, cover.y);
    return withChangedPiece(kit, std::move(cropped));
}

Result<MendedFile> cropFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    const PixelSize size = picture->pixels->size(), frame = frameFor(size, brief);
    if (size.width < frame.width || size.height < frame.height)
        return fail(Code::limitNotMet,
                    fmt::format("{} has fewer pixels than {} x {}; cropping cannot add any.", name,
                                frame.width, frame.height),
                    "Bring a larger picture.");
    const RealRect box = largestInside(RealRect::of(size), frame.width, frame.height);
    const Ink ink = resampled(picture->pixels, picture->opaque, box, RealRect::of(frame),
                              PixelRect::of(frame), coreCount());
    return encodedAgain(rounded8(ink), picture->facts.content);
}

Result<MendedFile> padFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    return encodedAgain(padded(*picture, brief.frame, rimColour(*picture)), picture->facts.content);
}

// Decoding has converted it.
Result<MendedFile> srgbFile(ByteView bytes, const std::string& name, const Brief&) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    return encodedAgain(*picture->pixels, picture->facts.content);
}

Result<MendedFile> trimFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    const PixelSize frame =
        brief.frameRule == FrameRule::exact ? brief.frame : picture->pixels->size();
    return encodedAgain(
        trimmedInto(*picture, frame,
                    std::max(1.0, std::round(0.02 * std::min(frame.width, frame.height)))),
        picture->facts.content);
}

Result<MendedFile> centreFile(ByteView bytes, const std::string& name, const Brief&) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    return encodedAgain(centredInk(*picture), picture->facts.content);
}

// unstretch
// ------------------------------------------------------------

// A picture that fills much of the frame keeps its box and is cropped to the box's shape; a small
// one keeps all of itself and becomes smaller inside its box.
PictureLayer unstretched(const PictureLayer& picture, PixelSize frame) {
    constexpr double much = 0.5;
    PictureLayer out = picture;
    const double seen = picture.place.intersected(RealRect::of(frame)).area();
    if (seen >= much * static_cast<double>(frame.count()))
        out.crop = largestInside(picture.crop, picture.place.width, picture.place.height);
    else
        out.place = largestInside(picture.place, picture.crop.width, picture.crop.height);
    return out;
}

Result<Kit> unstretchPiece(const PieceToMend& it) {
    const auto& [kit, piece, brief, store, stop] = it;
    Piece out = piece;
    for (Layer& layer : out.layers) {
        PictureLayer* picture = layer.picture();
        if (!picture) continue;
        const double sx = picture->place.width / picture->crop.width,
                     sy = picture->place.height / picture->crop.height;
        if (std::max(sx / sy, sy / sx) - 1 > thresholds::stretchPass)
            *picture = unstretched(*picture, piece.frame);
    }
    return withChangedPiece(kit, std::move(out));
}

// fit-limit
// ------------------------------------------------------------

Result<Kit> fitPiece(const PieceToMend& it) {
    const auto& [kit, piece, brief, store, stop] = it;
    Piece out = piece;
    out.release.format = FormatChoice::best;
    out.release.quality = 0;
    const auto frame = releaseFrame({out, kit}, store, stop);
    if (!frame) return passOn(frame.error());
    const auto fitted = fitOnce(*frame, fitOptionsOf(out, brief), stop);
    if (!fitted) return passOn(fitted.error());
    // A typed ending follows the format that was found.
    if (const auto typed = contentByEnding(endingOf(out.release.name));
        typed && *typed != fitted->encoding.format)
        out.release.name = stemOf(out.release.name) + usualEnding(fitted->encoding.format);
    return withChangedPiece(kit, std::move(out));
}

Result<MendedFile> fitFile(ByteView bytes, const std::string& name, const Brief& brief) {
    const auto picture = decode(bytes, name);
    if (!picture) return passOn(picture.error());
    Piece asBest;
    asBest.frame = picture->pixels->size();
    const FitOptions plan = fitOptionsOf(asBest, brief);
    if (auto kept = keptAsItIs(bytes, plan))
        return MendedFile{std::move(kept->bytes), Content::jpeg};
    auto fitted = fitToLimit(*picture->pixels, plan);
    if (!fitted) return passOn(fitted.error());
    return MendedFile{std::move(fitted->bytes), fitted->encoding.format};
}

// rename
// ------------------------------------------------------------

// A name out of the content: the letters themselves, the original's file name, else its size.
std::string nameOut(const LetteringLayer& letters, const Kit&, PixelSize, InkStore&) {
    const std::string words = nameFromText(letters.text);
    return words.empty()        ? "Empty lettering"
           : saysNothing(words) ? fmt::format("\"{}\"", words)
                                : words;
}
std::string nameOut(const BarLayer& bar, const Kit&, PixelSize, InkStore&) {
    constexpr std::array<const char*, 6> shapes{"Bar", "Bar", "Ellipse", "Ring", "Line", "Arrow"};
    return shapes[static_cast<std::size_t>(bar.shape)];
}
std::string nameOut(const PictureLayer& picture, const Kit& kit, PixelSize frame, InkStore& store) {
    const Asset* asset = kit.asset(picture.source);
    const std::string stem = asset ? stemOf(asset->name) : "";
    if (!stem.empty() && !saysNothing(stem)) return stem;
    const bool fills = picture.place.intersected(RealRect::of(frame)).area() >=
                       0.98 * static_cast<double>(frame.count());
    const auto facts =
        asset ? store.facts(*asset) : Result<PictureFacts>(fail(Code::unreadable, ""));
    const std::string size =
        facts ? fmt::format(", {} × {}", facts->size.width, facts->size.height) : "";
    return (fills ? "Ground" : "Inset") + size;
}

std::string distinct(const std::string& name, const Piece& piece, int except) {
    const auto taken = [&](const std::string& candidate) {
        return std::any_of(piece.layers.begin(), piece.layers.end(),
                           [&](const Layer& l) { return l.id != except && l.name == candidate; });
    };
    std::string made = name;
    for (int i = 2; taken(made); ++i) made = fmt::format("{}, {}", name, i);
    return made;
}

Result<Kit> renamePiece(const PieceToMend& it) {
    Piece out = it.piece;
    for (Layer& layer : out.layers) {
        if (layer.name.empty() || saysNothing(layer.name))
            layer.name = std::visit(
                [&](const auto& what) { return nameOut(what, it.kit, it.piece.frame, it.store); },
                layer.what);
        layer.name = distinct(layer.name, out, layer.id);
    }
    if (saysNothing(out.release.name)) {
        const std::string fresh = fileNameFromTitle(out.title);
        out.release.name =
            saysNothing(fresh) ? fileNameFromTitle(it.kit.title) + "-" + fresh : fresh;
    }
    if (const auto typed = contentByEnding(endingOf(out.release.name))) {
        const auto readings =
            readPiece({out, it.kit}, it.brief, it.store, Weighing::exact, it.stop);
        if (!readings) return passOn(readings.error());
        if (readings->outcome && readings->outcome->encoding.format != *typed)
            out.release.name =
                stemOf(out.release.name) + usualEnding(readings->outcome->encoding.format);
    }
    return withChangedPiece(it.kit, std::move(out));
}

// The bytes as they are; the right ending is the caller's new name.
Result<MendedFile> renameFile(ByteView bytes, const std::string& name, const Brief&) {
    const auto facts = readFacts(bytes, name);
    if (!facts) return passOn(facts.error());
    return MendedFile{Bytes(bytes.begin(), bytes.end()), facts->content};
}

constexpr auto table = std::to_array<MendRow>({
    {"crop-to-frame", false, cropPiece, cropFile},
    {"pad-to-frame", true, padPiece, padFile},  // asks: a rim, or a crop?
    {"unstretch", false, unstretchPiece, nullptr},
    {"scale-to-source", false, scaleToSource, nullptr},
    {"to-reference", false, toReference, nullptr},
    {"keep-alpha", false, keepAlpha, nullptr},
    {"to-srgb", false, nullptr, srgbFile},
    {"key-background", true, keyBackground, nullptr},  // asks: is it flat background?
    {"to-straight", false, cleanPiece<Cleaning::premultiplied>,
     cleanedFile<Cleaning::premultiplied>},
    {"take-fringe-off", false, cleanPiece<Cleaning::fringe>, cleanedFile<Cleaning::fringe>},
    {"leave-rim", true, leaveRim, nullptr},  // asks: is it meant?
    {"crop-bars", false, cropBarsPiece, cropBarsFile},
    {"fill-bars", true, fillBarsPiece, fillBarsFile},  // asks: crop, or fill?
    {"soften-steps", false, cleanPiece<Cleaning::steps>, cleanedFile<Cleaning::steps>},
    {"remove-specks", true, cleanPiece<Cleaning::specks>,
     cleanedFile<Cleaning::specks>},  // asks: is it dirt?
    {"fill-pinholes", true, cleanPiece<Cleaning::pinholes>,
     cleanedFile<Cleaning::pinholes>},  // asks: is it meant?
    {"clear-haze", false, cleanPiece<Cleaning::haze>, cleanedFile<Cleaning::haze>},
    {"bleed-colour", false, nullptr, bleedFile},
    {"outline-contrast", false, outlineContrast, outlineFile},
    {"into-zone", false, intoZone, nullptr},
    {"into-frame", false, intoZone, nullptr},
    {"make-room", false, makeRoom, nullptr},
    {"trim", false, trimPiece, trimFile},
    {"centre", false, centrePiece, centreFile},
    {"put-links-right", false, putLinksRight, nullptr},
    {"fit-limit", false, fitPiece, fitFile},
    {"rename", false, renamePiece, renameFile},
});

}  // namespace

Result<MendedFile> encodedAgain(const Straight8& frame, Content content) {
    constexpr int finest = 100;
    // GIF would cut the colours down to 256: such a picture becomes a PNG, as do kinds that are not
    // written.
    const bool keeps = factsOf(content).written && content != Content::gif;
    const Content target = keeps ? content : Content::png;
    auto bytes = encode(
        frame, {target, target == Content::webp ? 0 : finest, Chroma::full, Effort::release});
    if (!bytes) return passOn(bytes.error());
    return MendedFile{std::move(*bytes), target};
}

std::span<const MendRow> allMends() {
    return table;
}

const MendRow* findMend(std::string_view id) {
    const auto* row =
        std::find_if(table.begin(), table.end(), [&](const MendRow& r) { return r.id == id; });
    return row == table.end() ? nullptr : row;
}

PixelSize frameFor(PixelSize size, const Brief& brief) {
    if (brief.frameRule == FrameRule::any) return size;
    const int times = std::min(size.width / brief.frame.width, size.height / brief.frame.height);
    const int by = brief.multiples ? std::clamp(times, 1, 4) : 1;
    return {brief.frame.width * by, brief.frame.height * by};
}

std::string mendTitle(std::string_view id, const Brief& brief, PixelSize frame,
                      const Reading* offers) {
    if (offers && !offers->mendWords.id.empty() && !offers->mends.empty() &&
        offers->mends.front() == id)
        return english(offers->mendWords);
    const PixelSize target = frameFor(frame, brief);
    return english({"mend." + std::string(id),
                    {static_cast<long long>(target.width), static_cast<long long>(target.height)}});
}

Result<Kit> mended(std::string_view id, const Kit& kit, std::string_view pieceId,
                   const Brief& brief, InkStore& store, std::stop_token stop) {
    return unlessTooLarge(std::string(pieceId), [&]() -> Result<Kit> {
        const MendRow* row = findMend(id);
        if (!row || !row->onPiece)
            return fail(Code::badUsage, fmt::format("There is no mend \"{}\" for a piece.", id));
        const Piece* piece = kit.piece(pieceId);
        if (!piece)
            return fail(Code::badUsage,
                        fmt::format("There is no piece \"{}\" in the kit.", pieceId));
        return row->onPiece({kit, *piece, brief, store, std::move(stop)});
    });
}

Result<MendedFile> mendedFile(std::string_view id, ByteView bytes, const std::string& name,
                              const Brief& brief) {
    return unlessTooLarge(name, [&]() -> Result<MendedFile> {
        const MendRow* row = findMend(id);
        if (!row || !row->onFile)
            return fail(Code::badUsage, fmt::format("There is no mend \"{}\" for a file.", id));
        return row->onFile(bytes, name, brief);
    });
}

}  // namespace zl
