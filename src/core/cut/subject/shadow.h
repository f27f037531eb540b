// SPDX-License-Identifier: GPL-3.0-or-later
// The shadow that a subject throws on the ground it stands on.
#pragma once

#include "cut/subject/working.h"

namespace zl {

// How much darker the ground is than it would be without the subject, 0..1, at the working size:
// near the lower part of the subject and in one piece with it, where all three channels are
// darkened alike against the ground further away (common practice, no source). A ground of many
// tones hides a shadow, or looks like one. 0 on the subject itself but for what is carried on under
// its edge.
Plane shadowOf(const Working& working, const Labels& labels);

}  // namespace zl
