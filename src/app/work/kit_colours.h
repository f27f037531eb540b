// SPDX-License-Identifier: GPL-3.0-or-later
// The colours that a kit keeps, changed as one edit each.
#pragma once

#include "work/session.h"

namespace zl::app {

void keepColour(Session& session, Colour colour);
void dropColour(Session& session, Colour colour);

}  // namespace zl::app
