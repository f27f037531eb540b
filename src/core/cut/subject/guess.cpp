// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/guess.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <queue>

#include "colour/colour_rows.h"
#include "raster/components.h"

namespace zl {
namespace {

constexpr int guessSize = 200;

using Lab3 = std::array<Plane, 3>;

Lab3 labPlanes(const Straight8& pixels) {
    Lab3 lab{Plane(pixels.size()), Plane(pixels.size()), Plane(pixels.size())};
    for (int y = 0; y < pixels.height(); ++y)
        labRow(pixels.row(y), pixels.width(), lab[0].row(y), lab[1].row(y), lab[2].row(y));
    return lab;
}

void stretch(Plane& map) {
    float least = 1e30F, most = -1e30F;
    for (int y = 0; y < map.height(); ++y)
        for (int x = 0; x < map.width(); ++x) {
            least = std::min(least, map.row(y)[x]);
            most = std::max(most, map.row(y)[x]);
        }
    const float by = most > least ? 1 / (most - least) : 0;
    for (int y = 0; y < map.height(); ++y)
        for (int x = 0; x < map.width(); ++x) map.row(y)[x] = (map.row(y)[x] - least) * by;
}

// From the rim inwards, the least range of values that a way has to pass, by scans.
void addBarrier(Plane& out, const Plane& channel) {
    const PixelSize size = channel.size();
    Plane low = channel.clone(), high = channel.clone(), far(size, 1e9F);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (x == 0 || y == 0 || x == size.width - 1 || y == size.height - 1) far.row(y)[x] = 0;
    const auto relax = [&](int x, int y, int u, int v) {
        if (u < 0 || v < 0 || u >= size.width || v >= size.height || far.row(v)[u] > 1e8F) return;
        const float own = channel.row(y)[x];
        const float l = std::min(low.row(v)[u], own), h = std::max(high.row(v)[u], own);
        if (h - l >= far.row(y)[x]) return;
        far.row(y)[x] = h - l;
        low.row(y)[x] = l;
        high.row(y)[x] = h;
    };
    for (int pass = 0; pass < 2; ++pass) {
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                relax(x, y, x - 1, y);
                relax(x, y, x, y - 1);
            }
        for (int y = size.height - 1; y >= 0; --y)
            for (int x = size.width - 1; x >= 0; --x) {
                relax(x, y, x + 1, y);
                relax(x, y, x, y + 1);
            }
    }
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) out.row(y)[x] += far.row(y)[x];
}

// The picture in some 250 patches of like colour (k-means over colour and place, as SLIC; Achanta
// et al. 2012).
struct Patches {
    Cells<int> of;
    std::vector<std::array<float, 5>> middle;  // L, a, b, x, y
    std::vector<int> pixels, rim;
};

Patches patchesOf(const Lab3& lab) {
    const PixelSize size = lab[0].size();
    const double wide = std::sqrt(static_cast<double>(size.count()) / 250);
    const int step = std::max(4, static_cast<int>(wide));
    Patches out{Cells<int>(size, 0), {}, {}, {}};
    for (int y = step / 2; y < size.height; y += step)
        for (int x = step / 2; x < size.width; x += step)
            out.middle.push_back({lab[0].row(y)[x], lab[1].row(y)[x], lab[2].row(y)[x],
                                  static_cast<float>(x), static_cast<float>(y)});
    if (out.middle.empty()) out.middle.push_back({});
    const float compact = 20.0F / static_cast<float>(step);
    for (int round = 0; round < 5; ++round) {
        Plane best(size, 1e9F);
        for (std::size_t k = 0; k < out.middle.size(); ++k) {
            const auto& m = out.middle[k];
            const int cx = static_cast<int>(m[3]), cy = static_cast<int>(m[4]);
            for (int y = std::max(0, cy - 2 * step); y < std::min(size.height, cy + 2 * step); ++y)
                for (int x = std::max(0, cx - 2 * step); x < std::min(size.width, cx + 2 * step);
                     ++x) {
                    const float l = lab[0].row(y)[x] - m[0], a = lab[1].row(y)[x] - m[1],
                                b = lab[2].row(y)[x] - m[2],
                                u = compact * (static_cast<float>(x) - m[3]),
                                v = compact * (static_cast<float>(y) - m[4]);
                    const float d = l * l + a * a + b * b + u * u + v * v;
                    if (d < best.row(y)[x]) {
                        best.row(y)[x] = d;
                        out.of.at(x, y) = static_cast<int>(k);
                    }
                }
        }
        std::vector<std::array<double, 5>> sums(out.middle.size());
        out.pixels.assign(out.middle.size(), 0);
        out.rim.assign(out.middle.size(), 0);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const auto k = static_cast<std::size_t>(out.of.at(x, y));
                const double add[5] = {lab[0].row(y)[x], lab[1].row(y)[x], lab[2].row(y)[x],
                                       static_cast<double>(x), static_cast<double>(y)};
                for (std::size_t i = 0; i < 5; ++i) sums[k][i] += add[i];
                ++out.pixels[k];
                out.rim[k] += x == 0 || y == 0 || x == size.width - 1 || y == size.height - 1;
            }
        for (std::size_t k = 0; k < sums.size(); ++k)
            for (std::size_t i = 0; i < 5 && out.pixels[k] > 0; ++i)
                out.middle[k][i] = static_cast<float>(sums[k][i] / out.pixels[k]);
    }
    return out;
}

float colourDistance(const std::array<float, 5>& a, const std::array<float, 5>& b) {
    return std::hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
}

std::vector<std::vector<int>> neighboursOf(const Patches& patches) {
    std::vector<std::vector<int>> out(patches.middle.size());
    const auto meet = [&](int a, int b) {
        if (a == b) return;
        auto& list = out[static_cast<std::size_t>(a)];
        if (std::find(list.begin(), list.end(), b) != list.end()) return;
        list.push_back(b);
        out[static_cast<std::size_t>(b)].push_back(a);
    };
    const Cells<int>& of = patches.of;
    for (int y = 0; y < of.height(); ++y)
        for (int x = 0; x < of.width(); ++x) {
            if (x + 1 < of.width()) meet(of.at(x, y), of.at(x + 1, y));
            if (y + 1 < of.height()) meet(of.at(x, y), of.at(x, y + 1));
        }
    // The rim leads round the picture.
    int last = -1;
    for (std::size_t k = 0; k < patches.rim.size(); ++k)
        if (patches.rim[k] > 0) {
            if (last >= 0) meet(last, static_cast<int>(k));
            last = static_cast<int>(k);
        }
    return out;
}

// How likely each patch is ground: it, and what it leads to without a change of colour, lies along
// the rim for long against its area.
std::vector<float> groundness(const Patches& patches) {
    const auto neighbours = neighboursOf(patches);
    const std::size_t n = patches.middle.size();
    std::vector<float> out(n);
    constexpr float spread = 10;
    for (std::size_t from = 0; from < n; ++from) {
        std::vector<float> far(n, 1e9F);
        std::priority_queue<std::pair<float, int>, std::vector<std::pair<float, int>>,
                            std::greater<>>
            todo;
        far[from] = 0;
        todo.emplace(0.0F, static_cast<int>(from));
        while (!todo.empty()) {
            const auto [d, at] = todo.top();
            todo.pop();
            if (d > far[static_cast<std::size_t>(at)] || d > 4 * spread) continue;
            for (const int to : neighbours[static_cast<std::size_t>(at)]) {
                const float next =
                    d +
                    std::max(0.0F, colourDistance(patches.middle[static_cast<std::size_t>(at)],
                                                  patches.middle[static_cast<std::size_t>(to)]) -
                                       3);
                if (next < far[static_cast<std::size_t>(to)]) {
                    far[static_cast<std::size_t>(to)] = next;
                    todo.emplace(next, to);
                }
            }
        }
        double area = 0, length = 0;
        for (std::size_t k = 0; k < n; ++k) {
            const double near = std::exp(-far[k] * far[k] / (2 * spread * spread));
            area += near * patches.pixels[k];
            length += near * patches.rim[k];
        }
        const double connected = area > 0 ? length / std::sqrt(area) : 0;
        out[from] = static_cast<float>(1 - std::exp(-connected * connected / 2));
    }
    return out;
}

// How much each pixel's patch differs from patches that are ground, near ones first.
Plane groundContrast(const Patches& patches, const std::vector<float>& ground) {
    const PixelSize size = patches.of.size();
    const float longest = static_cast<float>(std::max(size.width, size.height));
    std::vector<float> value(patches.middle.size());
    for (std::size_t i = 0; i < value.size(); ++i) {
        for (std::size_t k = 0; k < value.size(); ++k) {
            const auto &a = patches.middle[i], &b = patches.middle[k];
            const float away = std::hypot(a[3] - b[3], a[4] - b[4]) / longest;
            value[i] += colourDistance(a, b) * std::exp(-away * away / 0.32F) * ground[k] *
                        static_cast<float>(patches.pixels[k]);
        }
        value[i] *= 1 - 0.7F * ground[i];
    }
    Plane out(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            out.row(y)[x] = value[static_cast<std::size_t>(patches.of.at(x, y))];
    stretch(out);
    return out;
}

// The threshold that parts a map best in two (Otsu 1979).
float partingOf(const Plane& map) {
    std::array<double, 64> counts{};
    double all = 0, sum = 0;
    for (int y = 0; y < map.height(); ++y)
        for (int x = 0; x < map.width(); ++x) {
            const int bin = std::clamp(static_cast<int>(map.row(y)[x] * 64), 0, 63);
            counts[static_cast<std::size_t>(bin)] += 1;
            all += 1;
            sum += bin;
        }
    double below = 0, belowSum = 0, best = -1;
    int at = 31;
    for (int i = 0; i < 63; ++i) {
        below += counts[static_cast<std::size_t>(i)];
        belowSum += i * counts[static_cast<std::size_t>(i)];
        if (below == 0 || below == all) continue;
        const double apart = belowSum / below - (sum - belowSum) / (all - below);
        const double between = below * (all - below) * apart * apart;
        if (between > best) {
            best = between;
            at = i;
        }
    }
    return static_cast<float>(at + 1) / 64;
}

std::vector<Plane> mapsOf(const Working& working) {
    const Lab3 lab = labPlanes(working.pixels);
    const PixelSize size = working.size();
    Plane barrier(size);
    for (const Plane& channel : lab) addBarrier(barrier, channel);
    stretch(barrier);
    const Patches patches = patchesOf(lab);
    Plane contrast = groundContrast(patches, groundness(patches));
    Plane both(size), central(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double u = (x + 0.5) / size.width - 0.5, v = (y + 0.5) / size.height - 0.5;
            const auto centre = static_cast<float>(std::exp(-(u * u + v * v) / (2 * 0.3 * 0.3)));
            both.row(y)[x] = barrier.row(y)[x] * 0.5F + contrast.row(y)[x] * 0.5F;
            central.row(y)[x] = both.row(y)[x] * centre;
        }
    stretch(both);
    stretch(central);
    std::vector<Plane> maps;
    maps.push_back(std::move(central));
    maps.push_back(std::move(both));
    maps.push_back(std::move(contrast));
    maps.push_back(std::move(barrier));
    return maps;
}

// What is labelled subject by a map and a threshold; its box; all undecided but what is
// see-through.
Start startFrom(const Plane& map, float over, const Working& working) {
    Start start{Labels(map.size()), working.sure, {}};
    for (int y = 0; y < map.height(); ++y)
        for (int x = 0; x < map.width(); ++x)
            if (map.row(y)[x] >= over && working.sure.at(x, y) == undecided)
                start.labels.at(x, y) = ofSubject;
    start.box = boxOf(start.labels, ofSubject);
    return start;
}

// How good a guess looks: neither small nor all, apart in colour, away from the rim, in one piece.
double meritOf(const Working& working, const Labels& labels) {
    const PixelSize size = labels.size();
    double area = 0, rim = 0, rims = 0, edge = 0, edges = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const bool subject = labels.at(x, y) == ofSubject;
            area += subject;
            // A person stands on the lower side: that one tells nothing.
            if (x == 0 || y == 0 || x == size.width - 1) {
                rims += 1;
                rim += subject;
            }
            if (x + 1 < size.width && labels.at(x + 1, y) != labels.at(x, y)) {
                edges += 1;
                edge += 1 - working.link(x, y, 1, 0);
            }
            if (y + 1 < size.height && labels.at(x, y + 1) != labels.at(x, y)) {
                edges += 1;
                edge += 1 - working.link(x, y, 0, 1);
            }
        }
    area /= static_cast<double>(size.count());
    if (area < 0.005 || area > 0.95) return -1;
    const double sized = std::min({1.0, area / 0.06, (0.95 - area) / 0.35});
    const double whole = std::min(
        1.0, 8 * std::sqrt(area * static_cast<double>(size.count())) / std::max(1.0, edges));
    return Colours(working, labels, {}).apart() + 1.2 * (edges > 0 ? edge / edges : 0) +
           0.5 * sized + 0.6 * whole - 1.5 * rim / std::max(1.0, rims);
}

// The heads that are as large as the largest, as boxes of the smaller working size.
std::vector<RealRect> headsOf(std::span<const Face> faces, double scale) {
    std::vector<RealRect> out;
    double largest = 0;
    for (const Face& face : faces) largest = std::max(largest, face.head.height);
    for (const Face& face : faces)
        if (face.head.height > 0.6 * largest)
            out.push_back({face.head.x * scale, face.head.y * scale, face.head.width * scale,
                           face.head.height * scale});
    return out;
}

// What is in the heads, and the shoulders under them down to the picture's end.
Start startFromHeads(const std::vector<RealRect>& heads, const Working& working) {
    const PixelSize size = working.size();
    Start start{Labels(size), working.sure, {}};
    for (const RealRect& head : heads) {
        const RealPoint c = head.centre();
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double u = (x + 0.5 - c.x) / head.width, v = (y + 0.5 - c.y) / head.height;
                const bool inHead = u * u + v * v < 0.25;
                const bool inBody = v > 0.4 && std::abs(u) < std::min(1.2, 0.35 + 1.1 * (v - 0.4));
                if ((inHead || inBody) && working.sure.at(x, y) == undecided)
                    start.labels.at(x, y) = ofSubject;
            }
    }
    start.box = boxOf(start.labels, ofSubject);
    return start;
}

// The share of the heads that a guess holds, 0..1; 1 without heads.
double headShare(const std::vector<RealRect>& heads, const Labels& labels) {
    double held = 0, all = 0;
    for (const RealRect& head : heads)
        for (int y = std::max(0, static_cast<int>(head.y));
             y < std::min<double>(labels.height(), head.bottom()); ++y)
            for (int x = std::max(0, static_cast<int>(head.x));
                 x < std::min<double>(labels.width(), head.right()); ++x) {
                all += 1;
                held += labels.at(x, y) == ofSubject;
            }
    return all > 0 ? std::min(1.0, held / (0.7 * all)) : 1;
}

// A guess that lies in pieces, or reaches three sides of the picture, is not to be taken unasked,
// however well the ways agree: on photographs they agree on several things at once (ours).
double trustedFor(const Labels& labels) {
    const Components parts(labels.size(), Neighbours::eight,
                           [&](int x, int y) { return labels.at(x, y) == ofSubject; });
    long long all = 0, largest = 0;
    for (const Components::Component& part : parts.all()) {
        all += part.pixels;
        largest = std::max(largest, part.pixels);
    }
    const PixelRect box = boxOf(labels, ofSubject);
    const int sides = (box.left == 0) + (box.top == 0) + (box.right == labels.width()) +
                      (box.bottom == labels.height());
    constexpr double unsure = 0.8;
    const double whole = all > 0 ? static_cast<double>(largest) / static_cast<double>(all) : 0;
    return sides >= 3 ? std::min(unsure, whole) : whole;
}

using Ways = std::vector<std::pair<double, Labels>>;

// Each way to guess with how good it looks.
Result<Ways> waysOf(const Working& small, const std::vector<RealRect>& heads,
                    const std::stop_token& stop) {
    std::vector<Start> starts;
    for (const Plane& map : mapsOf(small)) {
        const float parting = partingOf(map);
        for (const float over : {parting, std::min(0.95F, parting * 1.35F)})
            starts.push_back(startFrom(map, over, small));
    }
    if (!heads.empty()) starts.push_back(startFromHeads(heads, small));
    Ways ways;
    for (const Start& start : starts) {
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        if (start.box.empty()) continue;
        auto labels = refined(small, start, {}, leaningOf(SubjectEdge::asFound), stop);
        if (!labels) return passOn(labels.error());
        const double merit = meritOf(small, *labels);
        const double faced = 1.5 * (1 - headShare(heads, *labels));
        ways.emplace_back(merit < 0 ? merit : std::max(0.0, merit - faced), std::move(*labels));
    }
    return ways;
}

}  // namespace

Result<Guesses> guessesOf(const Working& working, std::span<const Face> faces,
                          const std::stop_token& stop) {
    Working small = workingOf(working.pixels, guessSize);
    small.sure = enlarged(working.sure, small.size());
    const auto made = waysOf(small, headsOf(faces, small.scale), stop);
    if (!made) return passOn(made.error());
    const Ways& ways = *made;
    // What other ways agree with is likelier.
    std::vector<double> merits;
    for (const auto& [own, labels] : ways) {
        double agreed = 0;
        for (const auto& [theirs, other] : ways) agreed += overlapOf(labels, other);
        merits.push_back(own < 0 ? own : own + agreed / static_cast<double>(ways.size()));
    }
    std::vector<std::size_t> order(ways.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return merits[a] > merits[b]; });
    Guesses out;
    std::vector<const Labels*> taken;
    for (const std::size_t i : order) {
        if (merits[i] < 0) continue;
        constexpr double alike = 0.9;
        if (std::any_of(taken.begin(), taken.end(), [&](const Labels* other) {
                return overlapOf(*other, ways[i].second) > alike;
            }))
            continue;
        taken.push_back(&ways[i].second);
        out.labels.push_back(enlarged(ways[i].second, working.size()));
    }
    if (out.labels.empty()) {
        Labels middle(working.size());
        for (int y = middle.height() / 4; y < middle.height() - middle.height() / 4; ++y)
            for (int x = middle.width() / 4; x < middle.width() - middle.width() / 4; ++x)
                middle.at(x, y) = ofSubject;
        out.labels.push_back(std::move(middle));
        return out;
    }
    std::vector<double> overlaps;
    for (std::size_t i = 0; i < ways.size(); ++i)
        if (i != order.front())
            overlaps.push_back(overlapOf(ways[order.front()].second, ways[i].second));
    if (!overlaps.empty()) {
        std::sort(overlaps.begin(), overlaps.end());
        out.trust = std::min(overlaps[overlaps.size() / 2], trustedFor(ways[order.front()].second));
    }
    return out;
}

}  // namespace zl
