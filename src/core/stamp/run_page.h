// SPDX-License-Identifier: GPL-3.0-or-later
// A run's report: one HTML page with each photograph before and after, what was measured of it and
// what failed; pictures stand in it, nothing is loaded.
#pragma once

#include <string>

#include "stamp/run.h"

namespace zl {

std::string pageOf(const RunOutcome& outcome, const std::string& stampName);

}  // namespace zl
