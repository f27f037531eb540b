// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading comes to.
#pragma once

namespace zl {

enum class Verdict { notMeasured, pass, watch, fail };  // in the order of harm

}  // namespace zl
