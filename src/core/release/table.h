// SPDX-License-Identifier: GPL-3.0-or-later
// The release table: what each format that a brief accepts would give of a frame. Rows are encoded
// side by side.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>
#include <vector>

#include "base/message.h"
#include "brief/brief.h"
#include "encode/fit.h"

namespace zl {

enum class AlphaOutcome { nothingSeeThrough, kept, lost };

struct TableRow {
    Encoding encoding;
    long long bytes = 0;
    bool fits = false;
    AlphaOutcome alpha = AlphaOutcome::nothingSeeThrough;
    Difference difference;              // to the frame, laid on the matte where alpha is lost
    std::shared_ptr<const Bytes> file;  // nothing: it cannot be written, `why` says why
    Message why;                        // in one line
    bool measured = false;              // the difference is known
    bool best = false;
};

// The rows that a brief asks for, in their order: PNG true colour and palette with and without
// dithering, JPEG in both chroma samplings, GIF, WebP. JPEG's quality is 95, or the highest under
// it that fits.
std::vector<Encoding> tableOf(const Brief& brief);

// Encodes every row on up to `coreCount()` threads and tells each as soon as its bytes are known,
// and again with its difference; in any order, from its thread, one at a time. Then the best of
// those that fit is marked (encode/best.h). Code::cancelled when it was stopped.
[[nodiscard]] Result<std::vector<TableRow>> releaseTable(
    const Straight8& frame, const Brief& brief, const std::optional<Colour>& matte,
    std::stop_token stop = {}, const std::function<void(std::size_t, const TableRow&)>& told = {});

}  // namespace zl
