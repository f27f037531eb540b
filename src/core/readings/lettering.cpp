// SPDX-License-Identifier: GPL-3.0-or-later
// `lettering`: per lettering layer, as the eye meets it at each size the brief's surfaces show it
// at: the height of its capitals (common practice, no source), and the contrast by WCAG 2.2
// relative luminance (SC 1.4.3, 1.4.11) there. The release and the letters' coverage are brought to
// that size; along the letters' edge it is the ratio between their core (what they cover most close
// by) and the most contrasting pixel outwards within 2 px, and the 10th percentile counts. An
// outline counts for as much as is left of it at that size. Further the share of the frame that
// letters take (ours). Over a video that is known, and not over white and black, where the piece is
// laid over one: at forty of its moments, at the smallest size; as many may be lost as
// `standing-out` allows.
#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "picture/moments.h"
#include "readings/letters_seen.h"
#include "readings/over_frames.h"
#include "readings/reading.h"
#include "readings/surface_notes.h"

namespace zl {
namespace {

Verdict heightVerdict(double px) {
    using namespace thresholds;
    return px >= capsPass ? Verdict::pass : px >= capsWatch ? Verdict::watch : Verdict::fail;
}
Verdict contrastVerdict(double ratio) {
    using namespace thresholds;
    return ratio >= contrastPass    ? Verdict::pass
           : ratio >= contrastWatch ? Verdict::watch
                                    : Verdict::fail;
}

struct Faintest {
    double contrast = 21;
    SizeShown at;
    Verdict verdict = Verdict::pass;
    std::optional<double> moment{};  // s of the video where it is faintest
};

// Over moments of the video, spread over its length: what all but two in a hundred of them reach.
Faintest faintestOver(const Subject& subject, const LettersSeen& letters, const SizeShown& size) {
    using namespace thresholds;
    constexpr std::size_t most = 40;
    const auto& all = subject.moments->all;
    const RealRect place = videoPlaceIn(subject);
    const std::size_t count = std::min(most, all.size());
    std::vector<std::pair<double, double>> seen;  // contrast, s
    for (std::size_t i = 0; i < count; ++i) {
        const VideoMoments::One& one = all[i * all.size() / count];
        if (const auto contrast = letters.contrastOver(one.picture, place))
            seen.emplace_back(*contrast, one.time);
    }
    if (seen.empty()) return {0, size};
    std::sort(seen.begin(), seen.end());
    const auto under = [&](double ratio) {
        const auto lost = std::count_if(seen.begin(), seen.end(),
                                        [&](const auto& one) { return one.first < ratio; });
        return static_cast<double>(lost) / static_cast<double>(seen.size());
    };
    const Verdict verdict = under(contrastPass) <= lostPass     ? Verdict::pass
                            : under(contrastWatch) <= lostWatch ? Verdict::watch
                                                                : Verdict::fail;
    const auto at = static_cast<std::size_t>(lostPass * static_cast<double>(seen.size()));
    return {seen[at].first, size, verdict, seen[at].second};
}

Faintest faintestOf(const Subject& subject, const Ink& fill, const Straight8* covers,
                    const std::vector<SizeShown>& sizes) {
    if (subject.moments && !subject.moments->all.empty() && !subject.opaque)
        return faintestOver(subject,
                            LettersSeen(subject, fill, covers, std::min(1.0, sizes.front().scale)),
                            sizes.front());
    Faintest out{21, sizes.front()};
    bool any = false;
    constexpr double alike = 1.2;  // what is nearly as large looks the same
    double looked = 0;
    for (const SizeShown& size : sizes) {
        if (size.scale < alike * looked) continue;
        looked = size.scale;
        if (const auto contrast =
                LettersSeen(subject, fill, covers, std::min(1.0, size.scale)).contrast();
            contrast && *contrast < out.contrast) {
            out = {*contrast, size};
            any = true;
        }
    }
    if (!any) out.contrast = 0;
    out.verdict = contrastVerdict(out.contrast);
    return out;
}

Message faintWords(const Subject& subject, const Layer& layer, const Faintest& faint,
                   double needed) {
    if (faint.moment)
        return {"lettering.faint-video",
                {layer.name, told(faint.contrast), *faint.moment, subject.moments->name}};
    const auto width = static_cast<long long>(faint.at.width);
    const Finish* outline = outerOutline(layer.finishes);
    if (outline && outerWidth(*outline) < needed)
        return {"lettering.faint-rim",
                {layer.name, told(faint.contrast), width, outerWidth(*outline) * faint.at.scale,
                 needed}};
    return {"lettering.faint", {layer.name, told(faint.contrast), width}};
}

// The one finding there is, or what is said of several.
Message lettersTold(const Reading& reading, Message several) {
    return reading.findings.size() == 1 ? reading.findings.front().says : std::move(several);
}

// What is seen of a layer's letters, and where in the frame; nothing when there is none of it.
std::optional<PixelRect> seenPart(const LayerFacts& facts, PixelSize frame) {
    const PixelRect where = facts.box.intersected(PixelRect::of(frame));
    return where.empty() ? std::nullopt : std::optional(where);
}

// Some of a title may stand behind its subject; too much of it is not read any more (common
// practice, no source).
void tellHidden(Reading& reading, const Layer& layer, double share) {
    if (share < thresholds::lettersHidden) return;
    reading.findings.push_back(
        {{}, layer.id, {"lettering.hidden", {std::round(100 * share), layer.name}}});
    reading.verdict = std::max(reading.verdict, Verdict::watch);
}

void tellShare(Reading& reading, const Subject& subject) {
    const double share = shareTaken(subject);
    if (share <= thresholds::lettersShare) return;
    reading.findings.push_back({{}, {}, {"lettering.share", {std::floor(100 * share)}}});
    reading.verdict = std::max(reading.verdict, Verdict::watch);
}

Message wordsWhereGood(const Subject& subject, bool overVideo, double caps, long long width,
                       double contrast) {
    if (overVideo)
        return {"lettering.good-video", {told(caps), width, told(contrast), subject.moments->name}};
    return {"lettering.good", {told(caps), width, told(contrast)}};
}

}  // namespace

Reading measureLettering(const Subject& subject) {
    Reading reading;
    reading.unit = "px";
    reading.limit = thresholds::capsPass;
    const Piece& piece = *subject.piece;
    const auto sizes = sizesShown(*subject.brief, piece.frame);
    const auto [scale, width] = sizes.front();
    double smallest = 1e9, faintest = 21, needed = outlineThatCounts(scale);
    bool faint = false, widens = false, overVideo = false;
    std::string smallestName, faintestName;
    for (std::size_t i = 0; i < piece.layers.size(); ++i) {
        const Layer& layer = piece.layers[i];
        const LayerFacts& facts = subject.layers[i];
        if (!facts.fill || facts.fill->box.intersected(PixelRect::of(piece.frame)).empty())
            continue;
        const auto covers = coversOf(subject, i);
        const Faintest seen = faintestOf(subject, *facts.fill, covers ? &*covers : nullptr, sizes);
        overVideo = overVideo || seen.moment;
        if (covers) tellHidden(reading, layer, shareHidden(subject, *facts.fill, *covers));
        if (seen.contrast == 0) continue;  // wholly outside the frame; `naming` tells
        const double height = facts.capHeight * scale;
        const auto place = seenPart(facts, piece.frame);
        if (heightVerdict(height) > Verdict::pass)
            reading.findings.push_back(
                {place,
                 layer.id,
                 {"lettering.small", {layer.name, told(height), static_cast<long long>(width)}}});
        if (seen.verdict > Verdict::pass) {
            reading.findings.push_back({place, layer.id, faintWords(subject, layer, seen, needed)});
            faint = true;
            const Finish* outline = outerOutline(layer.finishes);
            widens |= outline && outerWidth(*outline) < needed;
        }
        reading.verdict = std::max({reading.verdict, heightVerdict(height), seen.verdict});
        if (height < smallest) std::tie(smallest, smallestName) = std::tuple(height, layer.name);
        if (seen.contrast < faintest)
            std::tie(faintest, faintestName) = std::tuple(seen.contrast, layer.name);
    }
    if (smallest == 1e9) {
        reading.says = reading.findings.empty() ? Message{"lettering.none", {}}
                                                : reading.findings.front().says;
        return reading;
    }
    tellShare(reading, subject);
    reading.value = smallest;
    reading.rule = Rule{smallest, thresholds::capsPass, 4 * thresholds::capsPass};
    reading.shown = fmt::format("{:.1f} px", told(smallest));
    reading.shownBeside = fmt::format("at {} · {:.1f} : 1", width, told(faintest));
    const auto px = static_cast<long long>(width);
    if (reading.findings.empty())
        reading.says = wordsWhereGood(subject, overVideo, smallest, px, faintest);
    else
        reading.says = lettersTold(
            reading, {"lettering.several",
                      {smallestName, told(smallest), px, faintestName, told(faintest)}});
    if (faint) {
        reading.mends.emplace_back("outline-contrast");
        if (widens) reading.mendWords = {"mend.outline-contrast.wider", {needed}};
    }
    return reading;
}

}  // namespace zl
