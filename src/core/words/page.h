// SPDX-License-Identifier: GPL-3.0-or-later
// Pages of ours: one HTML file in which everything stands, so that nothing is loaded.
#pragma once

#include <string>

#include "base/verdict.h"

namespace zl {

// A whole page; `title` is escaped already.
std::string pageOf(const std::string& title, const std::string& body);
// The verdict's shape and word.
std::string verdictTag(Verdict verdict);

}  // namespace zl
