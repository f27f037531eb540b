// SPDX-License-Identifier: GPL-3.0-or-later
// Link regions and slices added to the chosen piece, each as one edit.
#pragma once

#include "work/session.h"

namespace zl::app {

void addLink(Session& session, PixelRect place);
void addSlice(Session& session, PixelRect place);
// The strip of a page's header in the middle, under its gap. A frame that cannot hold it is told.
void addHeaderStrip(Session& session);

}  // namespace zl::app
