// SPDX-License-Identifier: GPL-3.0-or-later
// A piece to pixels: the one way that the screen, the readings, the release, the command line and
// the tests share. Stages of a layer: source, tone, place (resampled once, from the original) and
// turn, finish, opacity, blend. The outcome is straight 8-bit sRGB, at most one code value from
// double precision in any pixel that can be seen.
#pragma once

#include <any>
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

// Decoded originals and drawn inks, kept while there is room. Safe from any thread; one is shared
// by everything that shows the same kit.
class InkStore {
  public:
    // What a store may keep beyond what is in use, in bytes of pixels.
    explicit InkStore(std::size_t room = 700'000'000) : room_(room) {}

    [[nodiscard]] Result<std::shared_ptr<const Picture>> picture(const Asset& asset);
    // Size and kind of an original without decoding it.
    [[nodiscard]] Result<PictureFacts> facts(const Asset& asset);
    // The layer's ink in frame px, with its opacity. Empty box: nothing to draw.
    [[nodiscard]] Result<Ink> ink(const Layer& layer, const Kit& kit, PixelSize frame,
                                  std::stop_token stop = {});
    // The same, only when it is kept already: never draws, so that the interface thread may ask.
    std::optional<Ink> keptInk(const Layer& layer, PixelSize frame);
    // What was measured of an ink's pixels, wherever they stand: made once, kept as long as the
    // pixels are. `make()` gives a std::shared_ptr<const T>.
    template <class T, class Make>
    std::shared_ptr<const T> measured(const Ink& ink, const Make& make);
    // Forgets the pixels that nothing uses.
    void clear();

  private:
    struct Kept {
        std::string key;  // of a picture: its hash and what was done to it
        std::shared_ptr<const Picture> picture;
        std::optional<Layer>
            layer;  // of an ink: what it was drawn of, with the place's whole px taken out
        PixelRect want;
        std::optional<Ink> ink;
        std::size_t bytes = 0;
    };
    template <class Matches>
    const Kept* find(const Matches& matches);
    std::optional<Ink> findInk(const Layer& still, const PixelRect& want);
    void keep(Kept kept);
    template <class Make>
    Result<std::shared_ptr<const Picture>> derived(const std::string& key, const Make& make);
    // The original with its veils, its tone, its mirrors and quarter turns.
    Result<std::shared_ptr<const Picture>> prepared(const Asset& asset, const PictureLayer& layer,
                                                    int quarters, const Turn& turn,
                                                    const std::stop_token& stop);
    Result<Ink> pictureInk(const PictureLayer& layer, const Turn& turn, const Kit& kit,
                           PixelRect want, const std::stop_token& stop);
    Result<Ink> bareInk(const Layer& still, const Kit& kit, PixelRect want,
                        const std::stop_token& stop);

    // Of which pixels, and what.
    struct Measured {
        std::weak_ptr<const void> pixels;
        int fromX = 0, fromY = 0;
        PixelSize size;
        std::any what;
        bool isOf(const Ink& ink, const std::shared_ptr<const void>& raster) const {
            return !pixels.expired() && pixels.lock() == raster && fromX == ink.fromX &&
                   fromY == ink.fromY && size == ink.box.size();
        }
    };
    static std::shared_ptr<const void> pixelsOf(const Ink& ink) {
        return ink.eight ? std::shared_ptr<const void>(ink.eight)
                         : std::shared_ptr<const void>(ink.sixteen);
    }

    std::mutex mutex_;
    std::list<Measured> measured_;
    std::list<Kept> kept_;  // last used first
    std::size_t used_ = 0;
    std::size_t room_;
};

template <class T, class Make>
std::shared_ptr<const T> InkStore::measured(const Ink& ink, const Make& make) {
    using Shared = std::shared_ptr<const T>;
    const auto raster = pixelsOf(ink);
    {
        const std::scoped_lock lock(mutex_);
        measured_.remove_if([](const Measured& m) { return m.pixels.expired(); });
        for (const Measured& m : measured_)
            if (m.isOf(ink, raster))
                if (const Shared* known = std::any_cast<Shared>(&m.what)) return *known;
    }
    Shared made = make();
    const std::scoped_lock lock(mutex_);
    measured_.push_back({raster, ink.fromX, ink.fromY, ink.box.size(), made});
    return made;
}

// Makes the kit's own fonts usable, once; before lettering is measured or drawn.
void useFontsOf(const Kit& kit);

// A reference layer is seen on the screen and never in a release.
enum class For { screen, release };

// The inks of the layers that are shown, bottom first.
[[nodiscard]] Result<std::vector<Ink>> inksOf(const Piece& piece, const Kit& kit, InkStore& store,
                                              std::stop_token stop = {}, For purpose = For::screen);

// The whole frame. Code::cancelled when it was stopped.
[[nodiscard]] Result<Straight8> render(const Piece& piece, const Kit& kit, InkStore& store,
                                       std::stop_token stop = {}, For purpose = For::screen);
// The part `damage` of it into `frame`, which has the piece's size; the rest stays as it is.
[[nodiscard]] Result<void> renderInto(Straight8& frame, PixelRect damage, const Piece& piece,
                                      const Kit& kit, InkStore& store, std::stop_token stop = {},
                                      For purpose = For::screen);

// Where two states of a piece can differ, in frame px; everything when the frames differ, empty
// when nothing does.
PixelRect damageBetween(const Piece& before, const Piece& after, const Kit& kit, InkStore& store);

// What a release writes: the frame without its references, with the ink's colour under alpha 0.
[[nodiscard]] Result<Straight8> releaseFrame(const Piece& piece, const Kit& kit, InkStore& store,
                                             std::stop_token stop = {});

// The smallest rectangle round all ink that a release would write, in and out of the frame;
// Code::limitNotMet when there is none.
[[nodiscard]] Result<PixelRect> inkBounds(const Piece& piece, const Kit& kit, InkStore& store,
                                          std::stop_token stop = {});

// The topmost shown layer that has ink at the point, as far as inks are kept (else its box counts);
// 0 when there is none.
int layerAt(const Piece& piece, InkStore& store, RealPoint point);

// The rectangle a layer is framed and scaled by, before its turn, in frame px; and the upright one
// round it after the turn.
RealRect boxOf(const Layer& layer);
RealRect boundsOf(const Layer& layer);

}  // namespace zl
