// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of cubeb: a thread decodes ahead, the device takes what it needs.
#include <cubeb/cubeb.h>

#include <algorithm>
#include <atomic>
#include <chrono>
#include <thread>
#include <vector>

#include "video/sound.h"

namespace zl::video {
namespace {

constexpr int rate = SoundReader::rate, channels = SoundReader::channels;
constexpr std::size_t room = static_cast<std::size_t>(rate) * channels;  // a second ahead

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
    Result<void> open(std::unique_ptr<SoundReader> reader);
    ~Player() override { stop(); }
    void start(double seconds) override;
    void stop() override;
    std::optional<double> position() const override;

  private:
    void feed(double from, const std::stop_token& stop);
    long take(void* out, long frames);

    std::unique_ptr<SoundReader> reader_;
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

Result<void> Player::open(std::unique_ptr<SoundReader> reader) {
    reader_ = std::move(reader);
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

void Player::feed(double from, const std::stop_token& stop) {
    reader_->seek(from);
    constexpr std::size_t atOnce = 2048;
    std::vector<float> samples(atOnce * channels);
    while (!stop.stop_requested()) {
        if (ring_.free() < samples.size()) {
            std::this_thread::sleep_for(std::chrono::milliseconds(10));
            continue;
        }
        const std::size_t got = reader_->read(samples);
        ring_.write(samples.data(), got);
        if (got < samples.size()) break;
    }
    fed_ = true;
}

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<std::unique_ptr<zl::SoundSource>>
zl_open_sound(std::unique_ptr<zl::SoundReader> reader) {
    auto player = std::make_unique<zl::video::Player>();
    if (auto done = player->open(std::move(reader)); !done) return zl::passOn(done.error());
    return player;
}
