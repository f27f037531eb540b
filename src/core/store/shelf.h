// SPDX-License-Identifier: GPL-3.0-or-later
// The person's own shelf: looks kept apart from any kit, in one JSON file.
#pragma once

#include "base/file.h"
#include "kit/kit.h"

namespace zl {

inline constexpr char shelfName[] = "shelf.json";

// No file is an empty shelf. Code::unreadable: what stands there is no shelf.
[[nodiscard]] Result<std::vector<Look>> readShelf(const Path& file);
// A look of the same name is replaced. Missing folders are made.
[[nodiscard]] Result<void> addToShelf(const Path& file, const Look& look);

}  // namespace zl
