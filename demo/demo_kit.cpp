// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/demo_kit.h"

#include <fmt/core.h>

#include "demo/scene.h"
#include "encode/encode.h"
#include "kit/edits.h"
#include "kit/kit_file.h"

namespace zl::demo {
namespace {

Colour colour(const char* text) {
    return parseColour(text).value_or(Colour{});
}

class Maker {
  public:
    // Draws, encodes and keeps an original under its file name.
    void medium(const std::string& name, const Straight8& raster) {
        auto bytes = encode(raster, {});
        if (!bytes) {
            error_ = bytes.error();
            return;
        }
        made_.media.push_back({name, *bytes});
        Asset asset = makeAsset(std::move(*bytes), name);
        sizes_[name] = {asset.sha256, raster.size()};
        made_.kit = withAsset(made_.kit, std::move(asset));
    }
    PictureLayer picture(const std::string& name, RealRect place) const {
        const auto& [hash, size] = sizes_.at(name);
        return {hash, RealRect::of(size), place};
    }
    PictureLayer filling(const std::string& name, PixelSize frame) const {
        const auto& [hash, size] = sizes_.at(name);
        return fillingFrame(hash, size, frame);
    }
    void piece(Piece piece, std::vector<Layer> layers) {
        for (std::size_t i = 0; i < layers.size(); ++i) layers[i].id = static_cast<int>(i) + 1;
        piece.layers = std::move(layers);
        if (auto kit = withPiece(made_.kit, std::move(piece)))
            made_.kit = std::move(*kit);
        else
            error_ = kit.error();
    }
    Result<DemoKit> finished() && {
        if (error_) return passOn(*error_);
        return std::move(made_);
    }
    Kit& kit() { return made_.kit; }

  private:
    DemoKit made_;
    std::map<std::string, std::pair<std::string, PixelSize>> sizes_;
    std::optional<Error> error_;
};

Layer layer(std::string name, std::variant<PictureLayer, LetteringLayer> what, double opacity = 1) {
    return {0, std::move(name), false, opacity, std::move(what), {}};
}

LetteringLayer letters(RealPoint at, std::string text, double size, const char* fill, double outline = 0) {
    LetteringLayer l;
    l.at = at;
    l.text = std::move(text);
    l.size = size;
    l.colour = colour(fill);
    l.outline.px = outline;
    return l;
}

}  // namespace

Result<DemoKit> makeDemoKit() {
    constexpr int grain = 7;
    Maker maker;
    maker.kit().title = "Mossgate Signals";
    maker.medium("dusk-at-the-box.png", duskAtTheBox({1600, 900}, grain));
    maker.medium("signal-arm.png", signalArm({400, 500}));
    maker.medium("mossgate-mark.png", channelMark({300, 300}));
    maker.medium("lower-bar.png", lowerBar({1100, 132}));
    maker.medium("layout-sketch.png", layoutSketch({960, 600}));

    constexpr PixelSize thumbnail{1280, 720};
    maker.piece({"thumbnail", "Thumbnail, ep. 12", "video-thumbnail", thumbnail, {"the-lever-that-stuck"}, {}},
                {layer("Dusk at the box", maker.filling("dusk-at-the-box.png", thumbnail)),
                 layer("Signal arm, cut out", maker.picture("signal-arm.png", {300, 392, 232, 290})),
                 layer("Title, first line", letters({54, 30}, "THE LEVER", 160, "#FFF6E3", 11)),
                 layer("Title, second line", letters({54, 164}, "THAT STUCK", 160, "#FFC653", 11))});

    // Stretched and enlarged, the wrong shape, too heavy as a PNG, dark letters on a dark hill under the length's badge, the
    // sketch it was built over left in, names that say nothing.
    maker.piece(
        {"thumbnail-first-try", "Thumbnail, first try", "video-thumbnail", {1920, 1200}, {"thumbnail-first-try", FormatChoice::png}, {}},
        {layer("layer 1", maker.picture("dusk-at-the-box.png", {0, 0, 1920, 1200})),
         layer("Screenshot 3", maker.picture("layout-sketch.png", {0, 0, 1920, 1200}), 0.5),
         layer("layer 7", letters({1240, 960}, "it stuck", 190, "#1B1A2B"))});

    maker.piece({"corner-mark", "Corner mark", "corner-mark", {150, 150}, {"mossgate-corner-mark"}, {}},
                {layer("Channel mark", maker.picture("mossgate-mark.png", {0, 0, 150, 150}))});
    // Squashed, and saved without alpha.
    maker.piece({"corner-mark-old",
                 "Corner mark, old",
                 "corner-mark",
                 {150, 150},
                 {"mossgate-corner-mark-old", FormatChoice::jpeg, 90, ChromaChoice::best, true, colour("#FFFFFF")},
                 {}},
                {layer("Channel mark", maker.picture("mossgate-mark.png", {0, 18, 150, 114}))});

    LetteringLayer caption = letters({330, 948}, "Points, rods and patience", 52, "#FFF6E3");
    caption.style = "Bold";
    maker.piece({"overlay", "Overlay, lower corner", "stream-overlay", {1920, 1080}, {"mossgate-overlay"}, {}},
                {layer("Lower bar", maker.picture("lower-bar.png", {97, 900, 1100, 132})),
                 layer("Channel mark", maker.picture("mossgate-mark.png", {110, 846, 190, 190})), layer("Caption", caption)});
    return std::move(maker).finished();
}

Result<Path> writeDemoKit(const Path& folder, Replace replace) {
    std::error_code error;
    std::filesystem::create_directories(folder / "media", error);
    if (error)
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", (folder / "media").string()), "Choose another folder.");
    const Path file = folder / kitFileName;
    if (replace == Replace::no && std::filesystem::exists(file, error))
        return fail(Code::unwritable, fmt::format("{} stands there already.", file.string()),
                    "Choose another folder, or ask for it to be replaced.");
    const auto made = makeDemoKit();
    if (!made) return passOn(made.error());
    for (const Medium& medium : made->media)
        if (auto done = writeFile(folder / "media" / medium.name, medium.bytes, replace); !done) return passOn(done.error());
    if (auto done = saveKit(made->kit, file, replace); !done) return passOn(done.error());
    return file;
}

}  // namespace zl::demo
