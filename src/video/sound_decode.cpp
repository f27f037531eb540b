// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound_decode.h"

extern "C" {
#include <libavutil/channel_layout.h>
}

#include <algorithm>
#include <cmath>

namespace zl::video {

const char* SoundDecoder::open(const Path& file, const std::stop_token& stop) {
    stop_ = stop;
    format_ = openedFormat(
        file, {[](void* self) {
                   return static_cast<SoundDecoder*>(self)->stop_.stop_requested() ? 1 : 0;
               },
               this});
    if (!format_ || avformat_find_stream_info(format_.get(), nullptr) < 0)
        return "The sound cannot be read.";
    const int at = av_find_best_stream(format_.get(), AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (at < 0) return "The video has no sound.";
    stream_ = format_->streams[at];
    for (unsigned i = 0; i < format_->nb_streams; ++i)
        if (format_->streams[i] != stream_) format_->streams[i]->discard = AVDISCARD_ALL;
    const AVCodec* codec = avcodec_find_decoder(stream_->codecpar->codec_id);
    decoder_.reset(codec ? avcodec_alloc_context3(codec) : nullptr);
    AVDictionary* options = nullptr;
    av_dict_set(&options, "codec_whitelist", soundKinds, 0);
    const bool opened = decoder_ &&
                        avcodec_parameters_to_context(decoder_.get(), stream_->codecpar) >= 0 &&
                        avcodec_open2(decoder_.get(), codec, &options) >= 0;
    av_dict_free(&options);
    if (!opened) return "The sound is of a kind that is not read.";
    decoder_->pkt_timebase = stream_->time_base;
    return nullptr;
}

void SoundDecoder::seek(double seconds) {
    from_ = seconds;
    placed_ = ended_ = false;
    late_ = 0;
    // A decoder needs some packets before the moment to be right at it.
    constexpr double lead = 0.2;
    const auto to = static_cast<std::int64_t>(std::max(0.0, seconds - lead) * AV_TIME_BASE) +
                    (format_->start_time == AV_NOPTS_VALUE ? 0 : format_->start_time);
    av_seek_frame(format_.get(), -1, to, AVSEEK_FLAG_BACKWARD);
    avcodec_flush_buffers(decoder_.get());
    resampler_.reset();
}

std::vector<float> SoundDecoder::resampled(const AVFrame& frame) {
    if (!resampler_) {
        AVChannelLayout two;
        av_channel_layout_default(&two, channels);
        SwrContext* made = nullptr;
        if (swr_alloc_set_opts2(&made, &two, AV_SAMPLE_FMT_FLT, rate,
                                const_cast<AVChannelLayout*>(&frame.ch_layout),
                                static_cast<AVSampleFormat>(frame.format), frame.sample_rate, 0,
                                nullptr) < 0 ||
            swr_init(made) < 0) {
            swr_free(&made);
            return {};
        }
        resampler_.reset(made);
    }
    const int most = swr_get_out_samples(resampler_.get(), frame.nb_samples);
    if (most <= 0) return {};
    std::vector<float> samples(static_cast<std::size_t>(most) * channels);
    auto* to = reinterpret_cast<std::uint8_t*>(samples.data());
    const int got =
        swr_convert(resampler_.get(), &to, most,
                    const_cast<const std::uint8_t**>(frame.extended_data), frame.nb_samples);
    samples.resize(static_cast<std::size_t>(std::max(0, got)) * channels);
    return samples;
}

void SoundDecoder::placeFirst(const AVFrame& frame, std::vector<float>& samples) {
    if (!placed_ && frame.best_effort_timestamp != AV_NOPTS_VALUE) {
        const double start = format_->start_time == AV_NOPTS_VALUE
                                 ? 0
                                 : static_cast<double>(format_->start_time) / AV_TIME_BASE;
        const double at =
            static_cast<double>(frame.best_effort_timestamp) * av_q2d(stream_->time_base) - start;
        const double apart = (from_ - at) * rate;
        constexpr double mostSilence = 3600.0 * rate;
        if (apart > 0)
            late_ = static_cast<std::size_t>(std::llround(apart));
        else if (apart > -mostSilence)
            samples.insert(samples.begin(),
                           static_cast<std::size_t>(std::llround(-apart)) * channels, 0.0f);
    }
    placed_ = true;
    const std::size_t gone = std::min(late_, samples.size() / channels);
    late_ -= gone;
    samples.erase(samples.begin(), samples.begin() + static_cast<std::ptrdiff_t>(gone * channels));
}

std::vector<float> SoundDecoder::next() {
    while (!ended_ && !stop_.stop_requested()) {
        const int got = avcodec_receive_frame(decoder_.get(), frame_.get());
        if (got == 0) {
            std::vector<float> samples = resampled(*frame_);
            placeFirst(*frame_, samples);
            if (!samples.empty()) return samples;
            continue;
        }
        if (got != AVERROR(EAGAIN)) break;
        if (av_read_frame(format_.get(), packet_.get()) < 0) {
            avcodec_send_packet(decoder_.get(), nullptr);
            continue;
        }
        if (packet_->stream_index == stream_->index)
            static_cast<void>(avcodec_send_packet(decoder_.get(), packet_.get()));
        av_packet_unref(packet_.get());
    }
    if (ended_ || stop_.stop_requested() || !resampler_) return {};
    // What the resampler still holds.
    ended_ = true;
    const int most = swr_get_out_samples(resampler_.get(), 0);
    if (most <= 0) return {};
    std::vector<float> samples(static_cast<std::size_t>(most) * channels);
    auto* to = reinterpret_cast<std::uint8_t*>(samples.data());
    const int got = swr_convert(resampler_.get(), &to, most, nullptr, 0);
    samples.resize(static_cast<std::size_t>(std::max(0, got)) * channels);
    return samples;
}

}  // namespace zl::video
