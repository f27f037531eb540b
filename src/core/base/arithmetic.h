// SPDX-License-Identifier: GPL-3.0-or-later
// Arithmetic in number fields: + - * / and brackets over decimal numbers, e.g. "1280*2" or
// "720/3+4".
#pragma once

#include <string_view>

#include "base/result.h"

namespace zl {

// Refuses, with a sentence for the person, what is not arithmetic, what divides by zero and what is
// not finite.
[[nodiscard]] Result<double> evaluate(std::string_view text);

}  // namespace zl
