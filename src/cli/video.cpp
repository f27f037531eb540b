// SPDX-License-Identifier: GPL-3.0-or-later
// video FILE: the facts of a video, each told by the file or guessed.
#include "video/video.h"

#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"

namespace zl::cli {
namespace {

std::string wordsOf(const ColourFact& fact) {
    return fact.name + (fact.told ? "" : " (guessed)");
}

Result<int> runVideo(const std::string& file, const Common& common) {
    const auto video = Video::open(file);
    if (!video) return passOn(video.error());
    const VideoFacts& f = video->facts();
    if (common.json) {
        print(jsonOf(f));
        return Exit::done;
    }
    fmt::print("{}: {}, {} x {} px", Path(file).filename().string(), f.codec, f.size.width,
               f.size.height);
    if (f.shown != f.size)
        fmt::print(", shown as {} x {}{}", f.shown.width, f.shown.height,
                   f.quarters != 0 ? fmt::format(", turned by {} degrees", f.quarters * 90) : "");
    fmt::print("\n{:.3f} s, {} frames, {:.3f} a second{}{}\n", f.duration, f.frames, f.fps,
               f.variableRate ? ", at a rate that varies" : "",
               f.ratesTold ? "" : ", counted, since the file tells no times");
    fmt::print("{} bit{}{}; matrix {}, primaries {}, transfer {}, range {}\n", f.depth,
               f.alpha ? ", with alpha" : "", f.interlaced ? ", interlaced" : "",
               wordsOf(f.colour.matrix), wordsOf(f.colour.primaries), wordsOf(f.colour.transfer),
               wordsOf(f.colour.range));
    if (f.sound.empty()) fmt::print("no sound\n");
    for (const SoundTrack& track : f.sound)
        fmt::print("sound: {}, {} channels, {} Hz{}\n", track.codec, track.channels, track.rate,
                   track.language.empty() ? "" : ", " + track.language);
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareVideo(Options& options, const Common& common) {
    const auto file = std::make_shared<std::string>();
    options.value("file", *file, "A video file").required();
    return [file, &common] { return runVideo(*file, common); };
}

}  // namespace zl::cli
