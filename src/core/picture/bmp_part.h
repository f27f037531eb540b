// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of GdkPixbuf, which reads BMP and nothing else here. Included by the room's own
// sources.
#pragma once

#include <optional>

#include "base/bytes.h"
#include "raster/raster.h"

namespace zl::bmp_part {

struct Facts {
    PixelSize size;
    bool alpha = false;
};
// What the header says; nothing when it is damaged.
std::optional<Facts> readFacts(ByteView bytes);

// The pixels, straight alpha. Nothing when it is damaged or breaks off.
std::optional<Straight8> decode(ByteView bytes);

}  // namespace zl::bmp_part
