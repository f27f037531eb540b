// SPDX-License-Identifier: GPL-3.0-or-later
// resize FILE --size WxH|--brief ID --out FILE: to a frame, by covering, containing or padding;
// never by stretching unasked.
#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>

#include "base/json.h"
#include "base/parallel.h"
#include "command.h"
#include "encode/encode.h"
#include "mend/mend_parts.h"
#include "picture/decode.h"
#include "raster/bleed.h"
#include "raster/resample.h"

namespace zl::cli {
namespace {

struct ResizeAsked {
    std::vector<std::string> files;
    std::string size, brief, fit = "cover", padColour, matte, at = "centre", format, out;
    bool several() const { return files.size() > 1; }
    int quality = 95;
    bool stretch = false;
};

Result<PixelSize> frameOf(const ResizeAsked& asked) {
    if (asked.size.empty() == asked.brief.empty())
        return fail(Code::badUsage, "Give either --size or --brief.");
    if (!asked.size.empty()) return parseOpenSize(asked.size);
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const auto brief = briefNamed(*briefs, asked.brief);
    if (!brief) return passOn(brief.error());
    if ((*brief)->frameRule == FrameRule::any)
        return fail(Code::badUsage, fmt::format("The brief \"{}\" takes any frame.", asked.brief),
                    "Give --size.");
    return (*brief)->frame;
}

// Where a picture lies in a frame, as shares of the room that is left: "top-left" ..
// "bottom-right".
Result<RealPoint> placeNamed(const std::string& word) {
    constexpr std::array<const char*, 3> rows{"top", "", "bottom"}, columns{"left", "", "right"};
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t j = 0; j < 3; ++j) {
            const std::string row = rows[i], column = columns[j];
            const std::string name =
                row.empty() && column.empty()
                    ? "centre"
                    : row + (row.empty() || column.empty() ? "" : "-") + column;
            if (name == word)
                return RealPoint{0.5 * static_cast<double>(j), 0.5 * static_cast<double>(i)};
        }
    return fail(Code::badUsage, fmt::format("--at {} is unknown.", word),
                "It is top-left, top, top-right, left, centre, right, bottom-left, bottom or "
                "bottom-right.");
}

// Pixel for pixel, cut where the frame is smaller, see-through round it where it is larger.
Straight8 placed(const Picture& picture, PixelSize frame, RealPoint at) {
    Straight8 out = Straight8::cleared(frame);
    const Straight8& from = *picture.pixels;
    const int left = static_cast<int>(std::lround((frame.width - from.width()) * at.x)),
              top = static_cast<int>(std::lround((frame.height - from.height()) * at.y));
    for (int y = std::max(0, top); y < std::min(frame.height, top + from.height()); ++y)
        for (int x = std::max(0, left); x < std::min(frame.width, left + from.width()); ++x)
            out.row(y)[x] = from.row(y - top)[x - left];
    return out;
}

Straight8 scaled(const Picture& picture, const RealRect& box, PixelSize size) {
    return rounded8(resampled(picture.pixels, picture.opaque, box, RealRect::of(size),
                              PixelRect::of(size), coreCount()));
}

// The whole picture in px of what was read of it, which may be a half, a quarter or an eighth: its
// own shape, to a part of a pixel.
RealRect boxOf(const Picture& picture) {
    const PixelSize whole = picture.facts.size, read = picture.pixels->size();
    const double shrink = std::max(1.0, std::round(static_cast<double>(whole.width) / read.width));
    return {0, 0, std::min<double>(read.width, whole.width / shrink),
            std::min<double>(read.height, whole.height / shrink)};
}

Result<Straight8> resized(const ResizeAsked& asked, const Picture& picture, PixelSize frame) {
    const RealRect all = boxOf(picture);
    if (asked.stretch) return scaled(picture, all, frame);
    if (asked.fit == "cover")
        return scaled(picture, largestInside(all, frame.width, frame.height), frame);
    if (asked.fit == "contain") {
        const RealRect inside = largestInside(RealRect::of(frame), all.width, all.height);
        return scaled(picture, all,
                      {std::max(1, static_cast<int>(std::lround(inside.width))),
                       std::max(1, static_cast<int>(std::lround(inside.height)))});
    }
    if (asked.fit == "place") {
        const auto at = placeNamed(asked.at);
        if (!at) return passOn(at.error());
        return placed(picture, frame, *at);
    }
    std::uint32_t rim = rimColour(picture);
    if (!asked.padColour.empty()) {
        const auto colour = parseColour(asked.padColour);
        if (!colour) return passOn(colour.error());
        rim = packed(colour->red, colour->green, colour->blue, colour->alpha);
    }
    return padded(picture, frame, rim);
}

Result<Told> runResize(const ResizeAsked& asked, const std::string& file, const Common& common) {
    auto frame = frameOf(asked);
    if (!frame) return passOn(frame.error());
    if (!asked.padColour.empty() && asked.fit != "pad")
        return fail(Code::badUsage, "--pad-colour goes with --fit pad.");
    if (asked.at != "centre" && asked.fit != "place")
        return fail(Code::badUsage, "--at goes with --fit place.");
    const bool named = !asked.format.empty();
    const auto format = named             ? formatFor("." + asked.format)
                        : asked.several() ? formatFor(endingOf(file))
                                          : formatFor(endingOf(asked.out));
    if (!format) return passOn(format.error());
    const Path out = outFor(asked.out, file, asked.several(), *format);
    if (out != "-")
        if (auto may = mayWrite(out, {file}, common); !may) return passOn(may.error());
    // Pixel for pixel needs them all.
    const auto input =
        asked.fit == "place"
            ? readPicture(file)
            : readPictureFor([&](PixelSize whole) { return filledIn(*frame, whole); }, file);
    if (!input) return passOn(input.error());
    const Picture* picture = &input->picture;
    *frame = filledIn(*frame, picture->facts.size);
    if (frame->count() > mostPixels)
        return fail(Code::badUsage,
                    fmt::format("{} is more than the 100 million pixels allowed.", asked.size));
    auto made = resized(asked, *picture, *frame);
    if (!made) return passOn(made.error());
    if (auto laid = layOn(asked.matte, *format, *made); !laid) return passOn(laid.error());
    // What lies under alpha 0 has the ink's colour, so that the next resize draws nothing foreign
    // in.
    if (!isOpaque(*made)) bleedColour(*made);
    const PixelSize was = picture->facts.size;
    const double larger = std::min(static_cast<double>(made->width()) / was.width,
                                   static_cast<double>(made->height()) / was.height);
    const OrderedJson enlarged =
        asked.fit == "place" ? OrderedJson(nullptr) : tellEnlarged(input->name, larger);
    Encoding encoding{*format, *format == Content::webp ? 0 : asked.quality, Chroma::full,
                      Effort::release};
    encoding.reduced = false;  // a working file: true colour, for whatever reads it next
    const auto encoded = encode(*made, encoding);
    if (!encoded) return passOn(encoded.error());
    if (auto done = writeOutput(out, *encoded, file, common); !done) return passOn(done.error());
    if (out == "-") return Told{};
    return told(Exit::done,
                {{"out", out.string()},
                 {"width", made->width()},
                 {"height", made->height()},
                 {"content", factsOf(*format).type},
                 {"bytes", encoded->size()},
                 {"enlarged", enlarged}},
                fmt::format("{}: {} x {} px, {} bytes\n", out.string(), made->width(),
                            made->height(), grouped(static_cast<long long>(encoded->size()))));
}

}  // namespace

std::function<Result<int>()> declareResize(Options& options, const Common& common) {
    const auto asked = std::make_shared<ResizeAsked>();
    options.value("file", asked->files, "Pictures; - is standard input").required();
    options.value("--size", asked->size, "The frame, WxH px; 800x or x600 keeps the shape");
    options.value("--brief", asked->brief, "The frame of this brief");
    options
        .value("--fit", asked->fit,
               "cover (default) crops, contain keeps all and the shape, pad adds a rim, place lays "
               "it pixel for pixel")
        .oneOf({"cover", "contain", "pad", "place"});
    options.value("--at", asked->at,
                  "Where --fit place lays it: top-left .. bottom-right (centre)");
    options.value("--matte", asked->matte,
                  "#RRGGBB that see-through parts are laid on where the format has no alpha");
    options.value("--format", asked->format,
                  "png, jpeg, gif or webp (default: what the ending says)");
    options.value("--pad-colour", asked->padColour,
                  "#RRGGBB[AA] of the rim (default: the mean of the border; nothing where it is "
                  "see-through)");
    options.flag("--stretch", asked->stretch, "Stretch to the frame, whatever its shape");
    options.value("--quality", asked->quality, "JPEG quality (default 95)").between(1, 100);
    options
        .value("--out", asked->out,
               "The file to write; a folder for several files; - is standard output")
        .required();
    return [asked, &common] {
        return eachFile(asked->files, common,
                        [&](const std::string& file) { return runResize(*asked, file, common); });
    };
}

}  // namespace zl::cli
