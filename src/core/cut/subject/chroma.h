// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures whose chroma was stored at half the size, as most JPEGs and videos have it: at an edge
// their colour is smeared over two to four pixels, their lightness is not.
#pragma once

#include <optional>

#include "raster/raster.h"

namespace zl {

// `halved`: it was brought back from half its size.
enum class ChromaDetail { whole, halved };

// The picture with its chroma brought back along its luma: where two colours are mixed, chroma is a
// straight line over luma, for pixels and for the means of four alike. That line is fitted round
// each chroma sample (He, Sun and Tang, Guided image filtering, 2013: 3 x 3 samples, epsilon of 3
// squared code values), and what it leaves of the samples is put back between them (T.871's Y, Cb
// and Cr). Nothing where chroma is as
// sharp as luma. Opaque; the same on any number of threads.
std::optional<Straight8> withSharpChroma(const Straight8& picture, int threads = 1);

}  // namespace zl
