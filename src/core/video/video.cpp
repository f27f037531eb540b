// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/video.h"

#include <fmt/core.h>
#include <sys/stat.h>

#include <cmath>

#include "base/json.h"
#include "base/module.h"
#include "base/parallel.h"
#include "raster/resample.h"
#include "raster/turn.h"

namespace zl {
namespace {

OrderedJson jsonOf(const ColourFact& fact) {
    return {{"value", fact.name}, {"told", fact.told}};
}

// Upright, with square pixels: the side that would shrink stays as it is.
Straight8 asShown(Straight8 coded, const VideoFacts& facts) {
    if (facts.pixelAspect != 1) {
        const double x = std::max(1.0, facts.pixelAspect), y = std::max(1.0, 1 / facts.pixelAspect);
        const PixelSize square{static_cast<int>(std::lround(coded.width() * x)),
                               static_cast<int>(std::lround(coded.height() * y))};
        const auto source = std::make_shared<const Straight8>(std::move(coded));
        const bool opaque = isOpaque(*source);
        const Ink ink = resampled(source, opaque, RealRect::of(source->size()),
                                  RealRect::of(square), PixelRect::of(square), coreCount(), {});
        Straight8 out(square);
        blendOver({&ink, 1}, PixelRect::of(square), out, coreCount());
        coded = std::move(out);
    }
    if (facts.quarters == 0 && !facts.mirrored) return coded;
    return turnedQuarters(coded, facts.quarters, facts.mirrored, false);
}

std::shared_ptr<const Deep16> turned(const Deep16& coded, const VideoFacts& facts) {
    auto out = std::make_shared<Deep16>();
    const int w = coded.size.width, h = coded.size.height;
    const bool aside = facts.quarters % 2 != 0;
    out->size = aside ? PixelSize{h, w} : coded.size;
    out->values.resize(coded.values.size());
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            // Mirrored left to right as it stands in the file, then turned clockwise.
            const int mx = facts.mirrored ? w - 1 - x : x;
            const auto [tx, ty] = facts.quarters == 0   ? std::pair(mx, y)
                                  : facts.quarters == 1 ? std::pair(h - 1 - y, mx)
                                  : facts.quarters == 2 ? std::pair(w - 1 - mx, h - 1 - y)
                                                        : std::pair(y, w - 1 - mx);
            std::copy_n(coded.values.data() +
                            4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
                                 static_cast<std::size_t>(x)),
                        4,
                        out->values.data() + 4 * (static_cast<std::size_t>(ty) *
                                                      static_cast<std::size_t>(out->size.width) +
                                                  static_cast<std::size_t>(tx)));
        }
    return out;
}

}  // namespace

OrderedJson jsonOf(const VideoFacts& facts) {
    OrderedJson sound = OrderedJson::array();
    for (const SoundTrack& track : facts.sound)
        sound.push_back({{"codec", track.codec},
                         {"channels", track.channels},
                         {"rate", track.rate},
                         {"language", track.language.empty() ? OrderedJson(nullptr)
                                                             : OrderedJson(track.language)}});
    return {{"container", facts.container},
            {"codec", facts.codec},
            {"width", facts.size.width},
            {"height", facts.size.height},
            {"shown_width", facts.shown.width},
            {"shown_height", facts.shown.height},
            {"pixel_aspect", facts.pixelAspect},
            {"rotation", facts.quarters * 90},
            {"mirrored", facts.mirrored},
            {"fps", facts.fps},
            {"variable_rate", facts.variableRate},
            {"times_told", facts.ratesTold},
            {"duration", facts.duration},
            {"frames", facts.frames},
            {"depth", facts.depth},
            {"alpha", facts.alpha},
            {"interlaced", facts.interlaced},
            {"colour",
             {{"matrix", jsonOf(facts.colour.matrix)},
              {"primaries", jsonOf(facts.colour.primaries)},
              {"transfer", jsonOf(facts.colour.transfer)},
              {"range", jsonOf(facts.colour.range)},
              {"hdr", facts.colour.wide}}},
            {"sound", sound}};
}

Result<Video> Video::open(const Path& file, const std::stop_token& stop) {
    // A pipe or a device would keep whoever opens it waiting.
    struct stat found {};
    if (::stat(file.c_str(), &found) != 0)
        return fail(Code::unreadable, fmt::format("{} cannot be opened.", file.string()),
                    "Look whether it is there and may be read.");
    const std::string name = file.filename().string();
    if (!S_ISREG(found.st_mode))
        return fail(Code::unreadable, fmt::format("{} is no file.", name), "Choose a video file.");
    if (found.st_size == 0) return fail(Code::unreadable, name + " is empty.");
    static const auto opens =
        reinterpret_cast<OpenVideo>(functionOfModule("zl_video.so", openVideoName));
    if (!opens)
        return fail(Code::unreadable, "The part of the program that reads videos is missing.",
                    "Install Zinc Ledge again.");
    return unlessTooLarge(name, [&]() -> Result<Video> {
        auto source = opens(file, stop);
        if (!source) return passOn(source.error());
        return Video(std::move(*source));
    });
}

namespace {

// The frame as large as `room` allows, never enlarged, and what that is before it is turned.
struct Fitting {
    PixelSize coded;
    Straight8 upright(Straight8 pixels, const VideoFacts& facts) const {
        if (facts.quarters == 0 && !facts.mirrored) return pixels;
        return turnedQuarters(pixels, facts.quarters, facts.mirrored, false);
    }
};

Fitting fitted(const VideoFacts& facts, PixelSize room) {
    const double by = std::min({1.0, static_cast<double>(room.width) / facts.shown.width,
                                static_cast<double>(room.height) / facts.shown.height});
    PixelSize size{std::max(1, static_cast<int>(std::lround(facts.shown.width * by))),
                   std::max(1, static_cast<int>(std::lround(facts.shown.height * by)))};
    if (facts.quarters % 2 != 0) std::swap(size.width, size.height);
    return {size};
}

}  // namespace

Result<SeenFrame> Video::keyFrame(long long number, PixelSize room, const std::stop_token& stop) {
    if (number < 0 || number >= facts().frames)
        return fail(Code::badUsage, "There is no such frame.");
    return unlessTooLarge("The frame", [&]() -> Result<SeenFrame> {
        const Fitting how = fitted(facts(), room);
        auto frame = source_->keyFrame(number, how.coded, stop);
        if (!frame) return frame;
        frame->pixels = how.upright(std::move(frame->pixels), facts());
        return frame;
    });
}

Result<SeenFrame> Video::quick(long long number, const std::stop_token& stop) {
    if (number < 0 || number >= facts().frames)
        return fail(Code::badUsage, "There is no such frame.");
    return unlessTooLarge("The frame", [&]() -> Result<SeenFrame> {
        const Fitting how = fitted(facts(), facts().shown);
        auto frame = source_->quick(number, how.coded, stop);
        if (!frame) return frame;
        frame->pixels = how.upright(std::move(frame->pixels), facts());
        return frame;
    });
}

Result<void> Video::play(long long from, PixelSize room, const PlayedFrame& told,
                         const std::stop_token& stop) {
    return unlessTooLarge("The frame", [&]() -> Result<void> {
        const Fitting how = fitted(facts(), room);
        return source_->play(
            std::clamp(from, 0ll, facts().frames - 1), how.coded,
            [&](long long number, double time, const std::function<Result<Straight8>()>& pixels) {
                return told(number, time, [&]() -> Result<Straight8> {
                    auto made = pixels();
                    if (!made) return made;
                    return how.upright(std::move(*made), facts());
                });
            },
            stop);
    });
}

Result<void> Video::each(double step, int pictureWidth, const std::function<bool(Passing&)>& told,
                         const std::stop_token& stop) {
    return unlessTooLarge("The frame", [&]() -> Result<void> {
        constexpr int anyHeight = 100'000;
        const Fitting how = fitted(facts(), {std::max(1, pictureWidth), anyHeight});
        LookThrough asked;
        asked.step = step;
        if (pictureWidth > 0) asked.picture = how.coded;
        return source_->each(
            asked,
            [&](Passing& passing) {
                if (passing.picture.empty() || (facts().quarters == 0 && !facts().mirrored))
                    return told(passing);
                Passing turned{passing.glance, passing.width, passing.height, passing.luma, {}};
                turned.picture = how.upright(std::move(passing.picture), facts());
                return told(turned);
            },
            stop);
    });
}

Result<void> Video::pictures(double step, int width,
                             const std::function<bool(Straight8 picture, double time)>& told,
                             const std::stop_token& stop) {
    return unlessTooLarge("The frame", [&]() -> Result<void> {
        constexpr int anyHeight = 100'000;
        const Fitting how = fitted(facts(), {std::max(1, width), anyHeight});
        const bool asItIs = facts().quarters == 0 && !facts().mirrored;
        return source_->each(
            {step, 0, false, how.coded},
            [&](Passing& passing) {
                if (passing.picture.empty()) return true;
                Straight8 seen = std::move(passing.picture);
                return told(asItIs ? std::move(seen) : how.upright(std::move(seen), facts()),
                            passing.glance.time);
            },
            stop);
    });
}

Result<Video> Video::again(const std::stop_token& stop, int threads) const {
    return unlessTooLarge("The video", [&]() -> Result<Video> {
        auto source = source_->again(threads, stop);
        if (!source) return passOn(source.error());
        return Video(std::move(*source));
    });
}

Result<long long> Video::numberAt(double seconds) const {
    const VideoFacts& all = facts();
    constexpr double slip = 1e-6;  // s: a time that was printed in decimals
    if (!std::isfinite(seconds) || seconds < -slip || seconds > all.duration + slip)
        return fail(Code::badUsage, fmt::format("The video lasts {:.3f} s.", all.duration),
                    "Name a time within it.");
    long long low = 0, high = all.frames - 1;
    while (low < high) {  // the last one that does not begin after it
        const long long middle = (low + high + 1) / 2;
        if (timeOf(middle) <= seconds + slip)
            low = middle;
        else
            high = middle - 1;
    }
    return low;
}

Result<VideoFrame> Video::frame(long long number, const std::stop_token& stop) {
    if (number < 0 || number >= facts().frames)
        return fail(Code::badUsage,
                    fmt::format("The video has {} frames, from 0 on.", facts().frames),
                    "Name one of them.");
    return unlessTooLarge("The frame", [&]() -> Result<VideoFrame> {
        auto frame = source_->coded(number, stop);
        if (!frame) return frame;
        frame->pixels = asShown(std::move(frame->pixels), facts());
        if (facts().pixelAspect != 1) frame->deep.reset();
        if (frame->deep && (facts().quarters != 0 || facts().mirrored))
            frame->deep = turned(*frame->deep, facts());
        return frame;
    });
}

}  // namespace zl
