// SPDX-License-Identifier: GPL-3.0-or-later
#include "video/video.h"

#include <dlfcn.h>
#include <fmt/core.h>
#include <sys/stat.h>

#include <cmath>

#include "base/json.h"
#include "base/parallel.h"
#include "raster/resample.h"
#include "raster/turn.h"

namespace zl {
namespace {

// Beside the program in a build tree, in the library folder of an install.
OpenVideo loaded() {
    namespace fs = std::filesystem;
    std::error_code error;
    const fs::path program = fs::read_symlink("/proc/self/exe", error);
    if (error) return nullptr;
    for (const fs::path& place :
         {program.parent_path() / "zl_video.so", program.parent_path() / "zinc-ledge/zl_video.so",
          program.parent_path().parent_path() / ZL_MODULES / "zl_video.so"})
        if (void* module =
                fs::exists(place, error) ? ::dlopen(place.c_str(), RTLD_NOW | RTLD_LOCAL) : nullptr)
            return reinterpret_cast<OpenVideo>(::dlsym(module, openVideoName));
    return nullptr;
}

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
    static const OpenVideo opens = loaded();
    if (!opens)
        return fail(Code::unreadable, "The part of the program that reads videos is missing.",
                    "Install Zinc Ledge again.");
    return unlessTooLarge(name, [&]() -> Result<Video> {
        auto source = opens(file, stop);
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
        return frame;
    });
}

}  // namespace zl
