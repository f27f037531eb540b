// SPDX-License-Identifier: GPL-3.0-or-later
// The best encoding under a limit, by the rule of encode/best.h: an exact one (PNG, WebP lossless)
// where it fits; else of palettes (PNG, GIF) and of the highest quality that fits of JPEG in each
// chroma sampling and of WebP, whichever is nearest to the picture; else a palette of fewer
// colours.
#pragma once

#include <functional>
#include <optional>
#include <stop_token>
#include <vector>

#include "base/bytes.h"
#include "base/json_fwd.h"
#include "encode/difference.h"
#include "encode/encode.h"

namespace zl {

struct Tried {
    Encoding encoding;
    long long bytes = 0;
    bool fits = false;
};

struct Fitted {
    Encoding encoding;
    Bytes bytes;
    bool alphaKept = true;  // false: something was see-through and is solid now
    Difference difference;  // to the frame as given, on #808080 where see-through; to the matted
                            // one when alpha was lost
    std::vector<Tried> tried;
};

struct FitOptions {
    std::vector<Content> formats;     // those allowed, any order
    std::optional<long long> limit;   // bytes; nothing: no limit
    std::optional<Colour> matte;      // for formats without alpha
    std::optional<Encoding> exactly;  // no search: this encoding, which still has to meet the limit
    bool mayExceed = false;  // with `exactly`: give the bytes even when they are over the limit
    bool operator==(const FitOptions&) const = default;
};

// A JPEG file that fits already, without its metadata and otherwise bit by bit what it was: its
// quality is told as 0. Nothing when it does not fit, is no JPEG, or has to be turned or converted
// first.
[[nodiscard]] std::optional<Fitted> keptAsItIs(ByteView file, const FitOptions& options);

// Progress 0..1 is told at each encode. Errors: Code::limitNotMet (nothing fits, or alpha would be
// lost and no matte is given), Code::cancelled.
[[nodiscard]] Result<Fitted> fitToLimit(const Straight8& frame, const FitOptions& options,
                                        std::stop_token stop = {},
                                        const std::function<void(double)>& progress = {});

// What was tried, as the command line and receipts write it.
OrderedJson jsonOf(const std::vector<Tried>& tried);

}  // namespace zl
