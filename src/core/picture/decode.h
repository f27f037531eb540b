// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures in: bytes to pixels. Orientation (EXIF) is honoured, a profile is converted to sRGB, 16
// bit and grey become 8-bit straight RGBA. Limits are checked before a pixel is decoded. Any
// thread.
#pragma once

#include <memory>
#include <string>

#include "base/bytes.h"
#include "base/result.h"
#include "picture/content.h"
#include "picture/svg_pictures.h"
#include "raster/raster.h"

namespace zl {

// What the header says; nothing is decoded.
struct PictureFacts {
    Content content = Content::unknown;
    PixelSize size;             // px, after the orientation was honoured
    bool alphaChannel = false;  // the file carries one, used or not
    int bitsPerChannel = 8;
    bool profileIsSrgb = true;  // no profile counts as sRGB
    bool cmyk = false;
    SvgPictures held{};  // of an SVG
    int pages = 1;  // pictures in the file; the first alone is read. 2 stands for "several" where
                    // the file does not count them
};

struct Picture {
    PictureFacts facts;
    std::shared_ptr<const Straight8> pixels;  // whoever holds the only one may write into it
    bool opaque = false;                      // every alpha is 255
};

// `name` stands in the error's sentence. Errors are Code::unreadable: empty, of no known kind, too
// many pixels, damaged.
[[nodiscard]] Result<PictureFacts> readFacts(ByteView bytes, const std::string& name);
[[nodiscard]] Result<Picture> decode(ByteView bytes, const std::string& name);

// For what will be made smaller: a JPEG that is at least four times as large as `least` on both
// sides is read at a half, a quarter or an eighth (the inverse transform of ITU-T T.81 on fewer
// coefficients), so that at least twice as many pixels are left. An SVG smaller than `least` is
// drawn as large as that. Any other picture as it is. `facts.size` is that of the whole picture, of
// an SVG as it was drawn.
[[nodiscard]] Result<Picture> decodeFor(PixelSize least, ByteView bytes, const std::string& name);

}  // namespace zl
