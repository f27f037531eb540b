// SPDX-License-Identifier: GPL-3.0-or-later
// A mark laid over a JPEG's samples. Blending is a mean of two colours, and Y, Cb and Cr are sums
// of red, green and blue: so the mark is blended into each of them alone, and no pixel of the
// photograph has to be made. A sample that stands for several pixels becomes the mean of theirs.
#pragma once

#include <vector>

#include "encode/jpeg_over.h"
#include "raster/over.h"

namespace zl {

class InkChange : public SampleChange {
  public:
    // `inks` are px of the photograph as it is seen; `stored` is its size before it is turned by
    // EXIF's `orientation`, 1..8 (CIPA DC-008, tag 0x0112). Inks blend as `normal`.
    InkChange(std::vector<Ink> inks, PixelSize stored, int orientation);
    PixelRect box() const override { return box_; }
    bool touches(const PixelRect& part) const override;
    bool into(std::span<double, 64> samples, int component, int left, int top, int across,
              int down) const override;

  private:
    struct Over {
        double through = 1;  // how much of the photograph is left
        double colour = 0;   // what the mark adds, of 255
    };
    Over over(const std::vector<const Ink*>& near, int component, int x, int y) const;

    std::vector<Ink> inks_;
    std::vector<PixelRect> boxes_;  // of each, as it is stored
    PixelSize stored_;
    int orientation_;
    PixelRect box_;
};

// Where a pixel of the photograph as it is stored is seen.
struct PixelPlace {
    int x = 0, y = 0;
};
PixelPlace seenAt(int x, int y, PixelSize stored, int orientation);
// The size that is seen.
PixelSize seenSize(PixelSize stored, int orientation);

}  // namespace zl
