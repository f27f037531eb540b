// SPDX-License-Identifier: GPL-3.0-or-later
// A video made out of pictures and samples.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/channel_layout.h>
}
#include <ebur128.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <optional>
#include <vector>

#include "container.h"
#include "encoders.h"
#include "held.h"
#include "video/write.h"
#include "yuv.h"

namespace zl::video {
namespace {

struct FreeMeter {
    void operator()(ebur128_state* meter) const { ebur128_destroy(&meter); }
};

class Sink final : public VideoSink {
  public:
    Result<void> begin(const VideoPlan& plan);
    Result<void> picture(const Straight8& frame) override;
    Result<void> sound(std::span<const float> samples) override;
    Result<Bytes> finish() override;
    std::optional<double> loudness() const override;
    long long soundBytes() const override { return soundBytes_; }
    std::string pictureCodec() const override {
        return pictures_ ? avcodec_get_name(pictures_->codec_id) : "";
    }
    std::string soundCodec() const override {
        return sound_ ? avcodec_get_name(sound_->codec_id) : "";
    }

  private:
    // Everything is opened with the first frame.
    Result<void> open(const AVFrame& first);
    Result<void> beginSound();
    Result<Frame> coded(const Straight8& frame);
    // What the encoder has goes into the file; a frame of nothing ends it.
    Result<void> put(AVCodecContext& encoder, AVStream& stream, const AVFrame* frame);
    Result<void> putSound(bool last);

    VideoPlan plan_;
    std::optional<Container> out_;
    Codec pictures_, sound_;
    AVStream *pictureStream_ = nullptr, *soundStream_ = nullptr;
    Packet packet_{av_packet_alloc()};
    std::optional<Yuv> yuv_;
    std::unique_ptr<ebur128_state, FreeMeter> meter_;
    std::vector<float> waiting_;  // samples that fill no frame yet
    std::int64_t frames_ = 0, samples_ = 0, heard_ = 0;
    long long soundBytes_ = 0;
};

bool keepsPixels(VideoKind kind) {
    return kind == VideoKind::matroska || kind == VideoKind::webp || kind == VideoKind::gif;
}

Result<void> Sink::begin(const VideoPlan& plan) {
    plan_ = plan;
    if (plan.size.empty() ||
        (!keepsPixels(plan.kind) && (plan.size.width % 2 != 0 || plan.size.height % 2 != 0)))
        return fail(Code::badUsage, "A video's sides are even.",
                    "Give the piece a frame whose width and height are even.");
    if (plan.alpha && plan.kind == VideoKind::mp4)
        return fail(Code::badUsage, "An MP4 keeps no alpha.", "Choose WebM.");
    auto out = Container::begin(muxerOf(plan.kind), plan.into);
    if (!out) return passOn(out.error());
    out_ = std::move(*out);
    if (!keepsPixels(plan.kind)) yuv_.emplace(plan.size, plan.alpha);
    if (plan.kind == VideoKind::webp || plan.kind == VideoKind::gif) plan_.soundRate = 0;
    // Missing encoders are told before anything is drawn.
    const auto codec = encoderOf(pictureCodecOf(plan.kind));
    if (!codec) return passOn(codec.error());
    return plan_.soundRate > 0 ? beginSound() : Result<void>{};
}

Result<void> Sink::open(const AVFrame& first) {
    EncoderWish wish;
    wish.codec = pictureCodecOf(plan_.kind);
    wish.factor = plan_.quality;
    wish.bitRate = plan_.bitRate;
    wish.notes = plan_.notes;
    wish.timeBase = {plan_.ratePer, plan_.rate};
    wish.rate = {plan_.rate, plan_.ratePer};
    wish.between = 2;
    auto encoder = openedEncoder(wish, first);
    if (!encoder) return passOn(encoder.error());
    pictures_ = std::move(*encoder);
    pictureStream_ = &out_->encoded(*pictures_);
    if (plan_.alpha && plan_.kind == VideoKind::webm)
        av_dict_set(&pictureStream_->metadata, "alpha_mode", "1", 0);
    if (sound_) soundStream_ = &out_->encoded(*sound_);
    AVDictionary* options = nullptr;
    if (plan_.kind == VideoKind::webp || plan_.kind == VideoKind::gif)
        av_dict_set(&options, "loop", "0", 0);  // without end
    auto done = out_->header(&options);
    av_dict_free(&options);
    return done;
}

Result<void> Sink::beginSound() {
    const bool opus = plan_.kind == VideoKind::webm, exact = plan_.kind == VideoKind::matroska;
    const AVCodec* codec = opus    ? avcodec_find_encoder_by_name("libopus")
                           : exact ? avcodec_find_encoder(AV_CODEC_ID_FLAC)
                                   : avcodec_find_encoder(AV_CODEC_ID_AAC);
    const char* name = opus ? "Opus" : exact ? "FLAC" : "AAC";
    if (!codec)
        return fail(Code::unwritable, std::string(name) + " cannot be encoded here.",
                    "Install the whole of FFmpeg's libraries.");
    sound_.reset(avcodec_alloc_context3(codec));
    if (!sound_) throw std::bad_alloc();
    AVCodecContext& c = *sound_;
    c.sample_fmt = opus ? AV_SAMPLE_FMT_FLT : exact ? AV_SAMPLE_FMT_S16 : AV_SAMPLE_FMT_FLTP;
    c.sample_rate = plan_.soundRate;
    av_channel_layout_default(&c.ch_layout, plan_.channels);
    c.bit_rate = 96'000 * plan_.channels;
    c.time_base = {1, plan_.soundRate};
    c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
    if (avcodec_open2(&c, codec, nullptr) < 0)
        return fail(Code::unwritable, std::string(name) + " cannot be encoded so.");
    meter_.reset(ebur128_init(static_cast<unsigned>(plan_.channels),
                              static_cast<unsigned long>(plan_.soundRate), EBUR128_MODE_I));
    return {};
}

Result<void> Sink::put(AVCodecContext& encoder, AVStream& stream, const AVFrame* frame) {
    if (avcodec_send_frame(&encoder, frame) < 0)
        return fail(Code::unwritable, "A frame could not be encoded.");
    while (avcodec_receive_packet(&encoder, packet_.get()) >= 0) {
        if (&encoder == pictures_.get())
            packet_->duration = 1;
        else
            soundBytes_ += packet_->size;
        if (auto done = out_->put(*packet_, encoder.time_base, stream); !done) return done;
    }
    return {};
}

// The pixels by their number among the colours that there are.
Result<Frame> numbered(const Straight8& pixels) {
    Frame frame(av_frame_alloc());
    if (!frame) throw std::bad_alloc();
    frame->format = AV_PIX_FMT_PAL8;
    frame->width = pixels.width();
    frame->height = pixels.height();
    if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
    auto* colours = reinterpret_cast<std::uint32_t*>(frame->data[1]);
    std::fill_n(colours, 256, 0xFF000000u);
    std::map<std::uint32_t, std::uint8_t> numbers;
    for (int y = 0; y < pixels.height(); ++y) {
        std::uint8_t* row = frame->data[0] + static_cast<std::ptrdiff_t>(y) * frame->linesize[0];
        const std::uint32_t* from = pixels.row(y);
        for (int x = 0; x < pixels.width(); ++x) {
            const auto [at, added] =
                numbers.try_emplace(from[x], static_cast<std::uint8_t>(numbers.size()));
            if (numbers.size() > 256)
                return fail(Code::badUsage, "A GIF's frame has at most 256 colours.");
            if (added)
                colours[at->second] = 0xFF000000u | (from[x] & 255u) << 16 | (from[x] & 0xFF00u) |
                                      (from[x] >> 16 & 255u);
            row[x] = at->second;
        }
    }
    return frame;
}

// Red, green, blue and alpha as FFmpeg has them in one word, blue first.
Result<Frame> Sink::coded(const Straight8& pixels) {
    if (yuv_) return yuv_->of(pixels);
    if (pixels.size() != plan_.size)
        return fail(Code::badUsage, "The frame is not of the video's size.");
    if (plan_.kind == VideoKind::gif) return numbered(pixels);
    Frame frame(av_frame_alloc());
    if (!frame) throw std::bad_alloc();
    const bool plain = !plan_.alpha && plan_.kind == VideoKind::matroska;
    frame->format = plain ? AV_PIX_FMT_BGR0 : AV_PIX_FMT_BGRA;
    frame->width = pixels.width();
    frame->height = pixels.height();
    if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
    for (int y = 0; y < pixels.height(); ++y) {
        auto* row = reinterpret_cast<std::uint32_t*>(
            frame->data[0] + static_cast<std::ptrdiff_t>(y) * frame->linesize[0]);
        const std::uint32_t* from = pixels.row(y);
        const std::uint32_t solid = plan_.alpha ? 0 : 0xFF000000u;
        for (int x = 0; x < pixels.width(); ++x) {
            const std::uint32_t p = from[x] | solid;
            row[x] = (p & 0xFF00FF00u) | (p & 255u) << 16 | (p >> 16 & 255u);
        }
    }
    return frame;
}

Result<void> Sink::picture(const Straight8& frame) {
    auto made = coded(frame);
    if (!made) return passOn(made.error());
    if (!pictures_)
        if (auto done = open(**made); !done) return done;
    (*made)->pts = frames_++;
    if (auto done = put(*pictures_, *pictureStream_, made->get()); !done) return done;
    return sound_ ? putSound(false) : Result<void>{};
}

Result<void> Sink::sound(std::span<const float> samples) {
    if (!sound_) return fail(Code::badUsage, "The video has no sound.");
    const auto channels = static_cast<std::size_t>(plan_.channels);
    if (meter_) ebur128_add_frames_float(meter_.get(), samples.data(), samples.size() / channels);
    heard_ += static_cast<std::int64_t>(samples.size() / channels);
    waiting_.insert(waiting_.end(), samples.begin(), samples.end());
    return pictures_ ? putSound(false) : Result<void>{};
}

void fill(AVFrame& frame, const float* from, std::size_t count, std::size_t channels) {
    switch (frame.format) {
        case AV_SAMPLE_FMT_FLT:
            std::memcpy(frame.data[0], from, count * channels * sizeof(float));
            return;
        case AV_SAMPLE_FMT_S16: {
            auto* to = reinterpret_cast<std::int16_t*>(frame.data[0]);
            for (std::size_t i = 0; i < count * channels; ++i)
                to[i] = static_cast<std::int16_t>(
                    std::lround(std::clamp(from[i], -1.0f, 1.0f) * 32767));
            return;
        }
        default:
            for (std::size_t c = 0; c < channels; ++c) {
                auto* to = reinterpret_cast<float*>(frame.data[c]);
                for (std::size_t i = 0; i < count; ++i) to[i] = from[i * channels + c];
            }
    }
}

Result<void> Sink::putSound(bool last) {
    const auto channels = static_cast<std::size_t>(plan_.channels);
    const std::size_t whole =
        sound_->frame_size > 0 ? static_cast<std::size_t>(sound_->frame_size) : 1024;
    std::size_t done = 0;
    const std::size_t all = waiting_.size() / channels;
    while (all - done >= whole || (last && done < all)) {
        const std::size_t count = std::min(whole, all - done);
        const Frame frame(av_frame_alloc());
        if (!frame) throw std::bad_alloc();
        frame->format = sound_->sample_fmt;
        frame->sample_rate = plan_.soundRate;
        av_channel_layout_default(&frame->ch_layout, plan_.channels);
        frame->nb_samples = static_cast<int>(count);
        if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
        fill(*frame, waiting_.data() + done * channels, count, channels);
        done += count;
        frame->pts = samples_;
        samples_ += static_cast<std::int64_t>(count);
        if (auto put = this->put(*sound_, *soundStream_, frame.get()); !put) return put;
    }
    waiting_.erase(waiting_.begin(),
                   waiting_.begin() + static_cast<std::ptrdiff_t>(done * channels));
    return {};
}

Result<Bytes> Sink::finish() {
    if (frames_ == 0) return fail(Code::badUsage, "The video has no frame.");
    if (auto done = put(*pictures_, *pictureStream_, nullptr); !done) return passOn(done.error());
    if (sound_) {
        if (auto done = putSound(true); !done) return passOn(done.error());
        if (auto done = put(*sound_, *soundStream_, nullptr); !done) return passOn(done.error());
    }
    return out_->finish();
}

std::optional<double> Sink::loudness() const {
    double told = 0;
    if (!meter_ || heard_ == 0 || ebur128_loudness_global(meter_.get(), &told) != EBUR128_SUCCESS ||
        !std::isfinite(told))
        return {};
    return told;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<std::unique_ptr<zl::VideoSink>>
zl_write_video(const zl::VideoPlan& plan) {
    av_log_set_level(AV_LOG_QUIET);
    auto sink = std::make_unique<zl::video::Sink>();
    if (auto done = sink->begin(plan); !done) return zl::passOn(done.error());
    return sink;
}
