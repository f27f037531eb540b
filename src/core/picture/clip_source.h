// SPDX-License-Identifier: GPL-3.0-or-later
// Where the frames of clips come from.
#pragma once

#include <memory>
#include <optional>
#include <stop_token>
#include <string>

#include "picture/decode.h"

namespace zl {

class ClipSource {
  public:
    virtual ~ClipSource() = default;
    // The frame of that video at that second, the last one after its end; nothing where the video
    // is not there or cannot be read. Any thread.
    virtual std::optional<long long> numberAt(const std::string& file, double seconds) = 0;
    // Upright, square pixels, sRGB; exact, or `quick`: within a few codes, for what plays.
    virtual Result<std::shared_ptr<const Picture>> frame(const std::string& file, long long number,
                                                         const std::stop_token& stop,
                                                         bool quick = false) = 0;
};

// How a frame is named where originals are named by their hash.
struct MomentName {
    std::string file;
    long long number = 0;
    bool quick = false;
};
std::string momentName(const MomentName& name);
// Nothing for the hash of an original.
std::optional<MomentName> momentNamed(const std::string& name);

}  // namespace zl
