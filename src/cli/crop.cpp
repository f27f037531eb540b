// SPDX-License-Identifier: GPL-3.0-or-later
// crop FILE --aspect 16:9 --out FILE: the largest crop of a shape, or a given box; real-valued,
// resampled once.
#include <fmt/core.h>

#include <cmath>
#include <memory>

#include "base/json.h"
#include "base/parallel.h"
#include "command.h"
#include "encode/encode.h"
#include "picture/attention.h"
#include "picture/decode.h"
#include "raster/bleed.h"
#include "raster/resample.h"

namespace zl::cli {
namespace {

struct CropAsked {
    std::string file, aspect, size, focus, rect, matte, format, out;
    int quality = 95;
};

constexpr double anisotropy = 0.001;  // the most by which the two scales may differ

Result<RealPoint> parseAspect(const std::string& text) {
    const auto bad = [&] {
        return fail(Code::badUsage, fmt::format("\"{}\" is not a shape.", text),
                    "Write WIDTH:HEIGHT, such as 16:9.");
    };
    const std::size_t colon = text.find(':');
    if (colon == std::string::npos) return bad();
    std::string pair = text;
    pair[colon] = ',';
    const auto numbers = parseNumbers(pair, 2, "--aspect");
    if (!numbers || !((*numbers)[0] > 0) || !((*numbers)[1] > 0) ||
        (*numbers)[0] / (*numbers)[1] > 1000 || (*numbers)[1] / (*numbers)[0] > 1000)
        return bad();
    return RealPoint{(*numbers)[0], (*numbers)[1]};
}

Result<RealPoint> parseFocus(const std::string& text, const Straight8& picture) {
    if (text.empty()) return RealPoint{0.5, 0.5};
    if (text == "auto") return attentionPoint(picture);
    const auto numbers = parseNumbers(text, 2, "--focus");
    if (!numbers) return passOn(numbers.error());
    for (const double v : *numbers)
        if (v < 0 || v > 1)
            return fail(Code::badUsage, "--focus goes from 0 to 1, across and down.");
    return RealPoint{(*numbers)[0], (*numbers)[1]};
}

// The box that is kept, in px of the picture.
Result<RealRect> boxFor(const CropAsked& asked, const Straight8& picture) {
    RealRect box = RealRect::of(picture.size());
    if (!asked.rect.empty()) {
        const auto r = parseNumbers(asked.rect, 4, "--rect");
        if (!r) return passOn(r.error());
        box = {(*r)[0], (*r)[1], (*r)[2], (*r)[3]};
        if (!(box.width > 0) || !(box.height > 0))
            return fail(Code::badUsage, "--rect has no area.");
        if (box.x < 0 || box.y < 0 || box.right() > picture.width() + 1e-9 ||
            box.bottom() > picture.height() + 1e-9)
            return fail(Code::badUsage,
                        fmt::format("--rect reaches outside the picture, which is {} x {} px.",
                                    picture.width(), picture.height()));
    }
    if (asked.aspect.empty()) return box;
    const auto shape = parseAspect(asked.aspect);
    if (!shape) return passOn(shape.error());
    if (asked.focus == "auto" && asked.rect.empty())
        return attentiveCrop(picture, shape->x, shape->y);
    const auto focus = parseFocus(asked.focus, picture);
    if (!focus) return passOn(focus.error());
    if (!asked.rect.empty()) {
        const double error = std::abs(box.width * shape->y / (box.height * shape->x) - 1);
        if (error > anisotropy)
            return fail(Code::badUsage, fmt::format("--rect is not {}.", asked.aspect),
                        "Leave one of the two out.");
        return box;
    }
    return largestInside(box, shape->x, shape->y, *focus);
}

// Without --size: the whole-pixel frame nearest in shape, no larger than the box.
PixelSize nearestFrame(const RealRect& box) {
    PixelSize best;
    double bestError = 1e9;
    const double shape = box.width / box.height;
    // The largest frame whose scales differ by at most a tenth of a percent; a tiny one may have
    // none.
    for (int shrink = 0; shrink < 200; ++shrink) {
        const bool wide = box.width >= box.height;
        const int longer =
            static_cast<int>(std::floor((wide ? box.width : box.height) + 1e-9)) - shrink;
        if (longer < 1) break;
        const int shorter =
            std::max(1, static_cast<int>(std::lround(wide ? longer / shape : longer * shape)));
        const double error = std::abs(
            (wide ? static_cast<double>(longer) / shorter : static_cast<double>(shorter) / longer) /
                shape -
            1);
        if (error < bestError - 1e-12) {
            bestError = error;
            best = wide ? PixelSize{longer, shorter} : PixelSize{shorter, longer};
        }
        if (bestError <= anisotropy) break;
    }
    return best;
}

Result<void> checkAsked(const CropAsked& asked) {
    if (asked.aspect.empty() && asked.rect.empty())
        return fail(Code::badUsage, "Say what to crop to: --aspect or --rect.");
    if (!asked.focus.empty() && !asked.rect.empty())
        return fail(Code::badUsage,
                    "--focus chooses where a crop lies; --rect has said so already.");
    return {};
}

// An SVG has no pixels of its own: for a crop that is made larger it is drawn anew, and `box` is
// the same part of that.
Result<std::optional<Picture>> drawnFor(PixelSize size, const Input& input, RealRect& box) {
    const PixelSize own = input.picture.facts.size;
    const double times = size.width / box.width;
    if (input.picture.facts.content != Content::svg || times <= 1) return std::nullopt;
    auto drawn = decodeFor({static_cast<int>(std::ceil(own.width * times)),
                            static_cast<int>(std::ceil(own.height * times))},
                           input.bytes, input.name);
    if (!drawn) return passOn(drawn.error());
    const double sx = static_cast<double>(drawn->facts.size.width) / own.width,
                 sy = static_cast<double>(drawn->facts.size.height) / own.height;
    box = {box.x * sx, box.y * sy, box.width * sx, box.height * sy};
    return std::optional(std::move(*drawn));
}

Result<int> runCrop(const CropAsked& asked, const Common& common) {
    if (auto good = checkAsked(asked); !good) return passOn(good.error());
    const auto format = formatAsked(asked.format, asked.out);
    if (!format) return passOn(format.error());
    const auto input = readPicture(asked.file);
    if (!input) return passOn(input.error());
    const Picture* picture = &input->picture;
    const auto box = boxFor(asked, *picture->pixels);
    if (!box) return passOn(box.error());
    PixelSize size = nearestFrame(*box);
    if (!asked.size.empty()) {
        const auto asSize = parseSize(asked.size);
        if (!asSize) return passOn(asSize.error());
        const double stretch = std::abs(
            static_cast<double>(asSize->width) / asSize->height / (box->width / box->height) - 1);
        const double onePixel =
            0.5 / asSize->width + 0.5 / asSize->height;  // rounding to whole px is no stretching
        if (stretch > anisotropy + onePixel)
            return fail(
                Code::badUsage,
                fmt::format(
                    "{} is not the shape of the crop, {:.2f} x {:.2f}: it would be stretched.",
                    asked.size, box->width, box->height),
                "Give a size of that shape.");
        size = *asSize;
    }
    RealRect part = *box;
    const auto drawn = drawnFor(size, *input, part);
    if (!drawn) return passOn(drawn.error());
    if (*drawn) picture = &**drawn;
    const Ink ink = resampled(picture->pixels, picture->opaque, part, RealRect::of(size),
                              PixelRect::of(size), coreCount());
    Straight8 cropped = rounded8(ink);
    if (auto laid = layOn(asked.matte, *format, cropped); !laid) return passOn(laid.error());
    // What lies under alpha 0 has the ink's colour, so that the next resize draws nothing foreign
    // in.
    if (!isOpaque(cropped)) bleedColour(cropped);
    const OrderedJson enlarged = tellEnlarged(input->name, size.width / part.width);
    Encoding encoding{*format, asked.quality, Chroma::full, Effort::release};
    encoding.reduced = false;  // a working file: true colour, for whatever reads it next
    const auto encoded = encode(cropped, encoding);
    if (!encoded) return passOn(encoded.error());
    if (auto done = writeOutput(asked.out, *encoded, asked.file, common); !done)
        return passOn(done.error());
    if (asked.out == "-") return Exit::done;
    if (common.json)
        print({{"out", asked.out},
               {"width", size.width},
               {"height", size.height},
               {"rect", {box->x, box->y, box->width, box->height}},
               {"content", factsOf(*format).type},
               {"bytes", encoded->size()},
               {"enlarged", enlarged}});
    else
        fmt::print("{}: {} x {} px out of {:.2f}, {:.2f}, {:.2f} x {:.2f}\n", asked.out, size.width,
                   size.height, box->x, box->y, box->width, box->height);
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareCrop(Options& options, const Common& common) {
    const auto asked = std::make_shared<CropAsked>();
    options.value("file", asked->file, "A picture; - is standard input").required();
    options.value("--aspect", asked->aspect, "The shape, such as 16:9");
    options.value("--rect", asked->rect, "The box to keep: X,Y,W,H in px, real numbers");
    options.value("--focus", asked->focus, "Where to centre: X,Y from 0 to 1, or auto");
    options.value("--size", asked->size,
                  "Scale the crop to WxH px; refused when that would stretch");
    options.value("--quality", asked->quality, "JPEG quality (default 95)").between(1, 100);
    options.value("--matte", asked->matte,
                  "#RRGGBB that see-through parts are laid on where the format has no alpha");
    options.value("--format", asked->format,
                  "png, jpeg, gif or webp (default: what the ending says)");
    options
        .value("--out", asked->out,
               "The file to write; its ending tells the format; - is standard output")
        .required();
    return [asked, &common] { return runCrop(*asked, common); };
}

}  // namespace zl::cli
