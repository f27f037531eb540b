// SPDX-License-Identifier: GPL-3.0-or-later
#include "palette.h"

#include "kit/edits.h"

namespace zl::app {

void Palette::keep(Colour colour) {
    std::vector<Colour> next = colours();
    next.push_back(colour);
    session_.apply(withColours(session_.kit(), std::move(next)), tr("Keep a colour"));
}

void Palette::drop(Colour colour) {
    std::vector<Colour> next = colours();
    std::erase(next, colour);
    session_.apply(withColours(session_.kit(), std::move(next)), tr("Drop a colour"));
}

}  // namespace zl::app
