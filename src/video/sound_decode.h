// SPDX-License-Identifier: GPL-3.0-or-later
// The first sound of a file as samples of two channels at 48 kHz, from any moment on.
#pragma once

extern "C" {
#include <libswresample/swresample.h>
}

#include <stop_token>
#include <vector>

#include "held.h"
#include "kinds.h"

namespace zl::video {

class SoundDecoder {
  public:
    static constexpr int rate = 48'000, channels = 2;

    // Nothing on success, else why it cannot be heard, as a sentence.
    const char* open(const Path& file, const std::stop_token& stop);
    // The samples that come next are those of that second, s from the start of the file.
    void seek(double seconds);
    // The samples that were decoded next, side by side; none at the end. What is not told in the
    // file between its start and its first sample is silence.
    std::vector<float> next();

  private:
    struct FreeResampler {
        void operator()(SwrContext* context) const { swr_free(&context); }
    };
    std::vector<float> resampled(const AVFrame& frame);
    // What comes before the moment is left out; what is missing before the first is silence.
    void placeFirst(const AVFrame& frame, std::vector<float>& samples);

    std::stop_token stop_;
    Format format_;
    Codec decoder_;
    std::unique_ptr<SwrContext, FreeResampler> resampler_;
    AVStream* stream_ = nullptr;
    Packet packet_{av_packet_alloc()};
    Frame frame_{av_frame_alloc()};
    double from_ = 0;
    bool placed_ = false, ended_ = false;
    std::size_t late_ = 0;  // samples that still come before the moment
};

}  // namespace zl::video
