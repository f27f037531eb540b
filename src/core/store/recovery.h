// SPDX-License-Identifier: GPL-3.0-or-later
// The recovery journal: what was edited since the last save, kept so that a crash loses two seconds
// at most. One folder a window: the kit's JSON, written anew each time (beside, synced, renamed),
// and the originals, each written once under its hash. The saved kit is never touched.
#pragma once

#include <set>

#include "base/file.h"
#include "kit/kit.h"

namespace zl {

// Writes the kit into the folder, which is made when it is missing. `saved` is the kit's own file;
// nothing when it has none. `written` are the originals that stand there already; what is written
// is added.
[[nodiscard]] Result<void> writeRecovery(const Path& folder, const Kit& kit,
                                         const std::optional<Path>& saved,
                                         std::set<std::string>& written);

struct Recovered {
    Kit kit;
    std::optional<Path> saved;  // where it is saved, or was before
};
// Code::unreadable when there is nothing whole in the folder.
[[nodiscard]] Result<Recovered> readRecovery(const Path& folder);
// Takes it away; a folder that is not there is fine.
void removeRecovery(const Path& folder);

}  // namespace zl
