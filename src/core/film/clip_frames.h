// SPDX-License-Identifier: GPL-3.0-or-later
// The videos of clips, kept open while their frames are asked for; and a clip that comes into a
// piece. Any thread.
#pragma once

#include <list>
#include <memory>
#include <optional>

#include "base/guarded.h"
#include "kit/kit.h"
#include "picture/clip_source.h"
#include "video/video.h"

namespace zl {

class ClipFrames final : public ClipSource {
  public:
    void kitLiesAt(const std::optional<Path>& kitFile);
    std::optional<long long> numberAt(const std::string& file, double seconds) override;
    Result<std::shared_ptr<const Picture>> frame(const std::string& file, long long number,
                                                 const std::stop_token& stop,
                                                 bool quick = false) override;

  private:
    struct Open;
    // Opens it where it is not open; nothing where it cannot be read.
    std::shared_ptr<Open> opened(const std::string& file);

    mutable Mutex mutex_;
    std::optional<Path> kitFile_ ZL_GUARDED_BY(mutex_);
    std::list<std::shared_ptr<Open>> open_ ZL_GUARDED_BY(mutex_);  // the last used one first
};

// What keeps the clips of a piece from being released, in the order of the layers: their video is
// gone, or is another one than was brought in. Code::unreadable; nothing where all are as they
// were.
[[nodiscard]] Result<void> checkClips(const Piece& piece, const std::optional<Path>& kitFile);

// The kit with the clip as a picture layer of the piece: at the bottom and filling the frame where
// no picture is there yet, laid as firstCrop has its poster, else on top and wholly in the frame.
// `poster`: a frame of it, as PNG; `pixels`: that frame's.
[[nodiscard]] Result<Kit> withClip(const Kit& kit, const std::string& pieceId, Asset poster,
                                   const Straight8& pixels, Clip clip);
// The same from the file: opens it, takes the frame at a tenth of it as its poster.
[[nodiscard]] Result<Kit> withClipOf(const Kit& kit, const std::string& pieceId, const Path& file,
                                     const std::optional<Path>& kitFile,
                                     const std::stop_token& stop = {});

}  // namespace zl
