// SPDX-License-Identifier: GPL-3.0-or-later
// A frame whose two fields were taken one after the other, as one picture of its own moment. The
// filter that does it is a module of its own, loaded at the first such frame.
#pragma once

extern "C" {
#include <libavutil/frame.h>
}

namespace zl::video {

// `before` and `after` may be nothing. Owned by the caller; nothing where the filter is missing or
// fails.
AVFrame* wovenApart(const AVFrame* before, const AVFrame* frame, const AVFrame* after);

using WeaveApart = AVFrame* (*)(const AVFrame* before, const AVFrame* frame, const AVFrame* after);
inline constexpr char weaveApartName[] = "zl_weave_apart";

}  // namespace zl::video
