// SPDX-License-Identifier: GPL-3.0-or-later
// A mark over the frames of a video: how much of it stands out at each moment, how much it hides,
// and whether that holds for the whole of it.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "base/geometry.h"
#include "base/verdict.h"
#include "raster/raster.h"
#include "readings/reading.h"
#include "readings/standing.h"

namespace zl {

struct LegibleSample {
    double time = 0;   // s
    double share = 0;  // of the mark's edges, by length and alpha, that stand out; 0..1
    double hides = 0;  // of the detail that can be seen in the frame; 0..1
    bool operator==(const LegibleSample&) const = default;
};

struct LegibleCurve {
    std::vector<LegibleSample> samples;  // in their order
    // The share of the samples where too little of the mark stands out; 0 without any.
    double lost() const;
    Verdict verdict() const;
    // Where least of it stands out, the first such; nothing without samples.
    std::optional<LegibleSample> worst() const;
    double mostHidden() const;
    bool operator==(const LegibleCurve&) const = default;
};

// A mark at a place of frames of one size, made ready once. Not for frames of another size.
class MarkInFrame {
  public:
    // `place`: real px of the frame; what lies outside of it is left out.
    MarkInFrame(const std::shared_ptr<const Straight8>& mark, const RealRect& place,
                PixelSize frame, double opacity = 1);

    // `frame` is opaque and has the size.
    LegibleSample in(const Straight8& frame, double time) const;
    double standsOut(const Straight8& frame) const;
    // The share of the frame's differences between neighbours, of those within a part of it, that
    // lie under the mark.
    double hides(const Straight8& frame) const;
    double hides(const Straight8& frame, const PixelRect& within) const;
    // The mark as it stands there, and where.
    const Straight8& pixels() const { return mark_; }
    const PixelRect& box() const { return box_; }

  private:
    Straight8 mark_;
    PixelRect box_;
    MarkEdges edges_;
    int step_ = 1;  // px between the places where detail is looked for
};

// Where what is laid over the subject's video stands in a frame of it, px: on the largest player of
// its brief as a mark does, else round all of it, with bars where its shape is another; and where
// the video lies in px of the piece.
RealRect placeOver(const Subject& subject, PixelSize video);
RealRect videoPlaceIn(const Subject& subject);

}  // namespace zl
