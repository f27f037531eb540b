// SPDX-License-Identifier: GPL-3.0-or-later
// finish FILE --out PNG: outline, shadow, glow and bevel round the ink of a picture; the frame
// grows to hold them.
#include <fmt/core.h>

#include <cmath>
#include <memory>

#include "edit/edits.h"
#include "finish/finish.h"
#include "made.h"
#include "picture/decode.h"
#include "raster/ink_box.h"

namespace zl::cli {
namespace {

struct FinishAsked {
    std::string file, out;
    FinishWords words;
    bool keepFrame = false, trim = false;
};

Result<int> runFinish(const FinishAsked& asked, const Common& common) {
    if (!asked.words.any() && !asked.trim)
        return fail(Code::badUsage, "Say what to put on: --outline, --shadow, --glow or --bevel.");
    if (asked.keepFrame && asked.trim)
        return fail(Code::badUsage, "--keep-frame and --trim are opposites.", "Leave one out.");
    const auto finishes = finishesOf(asked.words);
    if (!finishes) return passOn(finishes.error());
    if (const auto format = formatFor(endingOf(asked.out)); !format) return passOn(format.error());
    auto bytes = readFile(asked.file);
    if (!bytes) return passOn(bytes.error());
    const std::string name = Path(asked.file).filename().string();
    const auto facts = readFacts(*bytes, name);
    if (!facts) return passOn(facts.error());
    const Asset asset = makeAsset(std::move(*bytes), name);
    Layer layer;
    layer.what = PictureLayer{asset.sha256, RealRect::of(facts->size), RealRect::of(facts->size)};
    layer.finishes = *finishes;
    const int room = asked.keepFrame ? 0 : static_cast<int>(std::ceil(reachOf(*finishes)));
    const auto sheet = drawn(withAsset(Kit{}, asset), layer, facts->size, room);
    if (!sheet) return passOn(sheet.error());
    // As large as the picture was, and as its ink is now.
    const PixelRect before = PixelRect::of(facts->size).moved(room, room);
    const auto ink = inkBoxOf(sheet->pixels, 1);
    PixelRect kept = before;
    if (ink && !asked.keepFrame) kept = asked.trim ? *ink : before.united(*ink);
    return writePicture(partOf(sheet->pixels, kept), {asked.out}, {asked.file}, common,
                        {{"offset", {before.left - kept.left, before.top - kept.top}}});
}

}  // namespace

std::function<Result<int>()> declareFinish(Options& options, const Common& common) {
    const auto asked = std::make_shared<FinishAsked>();
    options.value("file", asked->file, "A picture").required();
    declareFinishes(options, asked->words, true);
    options.flag("--keep-frame", asked->keepFrame, "Keep the frame's size; what leaves it is cut");
    options.flag("--trim", asked->trim, "Cut the frame down to the ink");
    options.value("--out", asked->out, "The file to write; its ending tells the format").required();
    return [asked, &common] { return runFinish(*asked, common); };
}

}  // namespace zl::cli
