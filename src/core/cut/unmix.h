// SPDX-License-Identifier: GPL-3.0-or-later
// The edge of a cut-out solved from its background. Used by cut/key.cpp.
#pragma once

#include <vector>

#include "cut/cut.h"
#include "cut/edge_scan.h"
#include "cut/regions.h"

namespace zl {

// Background comes out with alpha 0, shadow black with the alpha that darkens the background as
// much (or 0), ink as it is, and what lies between with the alpha and the colour that C = aF + (1 -
// a)B asks for.
Straight8 unmixed(const Straight8& picture, const Regions& regions, const KeyPlan& plan,
                  KeyShadow shadow, int threads, const std::stop_token& stop);

// The pixels of edges that are solved so, those beside the background as far in as they may be
// mixtures and in a noisy picture the background beside them, with the alpha 0..1 that is found
// before the network has a look at it.
struct EdgePixel {
    Spot spot;
    double alpha;
};
std::vector<EdgePixel> edgePixels(const Straight8& picture, const Regions& regions,
                                  const KeyPlan& plan);

}  // namespace zl
