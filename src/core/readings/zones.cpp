// SPDX-License-Identifier: GPL-3.0-or-later
// `zones`: per device and essential layer, how much of its ink is seen: the sum of alpha inside *visible* and *keep inside*
// and outside every *keep clear*, over the sum of alpha. By ink, never by boxes; a pixel partly in a zone counts in part.
// Safe areas after SMPTE ST 2046-1 and EBU R 95 (numbers from memory); device sizes as each brief says.
#include "readings/zones.h"

#include <fmt/core.h>

#include <cmath>
#include <functional>

#include "readings/reading.h"

namespace zl {
namespace {

// The share of each pixel of [first, first + count) that [from, to) covers.
std::vector<double> covered(double from, double to, int first, int count) {
    std::vector<double> out(static_cast<std::size_t>(std::max(0, count)));
    for (int i = 0; i < count; ++i)
        out[static_cast<std::size_t>(i)] = std::clamp(std::min(to, first + i + 1.0) - std::max<double>(from, first + i), 0.0, 1.0);
    return out;
}

struct Cover {
    std::vector<double> x, y;
    Cover(const RealRect& r, const PixelRect& box)
        : x(covered(r.x, r.right(), box.left, box.width())), y(covered(r.y, r.bottom(), box.top, box.height())) {}
    double at(int i, int j) const { return x[static_cast<std::size_t>(i)] * y[static_cast<std::size_t>(j)]; }
};

// Alpha 0..1 of an ink's pixel, counted from its box.
struct Alphas {
    PixelRect box;
    std::function<double(int, int)> at;
};

Alphas alphasOf(const Ink& ink) {
    if (ink.eight) return {ink.box, [&ink](int x, int y) { return alphaOf(ink.eight->row(y + ink.fromY)[x + ink.fromX]) / 255.0; }};
    return {ink.box, [&ink](int x, int y) { return ink.sixteen->row(3, y)[x] / 65535.0; }};
}

Alphas alphasOf(const Straight8& pixels) {
    return {PixelRect::of(pixels.size()), [&pixels](int x, int y) { return alphaOf(pixels.row(y)[x]) / 255.0; }};
}

double sum(const Alphas& a, const std::function<double(int, int)>& weight) {
    double total = 0;
    for (int y = 0; y < a.box.height(); ++y)
        for (int x = 0; x < a.box.width(); ++x)
            if (const double alpha = a.at(x, y); alpha > 0) total += alpha * weight(x, y);
    return total;
}

// The smallest share over the devices of what every zone leaves of the ink.
double seenShare(const Alphas& a, double all, PixelSize frame, const std::vector<const Zone*>& zones) {
    std::vector<Cover> clear, inside, devices;
    for (const Zone* zone : zones) {
        auto& kind = zone->role == ZoneRole::keepClear ? clear : zone->role == ZoneRole::keepInside ? inside : devices;
        kind.emplace_back(inFrame(*zone, frame), a.box);
    }
    if (devices.empty()) devices.emplace_back(RealRect::of(frame), a.box);
    double least = 1;
    for (const Cover& device : devices)
        least = std::min(least, sum(a, [&](int x, int y) {
                                    double w = device.at(x, y);
                                    for (const Cover& c : inside) w *= c.at(x, y);
                                    for (const Cover& c : clear) w *= 1 - c.at(x, y);
                                    return w;
                                }) / all);
    return least;
}

Verdict verdictOf(double share) {
    using namespace thresholds;
    return share >= zonesPass ? Verdict::pass : share >= zonesWatch ? Verdict::watch : Verdict::fail;
}

class Measure {
  public:
    Measure(const Subject& subject, Reading& reading) : subject_(subject), brief_(*subject.brief), reading_(reading) {}

    // `layer`: nothing for a file, whose whole ink is the essential layer.
    void look(const Alphas& a, const Layer* layer, const std::string& name) {
        const double all = sum(a, [](int, int) { return 1.0; });
        if (all <= 0) return;
        any_ = true;
        std::vector<const Zone*> every, hard;
        for (const Zone& zone : brief_.zones) {
            if (layer && zone.role == ZoneRole::keepInside && !asksOf(zone, *layer)) continue;
            every.push_back(&zone);
            const bool soft = zone.atMostWatch || (!layer && zone.role == ZoneRole::keepInside);
            if (!soft) hard.push_back(&zone);
        }
        const double share = seenShare(a, all, subject_.pixels->size(), every);
        const Verdict verdict =
            std::max(std::min(verdictOf(share), Verdict::watch), verdictOf(seenShare(a, all, subject_.pixels->size(), hard)));
        if (share < least_) {
            least_ = share;
            worstName_ = name;
        }
        reading_.verdict = std::max(reading_.verdict, verdict);
        if (verdict == Verdict::pass) return;
        for (const Zone* zone : every) tell(a, all, *zone, layer, name);
        fixable_ = fixable_ || layer;
    }

    // On a see-through brief the whole piece counts where a zone has an allowance.
    void allowances() {
        if (brief_.alpha != AlphaDemand::seeThrough) return;
        const Alphas a = alphasOf(*subject_.pixels);
        for (const Zone& zone : brief_.zones) {
            if (!zone.allowance) continue;
            const RealRect place = inFrame(zone, subject_.pixels->size());
            const Cover cover(place, a.box);
            const double share = sum(a, [&](int x, int y) { return cover.at(x, y); }) / place.area();
            if (share <= *zone.allowance) continue;
            reading_.verdict = Verdict::fail;
            reading_.findings.push_back({roundOutwards(place), {}, {"zones.allowance", {zone.title, share * 100, *zone.allowance * 100}}});
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
        reading_.shown = fmt::format("{:.4g} %", std::floor(least_ * 1000) / 10);
        reading_.shownBeside = "seen everywhere";
        if (reading_.findings.empty())
            reading_.says = {"zones.good", {}};
        else if (least_ >= thresholds::zonesPass)
            reading_.says = reading_.findings.front().says;
        else
            reading_.says = {"zones.least", {worstName_, least_ * 100}};
        if (fixable_) reading_.mends.emplace_back("into-zone");
    }

  private:
    // One finding for each zone that takes something of the layer.
    void tell(const Alphas& a, double all, const Zone& zone, const Layer* layer, const std::string& name) {
        const RealRect place = inFrame(zone, subject_.pixels->size());
        const Cover cover(place, a.box);
        const double within = sum(a, [&](int x, int y) { return cover.at(x, y); }) / all;
        const double lost = zone.role == ZoneRole::keepClear ? within : 1 - within;
        if (lost <= 1 - thresholds::zonesPass) return;
        const char* id = zone.role == ZoneRole::keepClear    ? "zones.covered"
                         : zone.role == ZoneRole::keepInside ? "zones.outside"
                                                             : "zones.lost";
        const PixelRect where = zone.role == ZoneRole::keepClear ? roundOutwards(place).intersected(a.box)
                                                                 : a.box.intersected(PixelRect::of(subject_.pixels->size()));
        reading_.findings.push_back({where.empty() ? std::nullopt : std::optional(where),
                                     layer ? std::optional(layer->id) : std::nullopt,
                                     {id, {name, lost * 100, zone.title}}});
    }

    const Subject& subject_;
    const Brief& brief_;
    Reading& reading_;
    double least_ = 1;
    std::string worstName_;
    bool any_ = false, fixable_ = false;
};

}  // namespace

double shareWithin(const Ink& ink, const RealRect& place) {
    const Alphas a = alphasOf(ink);
    const Cover cover(place, a.box);
    const double all = sum(a, [](int, int) { return 1.0; });
    return all > 0 ? sum(a, [&](int x, int y) { return cover.at(x, y); }) / all : 0;
}

bool isEssential(const Layer& layer, PixelSize frame) {
    if (layer.isReference()) return false;
    if (layer.essential) return *layer.essential;
    if (layer.lettering()) return true;
    return layer.picture()->place.intersected(RealRect::of(frame)).area() < 0.5 * static_cast<double>(frame.count());
}

RealRect inFrame(const Zone& zone, PixelSize frame) {
    return {zone.part.x * frame.width, zone.part.y * frame.height, zone.part.width * frame.width, zone.part.height * frame.height};
}

bool asksOf(const Zone& zone, const Layer& layer) {
    if (zone.id.find("title") != std::string::npos) return layer.lettering() != nullptr;
    if (zone.id.find("action") != std::string::npos) return layer.lettering() == nullptr;
    return true;
}

Reading measureZones(const Subject& subject) {
    Reading reading;
    reading.limit = thresholds::zonesPass;
    reading.unit = "share";
    if (subject.brief->zones.empty()) {
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
        measure.look(alphasOf(*subject.pixels), nullptr, subject.file.name);
    } else {
        for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
            const Layer& layer = subject.piece->layers[i];
            const auto& ink = subject.layers[i].ink;
            if (ink && !ink->box.empty() && isEssential(layer, subject.piece->frame)) measure.look(alphasOf(*ink), &layer, layer.name);
        }
    }
    measure.allowances();
    measure.finish();
    return reading;
}

}  // namespace zl
