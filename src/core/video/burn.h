// SPDX-License-Identifier: GPL-3.0-or-later
// A mark laid on a video file: its pictures are encoded anew, everything else of it is copied as it
// is. The mark is blended into the video's own planes, so that no sample outside of it changes
// before the encoder has it. What does it is the module that reads videos.
#pragma once

#include <algorithm>
#include <functional>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "base/file.h"
#include "base/result.h"
#include "raster/raster.h"

namespace zl {

// MP4 with H.264, Matroska with H.264 (lossless: FFV1), WebM with VP9.
enum class VideoContainer { mp4, matroska, webm };
// By the ending of a file, with its dot; nothing for another ending.
std::optional<VideoContainer> videoContainerBy(const std::string& ending);

// When the mark shows, s from the start of the video, and how strong.
struct MarkTime {
    double from = 0;
    std::optional<double> to{};  // nothing: to the end
    double fade = 0;  // s: it comes over that long, in a straight line, and goes so where it goes
                      // before the end; 0: at once
    double opacity = 1;  // 0..1
    // Its strength at a moment of a video of that length, 0..1.
    double weightAt(double seconds, double length) const {
        const double end = to.value_or(length);
        // A frame that begins at the end is after it, however its time was rounded.
        constexpr double slip = 1e-6;
        if (seconds < from - slip || (to && seconds >= end - slip)) return 0;
        if (fade <= 0) return opacity;
        const double comes = (seconds - from) / fade, goes = to ? (end - seconds) / fade : 1;
        return opacity * std::clamp(std::min(comes, goes), 0.0, 1.0);
    }
};
// Code::badUsage: an end before its beginning, a beginning after the video's end, a fade that does
// not fit, a number that is none.
[[nodiscard]] Result<void> checkMarkTime(const MarkTime& time, double length);

inline constexpr int usualQuality = 75, losslessQuality = 0;  // of 1..100
// x264's constant rate factor: 18.5 at the usual quality, where hardly anything is seen to be lost.
inline double rateFactorOf(int quality) {
    return quality == losslessQuality ? 0 : 44 - 0.34 * quality;
}

struct BurnPlan {
    Path video;
    VideoContainer container = VideoContainer::mp4;
    std::shared_ptr<const Straight8> mark;  // sRGB, straight alpha; px of the video as it is coded
    int left = 0, top = 0;                  // of the mark in it; may lie outside in part
    // What a mark that moves is, seconds after it came, of the size of `mark`; the same object as
    // before where nothing changed. Empty: it stands still.
    std::function<Result<std::shared_ptr<const Straight8>>(double seconds)> moving{};
    MarkTime time;
    double length = 0;           // s, of the video
    int quality = usualQuality;  // 1..100; losslessQuality: every sample as it was blended
    long long limit = 0;         // bytes the file may have; 0: any
};

struct Burnt {
    long long frames = 0, marked = 0;  // how many there are, on how many of them the mark is seen
    long long bytes = 0, otherBytes = 0;  // of the file; of them, what is no picture
    int passes = 1;                       // how often the video was encoded to meet the limit
    long long bitRate =
        0;  // bit/s of the pictures where the limit asked for one; 0: by the quality
    std::string codec;
    std::vector<std::string> copied;  // the tracks that were copied as they are: "sound (aac)"
    std::vector<std::string> left;    // those that this container cannot hold, with the reason
    bool operator==(const Burnt&) const = default;
};

using Progress = std::function<void(double part)>;

// Reads the video and writes into `out`, which is not kept on an error. The sound, subtitles,
// chapters, descriptions, time stamps, turn and colour tags stay. Errors: Code::unreadable for the
// video; Code::unwritable for an encoder that is missing, sound that the container cannot hold, a
// full disk; Code::limitNotMet; Code::badUsage; Code::cancelled.
[[nodiscard]] Result<Burnt> burn(const BurnPlan& plan, const Path& out, Replace replace,
                                 const Progress& progress = {}, const std::stop_token& stop = {});

// One run of the encoder, in the module: by quality, or to a rate of bits with what the run before
// it wrote down.
struct BurnPass {
    long long bitRate = 0;  // bit/s; 0: by quality
    Path notes;             // of x264, written by the first run and read by the second
};
using BurnVideo = Result<Burnt> (*)(const BurnPlan& plan, const BurnPass& pass, const Path& into,
                                    const Progress& progress, const std::stop_token& stop);
inline constexpr char burnVideoName[] = "zl_burn_video";

}  // namespace zl
