// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/subject.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "cut/background.h"
#include "cut/subject/band_cut.h"
#include "cut/subject/chroma.h"
#include "cut/subject/enlarge.h"
#include "cut/subject/foreground.h"
#include "cut/subject/shadow.h"
#include "picture/faces.h"
#include "raster/components.h"

namespace zl {
namespace {

// A box drawn by hand, in px of the working size, at least a pixel.
PixelRect onWorking(const RealRect& box, const Working& working) {
    const auto clamp = [](double v, int most) {
        return static_cast<int>(std::clamp(v, 0.0, static_cast<double>(most)));
    };
    const PixelSize size = working.size();
    PixelRect out{clamp(std::floor(box.x * working.scale + 0.25), size.width),
                  clamp(std::floor(box.y * working.scale + 0.25), size.height),
                  clamp(std::ceil(box.right() * working.scale - 0.25), size.width),
                  clamp(std::ceil(box.bottom() * working.scale - 0.25), size.height)};
    out.left = std::min(out.left, size.width - 1);
    out.top = std::min(out.top, size.height - 1);
    out.right = std::max(out.right, out.left + 1);
    out.bottom = std::max(out.bottom, out.top + 1);
    return out;
}

// How many pixels of strokes a guess agrees with, less those it does not.
long long agreement(const Labels& guess, const Labels& touched) {
    long long sum = 0;
    for (std::size_t i = 0; i < guess.all().size(); ++i)
        if (touched.all()[i] != undecided) sum += guess.all()[i] == touched.all()[i] ? 1 : -1;
    return sum;
}

const Labels& chosenGuess(const SubjectStart& start, const SubjectCut& cut) {
    const std::vector<Labels>& all = start.guesses.labels;
    if (cut.guess > 0 || cut.strokes.empty())
        return all[std::min(all.size() - 1, static_cast<std::size_t>(cut.guess))];
    const Labels touched = drawn(cut.strokes, start.working.size(), start.working.scale);
    std::size_t best = 0;
    long long most = agreement(all.front(), touched);
    for (std::size_t i = 1; i < all.size(); ++i)
        if (const long long agreed = agreement(all[i], touched); agreed > most) {
            most = agreed;
            best = i;
        }
    return all[best];
}

Start startFor(const SubjectStart& start, const SubjectCut& cut) {
    if (start.boxed) return start.box;
    Start out{chosenGuess(start, cut), start.working.sure, {}};
    // A guess says nothing for sure: what it looks for may reach a little further.
    out.box = boxOf(out.labels, ofSubject);
    const PixelSize size = start.working.size();
    const int x = out.box.width() / 12, y = out.box.height() / 12;
    out.box = {std::max(0, out.box.left - x), std::max(0, out.box.top - y),
               std::min(size.width, out.box.right + x), std::min(size.height, out.box.bottom + y)};
    return out;
}

// The picture with sharp chroma where its smear is seen at the size that is worked at.
std::optional<Straight8> sharpFor(const Straight8& picture, int longSide, int threads) {
    constexpr int seen = 2;  // px of the picture, to one that is worked on
    if (std::max(picture.width(), picture.height()) > seen * longSide) return {};
    return withSharpChroma(picture, threads);
}

}  // namespace

Result<std::shared_ptr<const SubjectStart>> subjectStart(const Straight8& picture,
                                                         const std::optional<RealRect>& box,
                                                         int threads, const std::stop_token& stop) {
    auto out = std::make_shared<SubjectStart>();
    // A guess is no better for it (measured on 81 made JPEGs).
    const auto sharp = box ? sharpFor(picture, labelSize, threads) : std::nullopt;
    out->working = workingOf(sharp ? *sharp : picture, labelSize, threads);
    out->size = picture.size();
    const Background ground = backgroundOf(out->working.pixels);
    constexpr double flat = 0.9;
    out->flatGround = ground.exact && ground.share >= flat;
    if (box) {
        out->boxed = true;
        auto start = startOf(out->working, onWorking(*box, out->working));
        if (!start) return passOn(start.error());
        out->box = std::move(*start);
    } else {
        auto guesses = guessesOf(out->working, facesIn(out->working.pixels), stop);
        if (!guesses) return passOn(guesses.error());
        out->guesses = std::move(*guesses);
    }
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return out;
}

Result<Labels> subjectLabels(const SubjectStart& start, const SubjectCut& cut,
                             const std::stop_token& stop) {
    return refined(start.working, startFor(start, cut), cut.strokes, leaningOf(cut.edge), stop);
}

namespace {

// Places where ways of cutting differ, the largest first; not the edge itself, which is everywhere.
std::vector<PixelRect> placesOf(const Labels& differ, const Working& working, PixelSize picture) {
    const Components parts(differ.size(), Neighbours::eight,
                           [&](int x, int y) { return differ.at(x, y) == undecided; });
    const auto least = static_cast<long long>(2e-4 * static_cast<double>(differ.size().count()));
    std::vector<Components::Component> large;
    for (const Components::Component& part : parts.all())
        if (part.pixels > std::max(6LL, least)) large.push_back(part);
    std::stable_sort(large.begin(), large.end(),
                     [](const auto& a, const auto& b) { return a.pixels > b.pixels; });
    constexpr std::size_t most = 12;
    if (large.size() > most) large.resize(most);
    std::vector<PixelRect> places;
    for (const Components::Component& part : large) {
        const auto there = [&](int v) { return static_cast<int>(v / working.scale); };
        places.push_back({there(part.box.left), there(part.box.top),
                          std::min(picture.width, there(part.box.right) + 1),
                          std::min(picture.height, there(part.box.bottom) + 1)});
    }
    return places;
}

// Whether a part of the box that counts as ground is of colours that are seen nowhere outside of
// it: of the subject, most likely, or a hole in it.
bool holdsStrangers(const SubjectStart& start, const Labels& labels) {
    if (!start.boxed) return false;
    const PixelRect& box = start.box.box;
    std::vector<int> outside(labCells);
    const auto isIn = [&](int x, int y) {
        return x >= box.left && x < box.right && y >= box.top && y < box.bottom;
    };
    const Straight8& pixels = start.working.pixels;
    for (int y = 0; y < labels.height(); ++y)
        for (int x = 0; x < labels.width(); ++x)
            if (!isIn(x, y)) ++outside[labCell(pixels.row(y)[x])];
    long long strangers = 0;
    for (int y = box.top; y < box.bottom; ++y)
        for (int x = box.left; x < box.right; ++x)
            strangers += labels.at(x, y) == ofGround && outside[labCell(pixels.row(y)[x])] == 0;
    constexpr double many = 0.06;  // of the box (ours)
    return static_cast<double>(strangers) > many * static_cast<double>(box.size().count());
}

// What is plain from the labels alone.
std::vector<Message> sayingsOf(const SubjectStart& start, const SubjectReport& report,
                               const Labels& labels) {
    std::vector<Message> says;
    const PixelRect box = boxOf(labels, ofSubject);
    if (start.flatGround) says.push_back({"subject.flat", {}});
    if (!report.trusted()) says.push_back({"subject.guess", {}});
    if (box.empty()) {
        says.push_back({"subject.none", {}});
        return says;
    }
    const PixelSize size = labels.size();
    const int sides =
        (box.left == 0) + (box.top == 0) + (box.right == size.width) + (box.bottom == size.height);
    if (sides >= 3) says.push_back({"subject.fills", {}});
    if (Colours(start.working, labels, {}).apart() < 0.45) says.push_back({"subject.colours", {}});
    if (holdsStrangers(start, labels)) says.push_back({"subject.inside", {}});
    return says;
}

}  // namespace

std::optional<Message> softnessOf(const Straight8& cut) {
    double edge = 0, soft = 0;
    constexpr int half = 128, low = 26, high = 230;
    for (int y = 0; y + 1 < cut.height(); ++y)
        for (int x = 0; x + 1 < cut.width(); ++x) {
            const int a = alphaOf(cut.row(y)[x]);
            edge += (a >= half) != (alphaOf(cut.row(y)[x + 1]) >= half) ||
                    (a >= half) != (alphaOf(cut.row(y + 1)[x]) >= half);
            soft += a > low && a < high;
        }
    constexpr double blurred = 6;  // px that an edge is wide on average (ours)
    if (edge == 0 || soft / edge < blurred) return {};
    return Message{"subject.soft", {soft / edge}};
}

Result<SubjectReport> subjectReport(const SubjectStart& start, const SubjectCut& cut,
                                    const Labels& labels, const std::stop_token& stop) {
    SubjectReport out;
    if (!start.boxed && cut.strokes.empty() && cut.guess == 0) out.trust = start.guesses.trust;
    Labels differ(labels.size(), ofGround);
    const auto compare = [&](const Labels& other) {
        for (std::size_t i = 0; i < differ.all().size(); ++i)
            if (other.all()[i] != labels.all()[i]) differ.all()[i] = undecided;
    };
    for (const SubjectEdge edge :
         {SubjectEdge::asFound, SubjectEdge::tighter, SubjectEdge::fuller}) {
        if (edge == cut.edge) continue;
        SubjectCut other = cut;
        other.edge = edge;
        const auto theirs = subjectLabels(start, other, stop);
        if (!theirs) return passOn(theirs.error());
        compare(*theirs);
    }
    Labels before = startFor(start, cut).labels;
    const Labels touched = drawn(cut.strokes, labels.size(), start.working.scale);
    for (std::size_t i = 0; i < before.all().size(); ++i)
        if (touched.all()[i] != undecided) before.all()[i] = touched.all()[i];
    compare(before);
    for (std::size_t i = 0; i < differ.all().size(); ++i)
        if (touched.all()[i] != undecided) differ.all()[i] = ofGround;
    out.places = placesOf(differ, start.working, start.size);
    out.map = std::move(differ);
    const Plane depth = depthOf(labels);
    const PixelRect box = boxOf(labels, ofSubject);
    long long unsure = 0;
    for (int y = 0; y < labels.height(); ++y)
        for (int x = 0; x < labels.width(); ++x) {
            constexpr float edge = 1.5F;
            if (depth.row(y)[x] <= edge && touched.at(x, y) == undecided)
                out.map.at(x, y) = undecided;
            const bool in = x >= box.left && x < box.right && y >= box.top && y < box.bottom;
            unsure += in && out.map.at(x, y) == undecided;
        }
    if (!box.empty())
        out.unsure = static_cast<double>(unsure) / static_cast<double>(box.size().count());
    out.says = sayingsOf(start, out, labels);
    return out;
}

namespace {

Result<SubjectMatte> matteFor(const Straight8& picture, ChromaDetail chroma,
                              const SubjectStart& start, const SubjectCut& cut, int longSide,
                              int threads, const std::stop_token& stop) {
    const auto labels = subjectLabels(start, cut, stop);
    if (!labels) return passOn(labels.error());
    Working large = workingOf(picture, longSide, threads);
    const auto fine = bandCut(large, start.working, *labels, cut.strokes, leaningOf(cut.edge));
    if (!fine) return passOn(fine.error());
    const Labels touched =
        cut.strokes.empty() ? Labels{} : drawn(cut.strokes, large.size(), large.scale);
    Matte matte = matteOf(large.pixels, large.sure, *fine, touched, threads, stop, chroma);
    TwoColours two =
        coloursUnder(large.pixels, matte.alpha, cut.part == SubjectPart::filled, threads, stop);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return SubjectMatte{
        std::move(large.pixels), std::move(matte.alpha),
        std::move(two.subject),  std::move(two.ground),
        std::move(matte.known),  cut.keepsShadow ? shadowOf(start.working, *labels) : Plane()};
}

}  // namespace

Result<SubjectMatte> subjectMatte(const Straight8& picture, const SubjectStart& start,
                                  const SubjectCut& cut, int longSide, int threads,
                                  const std::stop_token& stop) {
    const auto sharp = sharpFor(picture, longSide, threads);
    return matteFor(sharp ? *sharp : picture, sharp ? ChromaDetail::halved : ChromaDetail::whole,
                    start, cut, longSide, threads, stop);
}

namespace {

// Alpha of the picture's own size and the colours under it; the colours of the smaller size are
// put right by what the picture says here.
class Laid {
  public:
    // `seen`: the picture, or the same with sharp chroma, which the matte was made of.
    Laid(const Straight8& picture, const Straight8& seen, const SubjectMatte& matte, int threads)
        : picture_(picture),
          seen_(seen),
          matte_(matte),
          same_(matte.alpha.width() == picture.width() && matte.alpha.height() == picture.height()),
          alpha_(same_ ? matte.alpha.clone()
                       : enlargedAlpha(matte.alpha, matte.picture, seen, threads)) {}

    float alpha(int x, int y) const { return alpha_.row(y)[x]; }
    // `side`: 1 the subject's, 0 the ground's.
    std::array<float, 3> colour(int x, int y, int side) const {
        const auto rgb = [](std::uint32_t p) {
            return std::array<float, 3>{static_cast<float>(redOf(p)),
                                        static_cast<float>(greenOf(p)),
                                        static_cast<float>(blueOf(p))};
        };
        const float a = alpha(x, y);
        if (side == 1 ? a >= 1 : a <= 0) return rgb(picture_.row(y)[x]);
        if (same_) return side == 1 ? matte_.subject[at(x, y)] : matte_.ground[at(x, y)];
        const std::array<float, 3> c = rgb(seen_.row(y)[x]);
        const Between there(x, y, picture_.size(), matte_.alpha.size());
        std::array<float, 3> out{};
        for (std::size_t k = 0; k < 3; ++k) {
            const float f = there.of([&](int u, int v) { return matte_.subject[at(u, v)][k]; }),
                        b = there.of([&](int u, int v) { return matte_.ground[at(u, v)][k]; });
            const float off = (c[k] - a * f - (1 - a) * b) / (a * a + (1 - a) * (1 - a));
            out[k] = std::clamp(side == 1 ? f + a * off : b + (1 - a) * off, 0.0F, 255.0F);
        }
        return out;
    }

  private:
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(matte_.alpha.width()) +
               static_cast<std::size_t>(x);
    }
    const Straight8 &picture_, &seen_;
    const SubjectMatte& matte_;
    bool same_;
    Plane alpha_;
};

int code(float v) {
    return static_cast<int>(std::lround(v));
}

// The subject's pixel over the shadow, black, that lies behind it (Porter and Duff 1984, over).
std::uint32_t overShadow(const std::array<float, 3>& ink, float alpha, float shadow, int before) {
    const float whole = alpha + (1 - alpha) * shadow;
    const float by = whole > 0 ? alpha / whole : 0;
    return packed(code(ink[0] * by), code(ink[1] * by), code(ink[2] * by),
                  code(static_cast<float>(before) * whole));
}

}  // namespace

Result<Straight8> subjectCut(const Straight8& picture, const SubjectStart& start,
                             const SubjectCut& cut, int threads, const std::stop_token& stop) {
    const auto sharp = sharpFor(picture, mattingSize, threads);
    const Straight8& seen = sharp ? *sharp : picture;
    const auto matte = matteFor(seen, sharp ? ChromaDetail::halved : ChromaDetail::whole, start,
                                cut, mattingSize, threads, stop);
    if (!matte) return passOn(matte.error());
    const Laid laid(picture, seen, *matte, threads);
    const bool subject = cut.part == SubjectPart::subject;
    const Plane& shadow = matte->shadow;
    Straight8 out(picture.size());
    overRows(picture.height(), 16, threads, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < picture.width(); ++x) {
                const int before = alphaOf(picture.row(y)[x]);
                const float a = laid.alpha(x, y);
                const auto c = laid.colour(x, y, subject ? 1 : 0);
                if (subject && !shadow.empty()) {
                    const Between there(x, y, picture.size(), shadow.size());
                    const float dark = there.of([&](int u, int v) { return shadow.row(v)[u]; });
                    out.row(y)[x] = overShadow(c, a, dark, before);
                    continue;
                }
                const float stays = subject ? a : cut.part == SubjectPart::ground ? 1 - a : 1;
                out.row(y)[x] = packed(code(c[0]), code(c[1]), code(c[2]),
                                       code(static_cast<float>(before) * stays));
            }
    });
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    return out;
}

}  // namespace zl
