// SPDX-License-Identifier: GPL-3.0-or-later
// A frame as a screen shows it: small, quick, near to the exact one.
#pragma once

#include <zimg.h>

#include "pixels.h"
#include "zimg_held.h"

namespace zl::video {

// Keeps what it made ready for frames of one kind. One thread at a time.
class Screen {
  public:
    [[nodiscard]] Result<Straight8> of(const AVFrame& frame, PixelSize size);

  private:
    struct Kind {
        int format = -1, width = 0, height = 0, matrix = 0, range = 0, siting = 0;
        PixelSize size;
        bool operator==(const Kind&) const = default;
    };
    bool ready(const AVFrame& frame, PixelSize size);

    Kind kind_;
    Graph graph_;
    Room work_;
    std::array<Room, 3> from_, to_;  // copies of planes that do not lie as vectors like them
    std::array<std::size_t, 3> fromRoom_{};
    std::ptrdiff_t stride_ = 0;  // of to_
};

}  // namespace zl::video
