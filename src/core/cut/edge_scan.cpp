// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/edge_scan.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "base/parallel.h"

namespace zl {
namespace {

using Row = std::vector<std::uint8_t>;

void alphasOf(const Straight8& ink, int y, std::uint8_t* out) {
    const std::uint32_t* row = ink.row(std::clamp(y, 0, ink.height() - 1));
    for (int x = 0; x < ink.width(); ++x) out[x] = static_cast<std::uint8_t>(row[x] >> 24);
}

bool hasWithin(const Straight8& ink, int x, int y, bool full) {
    constexpr int reach = 2;  // px; of the 5 x 5 square the corners lie 2.83 away, farther than 2.5
    for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx) {
            if (std::abs(dx) + std::abs(dy) == 4) continue;
            const int sx = x + dx, sy = y + dy;
            if (sx < 0 || sy < 0 || sx >= ink.width() || sy >= ink.height()) continue;
            const int a = alphaOf(ink.row(sy)[sx]);
            if (full ? a >= edge::full : a <= edge::clear) return true;
        }
    return false;
}

// Points where the contour crosses between the boundary pixels that hang together with `at` inside
// the window.
struct Moments {
    double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0, syy = 0, outX = 0, outY = 0;
    void add(double x, double y) {
        n += 1;
        sx += x;
        sy += y;
        sxx += x * x;
        sxy += x * y;
        syy += y * y;
    }
};

int alphaAt(const Straight8& ink, int x, int y) {
    return alphaOf(ink.row(std::clamp(y, 0, ink.height() - 1))[std::clamp(x, 0, ink.width() - 1)]);
}

constexpr std::array<Spot, 4> besides{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};

bool isBoundary(const Straight8& ink, int x, int y) {
    if (x < 0 || y < 0 || x >= ink.width() || y >= ink.height() ||
        alphaAt(ink, x, y) < edge::contour)
        return false;
    return std::any_of(besides.begin(), besides.end(), [&](const Spot& o) {
        return alphaAt(ink, x + o.x, y + o.y) < edge::contour;
    });
}

}  // namespace

const std::vector<Spot>& nearestFirst(int reach) {
    static const std::vector<std::vector<Spot>> all = [] {
        std::vector<std::vector<Spot>> made(farthestReach + 1);
        for (int r = 0; r <= farthestReach; ++r) {
            auto& out = made[static_cast<std::size_t>(r)];
            for (int y = -r; y <= r; ++y)
                for (int x = -r; x <= r; ++x)
                    if (x * x + y * y <= r * r) out.push_back({x, y});
            std::stable_sort(out.begin(), out.end(), [](const Spot& a, const Spot& b) {
                return a.x * a.x + a.y * a.y < b.x * b.x + b.y * b.y;
            });
        }
        return made;
    }();
    return all[static_cast<std::size_t>(std::clamp(reach, 0, farthestReach))];
}

bool isDeep(const Straight8& ink, int x, int y, bool deeper) {
    if (alphaOf(ink.row(y)[x]) < edge::opaque) return false;
    // The nearest centres beyond a 3 x 3 are 2 px away, beyond a 5 x 5 they are 3.
    const int reach = deeper ? 2 : 1;
    for (int sy = std::max(0, y - reach); sy <= std::min(ink.height() - 1, y + reach); ++sy)
        for (int sx = std::max(0, x - reach); sx <= std::min(ink.width() - 1, x + reach); ++sx)
            if (alphaOf(ink.row(sy)[sx]) <= edge::clear) return false;
    return true;
}

EdgePixels edgePixelsOf(const Straight8& ink, int threads) {
    const int w = ink.width(), h = ink.height();
    std::vector<EdgePixels> bands(static_cast<std::size_t>((h + 31) / 32));
    overRows(h, 32, threads, [&](int from, int to) {
        EdgePixels& out = bands[static_cast<std::size_t>(from / 32)];
        const auto width = static_cast<std::size_t>(w);
        std::vector<Row> rows(5, Row(width));
        Row low(width), high(width);
        for (int k = 0; k < 4; ++k)
            alphasOf(ink, from - 2 + k, rows[static_cast<std::size_t>(k)].data());
        for (int y = from; y < to; ++y) {
            alphasOf(ink, y + 2, rows[4].data());
            for (std::size_t x = 0; x < width; ++x) {
                low[x] = std::min({rows[0][x], rows[1][x], rows[2][x], rows[3][x], rows[4][x]});
                high[x] = std::max({rows[0][x], rows[1][x], rows[2][x], rows[3][x], rows[4][x]});
            }
            const Row &above = rows[1], &here = rows[2], &below = rows[3];
            for (int x = 0; x < w;) {
                // Quickly over stretches where nothing changes.
                constexpr int stretch = 32;
                const int end = std::min(w, x + stretch);
                std::uint8_t least = 255, most = 0;
                for (int i = std::max(0, x - 2); i < std::min(w, end + 2); ++i) {
                    least = std::min(least, low[static_cast<std::size_t>(i)]);
                    most = std::max(most, high[static_cast<std::size_t>(i)]);
                }
                if (least >= edge::contour || most < edge::contour || most - least < 16) {
                    x = end;
                    continue;
                }
                for (; x < end; ++x) {
                    const auto i = static_cast<std::size_t>(x);
                    const int a = here[i];
                    if (a <= edge::clear) continue;
                    const int left = here[x > 0 ? i - 1 : i], right = here[x + 1 < w ? i + 1 : i];
                    const int nearest = std::min(
                        {static_cast<int>(above[i]), static_cast<int>(below[i]), left, right});
                    if (a >= edge::contour && nearest < edge::contour)
                        out.boundary.push_back({x, y});
                    if (a >= edge::full) {
                        if (nearest <= edge::clear) out.hard.push_back({x, y});
                    } else if (hasWithin(ink, x, y, true) && hasWithin(ink, x, y, false)) {
                        out.crisp.push_back({x, y});
                    }
                }
            }
            std::rotate(rows.begin(), rows.begin() + 1, rows.end());
        }
    });
    EdgePixels all;
    for (EdgePixels& band : bands) {
        all.crisp.insert(all.crisp.end(), band.crisp.begin(), band.crisp.end());
        all.hard.insert(all.hard.end(), band.hard.begin(), band.hard.end());
        all.boundary.insert(all.boundary.end(), band.boundary.begin(), band.boundary.end());
    }
    return all;
}

ContourLine contourAt(const Straight8& ink, Spot at, int window) {
    constexpr int widest = 31;
    const int half = std::min(window, widest) / 2;
    std::array<bool, widest * widest> seen{};
    std::array<Spot, widest * widest> todo;
    std::size_t next = 0, count = 0;
    const auto offer = [&](int dx, int dy) {
        if (std::abs(dx) > half || std::abs(dy) > half) return;
        bool& was = seen[static_cast<std::size_t>((dy + half) * widest + dx + half)];
        if (was || !isBoundary(ink, at.x + dx, at.y + dy)) return;
        was = true;
        todo[count++] = {dx, dy};
    };
    Moments m;
    offer(0, 0);
    while (next < count) {
        const auto [dx, dy] = todo[next++];
        const int inside = alphaAt(ink, at.x + dx, at.y + dy);
        for (const Spot& o : besides) {
            const int outside = alphaAt(ink, at.x + dx + o.x, at.y + dy + o.y);
            if (outside >= edge::contour) continue;
            const double part = (inside - 127.5) / (inside - outside);
            m.add(dx + o.x * part, dy + o.y * part);
            m.outX += o.x;
            m.outY += o.y;
        }
        for (int sy = -1; sy <= 1; ++sy)
            for (int sx = -1; sx <= 1; ++sx) offer(dx + sx, dy + sy);
    }
    ContourLine line;
    if (m.n < window - 1) return line;
    const double cx = m.sx / m.n, cy = m.sy / m.n, xx = m.sxx / m.n - cx * cx,
                 xy = m.sxy / m.n - cx * cy, yy = m.syy / m.n - cy * cy;
    const double mean = (xx + yy) / 2, spread = std::hypot((xx - yy) / 2, xy);
    constexpr double residual = 0.5;  // px
    if (std::sqrt(std::max(0.0, mean - spread)) > residual) return line;
    if (mean + spread < (window - 2) * (window - 2) / 14.0)
        return line;  // it does not run through the whole window
    const double angle = 0.5 * std::atan2(2 * xy, xx - yy);  // of the contour
    constexpr double upright = 8 * std::numbers::pi / 180;
    const double off = std::abs(std::remainder(angle, std::numbers::pi / 2));
    if (off <= upright) return line;
    line.nx = -std::sin(angle);
    line.ny = std::cos(angle);
    if (line.nx * m.outX + line.ny * m.outY < 0) {
        line.nx = -line.nx;
        line.ny = -line.ny;
    }
    line.t = line.nx * (at.x + 0.5 + cx) + line.ny * (at.y + 0.5 + cy);
    line.found = true;
    return line;
}

Steps stepsOf(const Straight8& ink, const EdgePixels& edges, int mostJudged) {
    Steps out;
    const std::size_t stride = edges.boundary.size() / static_cast<std::size_t>(mostJudged) + 1;
    for (std::size_t i = 0; i < edges.boundary.size(); i += stride) {
        const Spot at = edges.boundary[i];
        if (!contourAt(ink, at, 9).found) continue;
        ++out.judged;
        bool between = false;
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx) {
                const int a = alphaAt(ink, at.x + dx, at.y + dy);
                between |= a >= 8 && a <= 247;
            }
        if (!between) out.stepped.push_back(at);
    }
    return out;
}

}  // namespace zl
