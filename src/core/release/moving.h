// SPDX-License-Identifier: GPL-3.0-or-later
// A moving piece becomes a video: every frame as `render` gives it at its moment, its sound mixed,
// under the limit, with a poster and a receipt beside it.
#pragma once

#include <functional>
#include <optional>
#include <stop_token>

#include "release/release.h"

namespace zl {

struct MovingPlan {
    VideoKind kind = VideoKind::mp4;
    int quality = 75;        // 1..100; 0: lossless
    long long limit = 0;     // bytes; 0: any
    bool keepsAlpha = true;  // where the kind can; else it is laid on the piece's matte
};
// Writes the piece into `out`. `kitFile`: where the kit lies, for its videos. Errors:
// Code::badUsage for a still piece, an odd frame, a length that the kind does not take;
// Code::unreadable for a clip that is gone or changed; Code::limitNotMet; Code::unwritable;
// Code::cancelled. Nothing is left of what was not finished.
[[nodiscard]] Result<Moved> writeMoving(const Piece& piece, const Kit& kit,
                                        const std::optional<Path>& kitFile, const MovingPlan& plan,
                                        const Path& out, Replace replace,
                                        const std::function<void(double)>& progress = {},
                                        const std::stop_token& stop = {});

// FILE, NAME-poster.png or .jpg and NAME.receipt.json in `folder`, as the piece's brief asks;
// `posterAt`: the moment of the poster, s. Its readings are those of that moment. What `store`
// keeps and nothing else uses is forgotten then: encoding takes the memory.
[[nodiscard]] Result<Released> releaseMoving(const Piece& piece, const Kit& kit, const Brief& brief,
                                             InkStore& store, const std::optional<Path>& kitFile,
                                             const Path& folder, Replace replace,
                                             std::optional<double> posterAt = {},
                                             const std::stop_token& stop = {},
                                             const std::function<void(double)>& progress = {});

}  // namespace zl
