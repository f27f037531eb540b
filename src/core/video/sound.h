// SPDX-License-Identifier: GPL-3.0-or-later
// The sound of a video, played from a moment on. What plays it is a module that is loaded when the
// first sound is asked for.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <stop_token>

#include "base/file.h"
#include "base/result.h"

namespace zl {

// The samples of a file's first sound, two channels side by side at 48 kHz, -1..1. For one thread.
class SoundReader {
  public:
    static constexpr int rate = 48'000, channels = 2;
    virtual ~SoundReader() = default;
    virtual void seek(double seconds) = 0;
    // Fills `to` and tells how much of it; less only at the end.
    virtual std::size_t read(std::span<float> to) = 0;
};
// Code::unreadable: no sound in it, or of a kind that is not read.
[[nodiscard]] Result<std::unique_ptr<SoundReader>> readSound(const Path& file,
                                                             const std::stop_token& stop = {});

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

// The same of any samples.
[[nodiscard]] Result<std::unique_ptr<SoundSource>> openSound(std::unique_ptr<SoundReader> reader);

using OpenSound = Result<std::unique_ptr<SoundSource>> (*)(std::unique_ptr<SoundReader> reader);
inline constexpr char openSoundName[] = "zl_open_sound";

using ReadSound = Result<std::unique_ptr<SoundReader>> (*)(const Path& file,
                                                           const std::stop_token& stop);
inline constexpr char readSoundName[] = "zl_read_sound";

}  // namespace zl
