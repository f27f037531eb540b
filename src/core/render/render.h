// SPDX-License-Identifier: GPL-3.0-or-later
// A piece to pixels: the one way that the screen, the readings, the release, the command line and the tests share.
// Stages of a layer: source, place (resampled once, from the original), opacity, blend. The outcome is straight 8-bit
// sRGB, at most one code value from double precision in any pixel that can be seen.
#pragma once

#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "kit/kit.h"
#include "raster/decode.h"
#include "raster/over.h"

namespace zl {

// Decoded originals and drawn inks, kept while there is room. Safe from any thread; one is shared by everything that shows
// the same kit.
class InkStore {
  public:
    // What a store may keep beyond what is in use, in bytes of pixels.
    explicit InkStore(std::size_t room = 700'000'000) : room_(room) {}

    [[nodiscard]] Result<std::shared_ptr<const Picture>> picture(const Asset& asset);
    // Size and kind of an original without decoding it.
    [[nodiscard]] Result<PictureFacts> facts(const Asset& asset);
    // The layer's ink in frame px, with its opacity. Empty box: nothing to draw.
    [[nodiscard]] Result<Ink> ink(const Layer& layer, const Kit& kit, PixelSize frame, std::stop_token stop = {});
    // The same, only when it is kept already: never draws, so that the interface thread may ask.
    std::optional<Ink> keptInk(const Layer& layer, PixelSize frame);
    // Forgets the pixels that nothing uses.
    void clear();

  private:
    struct Kept {
        std::string key;
        std::shared_ptr<const Picture> picture;
        std::optional<Ink> ink;
        std::optional<LetteringLayer> letters;
        std::size_t bytes = 0;
    };
    template <class Matches>
    const Kept* find(const Matches& matches);
    std::optional<Ink> findInk(const std::string& key);
    void keep(Kept kept);
    Result<Ink> pictureInk(const PictureLayer& layer, const Kit& kit, PixelSize frame, std::stop_token stop);
    Result<Ink> letteringInk(const LetteringLayer& layer, PixelSize frame);

    std::mutex mutex_;
    std::list<Kept> kept_;  // last used first
    std::size_t used_ = 0;
    std::size_t room_;
};

// Makes the kit's own fonts usable, once; before lettering is measured or drawn.
void useFontsOf(const Kit& kit);

// A reference layer is seen on the screen and never in a release.
enum class For { screen, release };

// The inks of the layers that are shown, bottom first.
[[nodiscard]] Result<std::vector<Ink>> inksOf(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop = {},
                                              For purpose = For::screen);

// The whole frame. Code::cancelled when it was stopped.
[[nodiscard]] Result<Straight8> render(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop = {},
                                       For purpose = For::screen);
// The part `damage` of it into `frame`, which has the piece's size; the rest stays as it is.
[[nodiscard]] Result<void> renderInto(Straight8& frame, PixelRect damage, const Piece& piece, const Kit& kit, InkStore& store,
                                      std::stop_token stop = {}, For purpose = For::screen);

// Where two states of a piece can differ, in frame px; everything when the frames differ, empty when nothing does.
PixelRect damageBetween(const Piece& before, const Piece& after, const Kit& kit, InkStore& store);

// What a release writes: the frame without its references, with the ink's colour under alpha 0.
[[nodiscard]] Result<Straight8> releaseFrame(const Piece& piece, const Kit& kit, InkStore& store, std::stop_token stop = {});

// The topmost shown layer that has ink at the point, as far as inks are kept (else its box counts); 0 when there is none.
int layerAt(const Piece& piece, InkStore& store, RealPoint point);

// The rectangle a layer is picked, dragged and framed by, in frame px.
RealRect boxOf(const Layer& layer);

}  // namespace zl
