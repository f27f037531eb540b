// SPDX-License-Identifier: GPL-3.0-or-later
// A video that is made. The same frames give the same bytes on any number of processors.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>

#include "base/bytes.h"
#include "base/file.h"
#include "base/result.h"
#include "raster/raster.h"

namespace zl {

// MP4 with H.264 and AAC; WebM with VP9, which keeps alpha, and Opus; Matroska with FFV1, every
// pixel exactly, and FLAC; an animated WebP or GIF without sound.
enum class VideoKind { mp4, webm, matroska, webp, gif };

struct VideoPlan {
    PixelSize size;              // both sides even but in Matroska and WebP
    int rate = 25, ratePer = 1;  // frames a second, as a fraction
    int soundRate = 0;           // Hz; 0: without sound
    int channels = 1;            // 1 or 2
    double quality = 20;  // x264's constant rate factor, 0 (exact) to 51; of the others alike
    VideoKind kind = VideoKind::mp4;
    bool alpha = false;     // it is kept, straight; not in an MP4
    long long bitRate = 0;  // bit/s of the pictures; 0: by quality
    Path notes{};           // of two runs of x264: written by the first, read by the second
    Path into{};            // where it is written; empty: into memory
};

class VideoSink {
  public:
    virtual ~VideoSink() = default;
    // The next frame, of the plan's size, sRGB; written as BT.709, limited range, in an MP4 and a
    // WebM. Without alpha in the plan it is opaque; of a GIF it has at most 256 colours.
    virtual Result<void> picture(const Straight8& frame) = 0;
    // The next samples, -1..1, those of the channels side by side; they may run ahead of the
    // pictures by a few seconds.
    virtual Result<void> sound(std::span<const float> samples) = 0;
    // The bytes, where it went into memory; the file is whole then, not synced.
    virtual Result<Bytes> finish() = 0;
    // Of the whole sound, LUFS (ITU-R BS.1770, EBU R 128); nothing without any, or for silence.
    virtual std::optional<double> loudness() const = 0;
    virtual long long soundBytes() const = 0;
    virtual std::string pictureCodec() const = 0;
    virtual std::string soundCodec() const = 0;  // empty: without sound
};

// Code::unwritable where the encoders are missing or refuse the plan.
[[nodiscard]] Result<std::unique_ptr<VideoSink>> writeVideo(const VideoPlan& plan);

using WriteVideo = Result<std::unique_ptr<VideoSink>> (*)(const VideoPlan& plan);
inline constexpr char writeVideoName[] = "zl_write_video";

}  // namespace zl
