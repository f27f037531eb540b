// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/candidates.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "picture/faces.h"

namespace zl {
namespace {

constexpr int smallWidth = 160;  // px: sharpness is compared at that size
constexpr double step = 0.25;    // s between the frames that are looked at
constexpr double darkest = 16, brightest = 239, flattest = 12;  // codes: mean, mean, deviation
constexpr double cutAt = 0.5;  // of the histogram has moved: another shot
constexpr double alikeAt = 6;  // codes of mean difference: the same picture

struct Seen {
    SmallFrame frame;
    double mean = 0, deviation = 0;  // of luma, codes
    double sharpness = 0;            // variance of the Laplacian
    int shot = 0;
    double rank = 0;  // of its sharpness within its shot, 0..1
};

Seen lookAt(const SmallFrame& frame) {
    Seen out{frame};
    const auto n = static_cast<double>(frame.luma.size());
    double sum = 0, squares = 0;
    for (const std::uint8_t v : frame.luma) {
        sum += v;
        squares += static_cast<double>(v) * v;
    }
    out.mean = sum / n;
    out.deviation = std::sqrt(std::max(0.0, squares / n - out.mean * out.mean));
    double bends = 0, bendSquares = 0;
    int count = 0;
    const int w = frame.width;
    for (int y = 1; y + 1 < frame.height; ++y)
        for (int x = 1; x + 1 < w; ++x) {
            const std::uint8_t* p = frame.luma.data() + static_cast<std::ptrdiff_t>(y) * w + x;
            const double bend = 4.0 * p[0] - p[-1] - p[1] - p[-w] - p[w];
            bends += bend;
            bendSquares += bend * bend;
            ++count;
        }
    if (count > 0) {
        const double middle = bends / count;
        out.sharpness = bendSquares / count - middle * middle;
    }
    return out;
}

// The share of pixels that went to another lightness: half the sum over 32 bins.
double moved(const SmallFrame& a, const SmallFrame& b) {
    std::array<int, 32> bins{};
    for (const std::uint8_t v : a.luma) ++bins[v / 8];
    for (const std::uint8_t v : b.luma) --bins[v / 8];
    int sum = 0;
    for (const int v : bins) sum += std::abs(v);
    return sum / 2.0 / static_cast<double>(std::max<std::size_t>(1, a.luma.size()));
}

double differenceOf(const SmallFrame& a, const SmallFrame& b) {
    if (a.luma.size() != b.luma.size() || a.luma.empty()) return 255;
    long long sum = 0;
    for (std::size_t i = 0; i < a.luma.size(); ++i) sum += std::abs(a.luma[i] - b.luma[i]);
    return static_cast<double>(sum) / static_cast<double>(a.luma.size());
}

bool wellExposed(const Seen& look) {
    return look.mean > darkest && look.mean < brightest && look.deviation > flattest;
}

// A hard cut moves the histogram and the picture; a fade moves them little by little.
void tellShots(std::vector<Seen>& looks) {
    int shot = 0;
    for (std::size_t i = 1; i < looks.size(); ++i) {
        if (moved(looks[i - 1].frame, looks[i].frame) > cutAt ||
            differenceOf(looks[i - 1].frame, looks[i].frame) > 48)
            ++shot;
        looks[i].shot = shot;
    }
}

void rankSharpness(std::vector<Seen>& looks) {
    for (std::size_t from = 0; from < looks.size();) {
        std::size_t to = from;
        while (to < looks.size() && looks[to].shot == looks[from].shot) ++to;
        for (std::size_t i = from; i < to; ++i) {
            std::size_t below = 0;
            for (std::size_t j = from; j < to; ++j)
                below += looks[j].sharpness < looks[i].sharpness;
            looks[i].rank = to - from > 1
                                ? static_cast<double>(below) / static_cast<double>(to - from - 1)
                                : 0.5;
        }
        from = to;
    }
}

const Seen* nearest(const std::vector<Seen>& looks, double time) {
    const auto at = std::min_element(looks.begin(), looks.end(), [&](const Seen& a, const Seen& b) {
        return std::abs(a.frame.time - time) < std::abs(b.frame.time - time);
    });
    return at == looks.end() ? nullptr : &*at;
}

void tellFaults(const Seen& look, std::vector<std::string>& reasons) {
    if (look.mean <= darkest) reasons.emplace_back("nearly black");
    if (look.mean >= brightest) reasons.emplace_back("nearly white");
    if (wellExposed(look) && look.rank < 0.25) reasons.emplace_back("less sharp than its shot");
}

// The best of what is left: the sharpest of their shot, those of shots without one first.
std::vector<const Seen*> bestOthers(const std::vector<Seen>& looks, std::vector<const Seen*> taken,
                                    std::size_t count) {
    std::vector<const Seen*> chosen;
    std::set<int> shots;
    for (const Seen* look : taken) shots.insert(look->shot);
    const auto score = [&](const Seen& look) {
        const double spread = std::min(1.0, look.deviation / 64);
        return look.rank + spread + (shots.contains(look.shot) ? 0 : 1);
    };
    while (chosen.size() < count) {
        const Seen* best = nullptr;
        for (const Seen& look : looks) {
            if (!wellExposed(look) || look.rank < 0.5) continue;
            const bool alike = std::any_of(taken.begin(), taken.end(), [&](const Seen* other) {
                return other->frame.number == look.frame.number ||
                       differenceOf(other->frame, look.frame) < alikeAt;
            });
            if (!alike && (!best || score(look) > score(*best))) best = &look;
        }
        if (!best) break;
        chosen.push_back(best);
        taken.push_back(best);
        shots.insert(best->shot);
    }
    return chosen;
}

}  // namespace

Result<std::vector<Candidate>> candidatesOf(Video& video, int count, const std::stop_token& stop,
                                            const std::function<void(double)>& progress) {
    const VideoFacts& facts = video.facts();
    // A long video is looked at more seldom: some 4,000 frames are enough to choose from.
    const double apart = std::max(step, facts.duration / 4000);
    std::vector<Seen> looks;
    auto looked = video.each(
        apart, smallWidth,
        [&](const SmallFrame& frame) {
            if (!frame.luma.empty()) looks.push_back(lookAt(frame));
            if (progress && facts.duration > 0) progress(0.9 * frame.time / facts.duration);
            return true;
        },
        stop);
    if (!looked) return passOn(looked.error());
    tellShots(looks);
    rankSharpness(looks);
    std::vector<Candidate> all;
    std::vector<const Seen*> taken;
    const std::pair<double, const char*> places[] = {
        {1 / 3.0, "the first third"}, {0.5, "the middle"}, {2 / 3.0, "the last third"}};
    for (const auto& [share, words] : places) {
        const auto number = video.numberAt(share * facts.duration);
        if (!number || static_cast<int>(all.size()) >= count) continue;
        if (std::any_of(all.begin(), all.end(),
                        [&](const Candidate& c) { return c.number == *number; }))
            continue;
        Candidate one{*number, video.timeOf(*number), {words}};
        if (const Seen* look = nearest(looks, one.time)) {
            tellFaults(*look, one.reasons);
            taken.push_back(look);
        }
        all.push_back(std::move(one));
    }
    const auto left = static_cast<std::size_t>(std::max(0, count - static_cast<int>(all.size())));
    for (const Seen* look : bestOthers(looks, taken, left)) {
        Candidate one{look->frame.number, look->frame.time, {}};
        one.reasons.emplace_back(look->rank >= 0.9 ? "the sharpest of its shot"
                                                   : "sharp for its shot");
        one.reasons.emplace_back("well exposed");
        auto frame = video.frame(one.number, stop);
        if (!frame && frame.error().code == Code::cancelled) return passOn(frame.error());
        if (frame && !facesIn(frame->pixels).empty())
            one.reasons.emplace_back("a face, seen whole");
        all.push_back(std::move(one));
        if (progress) progress(0.9 + 0.1 * static_cast<double>(all.size()) / count);
    }
    return all;
}

}  // namespace zl
