// SPDX-License-Identifier: GPL-3.0-or-later
// resize FILE --size WxH|--brief ID --out FILE: to a frame, by covering, containing or padding; never by stretching unasked.
#include <fmt/core.h>

#include <cmath>
#include <memory>

#include "base/parallel.h"
#include "command.h"
#include "encode/encode.h"
#include "raster/decode.h"
#include "raster/resample.h"
#include "readings/mend_parts.h"

namespace zl::cli {
namespace {

struct Asked {
    std::string file, size, brief, fit = "cover", padColour, out;
    int quality = 95;
    bool stretch = false;
};

Result<PixelSize> frameOf(const Asked& asked) {
    if (asked.size.empty() == asked.brief.empty()) return fail(Code::badUsage, "Give either --size or --brief.");
    if (!asked.size.empty()) return parseSize(asked.size);
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const auto brief = briefNamed(*briefs, asked.brief);
    if (!brief) return passOn(brief.error());
    if ((*brief)->frameRule == FrameRule::any)
        return fail(Code::badUsage, fmt::format("The brief \"{}\" takes any frame.", asked.brief), "Give --size.");
    return (*brief)->frame;
}

Straight8 scaled(const Picture& picture, const RealRect& box, PixelSize size) {
    return rounded8(resampled(picture.pixels, picture.opaque, box, RealRect::of(size), PixelRect::of(size), coreCount()));
}

Result<Straight8> resized(const Asked& asked, const Picture& picture, PixelSize frame) {
    const RealRect all = RealRect::of(picture.pixels->size());
    if (asked.stretch) return scaled(picture, all, frame);
    if (asked.fit == "cover") return scaled(picture, largestInside(all, frame.width, frame.height), frame);
    if (asked.fit == "contain") {
        const RealRect inside = largestInside(RealRect::of(frame), all.width, all.height);
        return scaled(
            picture, all,
            {std::max(1, static_cast<int>(std::lround(inside.width))), std::max(1, static_cast<int>(std::lround(inside.height)))});
    }
    std::uint32_t rim = rimColour(picture);
    if (!asked.padColour.empty()) {
        const auto colour = parseColour(asked.padColour);
        if (!colour) return passOn(colour.error());
        rim = packed(colour->red, colour->green, colour->blue, colour->alpha);
    }
    return padded(picture, frame, rim);
}

Result<int> run(const Asked& asked, const Common& common) {
    const auto frame = frameOf(asked);
    if (!frame) return passOn(frame.error());
    if (!asked.padColour.empty() && asked.fit != "pad") return fail(Code::badUsage, "--pad-colour goes with --fit pad.");
    const auto format = formatFor(endingOf(asked.out));
    if (!format) return passOn(format.error());
    const auto bytes = readFile(asked.file);
    if (!bytes) return passOn(bytes.error());
    const auto picture = decode(*bytes, Path(asked.file).filename().string());
    if (!picture) return passOn(picture.error());
    if (auto may = mayWrite(asked.out, {asked.file}, common); !may) return passOn(may.error());
    const auto made = resized(asked, *picture, *frame);
    if (!made) return passOn(made.error());
    const auto encoded = encode(*made, {*format, *format == Content::webp ? 0 : asked.quality, Chroma::full, Effort::release});
    if (!encoded) return passOn(encoded.error());
    if (auto done = writeFile(asked.out, *encoded, common.replacing()); !done) return passOn(done.error());
    if (common.json)
        print({{"out", asked.out},
               {"width", made->width()},
               {"height", made->height()},
               {"content", factsOf(*format).type},
               {"bytes", encoded->size()}});
    else
        fmt::print("{}: {} x {} px, {} bytes\n", asked.out, made->width(), made->height(),
                   grouped(static_cast<long long>(encoded->size())));
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareResize(Options& options, const Common& common) {
    const auto asked = std::make_shared<Asked>();
    options.value("file", asked->file, "A picture").required();
    options.value("--size", asked->size, "The frame, WxH px");
    options.value("--brief", asked->brief, "The frame of this brief");
    options.value("--fit", asked->fit, "cover (default) crops, contain keeps all and the shape, pad adds a rim")
        .oneOf({"cover", "contain", "pad"});
    options.value("--pad-colour", asked->padColour,
                  "#RRGGBB[AA] of the rim (default: the mean of the border; nothing where it is see-through)");
    options.flag("--stretch", asked->stretch, "Stretch to the frame, whatever its shape");
    options.value("--quality", asked->quality, "JPEG quality (default 95)").between(1, 100);
    options.value("--out", asked->out, "The file to write; its ending tells the format").required();
    return [asked, &common] { return run(*asked, common); };
}

}  // namespace zl::cli
