// SPDX-License-Identifier: GPL-3.0-or-later
// `zones`: per device and essential layer, how much of its ink is seen: the sum of alpha inside *visible* and *keep inside*
// and outside every *keep clear*, over the sum of alpha. By ink, never by boxes; a pixel partly in a zone counts in part.
// Safe areas after SMPTE ST 2046-1 and EBU R 95 (numbers from memory); device sizes as each brief says.
#include "readings/zones.h"

#include <fmt/core.h>

#include <cmath>

#include "readings/reading.h"

namespace zl {
namespace {

// A summed-area table of an ink's alpha (Crow 1984): the ink inside any real rectangle in a few look-ups. A pixel partly in
// the rectangle counts in part, since the sum goes straight from one pixel's edge to the next.
class InkSum {
  public:
    explicit InkSum(const Ink& ink) : InkSum(ink.box) {
        fill([&](int x, int y) {
            return ink.eight ? alphaOf(ink.eight->row(y + ink.fromY)[x + ink.fromX]) * 257 : ink.sixteen->row(3, y)[x];
        });
    }
    explicit InkSum(const Straight8& pixels) : InkSum(PixelRect::of(pixels.size())) {
        fill([&](int x, int y) { return alphaOf(pixels.row(y)[x]) * 257; });
    }

    const PixelRect& box() const { return box_; }
    // In px of full alpha.
    double all() const { return box_.empty() ? 0 : static_cast<double>(table_.back()) / 65535.0; }
    double in(const RealRect& r) const {
        if (r.width <= 0 || r.height <= 0 || box_.empty()) return 0;
        return (upTo(r.right(), r.bottom()) - upTo(r.x, r.bottom()) - upTo(r.right(), r.y) + upTo(r.x, r.y)) / 65535.0;
    }

  private:
    explicit InkSum(const PixelRect& box) : box_(box) {}
    template <class Alpha>
    void fill(const Alpha& alpha) {
        if (box_.empty()) return;
        stride_ = static_cast<std::size_t>(box_.width()) + 1;
        table_.assign(stride_ * (static_cast<std::size_t>(box_.height()) + 1), 0);
        for (int y = 0; y < box_.height(); ++y) {
            std::uint64_t row = 0;
            std::uint64_t* below = table_.data() + stride_ * (static_cast<std::size_t>(y) + 1);
            const std::uint64_t* above = below - stride_;
            for (int x = 0; x < box_.width(); ++x) {
                row += static_cast<std::uint64_t>(alpha(x, y));
                below[x + 1] = above[x + 1] + row;
            }
        }
    }
    // The sum left of and above a point of the frame.
    double upTo(double x, double y) const {
        x = std::clamp(x - box_.left, 0.0, static_cast<double>(box_.width()));
        y = std::clamp(y - box_.top, 0.0, static_cast<double>(box_.height()));
        const int ix = std::min(static_cast<int>(x), box_.width() - 1), iy = std::min(static_cast<int>(y), box_.height() - 1);
        const double fx = x - ix, fy = y - iy;
        const auto at = [&](int i, int j) {
            return static_cast<double>(table_[stride_ * static_cast<std::size_t>(j) + static_cast<std::size_t>(i)]);
        };
        return (at(ix, iy) * (1 - fx) + at(ix + 1, iy) * fx) * (1 - fy) + (at(ix, iy + 1) * (1 - fx) + at(ix + 1, iy + 1) * fx) * fy;
    }
    PixelRect box_;
    std::size_t stride_ = 0;
    std::vector<std::uint64_t> table_;
};

// The ink inside `r` and in none of `clear[from...]`: what each takes away, less what two take away together.
double outside(const InkSum& ink, const RealRect& r, const std::vector<RealRect>& clear, std::size_t from = 0) {
    double sum = ink.in(r);
    for (std::size_t i = from; i < clear.size(); ++i) {
        const RealRect both = r.intersected(clear[i]);
        if (both.width > 0 && both.height > 0) sum -= outside(ink, both, clear, i + 1);
    }
    return sum;
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
    for (const RealRect& device : devices) least = std::min(least, outside(ink, device.intersected(inside), clear) / ink.all());
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
    void look(const InkSum& ink, const Layer* layer, const std::string& name) {
        if (ink.all() <= 0) return;
        any_ = true;
        std::vector<const Zone*> every, hard;
        for (const Zone& zone : brief_.zones) {
            if (layer && zone.role == ZoneRole::keepInside && !asksOf(zone, *layer)) continue;
            every.push_back(&zone);
            const bool soft = zone.atMostWatch || (!layer && zone.role == ZoneRole::keepInside);
            if (!soft) hard.push_back(&zone);
        }
        const double share = seenShare(ink, subject_.pixels->size(), every);
        const Verdict verdict =
            std::max(std::min(verdictOf(share), Verdict::watch), verdictOf(seenShare(ink, subject_.pixels->size(), hard)));
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
        if (std::none_of(brief_.zones.begin(), brief_.zones.end(), [](const Zone& z) { return z.allowance.has_value(); })) return;
        const InkSum ink(*subject_.pixels);
        for (const Zone& zone : brief_.zones) {
            if (!zone.allowance) continue;
            const RealRect place = inFrame(zone, subject_.pixels->size());
            const double share = ink.in(place) / place.area();
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
    void tell(const InkSum& ink, const Zone& zone, const Layer* layer, const std::string& name) {
        const RealRect place = inFrame(zone, subject_.pixels->size());
        const double within = ink.in(place) / ink.all();
        const double lost = zone.role == ZoneRole::keepClear ? within : 1 - within;
        if (lost <= 1 - thresholds::zonesPass) return;
        const char* id = zone.role == ZoneRole::keepClear    ? "zones.covered"
                         : zone.role == ZoneRole::keepInside ? "zones.outside"
                                                             : "zones.lost";
        const PixelRect where = zone.role == ZoneRole::keepClear ? roundOutwards(place).intersected(ink.box())
                                                                 : ink.box().intersected(PixelRect::of(subject_.pixels->size()));
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

std::vector<double> sharesWithin(const Ink& ink, const std::vector<RealRect>& places) {
    const InkSum sum(ink);
    std::vector<double> shares;
    for (const RealRect& place : places) shares.push_back(sum.all() > 0 ? sum.in(place) / sum.all() : 0);
    return shares;
}

bool isEssential(const Layer& layer, PixelSize frame) {
    if (layer.isReference()) return false;
    if (layer.essential) return *layer.essential;
    if (layer.lettering()) return true;
    if (layer.bar()) return false;
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
        measure.look(InkSum(*subject.pixels), nullptr, subject.file.name);
    } else {
        for (std::size_t i = 0; i < subject.piece->layers.size(); ++i) {
            const Layer& layer = subject.piece->layers[i];
            const auto& ink = subject.layers[i].ink;
            if (ink && !ink->box.empty() && isEssential(layer, subject.piece->frame)) measure.look(InkSum(*ink), &layer, layer.name);
        }
    }
    measure.allowances();
    measure.finish();
    return reading;
}

}  // namespace zl
