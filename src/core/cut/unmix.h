// SPDX-License-Identifier: GPL-3.0-or-later
// The edge of a cut-out solved from its background. Used by cut/key.cpp.
#pragma once

#include "cut/cut.h"
#include "cut/regions.h"

namespace zl {

// Background comes out with alpha 0, shadow black with the alpha that darkens the background as
// much (or 0), ink as it is, and what lies between with the alpha and the colour that C = aF + (1 -
// a)B asks for.
Straight8 unmixed(const Straight8& picture, const Regions& regions, const KeyPlan& plan,
                  bool keepsShadow, int threads, const std::stop_token& stop);

}  // namespace zl
