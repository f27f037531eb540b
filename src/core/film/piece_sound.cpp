// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/piece_sound.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "film/take_still.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"

namespace zl {
namespace {

constexpr int rate = SoundReader::rate, channels = SoundReader::channels;

long long samplesIn(double seconds) {
    return std::llround(seconds * rate);
}

class Mixed final : public SoundReader {
  public:
    struct Voice {
        Clip clip;
        std::optional<ShowTime> shows;
        std::unique_ptr<SoundReader> reader;
        long long at = -1;  // the sample of the video that it gives next; -1: it has to be sought
    };
    Mixed(std::vector<Voice> voices, double length)
        : voices_(std::move(voices)), length_(length), end_(samplesIn(length)) {}

    void seek(double seconds) override { at_ = std::clamp(samplesIn(seconds), 0ll, end_); }

    std::size_t read(std::span<float> to) override {
        const long long count =
            std::min<long long>(static_cast<long long>(to.size()) / channels, end_ - at_);
        if (count <= 0) return 0;
        std::fill_n(to.begin(), count * channels, 0.0f);
        for (Voice& voice : voices_)
            add(voice, to.first(static_cast<std::size_t>(count * channels)));
        // What is too loud together is bent, not broken off.
        for (float& v : to.first(static_cast<std::size_t>(count * channels)))
            if (std::abs(v) > 0.9f)
                v = std::copysign(0.9f + 0.1f * std::tanh((std::abs(v) - 0.9f) / 0.1f), v);
        at_ += count;
        return static_cast<std::size_t>(count * channels);
    }

  private:
    // The samples of one clip, run by run: up to its end, or to where it begins again.
    void add(Voice& voice, std::span<float> to) {
        const Clip& clip = voice.clip;
        const long long begins = samplesIn(clip.begins), part = samplesIn(clip.shown());
        const auto count = static_cast<long long>(to.size()) / channels;
        for (long long done = 0; done < count && part > 0;) {
            const long long since = at_ + done - begins;
            if (since < 0) {
                done = std::min(count, done - since);
                continue;
            }
            if (since >= part && !clip.loops) return;
            const long long inPart = since % part, run = std::min(count - done, part - inPart);
            give(voice, samplesIn(clip.in) + inPart,
                 to.subspan(static_cast<std::size_t>(done * channels),
                            static_cast<std::size_t>(run * channels)),
                 static_cast<double>(at_ + done) / rate);
            done += run;
        }
    }
    void give(Voice& voice, long long from, std::span<float> to, double moment) {
        if (voice.at != from) voice.reader->seek(static_cast<double>(from) / rate);
        scratch_.resize(to.size());
        const std::size_t got = voice.reader->read(scratch_);
        voice.at = from + static_cast<long long>(to.size()) / channels;
        constexpr std::size_t step = 480 * channels;  // its strength is worked out so often
        for (std::size_t i = 0; i < got; i += step) {
            const double strength =
                strengthAt(voice.shows, moment + static_cast<double>(i) / channels / rate, length_);
            const auto by = static_cast<float>(strength * voice.clip.loudness);
            for (std::size_t k = i; k < std::min(got, i + step); ++k) to[k] += by * scratch_[k];
        }
    }

    std::vector<Voice> voices_;
    std::vector<float> scratch_;
    double length_;
    long long end_, at_ = 0;
};

}  // namespace

std::unique_ptr<SoundReader> soundOf(const Piece& piece, const std::optional<Path>& kitFile,
                                     const std::stop_token& stop) {
    std::vector<Mixed::Voice> voices;
    for (const Layer& layer : piece.layers) {
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture || !picture->clip || picture->clip->muted || !picture->clip->sounds ||
            picture->clip->loudness <= 0)
            continue;
        if (auto reader = readSound(videoAt(picture->clip->file, kitFile), stop))
            voices.push_back({*picture->clip, layer.shows, std::move(*reader)});
    }
    if (voices.empty()) return nullptr;
    return std::make_unique<Mixed>(std::move(voices), lengthOf(piece));
}

}  // namespace zl
