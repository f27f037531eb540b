// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "base/bytes.h"

namespace zl {

// Whether a JPEG has all of its picture (ITU-T T.81): its scans are read to the end without bits
// that are made up, and of a progressive one each coefficient is refined to its last bit.
bool isWholeJpeg(ByteView jpeg);

}  // namespace zl
