// SPDX-License-Identifier: GPL-3.0-or-later
#include "measure/legible.h"

#include <algorithm>
#include <cmath>

#include "base/crew.h"
#include "base/json.h"
#include "colour/colour.h"
#include "finish/finish.h"
#include "raster/resample.h"
#include "readings/reading.h"
#include "words/words.h"

namespace zl {
namespace {

RealRect scaled(const RealRect& r, double by) {
    return {r.x * by, r.y * by, r.width * by, r.height * by};
}

// Dark round light marks, light round dark ones.
Colour outlineColourFor(const Straight8& mark) {
    double light = 0, weight = 0;
    for (const std::uint32_t p : mark.pixels()) {
        light += alphaOf(p) * relativeLuminance(redOf(p), greenOf(p), blueOf(p));
        weight += alphaOf(p);
    }
    // As far from black as from white: (1.05 / 0.05)^0.5 * 0.05 - 0.05.
    constexpr double middle = 0.179;
    return weight > 0 && light / weight < middle ? Colour{255, 255, 255, 255}
                                                 : Colour{16, 20, 24, 255};
}

RealRect placeAsked(const LegibleQuestion& question, PixelSize shown) {
    return question.exactly ? *question.exactly
                            : placeOf(question.placing, question.mark->size(), shown);
}

double wholePercent(double share) {
    return std::floor(share * 100 + 1e-9);
}

}  // namespace

OutlinedMark outlinedMark(const std::shared_ptr<const Straight8>& mark, double px) {
    const Colour colour = outlineColourFor(*mark);
    const Finish finish = outlineOf(px, colour);
    const int more = static_cast<int>(std::ceil(px)) + 1;
    Ink ink;
    ink.box = PixelRect::of(mark->size());
    ink.eight = mark;
    const PixelRect all{-more, -more, mark->width() + more, mark->height() + more};
    const Ink done = finished(ink, {&finish, 1}, all);
    auto out = std::make_shared<Straight8>(Straight8::cleared(all.size()));
    const Straight8 part = rounded8(done);
    for (int y = 0; y < part.height(); ++y)
        std::copy_n(part.row(y), part.width(),
                    out->row(y + done.box.top + more) + done.box.left + more);
    return {out, more};
}

LegibleStudy::LegibleStudy(const LegibleQuestion& question, PixelSize frame, PixelSize shown,
                           double length)
    : question_(question),
      frame_(frame),
      length_(length),
      own_(question.mark,
           scaled(placeAsked(question, shown), static_cast<double>(frame.width) / shown.width),
           frame, question.opacity) {
    const double scale = static_cast<double>(frame.width) / shown.width;
    const RealRect place = placeAsked(question, shown);
    for (const StampAt at :
         {StampAt::topLeft, StampAt::topRight, StampAt::bottomLeft, StampAt::bottomRight}) {
        if (at == question.placing.at) continue;
        MarkPlacing other = question.placing;
        other.at = at;
        LegibleProposal what;
        what.kind = LegibleProposal::Kind::corner;
        what.at = at;
        variants_.push_back(
            {what,
             MarkInFrame(question.mark, scaled(placeOf(other, question.mark->size(), shown), scale),
                         frame, question.opacity)});
    }
    addOutlines(question, scaled(place, scale));
}

// Of one, two and four px at the size it is shown in; the thinnest that holds is proposed.
void LegibleStudy::addOutlines(const LegibleQuestion& question, const RealRect& place) {
    const double perPx = question.mark->width() / std::max(1.0, place.width);
    const Colour colour = outlineColourFor(*question.mark);
    for (const double px : {1.0, 2.0, 4.0}) {
        LegibleProposal what;
        what.kind = LegibleProposal::Kind::outline;
        what.px = px * perPx;
        what.colour = colour;
        const OutlinedMark mark = outlinedMark(question.mark, what.px);
        const double more = mark.more / perPx;
        variants_.push_back({what, MarkInFrame(mark.pixels,
                                               {place.x - more, place.y - more,
                                                place.width + 2 * more, place.height + 2 * more},
                                               frame_, question.opacity)});
    }
}

void LegibleStudy::see(const Straight8& frame, double time) {
    if (time < question_.from || (question_.to && time >= *question_.to)) return;
    curve_.samples.push_back(own_.in(frame, time));
    const bool holds = curve_.samples.back().share >= thresholds::standingOut;
    for (Variant& variant : variants_) {
        // An outline takes nothing away where the mark stands out by itself.
        const bool same = holds && variant.what.kind == LegibleProposal::Kind::outline;
        variant.curve.samples.push_back(
            same ? curve_.samples.back() : LegibleSample{time, variant.mark.standsOut(frame), 0});
    }
}

namespace {

// The first moment from which on the rest holds; nothing where less than half of it would be left.
std::optional<std::size_t> startThatHolds(const LegibleCurve& curve) {
    std::size_t lost = 0;
    std::optional<std::size_t> found;
    const std::size_t all = curve.samples.size();
    for (std::size_t i = all; i-- > 0;) {
        if (curve.samples[i].share < thresholds::standingOut) ++lost;
        const double part = static_cast<double>(lost) / static_cast<double>(all - i);
        if (part <= thresholds::lostPass && curve.samples[i].share >= thresholds::standingOut)
            found = i;
    }
    if (!found || *found == 0 || 2 * *found > all) return {};
    return found;
}

Message wordsFor(const LegibleProposal& it, double before) {
    using Kind = LegibleProposal::Kind;
    const double stands = wholePercent(1 - it.lost), stood = wholePercent(1 - before);
    switch (it.kind) {
        case Kind::corner:
            return {"legible.corner", {std::string(wordOf(it.at)), stands, stood}};
        case Kind::outline:
            return {"legible.outline", {it.px, stands, stood}};
        case Kind::start:
            break;
    }
    return {"legible.start", {it.from, stands, stood}};
}

}  // namespace

Legibility LegibleStudy::told() const {
    using Kind = LegibleProposal::Kind;
    Legibility out{curve_, {}};
    if (curve_.samples.empty() || curve_.verdict() == Verdict::pass) return out;
    const double before = curve_.lost();
    constexpr double least = 0.02;  // of the time: what is gained, or it is no help
    const LegibleProposal* bestCorner = nullptr;
    const LegibleProposal* thinnest = nullptr;
    std::vector<LegibleProposal> all;
    all.reserve(variants_.size());
    for (const Variant& variant : variants_) {
        LegibleProposal it = variant.what;
        it.lost = variant.curve.lost();
        it.worst = variant.curve.worst()->share;
        if (it.lost > before - least) continue;
        all.push_back(it);
        const auto better = [&](const LegibleProposal* than) {
            return !than || it.lost < than->lost - least ||
                   (it.kind == Kind::corner && it.lost < than->lost);
        };
        if (it.kind == Kind::corner && better(bestCorner)) bestCorner = &all.back();
        if (it.kind == Kind::outline && better(thinnest)) thinnest = &all.back();
    }
    if (bestCorner) out.proposals.push_back(*bestCorner);
    if (thinnest) out.proposals.push_back(*thinnest);
    if (const auto from = startThatHolds(curve_)) {
        LegibleProposal it;
        it.kind = Kind::start;
        it.from = curve_.samples[*from].time;
        const LegibleCurve rest{
            {curve_.samples.begin() + static_cast<std::ptrdiff_t>(*from), curve_.samples.end()}};
        it.lost = rest.lost();
        it.worst = rest.worst()->share;
        out.proposals.push_back(it);
    }
    std::stable_sort(
        out.proposals.begin(), out.proposals.end(),
        [](const LegibleProposal& a, const LegibleProposal& b) { return a.lost < b.lost; });
    for (LegibleProposal& it : out.proposals) it.says = wordsFor(it, before);
    return out;
}

namespace {

Result<void> checkQuestion(const LegibleQuestion& question, PixelSize shown, double length) {
    if (!question.mark || question.mark->empty()) return fail(Code::badUsage, "There is no mark.");
    if (question.from >= length || (question.to && *question.to <= question.from))
        return fail(Code::badUsage, "The mark would not be seen at any moment of the video.",
                    "Let it show earlier, or longer.");
    if (question.exactly) return {};
    return checkPlace(placeOf(question.placing, question.mark->size(), shown), shown);
}

}  // namespace

Result<Legibility> legibilityOver(const Video& video, const LegibleQuestion& question,
                                  const std::function<void(double)>& progress,
                                  const std::stop_token& stop) {
    const VideoFacts& facts = video.facts();
    if (auto good = checkQuestion(question, facts.shown, facts.duration); !good)
        return passOn(good.error());
    std::optional<LegibleStudy> study;
    // A picture is measured while the next one is decoded.
    std::optional<Straight8> kept;
    std::optional<Beside> seeing;
    const auto seen = [&] {
        if (seeing) seeing->finish();
        seeing.reset();
    };
    auto reader = video.again(stop, aheadThreads);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (!reader) return passOn(reader.error());
    auto looked = reader->pictures(
        glimpseStep, facts.shown.width,
        [&](Straight8 picture, double time) {
            seen();
            if (!study) study.emplace(question, picture.size(), facts.shown, facts.duration);
            kept = std::move(picture);
            seeing.emplace([&study, &kept, time] { study->see(*kept, time); });
            if (progress && facts.duration > 0) progress(std::min(1.0, time / facts.duration));
            return true;
        },
        stop);
    seen();
    if (!looked) return passOn(looked.error());
    if (!study) return fail(Code::unreadable, "No frame of the video could be seen.");
    return study->told();
}

Result<Legibility> legibilityOver(const Strip& strip, const VideoFacts& facts,
                                  const LegibleQuestion& question, const std::stop_token& stop) {
    if (auto good = checkQuestion(question, facts.shown, facts.duration); !good)
        return passOn(good.error());
    const auto looked = strip.looked();
    if (!looked) return fail(Code::unreadable, "The video was not looked through yet.");
    std::optional<LegibleStudy> study;
    for (const Glimpse& glimpse : looked->glimpses) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const auto picture = strip.nearest(glimpse.glance.time);
        if (!picture) continue;
        if (!study) study.emplace(question, picture->pixels.size(), facts.shown, facts.duration);
        study->see(picture->pixels, picture->time);
    }
    if (!study) return fail(Code::unreadable, "No frame of the video could be seen.");
    return study->told();
}

OrderedJson jsonOf(const Legibility& it) {
    OrderedJson samples = OrderedJson::array(), proposals = OrderedJson::array();
    for (const LegibleSample& s : it.curve.samples)
        samples.push_back({{"time", s.time}, {"share", s.share}, {"hides", s.hides}});
    using Kind = LegibleProposal::Kind;
    for (const LegibleProposal& p : it.proposals) {
        OrderedJson one{{"id", p.kind == Kind::corner    ? "best-corner"
                               : p.kind == Kind::outline ? "outline"
                                                         : "start-after"}};
        if (p.kind == Kind::corner) one["at"] = wordOf(p.at);
        if (p.kind == Kind::outline) {
            one["px"] = p.px;
            one["colour"] = nameOf(p.colour);
        }
        if (p.kind == Kind::start) one["from"] = p.from;
        one["lost"] = p.lost;
        one["worst"] = p.worst;
        one["says"] = english(p.says);
        proposals.push_back(one);
    }
    const auto worst = it.curve.worst();
    return {{"verdict", nameOf(it.curve.verdict())},
            {"lost", it.curve.lost()},
            {"limit", thresholds::standingOut},
            {"samples", samples},
            {"worst", worst ? OrderedJson{{"time", worst->time},
                                          {"share", worst->share},
                                          {"hides", worst->hides}}
                            : OrderedJson(nullptr)},
            {"proposals", proposals}};
}

}  // namespace zl
