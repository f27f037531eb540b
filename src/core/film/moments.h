// SPDX-License-Identifier: GPL-3.0-or-later
// Where the moments of a video come from: the video itself, or the strip that was made of it.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>

#include "film/strip.h"
#include "picture/moments.h"

namespace zl {

// Looks the whole video through. Code::unreadable, Code::cancelled.
[[nodiscard]] Result<std::shared_ptr<const VideoMoments>> momentsOf(
    Video& video, const std::string& name, const std::function<void(double)>& progress = {},
    const std::stop_token& stop = {});
// Nothing while the strip is not whole.
std::shared_ptr<const VideoMoments> momentsOf(const Strip& strip, const std::string& name);

}  // namespace zl
