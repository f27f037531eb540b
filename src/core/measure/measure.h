// SPDX-License-Identifier: GPL-3.0-or-later
// From a piece or a file to its readings: renders, encodes, gathers the facts, asks the registry.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>

#include "base/json_fwd.h"
#include "encode/fit.h"
#include "readings/edge_facts.h"
#include "readings/reading.h"
#include "readings/surface_notes.h"
#include "render/render.h"

namespace zl {

// What the piece's release choice means for the encoder, under this brief.
FitOptions fitOptionsOf(const Piece& piece, const Brief& brief);
// The file name a release gets: the chosen name, with the format's ending unless a known one was
// typed.
std::string releaseFileName(const Piece& piece, Content content);

struct PieceReadings {
    std::vector<Reading> readings;
    std::vector<SurfaceNote> notes;
    std::vector<EdgeMark> marks;             // faults of edges, where they are
    std::shared_ptr<const Straight8> frame;  // what a release writes
    std::shared_ptr<const Fitted>
        outcome;  // its encoding; nothing when none meets the brief, or only a bound was asked
};

enum class Weighing { quickBound, exact };

// Errors: an original that cannot be read, Code::cancelled. A piece that cannot be encoded under
// its limit is no error here but a failing `weight`.
[[nodiscard]] Result<PieceReadings> readPiece(const View& view, const Brief& brief, InkStore& store,
                                              Weighing weighing, std::stop_token stop = {},
                                              const std::function<void(double)>& progress = {});

struct FileReadings {
    std::vector<Reading> readings;
    Picture picture;
    long long bytes = 0;
};
// `over`: of the video that it will be laid over; nothing: made-up footage stands for it.
[[nodiscard]] Result<FileReadings> readPictureFile(
    ByteView bytes, const std::string& name, const Brief& brief,
    const std::shared_ptr<const VideoMoments>& over = nullptr);

struct CheckedPiece {
    const Piece& piece;
    const Brief& brief;
    PieceReadings read;
};
// One piece of the kit, or all when `pieceId` is empty, each under its own brief; `told` hears of
// each. The worst verdict. Code::badUsage for a piece that is not there.
[[nodiscard]] Result<Verdict> checkPieces(const Kit& kit, const std::string& pieceId,
                                          const Briefs& briefs, InkStore& store,
                                          const std::function<void(const Piece&, double)>& progress,
                                          const std::function<void(const CheckedPiece&)>& told);

// The JSON of readings, as the command line and receipts write it.
OrderedJson jsonOf(const std::vector<Reading>& readings);
OrderedJson jsonOf(const FileReadings& read, const Brief& brief);

// The brief that a piece is made for. Code::unreadable when it is not here.
[[nodiscard]] Result<const Brief*> briefOf(const Piece& piece, const Briefs& briefs);

}  // namespace zl
