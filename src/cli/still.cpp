// SPDX-License-Identifier: GPL-3.0-or-later
// still VIDEO --out FILE|DIR: one frame, exact, or several that are proposed.
#include <fmt/core.h>
#include <fmt/ranges.h>

#include <cmath>
#include <memory>

#include "base/json.h"
#include "command.h"
#include "encode/encode.h"
#include "film/candidates.h"
#include "film/take_still.h"

namespace zl::cli {
namespace {

struct StillAsked {
    std::string file, at, out;
    int candidates = 0;
};

// "12.5", or "#300" counted from 0.
Result<long long> numberAsked(const StillAsked& asked, const Video& video) {
    const bool counted = asked.at.starts_with('#');
    const auto value = parseNumbers(counted ? asked.at.substr(1) : asked.at, 1, "--at");
    if (!value) return passOn(value.error());
    if (!counted) return video.numberAt((*value)[0]);
    if ((*value)[0] != std::floor((*value)[0]) || std::abs((*value)[0]) > 1e15)
        return fail(Code::badUsage, "A frame's number is a whole one.", "Such as --at '#300'.");
    return static_cast<long long>((*value)[0]);
}

// Into a folder they are named after the video and the time, so that they sort by it.
Path fileFor(const Path& folder, const std::string& video, double time) {
    const auto ms = static_cast<long long>(std::llround(time * 1000));
    return folder / fmt::format("{}-{:02}-{:02}-{:02}.{:03}.png", stemOf(video), ms / 3'600'000,
                                ms / 60'000 % 60, ms / 1000 % 60, ms % 1000);
}

Result<void> writeStill(const VideoFrame& frame, const Path& out, const std::string& input,
                        const Common& common) {
    const auto format = formatFor(endingOf(out));
    if (!format) return passOn(format.error());
    if (auto may = mayWrite(out, {input}, common); !may) return may;
    constexpr int fine = 95;
    Encoding how{*format, *format == Content::png ? 0 : fine, Chroma::full, Effort::quick};
    if (!factsOf(*format).alpha && !isOpaque(frame.pixels))
        return fail(Code::limitNotMet, "The frame is see-through, and that format has no alpha.",
                    "Name a .png.");
    const auto bytes = *format == Content::png ? pngOf(frame) : encode(frame.pixels, how);
    if (!bytes) return passOn(bytes.error());
    return writeFile(out, *bytes, common.replacing());
}

void tellChanges(const VideoFrame& frame, const VideoFacts& facts) {
    if (frame.toned)
        fmt::print(stderr,
                   "zledge: The video is brighter than a display shows; its light was "
                   "brought down by one curve.\n");
    if (frame.deinterlaced)
        fmt::print(stderr,
                   "zledge: The video is interlaced; its two fields were taken apart, and the "
                   "picture is that of the first.\n");
    else if (facts.interlaced)
        fmt::print(stderr, "zledge: The video is interlaced; moving edges are combs.\n");
}

Result<int> one(const StillAsked& asked, Video& video, const Common& common) {
    const auto number = numberAsked(asked, video);
    if (!number) return passOn(number.error());
    const auto frame = video.frame(*number);
    if (!frame) return passOn(frame.error());
    Path out = asked.out;
    std::error_code none;
    if (std::filesystem::is_directory(out, none)) out = fileFor(out, asked.file, frame->time);
    if (auto done = writeStill(*frame, out, asked.file, common); !done) return passOn(done.error());
    tellChanges(*frame, video.facts());
    if (common.json)
        print({{"out", out.string()},
               {"time", frame->time},
               {"frame", frame->number},
               {"width", frame->pixels.width()},
               {"height", frame->pixels.height()},
               {"depth", frame->deep && *formatFor(endingOf(out)) == Content::png ? 16 : 8},
               {"deinterlaced", frame->deinterlaced},
               {"toned", frame->toned}});
    else
        fmt::print("{}: frame {}, {:.3f} s, {} x {} px\n", out.string(), frame->number, frame->time,
                   frame->pixels.width(), frame->pixels.height());
    return Exit::done;
}

Result<int> several(const StillAsked& asked, Video& video, const Common& common) {
    std::error_code error;
    std::filesystem::create_directories(asked.out, error);
    if (!std::filesystem::is_directory(asked.out, error))
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", asked.out),
                    "Choose another folder.");
    const auto found = candidatesOf(video, asked.candidates, {}, [](double part) {
        showProgress("looking through the video", part);
    });
    endProgress();
    if (!found) return passOn(found.error());
    OrderedJson json = OrderedJson::array();
    for (const Candidate& candidate : *found) {
        const auto frame = video.frame(candidate.number);
        if (!frame) return passOn(frame.error());
        const Path out = fileFor(asked.out, asked.file, candidate.time);
        if (auto done = writeStill(*frame, out, asked.file, common); !done)
            return passOn(done.error());
        json.push_back({{"file", out.string()},
                        {"time", candidate.time},
                        {"frame", candidate.number},
                        {"reasons", candidate.reasons}});
        if (!common.json)
            fmt::print("{}: {:.3f} s, {}\n", out.string(), candidate.time,
                       fmt::join(candidate.reasons, ", "));
    }
    if (common.json) print({{"candidates", json}});
    return Exit::done;
}

Result<int> runStill(const StillAsked& asked, const Common& common) {
    if (asked.at.empty() == (asked.candidates == 0))
        return fail(Code::badUsage, "Give either --at or --candidates.");
    if (asked.candidates == 0 && !std::filesystem::is_directory(asked.out))
        if (const auto format = formatFor(endingOf(asked.out)); !format)
            return passOn(format.error());
    auto video = Video::open(asked.file);
    if (!video) return passOn(video.error());
    return asked.candidates > 0 ? several(asked, *video, common) : one(asked, *video, common);
}

}  // namespace

std::function<Result<int>()> declareStill(Options& options, const Common& common) {
    const auto asked = std::make_shared<StillAsked>();
    options.value("file", asked->file, "A video file").required();
    options.value("--at", asked->at,
                  "The moment: seconds from the start, or #FRAME counted from 0; exact");
    options
        .value("--candidates", asked->candidates,
               "So many frames that are worth it: first third, middle, last third, then the best "
               "others")
        .between(1, 100);
    options
        .value("--out", asked->out, "The file to write, its ending tells the format; or a folder")
        .required();
    return [asked, &common] { return runStill(*asked, common); };
}

}  // namespace zl::cli
