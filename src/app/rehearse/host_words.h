// SPDX-License-Identifier: GPL-3.0-or-later
// What the stand-in host says, as words and as a table for a label.
#pragma once

#include <QString>

#include "rehearsal/host.h"

namespace zl::app {

QString stateWords(HostState state);
QString saidAsTable(const HostAnswer& answer);

}  // namespace zl::app
