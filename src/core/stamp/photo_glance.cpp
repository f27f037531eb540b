// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/photo_glance.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "colour/colour.h"
#include "picture/faces.h"
#include "raster/resample.h"
#include "readings/standing.h"
#include "stamp/ink_change.h"

namespace zl {
namespace {

std::shared_ptr<const Straight8> resizedTo(PixelSize size, const Straight8& picture) {
    const auto shared = std::make_shared<const Straight8>(picture.clone());
    if (picture.size() == size) return shared;
    const Ink ink = resampled(shared, false, RealRect::of(picture.size()), RealRect::of(size),
                              PixelRect::of(size));
    auto out = std::make_shared<Straight8>(Straight8::cleared(size));
    const Straight8 part = rounded8(ink);
    for (int y = 0; y < part.height(); ++y)
        std::copy_n(part.row(y), part.width(), out->row(y + ink.box.top) + ink.box.left);
    return out;
}

PixelSize scaledSize(PixelSize size, double scale) {
    return {std::max(1, static_cast<int>(std::lround(size.width * scale))),
            std::max(1, static_cast<int>(std::lround(size.height * scale)))};
}

std::vector<double> detailOf(const Straight8& picture) {
    const auto w = static_cast<std::size_t>(picture.width()) + 1;
    std::vector<double> sums(w * (static_cast<std::size_t>(picture.height()) + 1));
    const auto luma = [&](int x, int y) {
        const std::uint32_t p = picture.row(y)[x];
        return luma709(redOf(p), greenOf(p), blueOf(p));
    };
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const double here = luma(x, y);
            const double step = std::abs(here - luma(std::max(0, x - 1), y)) +
                                std::abs(here - luma(x, std::max(0, y - 1)));
            const std::size_t at =
                (static_cast<std::size_t>(y) + 1) * w + static_cast<std::size_t>(x) + 1;
            sums[at] = step + sums[at - 1] + sums[at - w] - sums[at - w - 1];
        }
    return sums;
}

// The mean step of luma in a part, over that of the whole.
double detailIn(const PhotoGlance& glance, const PixelRect& part) {
    const PixelRect whole = PixelRect::of(glance.picture.size());
    const auto w = static_cast<std::size_t>(whole.width()) + 1;
    const auto sum = [&](const PixelRect& r) {
        const auto at = [&](int x, int y) {
            return glance.detail[static_cast<std::size_t>(y) * w + static_cast<std::size_t>(x)];
        };
        return at(r.right, r.bottom) - at(r.left, r.bottom) - at(r.right, r.top) +
               at(r.left, r.top);
    };
    const PixelRect r = part.intersected(whole);
    const double all = sum(whole) / static_cast<double>(whole.size().count());
    if (r.empty() || all <= 0) return 0;
    return sum(r) / static_cast<double>(r.size().count()) / all;
}

// How much of a head the part covers, at most; 0..1.
double headIn(const PhotoGlance& glance, const PixelRect& part) {
    double most = 0;
    for (const RealRect& head : glance.heads)
        most = std::max(most, head.intersected(realOf(part)).area() / head.area());
    return most;
}

PixelRect onGlance(const PhotoGlance& glance, const PixelRect& box) {
    const double s = glance.scale();
    return roundOutwards({box.left * s, box.top * s, box.width() * s, box.height() * s});
}

// A mark as the glance shows it.
struct SmallMark {
    Straight8 ink, faded;  // without and with its opacity
    MarkEdges edges;
};

SmallMark smallMark(const Ink& ink, double scale) {
    Ink whole = ink.moved(-ink.box.left, -ink.box.top);
    whole.opacity = 1;
    Straight8 large = Straight8::cleared(ink.box.size());
    blendOver({&whole, 1}, PixelRect::of(ink.box.size()), large);
    SmallMark mark;
    mark.ink = resizedTo(scaledSize(large.size(), scale), large)->clone();
    mark.faded = mark.ink.clone();
    for (int y = 0; y < mark.faded.height(); ++y)
        for (int x = 0; x < mark.faded.width(); ++x) {
            std::uint32_t& p = mark.faded.row(y)[x];
            const auto alpha = static_cast<int>(std::lround(alphaOf(p) * double{ink.opacity}));
            p = (p & 0x00FFFFFFu) | static_cast<std::uint32_t>(alpha) << 24;
        }
    mark.edges = markEdges(mark.ink);
    return mark;
}

// What lies behind the small mark; beyond the photograph its last pixels go on.
Straight8 behind(const PhotoGlance& glance, int left, int top, PixelSize size) {
    Straight8 out(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            out.row(y)[x] = glance.picture.row(std::clamp(
                top + y, 0,
                glance.picture.height() - 1))[std::clamp(left + x, 0, glance.picture.width() - 1)];
    return out;
}

PixelPlace cornerOf(const PhotoGlance& glance, const Ink& ink) {
    return {static_cast<int>(std::lround(ink.box.left * glance.scale())),
            static_cast<int>(std::lround(ink.box.top * glance.scale()))};
}

double standing(const PhotoGlance& glance, const SmallMark& mark, const Ink& ink) {
    const PixelPlace at = cornerOf(glance, ink);
    return shareStandingOut(mark.faded, mark.edges, behind(glance, at.x, at.y, mark.faded.size()));
}

// Thresholds of ours.
constexpr double standsPass = thresholds::standingOut, standsWatch = 0.25;
constexpr double capitalsPass = 7, capitalsWatch = 5;  // px in the large gallery
constexpr double headWatch = 0.05, headFail = 0.30;    // share of a head
constexpr double faint = 0.5;  // an opacity that is meant to be looked through

Verdict worse(Verdict one, Verdict other) {
    return std::max(one, other);
}

void tell(Reading& reading, Verdict verdict, const PixelRect& rect, Message says) {
    if (verdict == Verdict::pass) return;
    if (verdict > reading.verdict) reading.says = says;
    reading.verdict = worse(reading.verdict, verdict);
    reading.findings.push_back({rect, {}, std::move(says)});
}

double wholePercents(double share) {
    return std::floor(share * 100);
}

Reading stampedOf(const PhotoGlance& glance, const Stamp& stamp, const Laid& laid, double share) {
    Reading reading;
    reading.id = "stamped";
    reading.unit = "share";
    reading.value = share;
    reading.limit = standsPass;
    reading.verdict = Verdict::pass;
    reading.says = {"stamped.good", {wholePercents(share)}};
    reading.shown = fmt::format("{:.0f} %", wholePercents(share));
    reading.rule = Rule{share * 100, standsPass * 100, 100};
    Verdict stands = share >= standsPass    ? Verdict::pass
                     : share >= standsWatch ? Verdict::watch
                                            : Verdict::fail;
    if (stamp.opacity < faint) stands = std::min(stands, Verdict::watch);
    tell(reading, stands, laid.box, {"stamped.lost", {wholePercents(share)}});
    if (laid.capitals > 0) {
        const double px = laid.capitals * galleryScale(glance.photo, galleryLarge);
        tell(reading,
             px >= capitalsPass    ? Verdict::pass
             : px >= capitalsWatch ? Verdict::watch
                                   : Verdict::fail,
             laid.box, {"stamped.small", {std::floor(px * 10) / 10}});
    }
    if (!stamp.tiled) {
        const double head = headIn(glance, onGlance(glance, laid.box));
        tell(reading,
             head <= headWatch  ? Verdict::pass
             : head <= headFail ? Verdict::watch
                                : Verdict::fail,
             laid.box, {"stamped.head", {wholePercents(head)}});
    }
    if (laid.madeSmaller) tell(reading, Verdict::watch, laid.box, {"stamped.made-smaller", {}});
    return reading;
}

struct Candidate {
    Chosen chosen;
    double score = 0, share = 0;
};

// How good a place is: a head counts most, then what stands out, then what is busy below it.
double scoreOf(const PhotoGlance& glance, const Laid& laid, double share) {
    constexpr double ofHead = 4, ofDetail = 0.25, enough = 0.9;
    const PixelRect box = onGlance(glance, laid.box);
    return std::min(share, enough) - ofHead * headIn(glance, box) -
           ofDetail * std::min(2.0, detailIn(glance, box));
}

}  // namespace

double galleryScale(PixelSize photo, PixelSize gallery) {
    return std::min({1.0, static_cast<double>(gallery.width) / photo.width,
                     static_cast<double>(gallery.height) / photo.height});
}

PhotoGlance shownWithin(PixelSize within, PixelSize photo, const Straight8& picture) {
    PhotoGlance glance;
    glance.photo = photo;
    PixelSize size = scaledSize(photo, galleryScale(photo, within));
    if (picture.width() < size.width) size = picture.size();
    glance.picture = resizedTo(size, picture)->clone();
    for (int y = 0; y < glance.picture.height(); ++y)  // see-through parts are seen on white
        for (int x = 0; x < glance.picture.width(); ++x) {
            std::uint32_t& p = glance.picture.row(y)[x];
            const int a = alphaOf(p);
            const auto over = [&](int v) { return (v * a + 255 * (255 - a) + 127) / 255; };
            if (a < 255) p = packed(over(redOf(p)), over(greenOf(p)), over(blueOf(p)), 255);
        }
    return glance;
}

PhotoGlance glanceOf(PixelSize photo, const Straight8& picture) {
    PhotoGlance glance = shownWithin(galleryLarge, photo, picture);
    glance.detail = detailOf(glance.picture);
    constexpr double longSide = 256;  // px: heads that matter are large enough there
    const double scale =
        std::min(1.0, longSide / std::max(glance.picture.width(), glance.picture.height()));
    for (const Face& face :
         facesIn(*resizedTo(scaledSize(glance.picture.size(), scale), glance.picture)))
        glance.heads.push_back({face.head.x / scale, face.head.y / scale, face.head.width / scale,
                                face.head.height / scale});
    return glance;
}

Result<Marks> marksOf(const Stamp& stamp, const StampFields& fields, const StampHome& home,
                      InkStore& store) {
    auto mark = markOf(stamp.what, fields, home, store);
    if (!mark) return passOn(mark.error());
    Marks marks{std::move(*mark)};
    if (!stamp.twin) return marks;
    auto twin = markOf(*stamp.twin, fields, home, store);
    if (!twin) return passOn(twin.error());
    marks.twin = std::move(*twin);
    return marks;
}

Result<Chosen> chosenFor(const PhotoGlance& glance, const Stamp& stamp, const Marks& marks,
                         const PhotoChoice& choice, InkStore& store) {
    const StampPlacing own = choice.placing.value_or(stamp.placingOn(glance.photo));
    std::vector<StampPlacing> places{own};
    if (!choice.placing && !own.centre && !stamp.tiled && own.size != StampSize::covers &&
        !stamp.corners.empty()) {
        places.clear();
        for (const StampAt at : stamp.corners) {
            places.push_back(own);
            places.back().at = at;
        }
    }
    std::optional<Candidate> best;
    for (const bool twin : {false, true}) {
        if (twin && !marks.twin) continue;
        if (choice.twin && marks.twin && *choice.twin != twin) continue;
        std::optional<SmallMark> small;
        for (const StampPlacing& place : places) {
            auto laid = laidOn(glance.photo, stamp, place, twin ? *marks.twin : marks.mark, store);
            if (!laid) return passOn(laid.error());
            if (!small) small = smallMark(laid->inks.front(), glance.scale());
            double share = 0;
            for (const Ink& ink : laid->inks) {
                share = std::max(share, standing(glance, *small, ink));
                if (laid->inks.size() > 1 && share >= standsPass)
                    break;  // one that is seen is enough
            }
            const double score = scoreOf(glance, *laid, share);
            if (best && score <= best->score) continue;
            best = Candidate{
                {std::move(*laid), place.centre ? std::nullopt : std::optional(place.at), twin, {}},
                score,
                share};
        }
    }
    best->chosen.stamped = stampedOf(glance, stamp, best->chosen.laid, best->share);
    return std::move(best->chosen);
}

Straight8 markedGlance(const PhotoGlance& glance, const Laid& laid) {
    Straight8 out = glance.picture.clone();
    if (laid.inks.empty()) return out;
    Ink small, ground;
    const SmallMark mark = smallMark(laid.inks.front(), glance.scale());
    small.eight = std::make_shared<const Straight8>(mark.faded.clone());
    ground.box = PixelRect::of(out.size());
    ground.eight = std::make_shared<const Straight8>(glance.picture.clone());
    ground.opaque = true;
    std::vector<Ink> all{ground};
    for (const Ink& ink : laid.inks) {
        const PixelPlace at = cornerOf(glance, ink);
        small.box = PixelRect::of(mark.faded.size()).moved(at.x, at.y);
        all.push_back(small);
    }
    blendOver(all, PixelRect::of(out.size()), out);
    return out;
}

}  // namespace zl
