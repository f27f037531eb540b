// SPDX-License-Identifier: GPL-3.0-or-later
// The sound of a video, played from a moment on. What plays it is a module that is loaded when the
// first sound is asked for.
#pragma once

#include <memory>
#include <optional>
#include <stop_token>

#include "base/file.h"
#include "base/result.h"

namespace zl {

// What a module gives. For one thread; it has threads of its own.
class SoundSource {
  public:
    virtual ~SoundSource() = default;
    virtual void start(double seconds) = 0;
    virtual void stop() = 0;
    // The moment that is heard now, s; nothing while it does not play.
    virtual std::optional<double> position() const = 0;
};

// Plays the file's first sound on the system's usual device. Errors (Code::unreadable): no sound in
// it, no device, the module is missing; a player then goes by the clock on the wall.
[[nodiscard]] Result<std::unique_ptr<SoundSource>> openSound(const Path& file,
                                                             const std::stop_token& stop = {});

using OpenSound = Result<std::unique_ptr<SoundSource>> (*)(const Path& file,
                                                           const std::stop_token& stop);
inline constexpr char openSoundName[] = "zl_open_sound";

}  // namespace zl
