// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of FFmpeg's encoders.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/channel_layout.h>
#include <libavutil/opt.h>
}
#include <zimg.h>

#include <algorithm>
#include <cstdlib>
#include <cstring>
#include <vector>

#include "held.h"
#include "video/write.h"
#include "zimg_held.h"

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

constexpr std::size_t aligned = 64;  // bytes, as zimg likes rows

void* roomOf(std::size_t bytes) {
    void* room =
        std::aligned_alloc(aligned, std::max(aligned, (bytes + aligned - 1) / aligned * aligned));
    if (!room) throw std::bad_alloc();
    return room;
}

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
    Result<void> beginColours();
    // What the encoder has goes into the file; a frame of nothing ends it.
    Result<void> put(AVCodecContext& encoder, AVStream& stream, const AVFrame* frame);
    Result<void> putSound(bool last);

    VideoPlan plan_;
    std::unique_ptr<AVFormatContext, FreeFormat> format_;
    Codec pictures_, sound_;
    AVStream *pictureStream_ = nullptr, *soundStream_ = nullptr;
    Packet packet_{av_packet_alloc()};
    Graph graph_;
    Room work_, from_, to_;
    std::ptrdiff_t fromStride_ = 0, toStride_ = 0;
    std::vector<std::uint32_t> last_;  // the pixels whose samples stand in to_
    std::vector<float> waiting_;       // samples that fill no frame yet
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
    if (auto done = beginColours(); !done) return done;
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

Result<void> Sink::beginColours() {
    zimg_image_format in, out;
    zimg_image_format_default(&in, ZIMG_API_VERSION);
    in.width = static_cast<unsigned>(plan_.size.width);
    in.height = static_cast<unsigned>(plan_.size.height);
    in.pixel_type = ZIMG_PIXEL_BYTE;
    in.depth = 8;
    in.color_family = ZIMG_COLOR_RGB;
    in.matrix_coefficients = ZIMG_MATRIX_RGB;
    in.pixel_range = ZIMG_RANGE_FULL;
    out = in;
    out.color_family = ZIMG_COLOR_YUV;
    out.matrix_coefficients = ZIMG_MATRIX_BT709;
    out.pixel_range = ZIMG_RANGE_LIMITED;
    out.subsample_w = out.subsample_h = 1;
    out.chroma_location = ZIMG_CHROMA_LEFT;
    zimg_graph_builder_params how;
    zimg_graph_builder_params_default(&how, ZIMG_API_VERSION);
    how.cpu_type = ZIMG_CPU_NONE;  // the same samples on every processor
    graph_.reset(zimg_filter_graph_build(&in, &out, &how));
    if (!graph_) return refused("The colours cannot be converted.");
    std::size_t room = 0;
    zimg_filter_graph_get_tmp_size(graph_.get(), &room);
    work_.reset(roomOf(room));
    const auto rowOf = [](int width) {
        return static_cast<std::ptrdiff_t>((static_cast<std::size_t>(width) + aligned - 1) /
                                           aligned * aligned);
    };
    fromStride_ = toStride_ = rowOf(plan_.size.width);
    const auto plane =
        static_cast<std::size_t>(fromStride_) * static_cast<std::size_t>(plan_.size.height);
    from_.reset(roomOf(3 * plane));
    to_.reset(roomOf(3 * plane));
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
    if (frame.size() != plan_.size)
        return fail(Code::badUsage, "The frame is not of the video's size.");
    const auto plane =
        static_cast<std::size_t>(fromStride_) * static_cast<std::size_t>(plan_.size.height);
    auto* from = static_cast<std::uint8_t*>(from_.get());
    auto* to = static_cast<std::uint8_t*>(to_.get());
    for (int y = 0; y < frame.height(); ++y) {
        std::uint8_t* row = from + y * fromStride_;
        const std::uint32_t* pixels = frame.row(y);
        for (int x = 0; x < frame.width(); ++x) {
            row[x] = static_cast<std::uint8_t>(pixels[x]);
            row[plane + static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(pixels[x] >> 8);
            row[2 * plane + static_cast<std::size_t>(x)] =
                static_cast<std::uint8_t>(pixels[x] >> 16);
        }
    }
    zimg_image_buffer_const source{ZIMG_API_VERSION, {}};
    zimg_image_buffer target{ZIMG_API_VERSION, {}};
    for (std::size_t c = 0; c < 3; ++c) {
        source.plane[c] = {from + c * plane, fromStride_, ZIMG_BUFFER_MAX};
        target.plane[c] = {to + c * plane, toStride_, ZIMG_BUFFER_MAX};
    }
    const bool still =
        std::equal(frame.pixels().begin(), frame.pixels().end(), last_.begin(), last_.end());
    if (!still && zimg_filter_graph_process(graph_.get(), &source, &target, work_.get(), nullptr,
                                            nullptr, nullptr, nullptr) != ZIMG_ERROR_SUCCESS)
        return fail(Code::unwritable, "The colours could not be converted.");
    if (!still) last_.assign(frame.pixels().begin(), frame.pixels().end());
    const Frame coded(av_frame_alloc());
    if (!coded) throw std::bad_alloc();
    coded->format = AV_PIX_FMT_YUV420P;
    coded->width = plan_.size.width;
    coded->height = plan_.size.height;
    if (av_frame_get_buffer(coded.get(), 0) < 0) throw std::bad_alloc();
    for (std::size_t c = 0; c < 3; ++c) {
        const int less = c > 0 ? 2 : 1;
        for (int y = 0; y < plan_.size.height / less; ++y)
            std::memcpy(coded->data[c] + static_cast<std::ptrdiff_t>(y) * coded->linesize[c],
                        to + c * plane + static_cast<std::size_t>(y * toStride_),
                        static_cast<std::size_t>(plan_.size.width / less));
    }
    coded->pts = frames_++;
    return put(*pictures_, *pictureStream_, coded.get());
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
