// SPDX-License-Identifier: GPL-3.0-or-later
// `zones`: per device and essential layer, how much of its ink is seen: the sum of alpha inside
// *visible* and *keep inside* and outside every *keep clear*, over the sum of alpha. By ink, never
// by boxes; a pixel partly in a zone counts in part. Safe areas after SMPTE ST 2046-1 and EBU R 95
// (numbers from memory); device sizes as each brief says.
#include "readings/zones.h"

#include <fmt/core.h>

#include <cmath>
#include <tuple>

#include "base/overloads.h"
#include "kit/layer_kinds.h"
#include "picture/moments.h"
#include "readings/alpha_sum.h"
#include "readings/over_frames.h"
#include "readings/reading.h"

namespace zl {
namespace {

// An ink's sum where it stands in the frame.
struct InkSum {
    std::shared_ptr<const AlphaSum> sum;
    RealPoint at;
    PixelRect box;  // in the frame

    InkSum(const Ink& ink, std::shared_ptr<const AlphaSum> known)
        : sum(known ? std::move(known) : std::make_shared<const AlphaSum>(ink)),
          at{static_cast<double>(ink.box.left), static_cast<double>(ink.box.top)},
          box(ink.box) {}
    explicit InkSum(const Straight8& pixels)
        : sum(std::make_shared<const AlphaSum>(pixels)), box(PixelRect::of(pixels.size())) {}
    double all() const { return sum->all(); }
    double in(const RealRect& r) const {
        return sum->in({r.x - at.x, r.y - at.y, r.width, r.height});
    }
};

// The ink inside `r` and in none of `clear[from...]`: what each takes away, less what two take away
// together.
double outside(const InkSum& ink, const RealRect& r, const std::vector<RealRect>& clear,
               std::size_t from = 0) {
    double sum = ink.in(r);
    for (std::size_t i = from; i < clear.size(); ++i) {
        const RealRect both = r.intersected(clear[i]);
        if (both.width > 0 && both.height > 0) sum -= outside(ink, both, clear, i + 1);
    }
    return sum;
}

// The frame itself: visible, of every brief, for lettering.
const Zone& wholeFrame() {
    static const Zone zone = [] {
        Zone made;
        made.id = "frame";
        made.title = "The frame";
        made.role = ZoneRole::visible;
        made.part = {0, 0, 1, 1};
        return made;
    }();
    return zone;
}

// The smallest share over the devices of what every zone leaves of the ink.
double seenShare(const InkSum& ink, PixelSize frame, const std::vector<const Zone*>& zones) {
    std::vector<RealRect> clear, devices;
    RealRect inside = RealRect::of(frame);
    for (const Zone* zone : zones) {
        const RealRect place = inFrame(*zone, frame);
        if (zone->role == ZoneRole::keepClear)
            clear.push_back(place);
        else if (zone->role == ZoneRole::keepInside)
            inside = inside.intersected(place);
        else
            devices.push_back(place);
    }
    if (devices.empty()) devices.push_back(RealRect::of(frame));
    double least = 1;
    for (const RealRect& device : devices)
        least = std::min(least, outside(ink, device.intersected(inside), clear) / ink.all());
    return least;
}

Verdict verdictOf(double share) {
    using namespace thresholds;
    return share >= zonesPass    ? Verdict::pass
           : share >= zonesWatch ? Verdict::watch
                                 : Verdict::fail;
}

class Measure {
  public:
    Measure(const Subject& subject, Reading& reading)
        : subject_(subject), brief_(*subject.brief), reading_(reading) {}

    // `layer`: nothing for a file, whose whole ink is the essential layer.
    void look(const InkSum& ink, const Layer* layer, const std::string& name) {
        if (ink.all() <= 0) return;
        any_ = true;
        std::vector<const Zone*> every, hard;
        // Lettering that the frame cuts is lost on every device.
        if (layer && kindOf(*layer).isText) {
            every.push_back(&wholeFrame());
            hard.push_back(&wholeFrame());
        }
        for (const Zone& zone : brief_.zones) {
            if (layer && zone.role == ZoneRole::keepInside && !asksOf(zone, *layer)) continue;
            every.push_back(&zone);
            const bool soft = zone.atMostWatch || (!layer && zone.role == ZoneRole::keepInside);
            if (!soft) hard.push_back(&zone);
        }
        const double share = seenShare(ink, subject_.pixels->size(), every);
        const Verdict verdict = std::max(std::min(verdictOf(share), Verdict::watch),
                                         verdictOf(seenShare(ink, subject_.pixels->size(), hard)));
        if (share < least_) {
            least_ = share;
            worstName_ = name;
        }
        reading_.verdict = std::max(reading_.verdict, verdict);
        if (verdict == Verdict::pass) return;
        for (const Zone* zone : every) tell(ink, *zone, layer, name);
        fixable_ = fixable_ || layer;
    }

    // On a see-through brief the whole piece counts where a zone has an allowance.
    void allowances() {
        if (brief_.alpha != AlphaDemand::seeThrough) return;
        if (std::none_of(brief_.zones.begin(), brief_.zones.end(),
                         [](const Zone& z) { return z.allowance.has_value(); }))
            return;
        const InkSum ink(*subject_.pixels);
        for (const Zone& zone : brief_.zones) {
            if (!zone.allowance) continue;
            const RealRect place = inFrame(zone, subject_.pixels->size());
            const double share = ink.in(place) / place.area();
            if (share <= *zone.allowance) continue;
            reading_.verdict = Verdict::fail;
            reading_.findings.push_back(
                {roundOutwards(place),
                 {},
                 {"zones.allowance", {zone.title, share * 100, *zone.allowance * 100}}});
        }
    }

    // A little ink over what matters most hides more than its pixels say. A zone with an allowance
    // is looked at over the video that is known: the moment at which most of its detail is covered.
    void detail() {
        if (!subject_.moments || subject_.moments->all.empty()) return;
        if (std::none_of(brief_.zones.begin(), brief_.zones.end(),
                         [](const Zone& z) { return z.allowance.has_value(); }))
            return;
        const VideoMoments& video = *subject_.moments;
        const PixelSize frame = video.all.front().picture->size();
        const RealRect place = placeOver(subject_, frame);
        const MarkInFrame over(std::make_shared<const Straight8>(subject_.pixels->clone()), place,
                               frame);
        for (const Zone& zone : brief_.zones) {
            if (!zone.allowance) continue;
            const RealRect& part = zone.part;
            const PixelRect within =
                roundOutwards({place.x + part.x * place.width, place.y + part.y * place.height,
                               part.width * place.width, part.height * place.height})
                    .intersected(PixelRect::of(frame));
            double most = 0, time = 0;
            for (const VideoMoments::One& one : video.all) {
                const double share = over.hides(*one.picture, within);
                if (share > most) std::tie(most, time) = std::tuple(share, one.time);
            }
            if (most <= thresholds::detailCovered) continue;
            reading_.verdict = std::max(reading_.verdict, Verdict::watch);
            reading_.findings.push_back(
                {roundOutwards(inFrame(zone, subject_.pixels->size())),
                 {},
                 {"zones.detail", {zone.title, std::floor(most * 100), time, video.name}}});
        }
    }

    void finish() {
        if (!any_ && reading_.findings.empty()) {
            reading_.verdict = Verdict::notMeasured;
            reading_.says = {"zones.nothing", {}};
            return;
        }
        reading_.value = least_;
        reading_.rule = Rule{least_ * 100, thresholds::zonesPass * 100, 100};
        const double seen =
            std::floor(least_ * 1000) / 10;  // %; what is told never promises more than is measured
        reading_.shown = fmt::format("{:.4g} %", seen);
        reading_.shownBeside = "seen everywhere";
        if (reading_.findings.empty())
            reading_.says = {"zones.good", {}};
        else if (least_ >= thresholds::zonesPass)
            reading_.says = reading_.findings.front().says;
        else
            reading_.says = {"zones.least", {worstName_, seen}};
        if (fixable_)
            reading_.mends.emplace_back(brief_.zones.empty() ? "into-frame" : "into-zone");
    }

  private:
    // One finding for each zone that takes something of the layer.
    void tell(const InkSum& ink, const Zone& zone, const Layer* layer, const std::string& name) {
        const RealRect place = inFrame(zone, subject_.pixels->size());
        const double within = ink.in(place) / ink.all();
        const double lost = zone.role == ZoneRole::keepClear ? within : 1 - within;
        if (lost <= 1 - thresholds::zonesPass) return;
        if (&zone == &wholeFrame()) {
            const PixelSize frame = subject_.pixels->size();
            const auto past = [](int px) { return static_cast<long long>(std::max(0, px)); };
            reading_.findings.push_back(
                {ink.box.intersected(PixelRect::of(frame)),
                 layer->id,
                 {"zones.frame",
                  {name, std::ceil(lost * 1000 - 1e-9) / 10, past(-ink.box.left),
                   past(-ink.box.top), past(ink.box.right - frame.width),
                   past(ink.box.bottom - frame.height)}}});
            return;
        }
        const char* id = zone.role == ZoneRole::keepClear    ? "zones.covered"
                         : zone.role == ZoneRole::keepInside ? "zones.outside"
                                                             : "zones.lost";
        const PixelRect where = zone.role == ZoneRole::keepClear
                                    ? roundOutwards(place).intersected(ink.box)
                                    : ink.box.intersected(PixelRect::of(subject_.pixels->size()));
        reading_.findings.push_back({where.empty() ? std::nullopt : std::optional(where),
                                     layer ? std::optional(layer->id) : std::nullopt,
                                     {id, {name, std::ceil(lost * 1000 - 1e-9) / 10, zone.title}}});
    }

    const Subject& subject_;
    const Brief& brief_;
    Reading& reading_;
    double least_ = 1;
    std::string worstName_;
    bool any_ = false, fixable_ = false;
};

}  // namespace

std::vector<double> sharesWithin(const Ink& ink, const std::vector<RealRect>& places,
                                 const std::shared_ptr<const AlphaSum>& known) {
    const InkSum sum(ink, known);
    std::vector<double> shares;
    for (const RealRect& place : places)
        shares.push_back(sum.all() > 0 ? sum.in(place) / sum.all() : 0);
    return shares;
}

bool isEssential(const Layer& layer, PixelSize frame) {
    if (layer.isReference()) return false;
    if (layer.essential) return *layer.essential;
    const auto small = [&](const PictureLayer& picture) {
        return picture.showsSubject() || picture.place.intersected(RealRect::of(frame)).area() <
                                             0.5 * static_cast<double>(frame.count());
    };
    return std::visit(Overloads{[](const LetteringLayer&) { return true; },
                                [](const BarLayer&) { return false; }, small},
                      layer.what);
}

RealRect inFrame(const Zone& zone, PixelSize frame) {
    return {zone.part.x * frame.width, zone.part.y * frame.height, zone.part.width * frame.width,
            zone.part.height * frame.height};
}

bool asksOf(const Zone& zone, const Layer& layer) {
    return zone.countsFor == CountsFor::all ||
           kindOf(layer).isText == (zone.countsFor == CountsFor::letters);
}

Reading measureZones(const Subject& subject) {
    Reading reading;
    reading.limit = thresholds::zonesPass;
    reading.unit = "share";
    const auto hasLetters = [&] {
        return subject.piece && std::any_of(subject.piece->layers.begin(),
                                            subject.piece->layers.end(), [&](const Layer& l) {
                                                return kindOf(l).isText && !l.hidden &&
                                                       isEssential(l, subject.piece->frame);
                                            });
    };
    if (subject.brief->zones.empty() && !hasLetters()) {
        reading.says = {"zones.none", {}};
        return reading;
    }
    reading.verdict = Verdict::pass;
    Measure measure(subject, reading);
    if (!subject.piece) {
        if (subject.opaque) {
            reading.verdict = Verdict::notMeasured;
            reading.says = {"zones.opaque-file", {}};
            return reading;
        }
        measure.look(InkSum(*subject.pixels), nullptr, subject.file.name);
    } else {
        for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
            const Layer& layer = subject.piece->layers[i];
            const auto& ink = subject.layers[i].ink;
            const bool asked = !subject.brief->zones.empty() || kindOf(layer).isText;
            if (asked && ink && !ink->box.empty() && isEssential(layer, subject.piece->frame))
                measure.look(InkSum(*ink, subject.layers[i].sum), &layer, layer.name);
        }
    }
    measure.allowances();
    measure.detail();
    measure.finish();
    return reading;
}

}  // namespace zl
