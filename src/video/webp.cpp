// SPDX-License-Identifier: GPL-3.0-or-later
#include "webp.h"

extern "C" {
#include <libavutil/frame.h>
#include <libavutil/pixfmt.h>
}
#include <fmt/core.h>
#include <webp/demux.h>

#include <array>
#include <cstring>
#include <fstream>
#include <vector>

#include "held.h"
#include "pixels.h"
#include "screen.h"

namespace zl::video {
namespace {

struct FreeDemux {
    void operator()(WebPDemuxer* demux) const { WebPDemuxDelete(demux); }
};
struct FreeDecoder {
    void operator()(WebPAnimDecoder* decoder) const { WebPAnimDecoderDelete(decoder); }
};

class WebpSource final : public VideoSource {
  public:
    static Result<std::unique_ptr<VideoSource>> open(const Path& file, const std::stop_token& stop);

    const VideoFacts& facts() const override { return facts_; }
    double timeOf(long long number) const override {
        return starts_[static_cast<std::size_t>(number)];
    }
    Result<VideoFrame> coded(long long number, const std::stop_token& stop) override;
    Result<SeenFrame> keyFrame(long long number, PixelSize size,
                               const std::stop_token& stop) override {
        return quick(number, size, stop);
    }
    Result<SeenFrame> quick(long long number, PixelSize size, const std::stop_token& stop) override;
    Result<void> play(long long from, PixelSize size, const PlayedFrame& told,
                      const std::stop_token& stop) override;
    Result<void> each(const LookThrough& how, const std::function<bool(Passing&)>& told,
                      const std::stop_token& stop) override;
    Result<std::unique_ptr<VideoSource>> again(int threads,
                                               const std::stop_token& stop) const override {
        static_cast<void>(threads);
        return open(file_, stop);
    }

  private:
    tl::unexpected<Error> unread(const char* why) const {
        return fail(
            Code::unreadable,
            fmt::format("{} cannot be read as a video: {}.", file_.filename().string(), why),
            "Bring an undamaged video file.");
    }
    Result<void> readBytes(const std::stop_token& stop);
    Result<void> readFacts();
    // The frame as it is shown: those before it are decoded, too, where it does not follow the one
    // that was asked for last.
    Result<void> goTo(long long number, const std::stop_token& stop);
    // The frame that was decoded last, for what works on frames.
    const AVFrame& shown() const { return *frame_; }

    Path file_;
    std::vector<std::uint8_t> bytes_;
    std::unique_ptr<WebPAnimDecoder, FreeDecoder> decoder_;
    std::vector<double> starts_;  // s
    long long last_ = -1;         // the frame that was decoded last
    Frame frame_{av_frame_alloc()};
    Screen screen_;
    VideoFacts facts_;
};

Result<void> WebpSource::readBytes(const std::stop_token& stop) {
    constexpr std::uintmax_t most = 500'000'000;  // bytes; it is held as a whole
    std::error_code failed;
    const std::uintmax_t size = std::filesystem::file_size(file_, failed);
    if (failed || size > most) return unread("it is too large, or cannot be read");
    bytes_.resize(size);
    std::ifstream in(file_, std::ios::binary);
    constexpr std::size_t part = 16u << 20;
    for (std::size_t at = 0; at < bytes_.size(); at += part) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const std::size_t count = std::min(part, bytes_.size() - at);
        if (!in.read(reinterpret_cast<char*>(bytes_.data() + at),
                     static_cast<std::streamsize>(count)))
            return unread("it cannot be read");
    }
    return {};
}

Result<void> WebpSource::readFacts() {
    const WebPData data{bytes_.data(), bytes_.size()};
    const std::unique_ptr<WebPDemuxer, FreeDemux> demux(WebPDemux(&data));
    if (!demux) return unread("it is damaged or breaks off");
    const std::uint32_t flags = WebPDemuxGetI(demux.get(), WEBP_FF_FORMAT_FLAGS),
                        count = WebPDemuxGetI(demux.get(), WEBP_FF_FRAME_COUNT);
    if ((flags & ANIMATION_FLAG) == 0 || count < 2)
        return unread("there are no moving pictures in it");
    facts_.size = {static_cast<int>(WebPDemuxGetI(demux.get(), WEBP_FF_CANVAS_WIDTH)),
                   static_cast<int>(WebPDemuxGetI(demux.get(), WEBP_FF_CANVAS_HEIGHT))};
    if (facts_.size.count() > mostPixels) return unread("its frames are too large");
    double at = 0, least = 1e9, most = 0;
    WebPIterator frame;
    if (WebPDemuxGetFrame(demux.get(), 1, &frame) == 0) return unread("it is damaged");
    do {
        starts_.push_back(at);
        const double lasts = frame.duration > 0 ? frame.duration / 1000.0 : 0.1;
        least = std::min(least, lasts);
        most = std::max(most, lasts);
        at += lasts;
    } while (WebPDemuxNextFrame(&frame) != 0);
    WebPDemuxReleaseIterator(&frame);
    facts_.container = facts_.codec = "webp";
    facts_.shown = facts_.size;
    facts_.frames = static_cast<long long>(starts_.size());
    facts_.duration = at;
    facts_.fps = static_cast<double>(facts_.frames) / at;
    constexpr double uneven = 0.0015;  // s; times are kept in whole milliseconds
    facts_.variableRate = most - least > uneven;
    facts_.alpha = (flags & ALPHA_FLAG) != 0;
    facts_.colour = {{"gbr", true}, {"bt709", false}, {"iec61966-2-1", false}, {"full", true}};
    return {};
}

Result<std::unique_ptr<VideoSource>> WebpSource::open(const Path& file,
                                                      const std::stop_token& stop) {
    auto source = std::make_unique<WebpSource>();
    source->file_ = file;
    if (auto done = source->readBytes(stop); !done) return passOn(done.error());
    if (auto done = source->readFacts(); !done) return passOn(done.error());
    WebPAnimDecoderOptions how;
    WebPAnimDecoderOptionsInit(&how);
    how.color_mode = MODE_RGBA;
    const WebPData data{source->bytes_.data(), source->bytes_.size()};
    source->decoder_.reset(WebPAnimDecoderNew(&data, &how));
    if (!source->decoder_ || !source->frame_) return source->unread("it is damaged");
    AVFrame& frame = *source->frame_;
    frame.format = AV_PIX_FMT_RGBA;
    frame.width = source->facts_.size.width;
    frame.height = source->facts_.size.height;
    frame.linesize[0] = 4 * frame.width;
    return source;
}

Result<void> WebpSource::goTo(long long number, const std::stop_token& stop) {
    if (number <= last_) {
        WebPAnimDecoderReset(decoder_.get());
        last_ = -1;
        frame_->data[0] = nullptr;
    }
    for (int time = 0; last_ < number; ++last_) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        if (WebPAnimDecoderGetNext(decoder_.get(), &frame_->data[0], &time) == 0) {
            last_ = facts_.frames;  // begin anew, whatever is asked for next
            return unread("it is damaged or breaks off");
        }
    }
    return {};
}

Result<VideoFrame> WebpSource::coded(long long number, const std::stop_token& stop) {
    if (number != last_)
        if (auto done = goTo(number, stop); !done) return passOn(done.error());
    auto pixels = pixelsOf(shown());
    if (!pixels) return passOn(pixels.error());
    VideoFrame out;
    out.pixels = std::move(pixels->eight);
    out.number = number;
    out.time = timeOf(number);
    return out;
}

Result<SeenFrame> WebpSource::quick(long long number, PixelSize size, const std::stop_token& stop) {
    if (number != last_)
        if (auto done = goTo(number, stop); !done) return passOn(done.error());
    auto picture = screen_.of(shown(), size);
    if (!picture) return passOn(picture.error());
    return SeenFrame{std::move(*picture), number, timeOf(number)};
}

Result<void> WebpSource::play(long long from, PixelSize size, const PlayedFrame& told,
                              const std::stop_token& stop) {
    for (long long number = from; number < facts_.frames; ++number) {
        if (number != last_)
            if (auto done = goTo(number, stop); !done) return done;
        if (!told(number, timeOf(number), [&] { return screen_.of(shown(), size); })) break;
    }
    return {};
}

Result<void> WebpSource::each(const LookThrough& how, const std::function<bool(Passing&)>& told,
                              const std::stop_token& stop) {
    double due = -1;
    for (long long number = 0; number < facts_.frames; ++number) {
        if (number != last_)
            if (auto done = goTo(number, stop); !done) return done;
        Passing passing;
        if (how.glances) passing.glance = glanceAt(shown());
        passing.glance.number = number;
        passing.glance.time = timeOf(number);
        if (passing.glance.time >= due) {
            due = passing.glance.time + how.step;
            if (how.lumaWidth > 0) shrinkLuma(shown(), how.lumaWidth, passing);
            if (!how.picture.empty())
                if (auto picture = screen_.of(shown(), how.picture))
                    passing.picture = std::move(*picture);
        }
        if (!told(passing)) break;
    }
    return {};
}

}  // namespace

bool isWebp(const Path& file) {
    std::array<char, 12> head{};
    std::ifstream in(file, std::ios::binary);
    return in.read(head.data(), head.size()) && std::memcmp(head.data(), "RIFF", 4) == 0 &&
           std::memcmp(head.data() + 8, "WEBP", 4) == 0;
}

Result<std::unique_ptr<VideoSource>> openWebp(const Path& file, const std::stop_token& stop) {
    return WebpSource::open(file, stop);
}

}  // namespace zl::video
