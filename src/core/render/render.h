// SPDX-License-Identifier: GPL-3.0-or-later
// A piece to pixels: the one way that the screen, the readings, the release, the command line and
// the tests share. Stages of a layer: source, tone, place (resampled once, from the original) and
// turn, finish, opacity, blend. The outcome is straight 8-bit sRGB, at most one code value from
// double precision in any pixel that can be seen.
#pragma once

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "kit/kit.h"
#include "picture/decode.h"
#include "raster/over.h"
#include "render/ink_store.h"

namespace zl {

// A reference layer is seen on the screen and never in a release.
enum class For { screen, release };

// What is looked at, and when. Holds on to nothing: both outlive the call it is made for.
struct View {
    const Piece& piece;
    const Kit& kit;
    std::optional<double> moment{};  // s, of a moving piece; nothing: the one that tells most
    For purpose = For::screen;
};

// The piece as it is seen at a moment: frames of clips for their posters, layers as strong as they
// are then, those that are not seen hidden. A still piece comes back as it is. A clip whose video
// is not there shows its poster.
// `quick`: frames as exact as a screen asks for, for what plays.
Piece atMoment(const Piece& piece, double moment, InkStore& store, bool quick = false);

// The inks of the layers that are shown, bottom first.
[[nodiscard]] Result<std::vector<Ink>> inksOf(const View& view, InkStore& store,
                                              std::stop_token stop = {});

// The whole frame. Code::cancelled when it was stopped.
[[nodiscard]] Result<Straight8> render(const View& view, InkStore& store,
                                       std::stop_token stop = {});
// The part `damage` of it into `frame`, which has the piece's size; the rest stays as it is.
[[nodiscard]] Result<void> renderInto(Straight8& frame, PixelRect damage, const View& view,
                                      InkStore& store, std::stop_token stop = {});

// Where `before` can differ from what is looked at now, in frame px, both as they are at their
// moments; everything when the frames
// differ, empty when nothing does.
PixelRect damageBetween(const Piece& before, const View& now, InkStore& store);

// What a release writes, whatever the view is for: the frame without its references, with the
// ink's colour under alpha 0.
[[nodiscard]] Result<Straight8> releaseFrame(const View& view, InkStore& store,
                                             std::stop_token stop = {});

// The smallest rectangle round all ink that a release would write, in and out of the frame;
// Code::limitNotMet when there is none.
[[nodiscard]] Result<PixelRect> inkBounds(const View& view, InkStore& store,
                                          std::stop_token stop = {});

// The topmost shown layer that has ink at the point, as far as inks are kept (else its box counts);
// 0 when there is none.
int layerAt(const Piece& piece, InkStore& store, RealPoint point);

// The rectangle a layer is framed and scaled by, before its turn, in frame px; and the upright one
// round it after the turn.
RealRect boxOf(const Layer& layer);
RealRect boundsOf(const Layer& layer);

}  // namespace zl
