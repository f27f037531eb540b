// SPDX-License-Identifier: GPL-3.0-or-later
// over BASE MARK --out FILE: a mark on a picture.
#include <fmt/core.h>

#include <cmath>
#include <memory>

#include "edit/edits.h"
#include "encode/jpeg_over.h"
#include "made.h"
#include "picture/decode.h"
#include "placing.h"
#include "render/render.h"

namespace zl::cli {
namespace {

struct OverAsked {
    std::string base, mark, matte, format, out;
    PlacingWords placing;
    double opacity = 1, rotate = 0;
    int quality = 0;  // 0: 95, or the base's own where it is a JPEG and stays one
};

Result<std::pair<Asset, PictureFacts>> pictureOf(const std::string& file) {
    auto input = readPicture(file);
    if (!input) return passOn(input.error());
    return std::pair(makeAsset(std::move(input->bytes), input->name), input->picture.facts);
}

// Where the bounds of the turned mark begin along one axis.
double startOf(bool low, bool high, double length, double side, double inset) {
    return low ? inset : high ? side - inset - length : (side - length) / 2;
}

Result<int> runOver(const OverAsked& asked, const Common& common) {
    const auto format = formatAsked(asked.format, asked.out);
    if (!format) return passOn(format.error());
    if (asked.base == "-" && asked.mark == "-")
        return fail(Code::badUsage, "Standard input can be one of the two, not both.");
    const auto base = pictureOf(asked.base), mark = base ? pictureOf(asked.mark) : base;
    if (!base || !mark) return passOn(!base ? base.error() : mark.error());
    const PixelSize frame = base->second.size, own = mark->second.size;
    const auto inset = insetOf(asked.placing.inset, frame);
    if (!inset) return passOn(inset.error());
    const double factor =
        asked.placing.width > 0 ? asked.placing.width / 100 * frame.width / own.width : 1;
    const Turn turn{asked.rotate, false, false};
    RealRect place{0, 0, own.width * factor, own.height * factor};
    const RealRect bounds = boundsOf(place, turn, place.centre());
    const std::string& at = asked.placing.at;
    const bool left = at.ends_with("left"), right = at.ends_with("right"),
               top = at.starts_with("top"), bottom = at.starts_with("bottom");
    place.x = startOf(left, right, bounds.width, frame.width, inset->x) - bounds.x;
    place.y = startOf(top, bottom, bounds.height, frame.height, inset->y) - bounds.y;
    if (factor == 1 && asked.rotate == 0) {  // whole px: nothing is resampled
        place.x = std::round(place.x);
        place.y = std::round(place.y);
    }
    Kit kit = withAsset(withAsset({}, base->first), mark->first);
    Piece piece;
    piece.id = piece.title = piece.release.name = "over";
    piece.frame = frame;
    Layer ground, upper;
    ground.what = PictureLayer{base->first.sha256, RealRect::of(frame), RealRect::of(frame)};
    upper.what = PictureLayer{mark->first.sha256, RealRect::of(own), place};
    upper.turn = turn;
    upper.opacity = asked.opacity;
    for (const Layer* layer : {&ground, &upper})
        if (auto good = checkLayer(*layer, kit); !good) return passOn(good.error());
    if (auto good = checkPiece(piece); !good) return passOn(good.error());
    ground.id = 1;
    upper.id = 2;
    piece.layers = {ground, upper};
    InkStore store;
    const auto pixels = render({piece, kit}, store);
    if (!pixels) return passOn(pixels.error());
    const RealRect seen = boundsOf(upper);
    OrderedJson told{{"mark_rect", {seen.x, seen.y, seen.width, seen.height}}};
    // A JPEG that stays one keeps its tables, and what the mark does not touch, bit by bit.
    if (base->second.content == Content::jpeg && format == Content::jpeg && asked.quality == 0 &&
        isOpaque(*pixels))
        if (const auto before = decode(*base->first.bytes, base->first.name))
            if (auto changed = changedJpeg(*base->first.bytes, *before->pixels, *pixels)) {
                told["blocks"] = changed->blocks;
                told["blocks_changed"] = changed->changed;
                return writeEncoded(changed->bytes, Content::jpeg, pixels->size(), asked.out,
                                    {asked.base, asked.mark}, common, told);
            }
    return writePicture(
        *pixels, {asked.out, asked.quality > 0 ? asked.quality : 95, asked.matte, asked.format},
        {asked.base, asked.mark}, common, told);
}

}  // namespace

std::function<Result<int>()> declareOver(Options& options, const Common& common) {
    const auto asked = std::make_shared<OverAsked>();
    options.value("base", asked->base, "The picture below; - is standard input").required();
    options.value("mark", asked->mark, "What goes on it; - is standard input").required();
    declarePlacing(options, asked->placing);
    options.value("--opacity", asked->opacity, "0 to 1 (default 1)").between(0.0, 1.0);
    options.value("--rotate", asked->rotate, "Degrees clockwise (default 0)")
        .between(-360.0, 360.0);
    options
        .value("--quality", asked->quality,
               "JPEG quality (default: that of a base that is a JPEG, whose untouched blocks then "
               "stay as they are; else 95)")
        .between(1, 100);
    options.value("--matte", asked->matte,
                  "#RRGGBB that see-through parts are laid on where the format has no alpha");
    options.value("--format", asked->format,
                  "png, jpeg, gif or webp (default: what the ending says)");
    options
        .value("--out", asked->out,
               "The file to write; its ending tells the format; - is standard output")
        .required();
    return [asked, &common] { return runOver(*asked, common); };
}

}  // namespace zl::cli
