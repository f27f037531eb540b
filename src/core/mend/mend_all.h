// SPDX-License-Identifier: GPL-3.0-or-later
// Mends one after the other, since one may lead to another: the one rule for files and for pieces.
#pragma once

#include "measure/measure.h"
#include "mend/mend.h"

namespace zl {

// In place of a mend's id: each one that is offered and asks no question.
inline constexpr std::string_view everyMend = "all";

// A mend that could not help, and why; the others went on.
struct LeftOut {
    std::string mend;
    Error why;
};
struct MendLog {
    std::vector<std::string> done;  // in their order; one that led to itself again stands twice
    std::vector<LeftOut> leftOut;
};

struct MendedKit {
    Kit kit;
    MendLog log;
};
// A mend that is named and not offered leaves the kit as it is, and nothing in the log. Errors: of
// a named mend that cannot help; of the readings; Code::cancelled.
[[nodiscard]] Result<MendedKit> mendAll(std::string_view id, Kit kit, const std::string& pieceId,
                                        const Briefs& briefs, InkStore& store,
                                        const std::stop_token& stop = {});

// Of one piece, or of all when `pieceId` is empty; `told` hears what came of each.
[[nodiscard]] Result<Kit> mendAllOfKit(
    std::string_view id, Kit kit, const std::string& pieceId, const Briefs& briefs, InkStore& store,
    const std::function<void(const std::string& pieceId, const MendLog&)>& told);

struct MendedBytes {
    Bytes bytes;
    FileReadings read;  // of them
    MendLog log;
};
// A mend that is named is done whether it is offered or not. `written` is the name of what comes
// out, and its ending says in which format. Code::badUsage for a mend that is for pieces only.
[[nodiscard]] Result<MendedBytes> mendAllOfFile(std::string_view id, Bytes bytes,
                                                const std::string& name, const std::string& written,
                                                const Brief& brief);

}  // namespace zl
