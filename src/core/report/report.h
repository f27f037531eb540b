// SPDX-License-Identifier: GPL-3.0-or-later
// One report about a whole kit: a single HTML page with every piece, its readings and its surfaces;
// pictures stand in it, nothing is loaded.
#pragma once

#include <functional>
#include <stop_token>
#include <string>

#include "brief/brief.h"
#include "kit/kit.h"
#include "readings/reading.h"
#include "render/render.h"

namespace zl {

struct Report {
    std::string html;
    Verdict worst = Verdict::notMeasured;
};

// Code::cancelled when it was stopped; progress goes from 0 to 1. A piece whose brief is missing,
// or that cannot be drawn, is told in its place.
[[nodiscard]] Result<Report> reportOf(const Kit& kit, const Briefs& briefs, InkStore& store,
                                      std::stop_token stop = {},
                                      const std::function<void(double)>& progress = {});

}  // namespace zl
