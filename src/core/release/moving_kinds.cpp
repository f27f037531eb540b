// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/moving_kinds.h"

#include <algorithm>
#include <array>

#include "base/file.h"
#include "picture/content.h"

namespace zl {

std::span<const MovingFacts> allMovingKinds() {
    constexpr double shortOnes = 30;
    static constexpr std::array<MovingFacts, 5> all{{
        {VideoKind::mp4, "mp4", "MP4 (H.264, AAC)", "video/mp4", ".mp4", false, true, 0},
        {VideoKind::webm, "webm", "WebM (VP9, Opus)", "video/webm", ".webm", true, true, 0},
        {VideoKind::webp, "webp", "Animated WebP", "image/webp", ".webp", true, false, shortOnes},
        {VideoKind::gif, "gif", "Animated GIF", "image/gif", ".gif", false, false, shortOnes},
        {VideoKind::matroska, "mkv", "Matroska (FFV1, every pixel exactly)", "video/x-matroska",
         ".mkv", true, true, 0},
    }};
    return all;
}

const MovingFacts& factsOf(VideoKind kind) {
    const auto all = allMovingKinds();
    return *std::find_if(all.begin(), all.end(),
                         [&](const MovingFacts& row) { return row.kind == kind; });
}

std::optional<VideoKind> movingKindBy(std::string_view word) {
    for (const MovingFacts& row : allMovingKinds())
        if (word == row.id || word == row.ending) return row.kind;
    return {};
}

std::string movingFileName(const Piece& piece, VideoKind kind) {
    std::string stem = piece.release.name;
    if (contentByEnding(endingOf(stem)) || movingKindBy(endingOf(stem))) stem = stemOf(stem);
    return stem + std::string(factsOf(kind).ending);
}

VideoKind movingKindOf(const Piece& piece, const Brief* brief) {
    if (const auto own = movingKindBy(piece.release.moving)) return *own;
    if (brief)
        for (const std::string& id : brief->moving.formats)
            if (const auto kind = movingKindBy(id)) return *kind;
    return brief && brief->alpha == AlphaDemand::seeThrough ? VideoKind::webm : VideoKind::mp4;
}

}  // namespace zl
