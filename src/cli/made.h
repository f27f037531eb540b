// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures that a command makes out of layers: finishes as words, a piece drawn, its ink cut out,
// the file written.
#pragma once

#include "base/json.h"
#include "command.h"
#include "kit/kit.h"
#include "raster/raster.h"
#include "render/ink_store.h"

namespace zl::cli {

// The finishes that a command takes, as they were typed.
struct FinishWords {
    std::vector<std::string> outlines;
    std::string shadow, glow, bevel;
    bool any() const {
        return !outlines.empty() || !shadow.empty() || !glow.empty() || !bevel.empty();
    }
};
void declareFinishes(Options& options, FinishWords& words, bool all);
// In the order in which they are put on: bevel, outlines, glow, shadow.
[[nodiscard]] Result<std::vector<Finish>> finishesOf(const FinishWords& words);

// One layer by itself, drawn as the window would, with `room` px round `frame`; the frame's corner
// is at (room, room).
struct Sheet {
    Straight8 pixels;
    int room = 0;
};
[[nodiscard]] Result<Sheet> drawn(const Kit& kit, Layer layer, PixelSize frame, int room);
[[nodiscard]] Result<Sheet> drawn(const Kit& kit, Layer layer, PixelSize frame, int room,
                                  InkStore& store);

// Where a picture goes and as what.
struct Outcome {
    std::string out;  // "-" is standard output
    int quality = 95;
    std::string matte{}, format{};  // as typed; empty: none, and by the ending
};
// Encodes, writes, and tells: {"out", "width", "height", "content", "bytes"} and what `more` has.
[[nodiscard]] Result<int> writePicture(const Straight8& pixels, const Outcome& outcome,
                                       const std::vector<Path>& inputs, const Common& common,
                                       const OrderedJson& more = OrderedJson::object());

// What is encoded already: writes and tells it likewise.
[[nodiscard]] Result<int> writeEncoded(ByteView encoded, Content content, PixelSize size,
                                       const std::string& out, const std::vector<Path>& inputs,
                                       const Common& common, const OrderedJson& more);

}  // namespace zl::cli
