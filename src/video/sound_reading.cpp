// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound_decode.h"
#include "video/sound.h"

namespace zl::video {
namespace {

class Reader final : public SoundReader {
  public:
    Result<void> open(const Path& file, const std::stop_token& stop) {
        if (const char* why = decoder_.open(file, stop)) return fail(Code::unreadable, why);
        return {};
    }
    void seek(double seconds) override {
        decoder_.seek(seconds);
        left_.clear();
    }
    std::size_t read(std::span<float> to) override {
        std::size_t done = 0;
        while (done < to.size()) {
            if (left_.empty()) left_ = decoder_.next();
            if (left_.empty()) break;
            const std::size_t count = std::min(left_.size(), to.size() - done);
            std::copy_n(left_.begin(), count, to.begin() + static_cast<std::ptrdiff_t>(done));
            left_.erase(left_.begin(), left_.begin() + static_cast<std::ptrdiff_t>(count));
            done += count;
        }
        return done;
    }

  private:
    SoundDecoder decoder_;
    std::vector<float> left_;
};

}  // namespace
}  // namespace zl::video

extern "C" __attribute__((visibility("default"))) zl::Result<std::unique_ptr<zl::SoundReader>>
zl_read_sound(const zl::Path& file, const std::stop_token& stop) {
    av_log_set_level(AV_LOG_QUIET);
    auto reader = std::make_unique<zl::video::Reader>();
    if (auto done = reader->open(file, stop); !done) return zl::passOn(done.error());
    return reader;
}
