// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/candidates.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include "picture/faces.h"

namespace zl {
namespace {

constexpr double darkest = 16, brightest = 239, flattest = 12;  // codes: mean, mean, deviation
constexpr double alikeAt = 6;      // codes of mean difference of the cells: the same picture
constexpr double fadesBy = 0.7;    // of the contrast that the same picture has a moment on
constexpr double fadeReach = 1.0;  // s round a glimpse in which that is looked for
constexpr double smearedBy = 0.4, softBy = 0.7;  // of the sharpness that its shot is seldom over

// A glimpse with what its neighbours say of it.
struct Seen {
    const Glimpse* glimpse = nullptr;
    std::size_t shot = 0;
    double rank = 0.5;                   // of its sharpness within its shot, 0..1
    bool smeared = false, soft = false;  // much less sharp than its shot is elsewhere, and less
    bool fading =
        false;  // the same picture has more contrast a moment on, or another shines through
    bool good() const {
        return glimpse->mean > darkest && glimpse->mean < brightest &&
               glimpse->deviation > flattest && !smeared && !fading;
    }
};

void rankSharpness(std::vector<Seen>& seen) {
    for (std::size_t from = 0; from < seen.size();) {
        std::size_t to = from;
        std::vector<double> all;
        while (to < seen.size() && seen[to].shot == seen[from].shot)
            all.push_back(seen[to++].glimpse->sharpness);
        std::sort(all.begin(), all.end());
        const double usual = all[all.size() * 9 / 10];
        for (std::size_t i = from; i < to; ++i) {
            const double sharpness = seen[i].glimpse->sharpness;
            // Those that are equally sharp share their places.
            const auto [first, last] = std::equal_range(all.begin(), all.end(), sharpness);
            const auto places =
                static_cast<double>((first - all.begin()) + (last - all.begin()) - 1);
            if (all.size() > 1) seen[i].rank = places / 2 / static_cast<double>(all.size() - 1);
            seen[i].smeared = sharpness < smearedBy * usual;
            seen[i].soft = sharpness < softBy * usual;
        }
        from = to;
    }
}

// Whether the middle one is the two others laid over one another.
bool isMixture(const Glance& before, const Glance& middle, const Glance& after) {
    constexpr double least = 0.15, leftOver = 0.35;  // of what the two differ by
    double dd = 0, dm = 0, mm = 0;
    for (std::size_t i = 0; i < middle.cells.size(); ++i) {
        const double d = after.cells[i] - before.cells[i], m = middle.cells[i] - before.cells[i];
        dd += d * d;
        dm += d * m;
        mm += m * m;
    }
    const double share = dd > 0 ? dm / dd : 0;
    return share > least && share < 1 - least && mm - share * dm < leftOver * leftOver * dd;
}

void tellFades(std::vector<Seen>& seen) {
    constexpr double same = 0.8, other = 0.6;  // likeness
    for (std::size_t i = 0; i < seen.size(); ++i) {
        const Glance& here = seen[i].glimpse->glance;
        for (std::size_t j = i; j-- > 0 && here.time - seen[j].glimpse->glance.time <= fadeReach;)
            if (seen[j].shot == seen[i].shot && likeness(seen[j].glimpse->glance, here) > same &&
                seen[i].glimpse->deviation < fadesBy * seen[j].glimpse->deviation)
                seen[i].fading = true;
        for (std::size_t j = i + 1;
             j < seen.size() && seen[j].glimpse->glance.time - here.time <= fadeReach; ++j)
            if (seen[j].shot == seen[i].shot && likeness(seen[j].glimpse->glance, here) > same &&
                seen[i].glimpse->deviation < fadesBy * seen[j].glimpse->deviation)
                seen[i].fading = true;
        // One picture turns into another without a cut: both shine through.
        for (const std::size_t by : {1u, 2u}) {
            if (i < by || i + by >= seen.size() || seen[i - by].shot != seen[i + by].shot) continue;
            const Glimpse &before = *seen[i - by].glimpse, &after = *seen[i + by].glimpse;
            if (after.glance.time - before.glance.time <= 1.5 * fadeReach &&
                before.deviation > flattest && after.deviation > flattest &&
                likenessMoved(before.glance, after.glance) < other &&
                isMixture(before.glance, here, after.glance))
                seen[i].fading = true;
        }
    }
}

// The one of the frame's shot that is nearest to it.
const Seen* nearest(const std::vector<Seen>& seen, std::size_t shot, double time) {
    const Seen* best = nullptr;
    const auto apart = [time](const Seen& one) {
        return std::abs(one.glimpse->glance.time - time);
    };
    for (const Seen& one : seen)
        if (one.shot == shot && (!best || apart(one) < apart(*best))) best = &one;
    return best;
}

void tellFaults(const Seen& one, std::vector<std::string>& reasons) {
    if (one.glimpse->mean <= darkest)
        reasons.emplace_back("nearly black");
    else if (one.glimpse->mean >= brightest)
        reasons.emplace_back("nearly white");
    else if (one.fading)
        reasons.emplace_back("in a fade");
    else if (one.smeared)
        reasons.emplace_back("smeared by motion");
    else if (one.good() && one.soft)
        reasons.emplace_back("less sharp than its shot");
}

bool isAlike(const std::vector<const Seen*>& taken, const Seen& one) {
    return std::ranges::any_of(taken, [&](const Seen* other) {
        return cellDifference(other->glimpse->glance, one.glimpse->glance) < alikeAt;
    });
}

// The best of what is left: the sharpest of their shot, those of shots without one first.
std::vector<const Seen*> bestOthers(const std::vector<Seen>& seen, std::vector<const Seen*> taken,
                                    std::size_t count) {
    std::vector<const Seen*> chosen;
    std::set<std::size_t> shots;
    for (const Seen* one : taken) shots.insert(one->shot);
    const auto score = [&](const Seen& one) {
        const double spread = std::min(1.0, one.glimpse->deviation / 64);
        return one.rank + spread + (shots.contains(one.shot) ? 0 : 1);
    };
    while (chosen.size() < count) {
        const Seen* best = nullptr;
        for (const Seen& one : seen) {
            if (!one.good() || one.rank < 0.5) continue;
            if (!isAlike(taken, one) && (!best || score(one) > score(*best))) best = &one;
        }
        if (!best) break;
        chosen.push_back(best);
        taken.push_back(best);
        shots.insert(best->shot);
    }
    return chosen;
}

struct SeenFace {
    RealRect head;
    OpenEyes eyes = OpenEyes::unknown;
};

// The surest three of a frame; none of one that cannot be read. Code::cancelled.
Result<std::vector<SeenFace>> facesAt(Video& video, long long number, const std::stop_token& stop) {
    std::vector<SeenFace> out;
    const auto frame = video.frame(number, stop);
    if (!frame && frame.error().code == Code::cancelled) return passOn(frame.error());
    if (!frame) return out;
    constexpr std::size_t surest = 3;
    const auto faces = facesIn(frame->pixels);
    for (std::size_t i = 0; i < std::min(surest, faces.size()); ++i)
        out.push_back({faces[i].head, openEyesOf(frame->pixels, faces[i])});
    return out;
}

// Open eyes are there in the one, and none in a face at the same place in the other.
bool opensEyesOf(const std::vector<SeenFace>& shut, const std::vector<SeenFace>& open) {
    return std::ranges::any_of(shut, [&](const SeenFace& one) {
        return one.eyes == OpenEyes::none && std::ranges::any_of(open, [&](const SeenFace& other) {
                   const RealRect both = one.head.intersected(other.head);
                   return other.eyes == OpenEyes::seen &&
                          both.width * both.height > 0.4 * one.head.width * one.head.height;
               });
    });
}

// A blink is short: whoever has no open eyes at a moment, and has them a moment on or before, has
// them closed. That other moment, which is nearest of the same shot; nothing where it is no blink.
Result<const Seen*> withOpenEyes(const std::vector<Seen>& seen, std::size_t shot, double time,
                                 const std::vector<SeenFace>& faces, Video& video,
                                 const std::stop_token& stop) {
    constexpr double reach = 1.0;  // s
    constexpr std::size_t most = 4;
    if (std::ranges::none_of(faces, [](const auto& f) { return f.eyes == OpenEyes::none; }))
        return nullptr;
    const auto apart = [&](const Seen* one) { return std::abs(one->glimpse->glance.time - time); };
    std::vector<const Seen*> near;
    for (const Seen& one : seen)
        if (one.shot == shot && one.good() && apart(&one) > 0 && apart(&one) <= reach)
            near.push_back(&one);
    std::ranges::stable_sort(near, {}, apart);
    for (std::size_t i = 0; i < std::min(most, near.size()); ++i) {
        const auto there = facesAt(video, near[i]->glimpse->glance.number, stop);
        if (!there) return passOn(there.error());
        if (opensEyesOf(faces, *there)) return near[i];
    }
    return nullptr;
}

// Nothing for a blink whose moment with open eyes is as good as proposed already.
Result<std::optional<Candidate>> proposed(const std::vector<Seen>& seen, const Seen* there,
                                          std::vector<const Seen*>& taken, Video& video,
                                          const std::stop_token& stop) {
    const Glance& first = there->glimpse->glance;
    const auto faces = facesAt(video, first.number, stop);
    if (!faces) return passOn(faces.error());
    const auto other = withOpenEyes(seen, there->shot, first.time, *faces, video, stop);
    if (!other) return passOn(other.error());
    if (*other && isAlike(taken, **other)) return std::optional<Candidate>();
    if (*other) there = *other;
    taken.push_back(there);
    const Glance& glance = there->glimpse->glance;
    Candidate one{glance.number, glance.time, {}};
    one.reasons.emplace_back(there->rank >= 0.9   ? "the sharpest of its shot"
                             : there->rank >= 0.5 ? "sharp for its shot"
                                                  : "sharp enough for its shot");
    one.reasons.emplace_back("well exposed");
    if (*other)
        one.reasons.emplace_back("a face, seen whole, and no blink");
    else if (!faces->empty())
        one.reasons.emplace_back("a face, seen whole");
    return std::optional(std::move(one));
}

Result<void> tellBlink(const std::vector<Seen>& seen, const Seen& there, Video& video,
                       Candidate& one, const std::stop_token& stop) {
    // A frame between key frames takes long to decode: only where there is a face near it.
    constexpr PixelSize room{640, 640};
    const auto key = video.keyFrame(one.number, room, stop);
    if (!key && key.error().code == Code::cancelled) return passOn(key.error());
    if (!key || facesIn(key->pixels).empty()) return {};
    const auto faces = facesAt(video, one.number, stop);
    if (!faces) return passOn(faces.error());
    const auto other = withOpenEyes(seen, there.shot, one.time, *faces, video, stop);
    if (!other) return passOn(other.error());
    if (*other) one.reasons.emplace_back("the eyes are closed");
    return {};
}

}  // namespace

std::vector<Candidate> thirdsOf(const Video& video, const Span& within) {
    std::vector<Candidate> all;
    const std::pair<double, const char*> places[] = {
        {1 / 3.0, "the first third"}, {0.5, "the middle"}, {2 / 3.0, "the last third"}};
    for (const auto& [share, words] : places) {
        const auto number = video.numberAt(within.from + share * within.length());
        if (!number || std::any_of(all.begin(), all.end(),
                                   [at = *number](const Candidate& c) { return c.number == at; }))
            continue;
        all.push_back({*number, video.timeOf(*number), {words}});
    }
    return all;
}

Result<std::vector<Candidate>> candidatesAmong(const LookedThrough& looked, Video& video, int count,
                                               const Span& within, const std::stop_token& stop) {
    std::vector<Seen> seen;
    for (const Glimpse& glimpse : looked.glimpses)
        if (within.contains(glimpse.glance.time))
            seen.push_back({&glimpse, looked.shotOf(glimpse.glance.number)});
    if (!seen.empty()) rankSharpness(seen);
    tellFades(seen);
    std::vector<Candidate> all = thirdsOf(video, within);
    if (static_cast<int>(all.size()) > count)
        all.resize(static_cast<std::size_t>(std::max(0, count)));
    std::vector<const Seen*> taken;
    for (Candidate& one : all)
        if (const Seen* there = nearest(seen, looked.shotOf(one.number), one.time)) {
            tellFaults(*there, one.reasons);
            taken.push_back(there);
            if (const auto good = tellBlink(seen, *there, video, one, stop); !good)
                return passOn(good.error());
        }
    const auto left = static_cast<std::size_t>(std::max(0, count - static_cast<int>(all.size())));
    for (const Seen* there : bestOthers(seen, taken, left)) {
        auto one = proposed(seen, there, taken, video, stop);
        if (!one) return passOn(one.error());
        if (*one) all.push_back(std::move(**one));
    }
    return all;
}

Result<std::vector<Candidate>> candidatesOf(Video& video, int count, const std::stop_token& stop,
                                            const std::function<void(double)>& progress) {
    const auto looked = lookThrough(video, 0, stop, [&](double part) {
        if (progress) progress(0.9 * part);
    });
    if (!looked) return passOn(looked.error());
    return candidatesAmong(*looked, video, count, {0, video.facts().duration}, stop);
}

}  // namespace zl
