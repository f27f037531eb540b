// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "kit/kit.h"
#include "picture/svg_pictures.h"

namespace zl {

// Frame px for one px that a picture has after its crop. An SVG has as many as it is drawn with
// (`timesDrawn`, 1 for any other), and what it holds of pixels has its own.
double enlargementOf(const PictureLayer& picture, int timesDrawn, const SvgPictures& held);

}  // namespace zl
