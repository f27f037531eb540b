// SPDX-License-Identifier: GPL-3.0-or-later
// A video file that is written.
#pragma once

extern "C" {
#include <libavformat/avformat.h>
}

#include <vector>

#include "held.h"
#include "video/burn.h"
#include "video/write.h"

namespace zl::video {

// Names as FFmpeg has them.
const char* muxerOf(VideoContainer container);
const char* muxerOf(VideoKind kind);
// As a person knows it: "an MP4".
const char* wordsOf(VideoContainer container);

class Container {
  public:
    // `into` empty: into memory.
    [[nodiscard]] static Result<Container> begin(const char* muxer, const Path& into);

    AVFormatContext& format() { return *format_; }
    // A track whose packets are copied as they come from `from`.
    AVStream& copied(const AVStream& from);
    AVStream& encoded(const AVCodecContext& encoder);
    [[nodiscard]] Result<void> header(AVDictionary** options = nullptr);
    // Takes the packet; its times are in `base`.
    [[nodiscard]] Result<void> put(AVPacket& packet, AVRational base, const AVStream& track);
    // Its bytes, where it went into memory.
    [[nodiscard]] Result<Bytes> finish();

  private:
    struct Close {
        void operator()(AVFormatContext* context) const;
    };
    Container() = default;
    AVStream& added();
    Result<void> refused(int error) const;

    std::unique_ptr<AVFormatContext, Close> format_;
    bool inMemory_ = false;
    std::vector<std::int64_t> last_;  // the last decoding time of each track
};

}  // namespace zl::video
