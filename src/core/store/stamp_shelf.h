// SPDX-License-Identifier: GPL-3.0-or-later
// The person's own stamps, kept apart from any kit: a recipe a file, in one folder.
#pragma once

#include <vector>

#include "store/stamp_json.h"

namespace zl {

// Those of the folder by name; what is no recipe is left out. No folder is an empty shelf.
std::vector<Stamp> stampsOnShelf(const Path& folder);
// One of the same name is replaced. Missing folders are made.
[[nodiscard]] Result<void> putOnShelf(const Path& folder, const Stamp& stamp);
// True when there was one.
bool takeFromShelf(const Path& folder, const std::string& name);

// A recipe as a file of its own.
[[nodiscard]] Result<void> writeStamp(const Path& file, const Stamp& stamp, Replace replace);

}  // namespace zl
