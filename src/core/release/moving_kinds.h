// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of file that a moving piece becomes, and what is told of one that was written.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "base/json_fwd.h"
#include "brief/brief.h"
#include "kit/moving.h"
#include "video/write.h"

namespace zl {

// One row a kind of moving file.
struct MovingFacts {
    VideoKind kind;
    std::string_view id;      // "mp4", as options, briefs and kits write it
    std::string_view title;   // "MP4 (H.264, AAC)"
    std::string_view type;    // media type
    std::string_view ending;  // with its dot
    bool alpha, sound;        // what it can keep
    double longest;           // s; above it the file grows out of all measure. 0: any
};
std::span<const MovingFacts> allMovingKinds();
const MovingFacts& factsOf(VideoKind kind);
std::optional<VideoKind> movingKindBy(std::string_view idOrEnding);
// As the piece says, else as its brief asks for it.
VideoKind movingKindOf(const Piece& piece, const Brief* brief);

struct Moved {
    VideoKind kind = VideoKind::mp4;
    long long bytes = 0, otherBytes = 0;  // of them, what is no picture
    long long frames = 0, bitRate = 0;
    int passes = 1;
    double length = 0;  // s
    FrameRate rate;
    bool alphaKept = false;  // it has alpha
    bool alphaLost = false;  // the piece is see-through, and the file is not
    std::string pictureCodec, soundCodec;
    std::optional<double> loudness{};  // LUFS
};

// The file that a release of the piece gets: the chosen name with that kind's ending.
std::string movingFileName(const Piece& piece, VideoKind kind);
// As receipts and the command line write it.
OrderedJson jsonOf(const Moved& moved);

}  // namespace zl
