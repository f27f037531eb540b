// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/moving.h"

#include <algorithm>
#include <cmath>

namespace zl {
namespace {

constexpr double slip = 1e-6;  // s: a moment that was worked out from a frame's number

// The clip of a layer that is released; nothing for others.
const Clip* clipOf(const Layer& layer) {
    const PictureLayer* picture = layer.picture();
    return picture && !layer.hidden && !picture->reference && picture->clip ? &*picture->clip
                                                                            : nullptr;
}

}  // namespace

std::optional<double> Clip::timeAt(double moment) const {
    const double since = moment - begins, part = shown();
    if (since < -slip || part <= 0) return {};
    if (since < part - slip) return in + std::max(0.0, since);
    if (loops) return in + std::fmod(since + slip, part);
    return holds ? std::optional(in + part) : std::nullopt;
}

bool moves(const Piece& piece) {
    return std::any_of(piece.layers.begin(), piece.layers.end(), [&](const Layer& layer) {
        return clipOf(layer) || (piece.length > 0 && !layer.hidden && layer.shows);
    });
}

double lengthOf(const Piece& piece) {
    if (!moves(piece)) return 0;
    if (piece.length > 0) return piece.length;
    double length = 0;
    for (const Layer& layer : piece.layers)
        if (const Clip* clip = clipOf(layer))
            length = std::max(length, clip->begins + clip->shown());
    constexpr double usual = 10;
    return length > 0 ? std::min(length, longestPiece) : usual;
}

FrameRate rateOf(const Piece& piece) {
    for (const Layer& layer : piece.layers) {
        const Clip* clip = clipOf(layer);
        if (!clip || clip->fps <= 0) continue;
        const double rate = std::clamp(clip->fps, 1.0, 60.0);
        // Television's rates are a thousandth slower than whole ones.
        for (const int under : {1, 1001}) {
            const double over = rate * under;
            const double whole = under == 1 ? std::round(over) : std::round(over / 1000) * 1000;
            if (std::abs(over - whole) < 1e-3 * under * 0.5)
                return {static_cast<int>(whole), under};
        }
        return {static_cast<int>(std::lround(rate * 1000)), 1000};
    }
    return {};
}

long long frameCountOf(const Piece& piece) {
    return std::max(1ll, std::llround(lengthOf(piece) * rateOf(piece).perSecond()));
}

double strengthAt(const std::optional<ShowTime>& shows, double moment, double length) {
    if (!shows) return 1;
    const double end = shows->to.value_or(length);
    if (moment < shows->from - slip || (shows->to && moment >= end - slip)) return 0;
    if (shows->fade <= 0) return 1;
    const double comes = (moment - shows->from) / shows->fade,
                 goes = shows->to ? (end - moment) / shows->fade : 1;
    return std::clamp(std::min(comes, goes), 0.0, 1.0);
}

double tellingMoment(const Piece& piece) {
    if (!moves(piece)) return 0;
    const double length = lengthOf(piece);
    std::vector<double> moments{0};
    for (const Layer& layer : piece.layers) {
        if (layer.shows) moments.push_back(layer.shows->from + layer.shows->fade);
        if (const Clip* clip = clipOf(layer)) moments.push_back(clip->begins);
    }
    std::sort(moments.begin(), moments.end());
    double best = 0, most = -1;
    for (const double moment : moments) {
        if (moment > length) break;
        double seen = 0;
        for (const Layer& layer : piece.layers) {
            const Clip* clip = clipOf(layer);
            if (!layer.hidden && (!clip || clip->timeAt(moment)))
                seen += strengthAt(layer.shows, moment, length);
        }
        constexpr double slightly = 1e-6;
        if (seen > most + slightly) {
            most = seen;
            best = moment;
        }
    }
    return best;
}

Result<void> checkClip(const Clip& clip) {
    for (const double v : {clip.length, clip.fps, clip.in, clip.out, clip.begins, clip.loudness})
        if (!std::isfinite(v)) return fail(Code::badUsage, "A time of a clip is no number.");
    if (clip.length <= 0 || clip.in < 0 || clip.in >= clip.length ||
        clip.out > clip.length + slip || clip.shown() <= 0)
        return fail(Code::badUsage, "That part of the clip is not in its video.",
                    "Let it begin before it ends, both within the video.");
    if (clip.begins < 0 || clip.begins > longestPiece)
        return fail(Code::badUsage, "A clip begins within its piece.");
    if (clip.loudness < 0 || clip.loudness > 2)
        return fail(Code::badUsage, "A clip's loudness is from 0 to 2.");
    return {};
}

Result<void> checkShowTime(const ShowTime& shows) {
    const double end = shows.to.value_or(shows.from + 1);
    for (const double v : {shows.from, end, shows.fade})
        if (!std::isfinite(v)) return fail(Code::badUsage, "A showing time is no number.");
    if (shows.from < 0 || shows.from > longestPiece || end <= shows.from || shows.fade < 0)
        return fail(Code::badUsage, "A layer comes before it goes.", "Let it go later.");
    return {};
}

}  // namespace zl
