// SPDX-License-Identifier: GPL-3.0-or-later
// How often readings speak on clean, professionally made icons, and whether a full matte in the
// same icons is told.
#include <fmt/core.h>

#include <map>

#include "colour/colour.h"
#include "corpus.h"
#include "encode/encode.h"
#include "measure/measure.h"
#include "readings/edge_facts.h"
#include "words/words.h"

namespace zl::truth {
namespace {

double percent(std::size_t part, std::size_t of) {
    return of == 0 ? 0 : 100.0 * static_cast<double>(part) / static_cast<double>(of);
}

TEST(Icons, CleanOnesAreLeftInPeace) {
    const auto all = items("icons");
    struct Seen {
        std::map<std::string, Verdict> verdicts;
        std::map<std::string, std::string> says;
    };
    std::vector<Seen> seen(all.size());
    forAll(all, [&](std::size_t i) {
        const auto read = test::good(readPictureFile(test::good(readFile(all[i].file)), "mark.png",
                                                     test::brief("corner-mark")));
        for (const Reading& r : read.readings) {
            seen[i].verdicts[r.id] = r.verdict;
            seen[i].says[r.id] = english(r.says);
        }
    });
    std::map<std::string, std::size_t> speaks, fails;
    std::map<std::string, std::pair<std::size_t, std::size_t>> families;
    std::size_t silent = 0;
    for (std::size_t i = 0; i < all.size(); ++i) {
        bool any = false;
        for (const auto& [id, verdict] : seen[i].verdicts) {
            if (verdict < Verdict::watch || id == "frame") continue;
            any = true;
            ++speaks[id];
            fails[id] += verdict == Verdict::fail;
            list(id, all[i], seen[i].says[id]);
        }
        silent += !any;
        ++families[all[i].family].second;
        families[all[i].family].first += seen[i].verdicts["fringe"] >= Verdict::watch;
    }
    const auto of = all.size();
    row(fmt::format("`fringe` fails on {} clean icons at 150 px", of),
        fmt::format("{:.1f} %", percent(fails["fringe"], of)), "≤ 2 %");
    std::string worst;
    double most = -1;
    for (const auto& [name, counts] : families)
        if (percent(counts.first, counts.second) > most) {
            most = percent(counts.first, counts.second);
            worst = name;
        }
    row("`fringe` speaks (watch or fail) on them",
        fmt::format("{:.1f} % (the worst family {:.0f} %)", percent(speaks["fringe"], of), most),
        "≤ 10 %");
    EXPECT_LE(percent(fails["fringe"], of), 2);
    EXPECT_LE(percent(speaks["fringe"], of), 10);
    row("nothing speaks but `frame`", fmt::format("{:.0f} %", percent(silent, of)), "≥ 50 %");
    EXPECT_GE(percent(silent, of), 50);
    for (const ReadingRow& reading : allReadings()) {
        const std::string id(reading.id);
        if (id == "fringe" || id == "frame" || !seen[0].verdicts.contains(id)) continue;
        row(fmt::format("`{}` speaks on them", id),
            fmt::format("{:.1f} %", percent(speaks[id], of)), "≤ 10 %");
        EXPECT_LE(percent(speaks[id], of), 10) << id;
    }
}

// The damage the eye would meet, from the icon itself: the 90th percentile over its crisp edge, on
// the worst of three backdrops.
double trueDamage(const Straight8& clean, const Straight8& matted) {
    std::vector<double> damage;
    for (const Spot& s : edgePixelsOf(clean).crisp) {
        const std::uint32_t p = clean.row(s.y)[s.x], q = matted.row(s.y)[s.x];
        const double a = alphaOf(p) / 255.0;
        double most = 0;
        for (const double b : {255.0, 0.0, 128.0}) {
            const auto over = [&](std::uint32_t c) {
                return labOf(redOf(c) * a + b * (1 - a), greenOf(c) * a + b * (1 - a),
                             blueOf(c) * a + b * (1 - a));
            };
            most = std::max(most, differenceCie2000(over(p), over(q)));
        }
        damage.push_back(most);
    }
    if (damage.size() < 40) return 0;
    std::sort(damage.begin(), damage.end());
    return damage[damage.size() * 9 / 10];
}

TEST(Icons, AFullMatteIsTold) {
    const auto all = items("icons");
    std::size_t judged = 0, missed = 0;
    for (const auto& [name, ground] : std::map<std::string, std::array<int, 3>>{
             {"white", {255, 255, 255}}, {"black", {0, 0, 0}}, {"green", {0, 177, 64}}}) {
        std::vector<int> state(all.size());
        forAll(all, [&](std::size_t i) {
            const Straight8 clean = pictureOf(all[i]);
            const Straight8 matted = test::painted(clean.size(), [&](int x, int y) {
                const std::uint32_t p = clean.row(y)[x];
                const int a = alphaOf(p);
                if (a == 0) return 0u;
                const auto mix = [&](int v, int b) { return (v * a + b * (255 - a) + 127) / 255; };
                return packed(mix(redOf(p), ground[0]), mix(greenOf(p), ground[1]),
                              mix(blueOf(p), ground[2]), a);
            });
            // What is well over the limit of a fail must at least be spoken of.
            if (trueDamage(clean, matted) <= 12) return;
            const auto read = test::good(
                readPictureFile(test::png(matted), "mark.png", test::brief("corner-mark")));
            state[i] = test::one(read.readings, "fringe").verdict >= Verdict::watch ? 1 : 2;
            if (state[i] == 2)
                list("missed " + name, all[i], english(test::one(read.readings, "fringe").says));
        });
        for (const int s : state) {
            judged += s > 0;
            missed += s == 2;
        }
    }
    row(fmt::format(
            "full mattes of white, black and green missed, of {} that the eye meets (ΔE00 over 12)",
            judged),
        fmt::format("{:.1f} %", percent(missed, judged)), "≤ 2 %");
    EXPECT_LE(percent(missed, judged), 2);
}

}  // namespace
}  // namespace zl::truth
