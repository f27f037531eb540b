// SPDX-License-Identifier: GPL-3.0-or-later
// A video file: its facts, and single frames of it, exact. What reads it is a module that is loaded
// when the first video is opened, so that programs start as if there were none.
#pragma once

#include <array>
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

// Straight alpha, sRGB, 16 bit a channel, red, green, blue, alpha side by side; rows follow one
// another.
struct Deep16 {
    PixelSize size;
    std::vector<std::uint16_t> values;
};

// A frame as it is shown: upright, square pixels, sRGB, straight alpha.
struct VideoFrame {
    Straight8 pixels;
    // The same where the video has more than 8 bits and its pixels are square.
    std::shared_ptr<const Deep16> deep{};
    long long number = 0;  // from 0, in the order in which frames are shown
    double time = 0;       // s from the start of the file
    bool toned = false;  // more than a display shows was brought down by the curve of docs/video.md
    bool deinterlaced = false;
};

// A frame made as small as a screen asks for: near to the exact one, its colours within a few code
// values, not the same.
struct SeenFrame {
    Straight8 pixels;
    long long number = 0;
    double time = 0;  // s
};

// A glance at a frame: enough to tell shots apart.
struct Glance {
    static constexpr int across = 16, down = 9;
    long long number = 0;
    double time = 0;  // s
    // Of luma, 0..255: the means of the cells of a grid, row by row.
    std::array<std::uint8_t, static_cast<std::size_t>(across* down)> cells{};
};

// A frame that is passed when a whole video is looked through.
struct Passing {
    Glance glance;
    // Of those that are due only, each pixel the mean of what it covers: luma, 0..255, and the
    // frame as a screen shows it where it is asked for.
    int width = 0, height = 0;
    std::vector<std::uint8_t> luma{};
    Straight8 picture{};
};
struct LookThrough {
    double step = 0.25;   // s between frames that are due
    int lumaWidth = 160;  // 0: without luma
    bool glances = true;  // else of each frame its number and its time alone
    PixelSize picture{};  // of those that are due, as it is coded; empty: none
};

// Plays one frame after the other: each is told with a function that makes its pixels, so that one
// that is late costs no more than its decoding. False ends it.
using PlayedFrame = std::function<bool(long long number, double time,
                                       const std::function<Result<Straight8>()>& pixels)>;

// For whoever runs through a video and does work of its own on what comes: decoding goes on ahead.
inline constexpr int aheadThreads = -1;

// What a module gives. Not for several threads at a time.
class VideoSource {
  public:
    virtual ~VideoSource() = default;
    virtual const VideoFacts& facts() const = 0;
    virtual double timeOf(long long number) const = 0;
    // As it is coded: not turned, pixels as they are.
    virtual Result<VideoFrame> coded(long long number, const std::stop_token& stop) = 0;
    // The key frame that is shown at that second or before it, scaled to `size`, not turned.
    virtual Result<SeenFrame> keyFrame(long long number, PixelSize size,
                                       const std::stop_token& stop) = 0;
    // That frame, scaled to `size`, not turned; as exact as a screen asks for, without alpha.
    virtual Result<SeenFrame> quick(long long number, PixelSize size,
                                    const std::stop_token& stop) = 0;
    virtual Result<void> play(long long from, PixelSize size, const PlayedFrame& told,
                              const std::stop_token& stop) = 0;
    // Runs through the video once and tells every frame that others need, and those that are due
    // with their pictures, which `told` may take. False from it ends it.
    virtual Result<void> each(const LookThrough& how, const std::function<bool(Passing&)>& told,
                              const std::stop_token& stop) = 0;
    // Another reader of the same file, which knows its index already.
    virtual Result<std::unique_ptr<VideoSource>> again(int threads,
                                                       const std::stop_token& stop) const = 0;
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
    // The key frame at that frame or before it, upright, at most `room` large: quick to have.
    [[nodiscard]] Result<SeenFrame> keyFrame(long long number, PixelSize room,
                                             const std::stop_token& stop = {});
    // That frame at its full size, upright, as exact as a screen asks for, without alpha: what
    // plays has no time for more.
    [[nodiscard]] Result<SeenFrame> quick(long long number, const std::stop_token& stop = {});
    // From that frame on, upright, at most `room` large, as fast as they are taken.
    [[nodiscard]] Result<void> play(long long from, PixelSize room, const PlayedFrame& told,
                                    const std::stop_token& stop = {});
    // The pictures of those that are due alone, upright.
    [[nodiscard]] Result<void> pictures(
        double step, int width, const std::function<bool(Straight8 picture, double time)>& told,
        const std::stop_token& stop = {});
    // `pictureWidth` 0: without pictures. Pictures are upright.
    [[nodiscard]] Result<void> each(double step, int pictureWidth,
                                    const std::function<bool(Passing&)>& told,
                                    const std::stop_token& stop = {});
    // Another reader of the same file for another thread; quicker than opening it again, and may be
    // called while this one reads. `threads` decode, each with frames of its own in memory; 0: as
    // many as there are processors; aheadThreads: one more.
    [[nodiscard]] Result<Video> again(const std::stop_token& stop = {}, int threads = 0) const;

  private:
    explicit Video(std::unique_ptr<VideoSource> source) : source_(std::move(source)) {}
    std::unique_ptr<VideoSource> source_;
};

// The module's one function, found by its name.
using OpenVideo = Result<std::unique_ptr<VideoSource>> (*)(const Path& file,
                                                           const std::stop_token& stop);
inline constexpr char openVideoName[] = "zl_open_video";

}  // namespace zl
