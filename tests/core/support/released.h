// SPDX-License-Identifier: GPL-3.0-or-later
// A piece that is ready to be released.
#pragma once

#include "support/support.h"

namespace zl {

using test::good;

inline Kit thumbnail() {
    return test::withPicture(test::kitWith("video-thumbnail", {1280, 720}),
                             test::textured({640, 360}), {0, 0, 1280, 720});
}

}  // namespace zl
