// SPDX-License-Identifier: GPL-3.0-or-later
// Icons of known alpha laid on grounds as people photograph and save them, cut out again by the
// colour key.
#include <fmt/core.h>
#include <numeric>

#include <cmath>
#include <random>

#include "corpus.h"
#include "cut/cut.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "raster/components.h"
#include "words/words.h"

namespace zl::truth {
namespace {

constexpr int frame = 320, rim = 32;  // px; an icon of 256 px stands in the middle

using Ground = std::function<std::array<double, 3>(int x, int y)>;

struct Laid {
    Straight8 picture;
    std::vector<double> alpha;       // of each pixel of the frame, 0..1
    std::array<double, 3> ground{};  // its colour in the middle
    std::vector<std::uint32_t> ink;  // the icon's own straight pixels

    static std::size_t at(int x, int y) {
        return static_cast<std::size_t>(y) * frame + static_cast<std::size_t>(x);
    }
    double alphaAt(int x, int y) const { return alpha[at(x, y)]; }
    std::uint32_t inkAt(int x, int y) const { return ink[at(x, y)]; }
};

Laid laid(const Straight8& icon, const Ground& ground) {
    Laid out{Straight8({frame, frame}),
             std::vector<double>(static_cast<std::size_t>(frame) * frame),
             {},
             {}};
    out.ground = ground(frame / 2, frame / 2);
    for (int y = 0; y < frame; ++y)
        for (int x = 0; x < frame; ++x) {
            const auto b = ground(x, y);
            const int ix = x - rim, iy = y - rim;
            const std::uint32_t p = ix >= 0 && iy >= 0 && ix < icon.width() && iy < icon.height()
                                        ? icon.row(iy)[ix]
                                        : 0;
            const double a = alphaOf(p) / 255.0;
            out.alpha[Laid::at(x, y)] = a;
            out.ink.push_back(p);
            const auto mix = [&](int v, std::size_t c) {
                return static_cast<int>(
                    std::lround(std::clamp(v * a + b[c] * (1 - a), 0.0, 255.0)));
            };
            out.picture.row(y)[x] =
                packed(mix(redOf(p), 0), mix(greenOf(p), 1), mix(blueOf(p), 2), 255);
        }
    return out;
}

// Sums over the outer edge pixels of one icon.
struct Edge {
    double pixels = 0;
    double error = 0;  // of alpha
    // The error that is left to whoever is told the true colour of the nearest solid pixel, and of
    // that one within two pixels which serves best: what could be reached by knowing the icon.
    double toldNearest = 0, toldBest = 0;

    double mean() const { return pixels > 0 ? error / pixels : 0; }
    std::string told() const {
        return fmt::format("{:.3f} / {:.3f}", toldNearest / pixels, toldBest / pixels);
    }
    void add(const Edge& o) {
        pixels += o.pixels;
        error += o.error;
        toldNearest += o.toldNearest;
        toldBest += o.toldBest;
    }
};

struct Judged {
    double lost = 0, left = 0;  // share of the ink; share of the ground
    double alike = 0;  // share of the ink that has the ground's own colour all the way to it
    Edge edge;
    Edge soft;            // partly covered pixels within 6 px of open ground, shadows and glows too
    bool warned = false;  // in so many words, beside what is noted of good ones, too
    bool noted = false;
    bool spotted = false;  // told of spots that stand alone
    bool good() const { return lost <= 0.05 && left <= 0.002; }
};

// Alpha at a pixel by each solid colour within two pixels, told; what of the error is left.
void tellTheColour(const Laid& scene, const Straight8& picture, int x, int y, Edge& sums) {
    const auto from = [&](std::uint32_t p) {
        return std::array<double, 3>{redOf(p) - scene.ground[0], greenOf(p) - scene.ground[1],
                                     blueOf(p) - scene.ground[2]};
    };
    const std::array<double, 3> seen = from(picture.row(y)[x]);
    double best = 1, nearest = 1;
    int distance = 9;
    for (int v = std::max(0, y - 2); v <= std::min(frame - 1, y + 2); ++v)
        for (int u = std::max(0, x - 2); u <= std::min(frame - 1, x + 2); ++u) {
            if (scene.alphaAt(u, v) < 1) continue;
            const std::array<double, 3> ink = from(scene.inkAt(u, v));
            const double length = std::inner_product(ink.begin(), ink.end(), ink.begin(), 0.0);
            if (length < 1) continue;
            const double told = std::clamp(
                std::inner_product(ink.begin(), ink.end(), seen.begin(), 0.0) / length, 0.0, 1.0);
            const double error = std::abs(told - scene.alphaAt(x, y));
            best = std::min(best, error);
            const int far = (u - x) * (u - x) + (v - y) * (v - y);
            if (far >= distance) continue;
            distance = far;
            nearest = error;
        }
    sums.toldBest += best;
    sums.toldNearest += nearest;
}

// Whether one of `those` lies within 6 px.
bool isNear(const std::vector<char>& those, int x, int y) {
    constexpr int reach = 6;
    for (int v = std::max(0, y - reach); v <= std::min(frame - 1, y + reach); ++v)
        for (int u = std::max(0, x - reach); u <= std::min(frame - 1, x + reach); ++u)
            if (those[Laid::at(u, v)] != 0) return true;
    return false;
}

Judged judged(const Laid& scene, const Straight8& picture) {
    Judged out;
    const KeyCut key;
    const KeySight sight(picture, key);
    const KeyReport report = sight.report();
    out.warned = report.trouble.has_value();
    const std::vector<Message> notes = notesOf(report, key);
    out.noted = out.warned || !notes.empty();
    out.spotted = std::ranges::any_of(
        notes, [](const Message& note) { return note.id.starts_with("key.spot"); });
    const Straight8 cut = sight.cut();
    double ink = 0, lost = 0, ground = 0, left = 0;
    // Ground that ink closes in is offered, not taken; and where the ink has the ground's own
    // colour nobody can tell its edge.
    const Components open({frame, frame}, Neighbours::four,
                          [&](int x, int y) { return scene.alpha[Laid::at(x, y)] <= 0; });
    std::vector<char> outside(scene.alpha.size());
    for (const Components::Run& run : open.runs())
        if (open.of(run).touchesRim)
            for (int x = run.from; x < run.to; ++x) outside[Laid::at(x, run.y)] = 1;
    for (int y = 1; y + 1 < frame; ++y)
        for (int x = 1; x + 1 < frame; ++x) {
            const double a = scene.alphaAt(x, y), now = alphaOf(cut.row(y)[x]) / 255.0;
            ink += a;
            lost += std::max(0.0, a - now);
            if (outside[Laid::at(x, y)]) {
                ground += 1;
                left += now;
            }
            if (a <= 0 || a >= 1) continue;
            if (isNear(outside, x, y)) {
                out.soft.error += std::abs(a - now);
                out.soft.pixels += 1;
            }
            // Coverage of solid ink, not a see-through line or shadow beside it; and of ink that is
            // not of the ground's colour.
            const std::uint32_t own = scene.inkAt(x, y);
            const std::array<double, 3> ownColour{redOf(own) * 1.0, greenOf(own) * 1.0,
                                                  blueOf(own) * 1.0};
            if (awayFrom(own, scene.ground) < 32) continue;
            // An outer edge: clear and solid within two pixels, and nothing that covers more
            // stands between it and what is clear.
            bool clear = false, solid = false;
            for (int dy = -2; dy <= 2; ++dy)
                for (int dx = -2; dx <= 2; ++dx) {
                    const int px = std::clamp(x + dx, 0, frame - 1),
                              py = std::clamp(y + dy, 0, frame - 1);
                    clear |= outside[Laid::at(px, py)] != 0 &&
                             scene.alphaAt((x + px) / 2, (y + py) / 2) <= a;
                    solid |= scene.alphaAt(px, py) >= 1 &&
                             awayFrom(scene.inkAt(px, py), ownColour) <= 24;
                }
            if (!clear || !solid) continue;
            out.edge.error += std::abs(a - now);
            out.edge.pixels += 1;
            tellTheColour(scene, picture, x, y, out.edge);
        }
    // Three code values are less than a JPEG of quality 85 is off by.
    const Components alike({frame, frame}, Neighbours::four, [&](int x, int y) {
        return awayFrom(scene.picture.row(y)[x], scene.ground) <= 3;
    });
    double same = 0;
    for (const Components::Run& run : alike.runs())
        for (int x = run.from; x < run.to && alike.of(run).touchesRim; ++x)
            same += scene.alphaAt(x, run.y);
    out.alike = ink > 0 ? same / ink : 0;
    out.lost = ink > 0 ? lost / ink : 0;
    out.left = ground > 0 ? left / ground : 0;
    return out;
}

Straight8 saved(const Straight8& picture, int quality) {
    if (quality == 0) return picture.clone();
    return test::good(decode(test::good(encode(
                                 picture, {Content::jpeg, quality, Chroma::half, Effort::quick})),
                             "laid.jpg"))
        .pixels->clone();
}

struct Shares {
    double lost = 0, left = 0, good = 0,
           quiet = 0,    // percent of the icons; quiet: neither good nor warned
        silent = 0;      // neither good nor a word said
    double spotted = 0;  // good, and told of spots all the same
    int lostAlike = 0;   // of those that lose ink, over 5 % of which has the ground's own colour
    int lostIcons = 0;
    Edge edge, soft;  // of all icons
};

// Each `every`-th icon.
Shares over(const std::string& what, const std::function<Ground(std::size_t)>& ground, int quality,
            std::size_t every = 1) {
    const auto icons = items("large");
    std::vector<Item> all;
    for (std::size_t i = 0; i < icons.size(); i += every) all.push_back(icons[i]);
    std::vector<Judged> seen(all.size());
    forAll(all, [&](std::size_t i) {
        const Laid scene = laid(pictureOf(all[i]), ground(i));
        seen[i] = judged(scene, saved(scene.picture, quality));
        if (seen[i].edge.mean() > 0.15)
            list("edge " + what, all[i], fmt::format("{:.3f}", seen[i].edge.mean()));
        if (!seen[i].good())
            list(
                what, all[i],
                fmt::format("lost {:.1f} % left {:.2f} %{}", 100 * seen[i].lost, 100 * seen[i].left,
                            seen[i].warned  ? " warned"
                            : seen[i].noted ? " noted"
                                            : " silent"));
    });
    Shares out;
    const double each = 100.0 / static_cast<double>(all.size());
    for (const Judged& j : seen) {
        out.lost += each * (j.lost > 0.05);
        out.left += each * (j.left > 0.002);
        out.good += each * j.good();
        out.quiet += each * (!j.good() && !j.warned);
        out.silent += each * (!j.good() && !j.noted);
        out.spotted += each * (j.good() && j.spotted);
        out.lostIcons += j.lost > 0.05;
        out.lostAlike += j.lost > 0.05 && j.alike > 0.05;
        out.edge.add(j.edge);
        out.soft.add(j.soft);
    }
    return out;
}

Ground flat(std::array<double, 3> colour) {
    return [colour](int, int) { return colour; };
}
const std::array<double, 3> white{255, 255, 255}, green{0, 177, 64};

TEST(Key, LosesNoInkAndLeavesNoGroundOfAJpeg) {
    const Shares onWhite = over(
        "white JPEG", [](std::size_t) { return flat(white); }, 85);
    const Shares onGreen = over(
        "green JPEG", [](std::size_t) { return flat(green); }, 85);
    row("key, JPEG 85 on white: icons that lose over 5 % of their ink",
        fmt::format("{:.1f} %", onWhite.lost), "≤ 2 %");
    row(fmt::format(
            "of these {}, icons of whose ink over 5 % has the ground's own colour (within 3) "
            "up to the ground",
            onWhite.lostIcons),
        fmt::format("{}", onWhite.lostAlike), "–");
    row("icons in JPEGs with a fault of one of these kinds that nothing warned of, white / green",
        fmt::format("{:.1f} % / {:.1f} %", onWhite.quiet, onGreen.quiet), "–");
    row("of which nothing at all was said, white / green",
        fmt::format("{:.1f} % / {:.1f} %", onWhite.silent, onGreen.silent), "–");
    row("key, JPEG 85: icons with over 0.2 % of the ground left, white / green",
        fmt::format("{:.1f} % / {:.1f} %", onWhite.left, onGreen.left), "≤ 5 % / ≤ 5 %");
    row("keyed well there and told of spots that stand alone all the same, white / green",
        fmt::format("{:.1f} % / {:.1f} %", onWhite.spotted, onGreen.spotted), "≤ 10 %");
    row("mean α error on outer edge pixels, JPEG 85, white / green",
        fmt::format("{:.3f} / {:.3f}", onWhite.edge.mean(), onGreen.edge.mean()), "0.05 / 0.08");
    row("the same on white, had one been told the true colour of the nearest solid pixel / of the "
        "best",
        onWhite.edge.told(), "–");
    row("the same on green, told alike", onGreen.edge.told(), "–");
    // The goals stand in the table; not all are met. The bounds keep what has been reached.
    EXPECT_LE(onWhite.lost, 5);
    EXPECT_LE(onWhite.left, 5);
    EXPECT_LE(onGreen.left, 5);
    EXPECT_LE(onWhite.edge.mean(), 0.05);
    EXPECT_LE(onGreen.edge.mean(), 0.08);
}

TEST(Key, SolvesALosslessEdge) {
    const Shares onWhite = over(
        "white PNG", [](std::size_t) { return flat(white); }, 0);
    row("mean α error on outer edge pixels, PNG on white",
        fmt::format("{:.3f}", onWhite.edge.mean()), "0.012");
    row("the same, had one been told the true colour of the nearest solid pixel / of the best "
        "within 2 px",
        onWhite.edge.told(), "–");
    row("mean α error of all partly covered pixels within 6 px of open ground, PNG on white",
        fmt::format("{:.3f}", onWhite.soft.mean()), "–");
    row("key, PNG on white: icons that lose over 5 % of their ink / ground left",
        fmt::format("{:.1f} % / {:.1f} %", onWhite.lost, onWhite.left), "–");
    EXPECT_LE(onWhite.edge.mean(), 0.025)
        << "the goal is not met yet; this bound keeps what has been reached";
    EXPECT_LE(onWhite.soft.mean(), 0.12);  // 0.145 while shadows at a foot were light ink
    EXPECT_LE(onWhite.left, 1);
}

TEST(Key, FollowsAGroundThatDriftsOrIsPaper) {
    const Shares drift = over(
        "drift",
        [](std::size_t i) -> Ground {
            const std::array<double, 3> from = i % 3 == 0   ? std::array<double, 3>{228, 230, 226}
                                               : i % 3 == 1 ? std::array<double, 3>{60, 150, 90}
                                                            : std::array<double, 3>{90, 130, 200};
            const double turn = static_cast<double>(i) * 0.7;
            return [from, turn](int x, int y) {
                const double t = 12.5 * (std::cos(turn) * (2.0 * x / frame - 1) +
                                         std::sin(turn) * (2.0 * y / frame - 1));
                return std::array<double, 3>{from[0] + t, from[1] + t, from[2] + t};
            };
        },
        0);
    const Shares paper = over(
        "paper",
        [](std::size_t i) -> Ground {
            auto grain =
                std::make_shared<std::vector<float>>(static_cast<std::size_t>(frame) * frame * 3);
            std::mt19937 random(static_cast<unsigned>(i));
            std::normal_distribution<float> normal(0, 1.5f);
            for (float& v : *grain) v = normal(random);
            const double turn = static_cast<double>(i) * 1.3;
            return [grain, turn](int x, int y) {
                const double t =
                    4 * std::sin(2.5 * x / frame + turn) + 4 * std::cos(2.0 * y / frame + 2 * turn);
                const std::size_t at =
                    3 * (static_cast<std::size_t>(y) * frame + static_cast<std::size_t>(x));
                return std::array<double, 3>{238 + t + static_cast<double>((*grain)[at]),
                                             236 + t + static_cast<double>((*grain)[at + 1]),
                                             228 + t + static_cast<double>((*grain)[at + 2])};
            };
        },
        0);
    row("keyed well on a ground that drifts by 25 levels / on paper (σ 1.5 and slow drift), "
        "lossless",
        fmt::format("{:.0f} % / {:.0f} %", drift.good, paper.good), "≥ 85 %");
    row("of them neither keyed well nor warned of",
        fmt::format("{:.1f} % / {:.1f} %", drift.quiet, paper.quiet), "0");
    row("of them not keyed well without a word",
        fmt::format("{:.1f} % / {:.1f} %", drift.silent, paper.silent), "0");
    EXPECT_GE(drift.good, 95);
    EXPECT_GE(paper.good, 95);
    EXPECT_EQ(drift.silent, 0);
    EXPECT_EQ(paper.silent, 0);
}

// Sky, wall and water out of focus, as cameras took them: their grain is no white noise, and they
// drift as they like.
TEST(Key, CutsFromNearlyFlatGroundsOfPhotographs) {
    std::vector<std::shared_ptr<const Straight8>> grounds;
    for (const Item& item : items("grounds"))
        grounds.push_back(std::make_shared<Straight8>(pictureOf(item)));
    const auto onOne = [&](std::size_t i) -> Ground {
        return [ground = grounds[i % grounds.size()]](int x, int y) {
            const std::uint32_t p = ground->row(y)[x];
            return std::array<double, 3>{redOf(p) * 1.0, greenOf(p) * 1.0, blueOf(p) * 1.0};
        };
    };
    const Shares lossless = over("real ground", onOne, 0, 2),
                 jpeg = over("real ground JPEG", onOne, 85, 2);
    row(fmt::format("keyed well on {} nearly flat grounds of photographs, lossless / JPEG 85",
                    grounds.size()),
        fmt::format("{:.0f} % / {:.0f} %", lossless.good, jpeg.good), "≥ 85 %");
    row("of them neither keyed well nor warned of",
        fmt::format("{:.1f} % / {:.1f} %", lossless.quiet, jpeg.quiet), "0");
    row("of them not keyed well without a word",
        fmt::format("{:.1f} % / {:.1f} %", lossless.silent, jpeg.silent), "0");
    row("keyed well there and told of spots that stand alone all the same",
        fmt::format("{:.1f} % / {:.1f} %", lossless.spotted, jpeg.spotted), "≤ 10 %");
    EXPECT_GE(lossless.good, 72) << "the goal is not met yet on both halves; this keeps what is";
    EXPECT_GE(jpeg.good, 72);
    EXPECT_LE(lossless.silent, 5);
    EXPECT_LE(jpeg.silent, 5);
}

// A photograph has no flat ground: the key says so, or what stays of nearly the ground's colour.
// Only an eye's ground, photographed for a doctor, is a disc on black, and is keyed as such.
TEST(Key, APhotographIsNotKeyedWithoutAWord) {
    auto all = items("photos");
    std::erase_if(all, [](const Item& item) { return item.name.starts_with("retina"); });
    std::vector<int> quiet(all.size());
    forAll(all, [&](std::size_t i) {
        const KeyReport report = reportOf(pictureOf(all[i]), {});
        quiet[i] = !report.trouble && notesOf(report, {}).empty();
        if (quiet[i]) list("photo keyed", all[i]);
    });
    const auto count = std::count(quiet.begin(), quiet.end(), 1);
    row(fmt::format("photographs without a flat ground, of {}, keyed without a word", all.size()),
        fmt::format("{}", count), "0");
    EXPECT_EQ(count, 0);
}

}  // namespace
}  // namespace zl::truth
