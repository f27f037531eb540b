// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of cubeb: a thread decodes ahead, the device takes what it needs.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavutil/channel_layout.h>
#include <libswresample/swresample.h>
}
#include <cubeb/cubeb.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <thread>
#include <vector>

#include "held.h"
#include "kinds.h"
#include "video/sound.h"

namespace zl::video {
namespace {

constexpr int rate = 48'000, channels = 2;
constexpr std::size_t room = static_cast<std::size_t>(rate) * channels;  // a second ahead

struct FreeResampler {
    void operator()(SwrContext* context) const { swr_free(&context); }
};
struct FreeCubeb {
    void operator()(cubeb* context) const { cubeb_destroy(context); }
};
struct FreeStream {
    void operator()(cubeb_stream* stream) const { cubeb_stream_destroy(stream); }
};

// Samples for one writer and one reader, who never wait for each other.
class Ring {
  public:
    std::size_t free() const { return room - (written_.load() - read_.load()); }
    bool empty() const { return written_.load() == read_.load(); }
    void write(const float* from, std::size_t count) {
        const std::size_t at = written_.load(std::memory_order_relaxed);
        for (std::size_t i = 0; i < count; ++i) samples_[(at + i) % room] = from[i];
        written_.store(at + count, std::memory_order_release);
    }
    std::size_t read(float* to, std::size_t most) {
        const std::size_t at = read_.load(std::memory_order_relaxed),
                          count = std::min(most, written_.load(std::memory_order_acquire) - at);
        for (std::size_t i = 0; i < count; ++i) to[i] = samples_[(at + i) % room];
        read_.store(at + count, std::memory_order_release);
        return count;
    }
    void clear() { read_.store(written_.load()); }

  private:
    std::vector<float> samples_ = std::vector<float>(room);
    std::atomic<std::size_t> written_{0}, read_{0};
};

class Player final : public SoundSource {
  public:
    Result<void> open(const Path& file, const std::stop_token& stop);
    ~Player() override { stop(); }
    void start(double seconds) override;
    void stop() override;
    std::optional<double> position() const override;

  private:
    void feed(double from, const std::stop_token& stop);
    // What was decoded, from the moment on that was asked for; false when it was stopped.
    bool give(const AVFrame& frame, double from, const std::stop_token& stop);
    long take(void* out, long frames);

    std::stop_token opening_;
    Format format_;
    Codec decoder_;
    std::unique_ptr<SwrContext, FreeResampler> resampler_;
    AVStream* stream_ = nullptr;
    std::unique_ptr<cubeb, FreeCubeb> device_;
    std::unique_ptr<cubeb_stream, FreeStream> playing_;
    Ring ring_;
    std::atomic<bool> fed_{false};       // nothing more comes
    std::atomic<long long> silence_{0};  // frames played while nothing was there
    double from_ = 0;
    std::jthread feeder_;
};

tl::unexpected<Error> mute(const char* why) {
    return fail(Code::unreadable, why);
}

Result<void> Player::open(const Path& file, const std::stop_token& stop) {
    opening_ = stop;
    format_ = openedFormat(
        file,
        {[](void* self) { return static_cast<Player*>(self)->opening_.stop_requested() ? 1 : 0; },
         this});
    if (!format_ || avformat_find_stream_info(format_.get(), nullptr) < 0)
        return mute("The sound cannot be read.");
    const int at = av_find_best_stream(format_.get(), AVMEDIA_TYPE_AUDIO, -1, -1, nullptr, 0);
    if (at < 0) return mute("The video has no sound.");
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
    if (!opened) return mute("The sound is of a kind that is not read.");
    cubeb* device = nullptr;
    if (cubeb_init(&device, "Zinc Ledge", nullptr) != CUBEB_OK)
        return mute("There is no device for sound.");
    device_.reset(device);
    std::uint32_t most = 0;
    if (cubeb_get_max_channel_count(device, &most) != CUBEB_OK || most < channels)
        return mute("There is no device for sound.");
    return {};
}

void Player::stop() {
    playing_.reset();
    feeder_ = {};
    ring_.clear();
}

void Player::start(double seconds) {
    stop();
    from_ = seconds;
    fed_ = false;
    silence_ = 0;
    feeder_ = std::jthread([this, seconds](const std::stop_token& token) { feed(seconds, token); });
    cubeb_stream_params how{};
    how.format = CUBEB_SAMPLE_FLOAT32NE;
    how.rate = rate;
    how.channels = channels;
    how.layout = CUBEB_LAYOUT_STEREO;
    how.prefs = CUBEB_STREAM_PREF_NONE;
    cubeb_stream* made = nullptr;
    constexpr unsigned latency = rate / 20;
    if (cubeb_stream_init(
            device_.get(), &made, "Film", nullptr, nullptr, nullptr, &how, latency,
            [](cubeb_stream*, void* self, const void*, void* out, long frames) {
                return static_cast<Player*>(self)->take(out, frames);
            },
            [](cubeb_stream*, void*, cubeb_state) {}, this) != CUBEB_OK)
        return;
    playing_.reset(made);
    if (cubeb_stream_start(made) != CUBEB_OK) playing_.reset();
}

std::optional<double> Player::position() const {
    std::uint64_t frames = 0;
    if (!playing_ || cubeb_stream_get_position(playing_.get(), &frames) != CUBEB_OK) return {};
    const auto heard = static_cast<long long>(frames) - silence_.load();
    return from_ + static_cast<double>(std::max(0ll, heard)) / rate;
}

// Runs in the device's thread: nothing here waits.
long Player::take(void* out, long frames) {
    auto* to = static_cast<float*>(out);
    const auto wanted = static_cast<std::size_t>(frames) * channels;
    const std::size_t got = ring_.read(to, wanted) / channels;
    if (fed_ && ring_.empty()) {
        if (got == 0) return 0;
        return static_cast<long>(got);
    }
    std::fill(to + got * channels, to + wanted, 0.0f);
    silence_ += frames - static_cast<long>(got);
    return frames;
}

bool Player::give(const AVFrame& frame, double from, const std::stop_token& stop) {
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
            return false;
        }
        resampler_.reset(made);
    }
    const int most = swr_get_out_samples(resampler_.get(), frame.nb_samples);
    if (most <= 0) return true;
    std::vector<float> samples(static_cast<std::size_t>(most) * channels);
    auto* to = reinterpret_cast<std::uint8_t*>(samples.data());
    const int got =
        swr_convert(resampler_.get(), &to, most,
                    const_cast<const std::uint8_t**>(frame.extended_data), frame.nb_samples);
    if (got <= 0) return true;
    samples.resize(static_cast<std::size_t>(got) * channels);
    // What comes before the moment is left out.
    std::size_t skip = 0;
    if (frame.best_effort_timestamp != AV_NOPTS_VALUE) {
        const double at =
            static_cast<double>(frame.best_effort_timestamp) * av_q2d(stream_->time_base) -
            (format_->start_time == AV_NOPTS_VALUE
                 ? 0
                 : static_cast<double>(format_->start_time) / AV_TIME_BASE);
        if (at < from)
            skip =
                std::min(samples.size(), static_cast<std::size_t>((from - at) * rate) * channels);
    }
    for (std::size_t done = skip; done < samples.size();) {
        const std::size_t count = std::min(ring_.free(), samples.size() - done);
        ring_.write(samples.data() + done, count);
        done += count;
        if (stop.stop_requested()) return false;
        if (done < samples.size()) std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    return true;
}

void Player::feed(double from, const std::stop_token& stop) {
    const auto to = static_cast<std::int64_t>(from * AV_TIME_BASE) +
                    (format_->start_time == AV_NOPTS_VALUE ? 0 : format_->start_time);
    av_seek_frame(format_.get(), -1, to, AVSEEK_FLAG_BACKWARD);
    avcodec_flush_buffers(decoder_.get());
    resampler_.reset();
    const Packet packet(av_packet_alloc());
    const Frame frame(av_frame_alloc());
    bool ended = !packet || !frame;
    while (!ended && !stop.stop_requested()) {
        const int got = avcodec_receive_frame(decoder_.get(), frame.get());
        if (got == 0) {
            ended = !give(*frame, from, stop);
            continue;
        }
        if (got != AVERROR(EAGAIN)) break;
        if (av_read_frame(format_.get(), packet.get()) < 0) {
            avcodec_send_packet(decoder_.get(), nullptr);
            continue;
        }
        if (packet->stream_index == stream_->index)
            static_cast<void>(avcodec_send_packet(decoder_.get(), packet.get()));
        av_packet_unref(packet.get());
    }
    fed_ = true;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<std::unique_ptr<zl::SoundSource>>
zl_open_sound(const zl::Path& file, const std::stop_token& stop) {
    av_log_set_level(AV_LOG_QUIET);
    auto player = std::make_unique<zl::video::Player>();
    if (auto done = player->open(file, stop); !done) return zl::passOn(done.error());
    return player;
}
