// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/regions.h"

#include <algorithm>
#include <cmath>

#include "cut/codes.h"
#include "cut/edge_scan.h"
#include "raster/components.h"

namespace zl {
namespace {

constexpr int darkest =
    12;  // alpha: what is fainter counts as background of a picture that has alpha already

// How far the mean of the 5 x 5 px round each pixel is from the background, a channel, the most of
// the three: a grain is a fifth as strong there, and light ink within it shows. Cut at the frame.
Codes meanAway(const Straight8& picture, const std::array<double, 3>& background) {
    constexpr int reach = 2;
    const int w = picture.width(), h = picture.height();
    Codes out(picture.size());
    using Sum = std::array<int, 3>;
    const auto code = [](double v) { return static_cast<int>(std::lround(v)); };
    const Sum ground{code(background[0]), code(background[1]), code(background[2])};
    std::vector<Sum> columns(static_cast<std::size_t>(w));  // of the rows round this one
    const auto addRow = [&](int y, int sign) {
        if (y < 0 || y >= h) return;
        for (int x = 0; x < w; ++x) {
            Sum& sum = columns[static_cast<std::size_t>(x)];
            const std::uint32_t p = picture.row(y)[x];
            const bool seen = alphaOf(p) >= darkest;
            sum[0] += sign * (seen ? redOf(p) : ground[0]);
            sum[1] += sign * (seen ? greenOf(p) : ground[1]);
            sum[2] += sign * (seen ? blueOf(p) : ground[2]);
        }
    };
    for (int y = -reach; y < reach; ++y) addRow(y, 1);
    for (int y = 0; y < h; ++y) {
        addRow(y + reach, 1);
        addRow(y - reach - 1, -1);
        const int rows = std::min(h - 1, y + reach) - std::max(0, y - reach) + 1;
        for (int x = 0; x < w; ++x) {
            const int from = std::max(0, x - reach), to = std::min(w - 1, x + reach);
            double most = 0;
            for (std::size_t c = 0; c < 3; ++c) {
                int sum = 0;
                for (int sx = from; sx <= to; ++sx) sum += columns[static_cast<std::size_t>(sx)][c];
                most = std::max(most, std::abs(static_cast<double>(sum) / (rows * (to - from + 1)) -
                                               background[c]));
            }
            out.row(y)[x] = static_cast<std::uint8_t>(std::lround(std::min(255.0, most)));
        }
    }
    return out;
}

// Follows the background from where it is sure. A crack of one or two pixels in a thin rim is no
// way in, light ink that is flat is not background however near its colour is, and what noise hides
// belongs to what it is nearer to.
class Follow {
  public:
    Follow(const Straight8& picture, const KeyCut& key, const KeyPlan& plan)
        : picture_(picture),
          key_(key),
          grainy_(plan.ground && plan.ground->grain > 0 && !key.tolerance),
          away_(picture.size()),
          owner_(picture.size()) {
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x) {
                const std::uint32_t p = picture.row(y)[x];
                away_.row(y)[x] = alphaOf(p) < darkest
                                      ? std::uint8_t{0}
                                      : static_cast<std::uint8_t>(std::ceil(
                                            std::max(0.0, awayFrom(p, plan.background) - 0.25)));
            }
        wide_ = static_cast<int>(plan.noise.tolerance);
        constexpr int blocks = 2;  // code values that a JPEG's flat blocks are off by
        tight_ = key.tolerance || !plan.exact ? wide_ : std::min(wide_, blocks);
        ringing_ = static_cast<int>(std::ceil(ringing(plan.noise)));
        calm_ = grainy_ ? meanAway(picture, plan.background) : away_;
        flat_ = grainy_ ? std::min(tight_,
                                   offTheFit + static_cast<int>(std::lround(plan.ground->grain)))
                        : tight_;
    }

    // What was found to be ink though it is near the background's colour.
    bool isInk(int x, int y) const { return owner_.row(y)[x] == ink; }

    Regions run() {
        seedFlat();
        if (wide_ > flat_) seedPlateaus();
        if (wide_ > tight_) followNoise();
        seedClosed();
        spread();
        Regions out(picture_.size());
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                if (owner_.row(y)[x] == ground) out.row(y)[x] = Region::background;
        return out;
    }

  private:
    enum Owner : std::uint8_t { nobody, ground, ink };
    static constexpr int offTheFit = 2;  // code values that a grainy ground's drift is off by

    void own(const Components::Run& run, Owner owner) {
        std::fill(owner_.row(run.y) + run.from, owner_.row(run.y) + run.to, owner);
        auto& ring = owner == ground ? grounds_ : inks_;
        for (int x = run.from; x < run.to; ++x) ring.push_back({x, run.y});
    }

    // The farthest from the background of each pixel and its neighbours.
    Codes roomyAway() const { return square(away_, key_.tolerance ? 0 : 1, greater); }

    // What is flat with room round it: background that is reached, and closed areas that are not.
    void seedFlat() {
        const Codes roomy = roomyAway();
        const Components flat(picture_.size(), Neighbours::four, [&](int x, int y) {
            return roomy.row(y)[x] <= tight_ && calm_.row(y)[x] <= flat_;
        });
        int linked = -1;
        if (key_.from) {
            const Components::Run* at = runNear(flat, static_cast<int>(std::floor(key_.from->x)),
                                                static_cast<int>(std::floor(key_.from->y)));
            if (at) linked = at->component;
        }
        for (const Components::Run& run : flat.runs()) {
            const auto& area = flat.of(run);
            const bool reached = (key_.everywhere &&
                                  (area.touchesRim || area.pixels >= leastHole(picture_.size()))) ||
                                 (key_.from ? run.component == linked : area.touchesRim);
            if (reached) own(run, ground);
        }
        // A margin of one pixel has no room, and is reached all the same; so is the very pixel that
        // was clicked.
        const int w = picture_.width(), h = picture_.height();
        if (key_.from && linked < 0)
            ownPixel(static_cast<int>(std::floor(key_.from->x)),
                     static_cast<int>(std::floor(key_.from->y)));
        if (key_.from && !key_.everywhere) return;
        for (int x = 0; x < w; ++x)
            for (const int y : {0, h - 1}) ownPixel(x, y);
        for (int y = 0; y < h; ++y)
            for (const int x : {0, w - 1}) ownPixel(x, y);
    }
    void ownPixel(int x, int y) {
        if (!PixelRect::of(picture_.size()).contains(x, y) || owner_.row(y)[x] != nobody ||
            away_.row(y)[x] > tight_)
            return;
        own({y, x, x + 1, 0}, ground);
    }
    // Closed areas of the background's colour hold what is beside them, too; a small pocket behind
    // a crack is background.
    void seedClosed() {
        constexpr int large = 8;  // times the least hole
        const Codes roomy = roomyAway();
        const Components closed(picture_.size(), Neighbours::four, [&](int x, int y) {
            return owner_.row(y)[x] == nobody && roomy.row(y)[x] <= tight_ &&
                   calm_.row(y)[x] <= flat_;
        });
        for (const Components::Run& run : closed.runs())
            if (closed.of(run).pixels >= large * leastHole(picture_.size())) own(run, ink);
    }
    // What has room and is background but for noise, from the background that is sure.
    void followNoise() {
        Codes mask(picture_.size());
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                mask.row(y)[x] = owner_.row(y)[x] == ink || away_.row(y)[x] > wide_;
        const Codes roomy = square(mask, 1, greater);
        const Components noisy(picture_.size(), Neighbours::four,
                               [&](int x, int y) { return roomy.row(y)[x] == 0; });
        std::vector<char> reached(noisy.all().size());
        for (const Components::Run& run : noisy.runs())
            for (int x = run.from; x < run.to && !reached[static_cast<std::size_t>(run.component)];
                 ++x)
                reached[static_cast<std::size_t>(run.component)] = owner_.row(run.y)[x] == ground;
        for (const Components::Run& run : noisy.runs())
            for (int x = run.from; x < run.to && reached[static_cast<std::size_t>(run.component)];
                 ++x)
                if (away_.row(run.y)[x] <= tight_ && owner_.row(run.y)[x] == nobody)
                    own({run.y, x, x + 1, 0}, ground);
    }
    // The run at a point, or within two pixels of it.
    static const Components::Run* runNear(const Components& parts, int x, int y) {
        const Components::Run* best = nullptr;
        int nearest = 3;
        for (const Components::Run& run : parts.runs()) {
            const int dx = x < run.from  ? run.from - x
                           : x >= run.to ? x - run.to + 1
                                         : 0,
                      off = std::max(dx, std::abs(run.y - y));
            if (off < nearest) {
                nearest = off;
                best = &run;
            }
        }
        return best;
    }

    // Flat areas a little off the background: light ink, unless they grow out of it without an
    // edge, as a soft shadow does.
    void seedPlateaus() {
        constexpr int calm = 3, gradual = 3;  // code values
        constexpr double step = 0.5;          // of a plateau's height, within the reach of a mean
        const Codes high = square(calm_, 2, greater), low = square(calm_, 2, lesser);
        Codes besideGround(picture_.size());
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                besideGround.row(y)[x] = owner_.row(y)[x] == ground;
        const Codes nearGround = square(besideGround, 2, greater);
        const Codes foot = grainy_ ? square(calm_, 5, lesser) : calm_;
        const Codes head = grainy_ ? square(calm_, 5, greater) : calm_;
        // What is farther off is no background, whatever it grows out of.
        const int most = grainy_ ? std::max(2 * wide_, ringing_) : 2 * wide_;
        const auto inside = [&](int x, int y) {
            return owner_.row(y)[x] == nobody && calm_.row(y)[x] > flat_ &&
                   calm_.row(y)[x] <= most && high.row(y)[x] - low.row(y)[x] <= calm;
        };
        const Components plateaus(picture_.size(), Neighbours::eight, inside);
        struct Rim {
            long long all = 0, soft = 0, sum = 0;
        };
        std::vector<Rim> rims(plateaus.all().size());
        for (const Components::Run& run : plateaus.runs())
            for (int x = run.from; x < run.to; ++x)
                rims[static_cast<std::size_t>(run.component)].sum += calm_.row(run.y)[x];
        for (const Components::Run& run : plateaus.runs()) {
            Rim& rim = rims[static_cast<std::size_t>(run.component)];
            const double mean =
                static_cast<double>(rim.sum) / static_cast<double>(plateaus.of(run).pixels);
            // A mean goes up over any edge: there, soft is what does not go up at once.
            const auto isSoft = [&](int x) {
                const int own = calm_.row(run.y)[x];
                return grainy_ ? own - foot.row(run.y)[x] < step * mean : own <= flat_ + gradual;
            };
            for (int x = run.from; x < run.to; ++x) {
                const bool edge = x == run.from || x + 1 == run.to || run.y == 0 ||
                                  run.y + 1 == picture_.height() || !inside(x, run.y - 1) ||
                                  !inside(x, run.y + 1);
                if (grainy_) {
                    const bool open = edge && head.row(run.y)[x] <= most;
                    rim.all += open;
                    rim.soft += open && isSoft(x);
                    continue;
                }
                rim.all += edge;
                rim.soft += edge && nearGround.row(run.y)[x] && isSoft(x);
            }
        }
        for (const Components::Run& run : plateaus.runs())
            if (const Rim& rim = rims[static_cast<std::size_t>(run.component)];
                isBroad(plateaus.of(run)) && 4 * rim.soft <= rim.all)
                own(run, ink);
    }

    // Ringing along a straight edge is flat, too, but no broader than a block.
    bool isBroad(const Components::Component& plateau) const {
        constexpr long long broad = 6;  // px, beside the two that are seen on each side
        return plateau.pixels >=
               std::max(leastHole(picture_.size()),
                        broad * std::max(plateau.box.width(), plateau.box.height()));
    }

    // What lies between goes to whom it is nearer to, step by step.
    void spread() {
        for (std::vector<Spot> next; !grounds_.empty() || !inks_.empty();) {
            step(grounds_, ground, next);
            step(inks_, ink, next);
        }
    }
    void step(std::vector<Spot>& ring, Owner owner, std::vector<Spot>& next) {
        next.clear();
        const auto offer = [&](int x, int y) {
            if (x < 0 || y < 0 || x >= picture_.width() || y >= picture_.height()) return;
            if (owner_.row(y)[x] != nobody || away_.row(y)[x] > wide_) return;
            owner_.row(y)[x] = owner;
            next.push_back({x, y});
        };
        for (const Spot& s : ring) {
            offer(s.x - 1, s.y);
            offer(s.x + 1, s.y);
            offer(s.x, s.y - 1);
            offer(s.x, s.y + 1);
        }
        std::swap(ring, next);
    }

    const Straight8& picture_;
    const KeyCut& key_;
    bool grainy_;
    // How far each pixel is from the background, and on a grainy ground the mean round it.
    Codes away_, calm_{{}}, owner_;
    // Code values: what noise hides; what is the ground's own colour; the same of a mean.
    int wide_ = 1, tight_ = 1, flat_ = 1, ringing_ = 12;
    std::vector<Spot> grounds_, inks_;
};

// A soft shadow: smooth, darker than the background by one factor in all channels, and grown from
// it without a step, darker and darker.
class ShadowSearch {
  public:
    ShadowSearch(const Straight8& picture, const KeyPlan& plan, const Follow& followed,
                 Regions& regions)
        : picture_(picture),
          followed_(followed),
          regions_(regions),
          noise_(plan.noise),
          b_(plan.background),
          tolerance_(plan.noise.tolerance),
          drifts_(plan.ground.has_value()),
          // A JPEG's ringing on white is grey, too; a grain alone has its strays.
          ringing_(ringing(plan.noise)),
          strays_(plan.ground ? strays * tolerance_ : ringing_) {
        square_ = b_[0] * b_[0] + b_[1] * b_[1] + b_[2] * b_[2];
    }

    void run() {
        if (square_ < 900) return;  // nothing is darker than black
        grow();
        leaveSmallOrCrisp();
    }

  private:
    static constexpr double strays = 1.6;  // times the tolerance
    static constexpr double faint = 4;     // code values: hardly darker than the background
    static constexpr int look = 6;         // px inwards, to see whether it goes on getting darker

    // How much of the background's light is left, 0..1; nothing where the colour is no darkened
    // background.
    std::optional<double> lightLeft(int x, int y) const {
        const std::uint32_t p = picture_.row(y)[x];
        const double r = redOf(p), g = greenOf(p), bl = blueOf(p);
        const double left = (r * b_[0] + g * b_[1] + bl * b_[2]) / square_;
        constexpr double least = 0.03;
        if (left >= 1 || left <= least) return {};
        if (std::max({std::abs(r - left * b_[0]), std::abs(g - left * b_[1]),
                      std::abs(bl - left * b_[2])}) > 2 + 1.6 * tolerance_)
            return {};
        return left;
    }
    bool isSmooth(int x, int y) const {
        std::array<int, 3> low{255, 255, 255}, high{0, 0, 0};
        for (int sy = std::max(0, y - 1); sy <= std::min(picture_.height() - 1, y + 1); ++sy)
            for (int sx = std::max(0, x - 1); sx <= std::min(picture_.width() - 1, x + 1); ++sx)
                for (std::size_t c = 0; c < 3; ++c) {
                    const int v = static_cast<int>(picture_.row(sy)[sx] >> 8 * c & 255u);
                    low[c] = std::min(low[c], v);
                    high[c] = std::max(high[c], v);
                }
        return std::max({high[0] - low[0], high[1] - low[1], high[2] - low[2]}) <=
               2 * (10 + tolerance_ / 2);
    }
    double away(int x, int y) const { return awayFrom(picture_.row(y)[x], b_); }
    Region at(int x, int y) const { return regions_.row(y)[x]; }
    bool beside(int x, int y, Region what) const {
        const int w = picture_.width(), h = picture_.height();
        return (x > 0 && at(x - 1, y) == what) || (x + 1 < w && at(x + 1, y) == what) ||
               (y > 0 && at(x, y - 1) == what) || (y + 1 < h && at(x, y + 1) == what);
    }

    void offer(int x, int y, double outside) {
        if (x < 0 || y < 0 || x >= picture_.width() || y >= picture_.height() ||
            at(x, y) != Region::ink)
            return;
        if (followed_.isInk(x, y)) return;
        // What is lighter again than the shadow that led here is ink that stands in it.
        if (away(x, y) < outside - 1 - tolerance_ || !lightLeft(x, y) || !isSmooth(x, y)) return;
        regions_.row(y)[x] = Region::shadow;
        todo_.push_back({x, y});
    }
    void grow() {
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                if (at(x, y) == Region::ink && beside(x, y, Region::background)) offer(x, y, 0);
        for (std::size_t i = 0; i < todo_.size(); ++i) {
            const Spot s = todo_[i];
            const double own = away(s.x, s.y);
            offer(s.x - 1, s.y, own);
            offer(s.x + 1, s.y, own);
            offer(s.x, s.y - 1, own);
            offer(s.x, s.y + 1, own);
        }
    }

    double mostAway(int x, int y, int reach) const {
        double most = 0;
        for (int sy = std::max(0, y - reach); sy <= std::min(picture_.height() - 1, y + reach);
             ++sy)
            for (int sx = std::max(0, x - reach); sx <= std::min(picture_.width() - 1, x + reach);
                 ++sx)
                if (at(sx, sy) == Region::shadow) most = std::max(most, away(sx, sy));
        return most;
    }
    // Where a part of the shadow that is 3 px and more from the background is near. Narrower parts,
    // as along an upright side, cannot go on getting darker.
    Codes nearBroadPart() const {
        constexpr int deep = 3;  // px
        constexpr std::uint8_t yes = 255;
        Codes covered(picture_.size());
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                covered.row(y)[x] = at(x, y) == Region::background ? 0 : yes;
        Codes broad = square(covered, deep, lesser);
        for (int y = 0; y < picture_.height(); ++y)
            for (int x = 0; x < picture_.width(); ++x)
                if (at(x, y) != Region::shadow) broad.row(y)[x] = 0;
        return square(broad, look, greater);
    }

    // Small and narrow patches are noise, or a soft edge; those that begin as dark as they go on
    // are light ink with a crisp edge.
    void leaveSmallOrCrisp() {
        const Components patches(picture_.size(), Neighbours::eight,
                                 [&](int x, int y) { return at(x, y) == Region::shadow; });
        if (patches.all().empty()) return;
        struct Rim {
            long long all = 0, ink = 0;       // pixels beside background; beside ink
            long long judged = 0, crisp = 0;  // of the former, where the patch is broad; of these
            long long faint = 0;              // hardly darker than the background beside them
            double darkest = 0;
        };
        const Codes broad = nearBroadPart();
        std::vector<Rim> rims(patches.all().size());
        for (const Components::Run& run : patches.runs())
            for (int x = run.from; x < run.to; ++x) {
                Rim& rim = rims[static_cast<std::size_t>(run.component)];
                rim.darkest = std::max(rim.darkest, away(x, run.y));
                rim.ink += beside(x, run.y, Region::ink);
                if (!beside(x, run.y, Region::background)) continue;
                ++rim.all;
                rim.faint += away(x, run.y) <= faint;
                if (!drifts_ && broad.row(run.y)[x] == 0) continue;
                ++rim.judged;
                constexpr double alike = 0.7;
                rim.crisp += mostAway(x, run.y, 2) >= alike * mostAway(x, run.y, look) + 1;
            }
        constexpr long long leastPatch = 120;
        constexpr int leastWidth = 5;
        // Light ink is entered through a gap, and closed in by ink.
        const auto isClosedIn = [](const Rim& rim) { return 5 * rim.all < 2 * rim.ink; };
        // Between ink and ground, and out to nothing nearly all along it: light ink has an edge.
        const auto fadesOut = [&](const Rim& rim) {
            return !noise_.lossy && 5 * rim.faint >= 4 * rim.all && 2 * rim.ink >= rim.all &&
                   rim.darkest > faint;
        };
        for (const Components::Run& run : patches.runs()) {
            const auto& patch = patches.of(run);
            const Rim& rim = rims[static_cast<std::size_t>(run.component)];
            const bool thin =
                patch.pixels < leastWidth * (patch.box.width() + patch.box.height()) &&
                (drifts_ || 2 * rim.judged < rim.all);
            const bool narrow = patch.pixels < leastPatch || thin;
            const bool crisp = 2 * rim.crisp > rim.judged || rim.judged == 0;
            // Beside a grainy ground that is so dark only where it rings or is ink: ink is crisp.
            const bool rings = noise_.lossy && rim.darkest <= ringing_ &&
                               (narrow || !crisp || rim.darkest <= strays_);
            if (rings)
                std::fill(regions_.row(run.y) + run.from, regions_.row(run.y) + run.to,
                          Region::background);
            else if (((narrow || crisp) && !fadesOut(rim)) || isClosedIn(rim))
                std::fill(regions_.row(run.y) + run.from, regions_.row(run.y) + run.to,
                          Region::ink);
        }
    }

    const Straight8& picture_;
    const Follow& followed_;
    Regions& regions_;
    const Noise& noise_;
    std::array<double, 3> b_;
    double tolerance_;
    bool drifts_;
    double ringing_, strays_, square_ = 0;
    std::vector<Spot> todo_;
};

// What noise has left of the background, near ink or alone: a JPEG's blocks ring, a grain has its
// strays. It is near the background's colour and no clear ink is beside it.
void takeLeftovers(const Straight8& picture, const KeyPlan& plan, Regions& regions) {
    if (!plan.noise.lossy) return;
    const double high = ringing(plan.noise);
    const int w = picture.width(), h = picture.height();
    constexpr int beside = 1;
    // Clear ink, in pieces of some pixels; and how far each pixel is from it along its row, then
    // along its column.
    const Components clear(picture.size(), Neighbours::eight, [&](int x, int y) {
        return regions.row(y)[x] == Region::ink &&
               awayFrom(picture.row(y)[x], plan.background) > high;
    });
    constexpr long long leastPiece = 6;
    std::vector<std::uint8_t> inkRow(static_cast<std::size_t>(picture.size().count())),
        near(inkRow.size());
    const auto place = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(w) +
               static_cast<std::size_t>(x);
    };
    bool any = false;
    for (const Components::Run& run : clear.runs()) {
        if (clear.of(run).pixels < leastPiece) continue;
        any = true;
        for (int x = std::max(0, run.from - beside); x < std::min(w, run.to + beside); ++x)
            inkRow[place(x, run.y)] = 1;
    }
    if (!any) return;  // all ink is as faint as what noise leaves
    for (int y = 0; y < h; ++y)
        for (int sy = std::max(0, y - beside); sy <= std::min(h - 1, y + beside); ++sy)
            for (int x = 0; x < w; ++x) near[place(x, y)] |= inkRow[place(x, sy)];
    // Strays are small; light ink goes on.
    const Components strays(picture.size(), Neighbours::eight, [&](int x, int y) {
        return regions.row(y)[x] == Region::ink && !near[place(x, y)] &&
               awayFrom(picture.row(y)[x], plan.background) <= 2 * high;
    });
    constexpr long long largestStray = 64;  // px: a block
    constexpr int thin = 3;                 // px: a line along the edge of ink
    // Within two pixels of background: what ink closes in is its own.
    Codes background(picture.size());
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) background.row(y)[x] = regions.row(y)[x] == Region::background;
    const Codes reached = square(background, 2, greater);
    std::vector<char> open(strays.all().size());
    for (const Components::Run& run : strays.runs())
        for (int x = run.from; x < run.to; ++x)
            open[static_cast<std::size_t>(run.component)] |= reached.row(run.y)[x] != 0;
    for (const Components::Run& run : strays.runs())
        if (const auto& stray = strays.of(run);
            open[static_cast<std::size_t>(run.component)] &&
            (stray.pixels <= largestStray ||
             stray.pixels <= thin * std::max(stray.box.width(), stray.box.height())))
            std::fill(regions.row(run.y) + run.from, regions.row(run.y) + run.to,
                      Region::background);
}

}  // namespace

double ringing(const Noise& noise) {
    return std::clamp(2.2 * noise.tolerance + 6, 12.0, 40.0);
}

long long leastHole(PixelSize size) {
    return std::max(30LL, size.count() / 4000);
}

Regions regionsOf(const Straight8& level, const KeyCut& key, const KeyPlan& plan) {
    Follow follow(level, key, plan);
    Regions regions = follow.run();
    if (key.shadow != KeyShadow::off) ShadowSearch(level, plan, follow, regions).run();
    takeLeftovers(level, plan, regions);
    return regions;
}

}  // namespace zl
