// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of FFmpeg's encoders.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/channel_layout.h>
#include <libavutil/opt.h>
}
#include <algorithm>
#include <cstring>
#include <optional>
#include <vector>

#include "held.h"
#include "video/write.h"
#include "yuv.h"

namespace zl::video {
namespace {

struct FreeFormat {
    void operator()(AVFormatContext* context) const {
        if (context->pb) {
            std::uint8_t* left = nullptr;
            avio_close_dyn_buf(context->pb, &left);
            av_free(left);
        }
        avformat_free_context(context);
    }
};

tl::unexpected<Error> refused(const char* what) {
    return fail(Code::unwritable, what, "Install the whole of FFmpeg's libraries.");
}

class Sink final : public VideoSink {
  public:
    Result<void> begin(const VideoPlan& plan);
    Result<void> picture(const Straight8& frame) override;
    Result<void> sound(std::span<const float> samples) override;
    Result<Bytes> finish() override;

  private:
    Result<void> beginPictures();
    Result<void> beginSound();
    // What the encoder has goes into the file; a frame of nothing ends it.
    Result<void> put(AVCodecContext& encoder, AVStream& stream, const AVFrame* frame);
    Result<void> putSound(bool last);

    VideoPlan plan_;
    std::unique_ptr<AVFormatContext, FreeFormat> format_;
    Codec pictures_, sound_;
    AVStream *pictureStream_ = nullptr, *soundStream_ = nullptr;
    Packet packet_{av_packet_alloc()};
    std::optional<Yuv> yuv_;
    std::vector<float> waiting_;  // samples that fill no frame yet
    std::int64_t frames_ = 0, samples_ = 0;
};

Result<void> Sink::begin(const VideoPlan& plan) {
    plan_ = plan;
    if (plan.size.empty() || plan.size.width % 2 != 0 || plan.size.height % 2 != 0)
        return fail(Code::badUsage, "A video's sides are even.");
    AVFormatContext* context = nullptr;
    if (avformat_alloc_output_context2(&context, nullptr, "mp4", nullptr) < 0)
        return refused("MP4 cannot be written here.");
    format_.reset(context);
    format_->flags |= AVFMT_FLAG_BITEXACT;  // neither a date nor a version
    if (avio_open_dyn_buf(&format_->pb) < 0) throw std::bad_alloc();
    if (auto done = beginPictures(); !done) return done;
    auto yuv = Yuv::begin(plan.size, false);
    if (!yuv) return passOn(yuv.error());
    yuv_ = std::move(*yuv);
    if (plan.soundRate > 0)
        if (auto done = beginSound(); !done) return done;
    if (avformat_write_header(format_.get(), nullptr) < 0)
        return refused("The MP4 cannot be begun.");
    return {};
}

Result<void> Sink::beginPictures() {
    const AVCodec* codec = avcodec_find_encoder_by_name("libx264");
    if (!codec) return refused("H.264 cannot be encoded here: libx264 is missing.");
    pictures_.reset(avcodec_alloc_context3(codec));
    if (!pictures_) throw std::bad_alloc();
    AVCodecContext& c = *pictures_;
    c.width = plan_.size.width;
    c.height = plan_.size.height;
    c.pix_fmt = AV_PIX_FMT_YUV420P;
    c.time_base = {1, plan_.rate};
    c.framerate = {plan_.rate, 1};
    c.gop_size = 2 * plan_.rate;
    c.thread_count = 2;  // the bytes depend on it, so it is the same everywhere
    c.color_range = AVCOL_RANGE_MPEG;
    c.colorspace = AVCOL_SPC_BT709;
    c.color_primaries = AVCOL_PRI_BT709;
    c.color_trc = AVCOL_TRC_BT709;
    c.chroma_sample_location = AVCHROMA_LOC_LEFT;
    c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
    av_opt_set(c.priv_data, "preset", "veryfast", 0);
    av_opt_set_int(c.priv_data, "crf", plan_.quality, 0);
    if (avcodec_open2(&c, codec, nullptr) < 0) return refused("H.264 cannot be encoded so.");
    pictureStream_ = avformat_new_stream(format_.get(), nullptr);
    if (!pictureStream_) throw std::bad_alloc();
    pictureStream_->time_base = c.time_base;
    pictureStream_->avg_frame_rate = c.framerate;
    avcodec_parameters_from_context(pictureStream_->codecpar, &c);
    return {};
}

Result<void> Sink::beginSound() {
    const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_AAC);
    if (!codec) return refused("AAC cannot be encoded here.");
    sound_.reset(avcodec_alloc_context3(codec));
    if (!sound_) throw std::bad_alloc();
    AVCodecContext& c = *sound_;
    c.sample_fmt = AV_SAMPLE_FMT_FLTP;
    c.sample_rate = plan_.soundRate;
    av_channel_layout_default(&c.ch_layout, 1);
    c.bit_rate = 96'000;
    c.time_base = {1, plan_.soundRate};
    c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
    if (avcodec_open2(&c, codec, nullptr) < 0) return refused("AAC cannot be encoded so.");
    soundStream_ = avformat_new_stream(format_.get(), nullptr);
    if (!soundStream_) throw std::bad_alloc();
    soundStream_->time_base = c.time_base;
    avcodec_parameters_from_context(soundStream_->codecpar, &c);
    return {};
}

Result<void> Sink::put(AVCodecContext& encoder, AVStream& stream, const AVFrame* frame) {
    if (avcodec_send_frame(&encoder, frame) < 0)
        return fail(Code::unwritable, "A frame could not be encoded.");
    while (avcodec_receive_packet(&encoder, packet_.get()) >= 0) {
        if (&encoder == pictures_.get()) packet_->duration = 1;
        av_packet_rescale_ts(packet_.get(), encoder.time_base, stream.time_base);
        packet_->stream_index = stream.index;
        if (av_interleaved_write_frame(format_.get(), packet_.get()) < 0)
            return fail(Code::unwritable, "The video could not be written.");
    }
    return {};
}

Result<void> Sink::picture(const Straight8& frame) {
    auto coded = yuv_->of(frame);
    if (!coded) return passOn(coded.error());
    (*coded)->pts = frames_++;
    return put(*pictures_, *pictureStream_, coded->get());
}

Result<void> Sink::sound(std::span<const float> samples) {
    if (!sound_) return fail(Code::badUsage, "The video has no sound.");
    waiting_.insert(waiting_.end(), samples.begin(), samples.end());
    return putSound(false);
}

Result<void> Sink::putSound(bool last) {
    const auto whole = static_cast<std::size_t>(sound_->frame_size);
    while (waiting_.size() >= whole || (last && !waiting_.empty())) {
        const std::size_t count = std::min(whole, waiting_.size());
        const Frame frame(av_frame_alloc());
        if (!frame) throw std::bad_alloc();
        frame->format = AV_SAMPLE_FMT_FLTP;
        frame->sample_rate = plan_.soundRate;
        av_channel_layout_default(&frame->ch_layout, 1);
        frame->nb_samples = static_cast<int>(count);
        if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
        std::memcpy(frame->data[0], waiting_.data(), count * sizeof(float));
        waiting_.erase(waiting_.begin(), waiting_.begin() + static_cast<std::ptrdiff_t>(count));
        frame->pts = samples_;
        samples_ += static_cast<std::int64_t>(count);
        if (auto done = put(*sound_, *soundStream_, frame.get()); !done) return done;
    }
    return {};
}

Result<Bytes> Sink::finish() {
    if (frames_ == 0) return fail(Code::badUsage, "The video has no frame.");
    if (auto done = put(*pictures_, *pictureStream_, nullptr); !done) return passOn(done.error());
    if (sound_) {
        if (auto done = putSound(true); !done) return passOn(done.error());
        if (auto done = put(*sound_, *soundStream_, nullptr); !done) return passOn(done.error());
    }
    if (av_write_trailer(format_.get()) < 0)
        return fail(Code::unwritable, "The video could not be ended.");
    std::uint8_t* data = nullptr;
    const int size = avio_close_dyn_buf(format_->pb, &data);
    format_->pb = nullptr;
    Bytes out;
    if (data && size > 0) out.assign(data, data + size);
    av_free(data);
    return out;
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
