// SPDX-License-Identifier: GPL-3.0-or-later
// A video file: its facts, and single frames of it, exact. What reads it is a module that is loaded
// when the first video is opened, so that programs start as if there were none.
#pragma once

#include <functional>
#include <memory>
#include <stop_token>

#include "base/file.h"
#include "base/json_fwd.h"
#include "raster/raster.h"

namespace zl {

// A fact of the colours, in ITU-T H.273's terms; told by the file, or guessed where it is silent.
struct ColourFact {
    std::string name;
    bool told = false;
};
struct VideoColour {
    ColourFact matrix, primaries, transfer, range;
    bool wide = false;  // PQ or HLG: more than a display of 203 nits shows
};
struct SoundTrack {
    std::string codec, language;  // ISO 639-2; empty: not told
    int channels = 0, rate = 0;   // rate: Hz
};
struct VideoFacts {
    std::string container, codec;
    PixelSize size;    // as it is coded
    PixelSize shown;   // with square pixels and turned as the file says
    int quarters = 0;  // clockwise, to be seen upright
    bool mirrored = false;
    double pixelAspect = 1;                       // width of a pixel over its height
    double fps = 0;                               // mean
    bool variableRate = false, ratesTold = true;  // false: no time stamps, counted at a usual rate
    double duration = 0;                          // s
    long long frames = 0;
    int depth = 8;  // bits
    bool alpha = false, interlaced = false;
    VideoColour colour;
    std::vector<SoundTrack> sound;
};
// As the command line writes them.
OrderedJson jsonOf(const VideoFacts& facts);

// A frame as it is shown: upright, square pixels, sRGB, straight alpha.
struct VideoFrame {
    Straight8 pixels;
    long long number = 0;  // from 0, in the order in which frames are shown
    double time = 0;       // s from the start of the file
    bool toned = false;  // more than a display shows was brought down by the curve of docs/video.md
    bool deinterlaced = false;
};

// A frame made small: relative luma, 0..255, for looking through a whole video.
struct SmallFrame {
    long long number = 0;
    double time = 0;
    bool key = false;
    int width = 0, height = 0;
    std::vector<std::uint8_t> luma;
};

// What a module gives. Not for several threads at a time.
class VideoSource {
  public:
    virtual ~VideoSource() = default;
    virtual const VideoFacts& facts() const = 0;
    virtual double timeOf(long long number) const = 0;
    // As it is coded: not turned, pixels as they are.
    virtual Result<VideoFrame> coded(long long number, const std::stop_token& stop) = 0;
    // Runs through the video once and tells a frame at least every `step` seconds. False from
    // `told` ends it.
    virtual Result<void> each(double step, int width,
                              const std::function<bool(const SmallFrame&)>& told,
                              const std::stop_token& stop) = 0;
};

class Video {
  public:
    // Errors (Code::unreadable): no such file, no regular file, no video that is read, damaged, no
    // picture in it, too large; the module is missing. Code::cancelled.
    [[nodiscard]] static Result<Video> open(const Path& file, const std::stop_token& stop = {});

    const VideoFacts& facts() const { return source_->facts(); }
    // The frame that is shown at that second; Code::badUsage outside the video.
    [[nodiscard]] Result<long long> numberAt(double seconds) const;
    double timeOf(long long number) const { return source_->timeOf(number); }
    // Code::badUsage outside the video, Code::unreadable where it is damaged.
    [[nodiscard]] Result<VideoFrame> frame(long long number, const std::stop_token& stop = {});
    [[nodiscard]] Result<void> each(double step, int width,
                                    const std::function<bool(const SmallFrame&)>& told,
                                    const std::stop_token& stop = {}) {
        return source_->each(step, width, told, stop);
    }

  private:
    explicit Video(std::unique_ptr<VideoSource> source) : source_(std::move(source)) {}
    std::unique_ptr<VideoSource> source_;
};

// The module's one function, found by its name.
using OpenVideo = Result<std::unique_ptr<VideoSource>> (*)(const Path& file,
                                                           const std::stop_token& stop);
inline constexpr char openVideoName[] = "zl_open_video";

}  // namespace zl
