// SPDX-License-Identifier: GPL-3.0-or-later
// What was fitted lately, so that a mend, the reading after it and the release of the same frame
// share one search.
#pragma once

#include "encode/fit.h"

namespace zl {

// As fitToLimit; a frame of the same pixels under the same options is not searched again while
// there is room, and no progress is told of it. Any thread; what one is searching the others wait
// for.
[[nodiscard]] Result<Fitted> fitOnce(const Straight8& frame, const FitOptions& options,
                                     const std::stop_token& stop = {},
                                     const std::function<void(double)>& progress = {});

}  // namespace zl
