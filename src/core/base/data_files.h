// SPDX-License-Identifier: GPL-3.0-or-later
// Where the shipped data files (briefs, fonts, icons, theme) are: beside an installed program, or
// in the source tree.
#pragma once

#include "base/file.h"
#include "base/json_fwd.h"

namespace zl {

// The folder `data/`, wherever the program runs from; whatever the current folder is. An error
// names where it looked.
[[nodiscard]] Result<Path> dataFolder();

// A JSON Schema of data/schema, by its file's name.
[[nodiscard]] Result<Json> schemaNamed(const char* name, const Path& dataFolder);
[[nodiscard]] Result<Json> schemaNamed(const char* name);

// The folder of what a person adds (briefs of their own): $XDG_DATA_HOME/zinc-ledge or
// ~/.local/share/zinc-ledge.
Path personalFolder();

}  // namespace zl
