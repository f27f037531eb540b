// SPDX-License-Identifier: GPL-3.0-or-later
// Releasing: the piece's best file under its limit, written whole or not at all, with a receipt beside it.
#pragma once

#include <functional>
#include <stop_token>

#include "base/file.h"
#include "readings/measure.h"

namespace zl {

struct Released {
    std::string piece;  // its id
    Path file, receipt;
    Content content = Content::unknown;
    PixelSize size;
    long long bytes = 0;
    std::optional<long long> limit;
    std::string sha256;
    bool alphaKept = true;
    Encoding encoding;
    Difference difference;
    std::vector<Tried> tried;
    std::vector<Reading> readings;
};

// Writes FILE and NAME.receipt.json into `folder`, which must exist. Errors: Code::limitNotMet and nothing is written when
// the outcome would not meet the limit; Code::unwritable; Code::cancelled. Progress goes from 0 to 1.
[[nodiscard]] Result<Released> releasePiece(const Piece& piece, const Kit& kit, const Brief& brief, InkStore& store, const Path& folder,
                                            Replace replace, std::stop_token stop = {}, const std::function<void(double)>& progress = {});

OrderedJson receiptOf(const Released& released, const Piece& piece);

}  // namespace zl
