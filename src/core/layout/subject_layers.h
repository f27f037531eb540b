// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with the ground of a subject that was cut out: the ground becomes a layer of its own
// under the subject's.
#pragma once

#include "brief/brief.h"
#include "kit/kit.h"

namespace zl {

enum class GroundUse {
    blur,
    darken,
    drain,   // its colour goes
    letters  // the topmost lettering comes between ground and subject; a new one where there is
             // none
};

// Names and words come from whoever asks; the layer's own name stands before " · ground".
struct GroundWords {
    std::string ground, subject, lettering, text;
};

// Code::badUsage: the layer shows no subject that was cut out.
[[nodiscard]] Result<Kit> withGroundUsed(const Kit& kit, std::string_view pieceId, int layerId,
                                         GroundUse use, const GroundWords& words,
                                         const Brief* brief);

}  // namespace zl
