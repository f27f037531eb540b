// SPDX-License-Identifier: GPL-3.0-or-later
// A piece drawn moment by moment: only what changed since the last one is drawn again.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>

#include "base/file.h"
#include "kit/moving.h"
#include "render/render.h"

namespace zl {

class Course {
  public:
    // `kitFile`: where the kit lies, for its videos.
    Course(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile);
    // The frame of that number, in any order; it is good until the next one is asked for. Errors
    // as of `renderInto`.
    [[nodiscard]] Result<const Straight8*> at(long long number, const std::stop_token& stop);
    FrameRate rate() const { return rate_; }
    // Whether the last frame differed from the one asked for before it.
    bool changed() const { return changed_; }

  private:
    Piece piece_;
    Kit kit_;
    FrameRate rate_;
    // Frames of clips pass through; what stands still is kept.
    InkStore store_{150'000'000, 10'000'000};
    Piece last_;
    Straight8 frame_;
    bool changed_ = true;
};

// What a piece that moves is at a moment, seconds from its beginning. After its end it begins again
// where it `loops`, else its last frame stays. The same object as before where nothing changed.
using PictureAt = std::function<Result<std::shared_ptr<const Straight8>>(double seconds)>;
PictureAt pictureAt(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile,
                    bool loops, std::stop_token stop = {});
// The same with each of its pictures made into another, once.
using PictureMade = std::function<Result<std::shared_ptr<const Straight8>>(
    const std::shared_ptr<const Straight8>& picture)>;
PictureAt madeInto(PictureAt from, PictureMade made);

}  // namespace zl
