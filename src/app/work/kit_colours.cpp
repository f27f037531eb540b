// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/kit_colours.h"

#include "edit/edits.h"

namespace zl::app {

void keepColour(Session& session, Colour colour) {
    std::vector<Colour> next = session.kit().colours;
    next.push_back(colour);
    session.apply(withColours(session.kit(), std::move(next)), Session::tr("Keep a colour"));
}

void dropColour(Session& session, Colour colour) {
    std::vector<Colour> next = session.kit().colours;
    std::erase(next, colour);
    session.apply(withColours(session.kit(), std::move(next)), Session::tr("Drop a colour"));
}

}  // namespace zl::app
