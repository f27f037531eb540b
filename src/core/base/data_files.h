// SPDX-License-Identifier: GPL-3.0-or-later
// Where the shipped data files (briefs, fonts, icons, theme) are: beside an installed program, or
// in the source tree.
#pragma once

#include "base/file.h"

namespace zl {

// The folder `data/`, wherever the program runs from; whatever the current folder is. An error
// names where it looked.
[[nodiscard]] Result<Path> dataFolder();

// The folder of what a person adds (briefs of their own): $XDG_DATA_HOME/zinc-ledge or
// ~/.local/share/zinc-ledge.
Path personalFolder();

}  // namespace zl
