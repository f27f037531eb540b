// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/distance.h"

#include <array>
#include <cmath>
#include <cstdint>
#include <limits>
#include <optional>
#include <vector>

#include "base/parallel.h"
#include "raster/coverage.h"

namespace zl {
namespace {

constexpr float nothing = 1.0f / 512, all = 1 - nothing;

struct Line {
    float nx, ny, t;  // n·p = t about a pixel's centre, n pointing outwards
    float side(float x, float y) const { return nx * x + ny * y - t; }
};

struct Segment {
    float ax, ay, bx, by;
};

// The edge inside one pixel, about its centre: a straight piece, or two that meet in a corner.
struct Piece {
    std::array<Segment, 2> parts;
    int count = 0;
    float own = 0;  // signed distance of the pixel's centre
};

float squareTo(const Segment& s, float x, float y) {
    const float dx = s.bx - s.ax, dy = s.by - s.ay, px = x - s.ax, py = y - s.ay;
    const float square = dx * dx + dy * dy;
    const float at = square > 1e-12f ? std::clamp((px * dx + py * dy) / square, 0.0f, 1.0f) : 0.0f;
    const float ox = px - at * dx, oy = py - at * dy;
    return ox * ox + oy * oy;
}

// The line inside the pixel, and beyond that only where `other` is inside (or outside); nothing
// when that is nowhere.
std::optional<Segment> cut(const Line& line, const Line* other = nullptr, bool inside = true) {
    const float fx = line.nx * line.t, fy = line.ny * line.t, ux = -line.ny, uy = line.nx;
    float from = -2, to = 2;
    const auto clip = [&](float foot, float along, float low, float high) {
        if (std::abs(along) < 1e-6f)
            return foot < low || foot > high ? static_cast<void>(to = from - 1)
                                             : static_cast<void>(0);
        const float one = (low - foot) / along, another = (high - foot) / along;
        from = std::max(from, std::min(one, another));
        to = std::min(to, std::max(one, another));
    };
    clip(fx, ux, -0.5f, 0.5f);
    clip(fy, uy, -0.5f, 0.5f);
    if (other)
        clip(other->side(fx, fy), other->nx * ux + other->ny * uy, inside ? -9.0f : 0.0f,
             inside ? 0.0f : 9.0f);
    if (from > to) return {};
    return Segment{fx + ux * from, fy + uy * from, fx + ux * to, fy + uy * to};
}

// The share of the pixel on the inner side of both lines: the square cut by one, then by the other
// (Sutherland and Hodgman 1974).
float coverageOfBoth(const Line& one, const Line& other) {
    std::array<std::array<float, 2>, 12> corners{
        {{-0.5f, -0.5f}, {0.5f, -0.5f}, {0.5f, 0.5f}, {-0.5f, 0.5f}}};
    std::size_t count = 4;
    for (const Line* line : {&one, &other}) {
        std::array<std::array<float, 2>, 12> kept{};
        std::size_t n = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const auto &p = corners[i], &q = corners[(i + 1) % count];
            const float a = line->side(p[0], p[1]), b = line->side(q[0], q[1]);
            if (a <= 0) kept[n++] = p;
            if ((a <= 0) != (b <= 0))
                kept[n++] = {p[0] + (q[0] - p[0]) * a / (a - b),
                             p[1] + (q[1] - p[1]) * a / (a - b)};
        }
        corners = kept;
        count = n;
    }
    float area = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const auto &p = corners[i], &q = corners[(i + 1) % count];
        area += (p[0] * q[1] - q[0] * p[1]) / 2;
    }
    return std::abs(area);
}

class Edges {
  public:
    Edges(const Plane& alpha, int threads)
        : alpha_(alpha),
          index_(std::make_unique_for_overwrite<std::int32_t[]>(
              static_cast<std::size_t>(alpha.size().count()))) {
        // Rows are looked at side by side, and numbered in order: the outcome does not depend on
        // the threads.
        std::vector<std::vector<Found>> rows(static_cast<std::size_t>(alpha.height()));
        overRows(alpha.height(), 32, threads, [&](int from, int to) {
            for (int y = from; y < to; ++y) {
                std::fill_n(index_.get() + at(0, y), alpha.width(), -1);
                lookAt(y, rows[static_cast<std::size_t>(y)]);
            }
        });
        for (int y = 0; y < alpha.height(); ++y)
            for (const Found& one : rows[static_cast<std::size_t>(y)]) {
                index_[at(one.x, y)] = static_cast<std::int32_t>(found_.size());
                found_.push_back(one);
                found_.back().y = y;
            }
        pieces_.resize(found_.size());
        overRows(static_cast<int>(found_.size()), 4096, threads, [&](int from, int to) {
            for (int i = from; i < to; ++i)
                pieces_[static_cast<std::size_t>(i)] = pieceOf(found_[static_cast<std::size_t>(i)]);
        });
    }
    bool none() const { return pieces_.empty(); }
    // Nothing when the pixel holds no edge.
    const Piece* in(int x, int y) const {
        const Found* found = foundAt(x, y);
        return found ? &pieces_[static_cast<std::size_t>(found - found_.data())] : nullptr;
    }
    const std::int32_t* row(int y) const { return index_.get() + at(0, y); }

    // The distance from a pixel's centre to the edge, looked for from the edge pixel (ex, ey) on:
    // along the edge, as long as it comes nearer. The nearest centre is not yet the nearest edge.
    float distance(int x, int y, int ex, int ey) const {
        const auto to = [&](int cx, int cy) {
            float least = 1e18f;
            const Piece* piece = in(cx, cy);
            if (!piece) return least;
            for (int i = 0; i < piece->count; ++i)
                least = std::min(least,
                                 squareTo(piece->parts[static_cast<std::size_t>(i)],
                                          static_cast<float>(x - cx), static_cast<float>(y - cy)));
            return least;
        };
        float least = to(ex, ey);
        int fromX = ex + 9, fromY = ey + 9;  // what lies beside it was looked at before
        for (int step = 0; step < 64; ++step) {
            int bx = ex, by = ey;
            for (int cy = ey - 1; cy <= ey + 1; ++cy)
                for (int cx = ex - 1; cx <= ex + 1; ++cx) {
                    if (std::abs(cx - fromX) <= 1 && std::abs(cy - fromY) <= 1) continue;
                    if (const float d = to(cx, cy); d < least) {
                        least = d;
                        bx = cx;
                        by = cy;
                    }
                }
            if (bx == ex && by == ey) break;
            fromX = ex;
            fromY = ey;
            ex = bx;
            ey = by;
        }
        return std::sqrt(least);
    }

  private:
    struct Found {
        int x = 0, y = 0;
        Line line{};
        bool sure = false;  // the line goes straight on through its neighbours
    };

    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(alpha_.width()) +
               static_cast<std::size_t>(x);
    }
    const Found* foundAt(int x, int y) const {
        if (x < 0 || y < 0 || x >= alpha_.width() || y >= alpha_.height()) return nullptr;
        const std::int32_t i = index_[at(x, y)];
        return i < 0 ? nullptr : &found_[static_cast<std::size_t>(i)];
    }

    void lookAt(int y, std::vector<Found>& out) const {
        const float* row = alpha_.row(y);
        for (int x = 0; x < alpha_.width(); ++x) {
            const float a = row[x];
            if (a <= nothing) continue;
            // Quickly past the inside.
            const bool rim =
                x == 0 || y == 0 || x == alpha_.width() - 1 || y == alpha_.height() - 1;
            if (a >= all && !rim && row[x - 1] > nothing && row[x + 1] > nothing &&
                alpha_.row(y - 1)[x] > nothing && alpha_.row(y + 1)[x] > nothing)
                continue;
            if (holdsEdge(x, y, a))
                if (auto found = lineIn(x, y)) out.push_back(*found);
        }
    }

    // A full pixel beside an empty one, or a pixel in part with a neighbour on the other side of
    // one half.
    bool holdsEdge(int x, int y, float a) const {
        if (a >= all)
            return alpha_.at(x, y - 1) <= nothing || alpha_.at(x, y + 1) <= nothing ||
                   alpha_.at(x - 1, y) <= nothing || alpha_.at(x + 1, y) <= nothing;
        for (int dy = -1; dy <= 1; ++dy)
            for (int dx = -1; dx <= 1; ++dx)
                if ((a >= 0.5f) != (alpha_.at(x + dx, y + dy) >= 0.5f)) return true;
        return false;
    }

    // The edge as a line. Where three columns across it (a pixel's and two beside it, to either
    // side) go from full to empty, their sums are the edge's heights, which tell a straight edge's
    // slope exactly; of three such windows the straightest counts. Else the slope of the
    // neighbourhood has to do.
    std::optional<Found> lineIn(int x, int y) const {
        constexpr float diagonal = 1.41421356f;
        const auto v = [&](int dx, int dy) { return alpha_.at(x + dx, y + dy); };
        const float gx =
            v(1, -1) + diagonal * v(1, 0) + v(1, 1) - v(-1, -1) - diagonal * v(-1, 0) - v(-1, 1);
        const float gy =
            v(-1, 1) + diagonal * v(0, 1) + v(1, 1) - v(-1, -1) - diagonal * v(0, -1) - v(1, -1);
        const float length = std::sqrt(gx * gx + gy * gy);
        if (length < 1e-4f) return {};
        Found found;
        found.x = x;
        float nx = -gx / length, ny = -gy / length;
        const bool level = std::abs(gy) >= std::abs(gx);  // the edge runs rather along the rows
        const bool towardsPlus = (level ? gy : gx) > 0;   // the ink lies that way
        std::array<std::optional<float>, 5> heights;
        for (int i = -2; i <= 2; ++i)
            heights[static_cast<std::size_t>(i + 2)] = heightOf(x, y, i, level, towardsPlus);
        constexpr float stillALine = 0.018f, stillACurve = 0.4f;  // px of bend over three columns
        float straightest = stillACurve, slope = 0;
        for (const int first : {1, 0, 2}) {
            const auto &a = heights[static_cast<std::size_t>(first)],
                       &b = heights[static_cast<std::size_t>(first) + 1],
                       &c = heights[static_cast<std::size_t>(first) + 2];
            if (!a || !b || !c) continue;
            const float bend = *a - 2 * *b + *c;
            if (std::abs(bend) >= straightest - (straightest < stillACurve ? 0.01f : 0)) continue;
            straightest = std::abs(bend);
            // At the pixel itself, of the parabola through the three.
            slope = (*c - *a) / 2 + bend * static_cast<float>(1 - first);
        }
        found.sure = straightest < stillALine;
        if (straightest < stillACurve) {
            const float per = 1 / std::sqrt(1 + slope * slope),
                        along = towardsPlus ? slope * per : -slope * per,
                        across = towardsPlus ? -per : per;
            nx = level ? along : across;
            ny = level ? across : along;
        }
        found.line = {nx, ny, offsetOf(std::min(v(0, 0), 1.0f), nx, ny)};
        return found;
    }

    // Where the edge crosses column i, as a coordinate across about the pixel's centre; nothing
    // when the column does not go from full to empty within three pixels to either side.
    std::optional<float> heightOf(int x, int y, int i, bool level, bool towardsPlus) const {
        float sum = 0, before = 0;
        for (int j = -3; j <= 3; ++j) {
            const int across = towardsPlus ? j : -j;
            const float a =
                std::min(1.0f, level ? alpha_.at(x + i, y + across) : alpha_.at(x + across, y + i));
            if ((j == -3 && a > 0.01f) || (j == 3 && a < 0.99f) || a < before - 0.02f) return {};
            before = a;
            sum += a;
        }
        return towardsPlus ? 3.5f - sum : sum - 3.5f;
    }

    // A pixel whose line is not sure may hold a corner, or lie beside one: two sure lines near by
    // that meet close to it and together cover what it covers.
    Piece pieceOf(const Found& found) const {
        if (!found.sure)
            if (auto corner = cornerIn(found)) return *corner;
        Piece piece;
        if (const auto part = cut(found.line))
            piece.parts[0] = *part;
        else {
            const float x = found.line.nx * found.line.t, y = found.line.ny * found.line.t;
            piece.parts[0] = {x, y, x, y};  // it only touches the pixel's corner
        }
        piece.count = 1;
        piece.own = -found.line.t;
        return piece;
    }

    std::optional<Piece> cornerIn(const Found& found) const {
        std::array<Line, 49> lines;
        std::size_t count = 0;
        for (int dy = -3; dy <= 3; ++dy)
            for (int dx = -3; dx <= 3; ++dx)
                if (const Found* near = foundAt(found.x + dx, found.y + dy); near && near->sure) {
                    Line line = near->line;
                    line.t += line.nx * static_cast<float>(dx) + line.ny * static_cast<float>(dy);
                    lines[count++] = line;
                }
        const float want = std::min(1.0f, alpha_.at(found.x, found.y));
        float least = 0.05f;
        std::optional<Piece> best;
        for (std::size_t i = 0; i < count; ++i)
            for (std::size_t j = i + 1; j < count; ++j) {
                const Line &one = lines[i], &other = lines[j];
                const float cross = one.nx * other.ny - one.ny * other.nx;
                if (std::abs(cross) < 0.15f) continue;
                const float qx = (one.t * other.ny - other.t * one.ny) / cross,
                            qy = (one.nx * other.t - other.nx * one.t) / cross;
                if (std::max(std::abs(qx), std::abs(qy)) > 2.5f) continue;
                for (const bool convex : {true, false}) {
                    const Line turnedOne{-one.nx, -one.ny, -one.t},
                        turnedOther{-other.nx, -other.ny, -other.t};
                    const float covered = convex ? coverageOfBoth(one, other)
                                                 : 1 - coverageOfBoth(turnedOne, turnedOther);
                    if (std::abs(covered - want) >= least) continue;
                    Piece piece;
                    if (const auto part = cut(one, &other, convex))
                        piece.parts[static_cast<std::size_t>(piece.count++)] = *part;
                    if (const auto part = cut(other, &one, convex))
                        piece.parts[static_cast<std::size_t>(piece.count++)] = *part;
                    if (piece.count == 0) continue;
                    least = std::abs(covered - want);
                    float square = 1e18f;
                    for (int k = 0; k < piece.count; ++k)
                        square = std::min(square,
                                          squareTo(piece.parts[static_cast<std::size_t>(k)], 0, 0));
                    const bool inOne = one.t >= 0, inOther = other.t >= 0,
                               inside = convex ? inOne && inOther : inOne || inOther;
                    piece.own = inside ? -std::sqrt(square) : std::sqrt(square);
                    best = piece;
                }
            }
        return best;
    }

    const Plane& alpha_;
    std::unique_ptr<std::int32_t[]> index_;
    std::vector<Found> found_;
    std::vector<Piece> pieces_;
};

// The row of the nearest edge pixel in each column, as far as it lies within `reach`; `far` where
// there is none.
constexpr std::int16_t far = std::numeric_limits<std::int16_t>::max();

std::unique_ptr<std::int16_t[]> nearestInColumns(const Edges& edges, PixelSize size, int reach,
                                                 int threads) {
    const auto width = static_cast<std::size_t>(size.width);
    auto away = std::make_unique_for_overwrite<std::int16_t[]>(
        width * static_cast<std::size_t>(size.height));  // rows to go: negative upwards
    overRows(size.width, 256, threads, [&](int left, int right) {
        const auto count = static_cast<std::size_t>(right - left);
        std::vector<int> last(count, -1'000'000);
        for (int y = 0; y < size.height; ++y) {
            const std::int32_t* holds = edges.row(y) + left;
            std::int16_t* out = away.get() + static_cast<std::size_t>(y) * width + left;
            for (std::size_t x = 0; x < count; ++x) {
                if (holds[x] >= 0) last[x] = y;
                out[x] = y - last[x] <= reach ? static_cast<std::int16_t>(last[x] - y) : far;
            }
        }
        std::fill(last.begin(), last.end(), 1'000'000'000);
        for (int y = size.height - 1; y >= 0; --y) {
            const std::int32_t* holds = edges.row(y) + left;
            std::int16_t* out = away.get() + static_cast<std::size_t>(y) * width + left;
            for (std::size_t x = 0; x < count; ++x) {
                if (holds[x] >= 0) last[x] = y;
                const int down = last[x] - y;
                if (down <= reach && (out[x] == far || down < -out[x]))
                    out[x] = static_cast<std::int16_t>(down);
            }
        }
    });
    return away;
}

// The lower envelope of the columns' parabolas along one row (Felzenszwalb and Huttenlocher 2012):
// which column holds the nearest edge pixel of each x; -1 when none is near.
class Envelope {
  public:
    explicit Envelope(int width)
        : column_(static_cast<std::size_t>(width)), from_(static_cast<std::size_t>(width) + 1) {}

    void nearest(const std::int16_t* away, int width, std::vector<int>& out) {
        int count = 0;
        const auto square = [&](int x) {
            return static_cast<double>(away[x]) * away[x] + static_cast<double>(x) * x;
        };
        for (int x = 0; x < width; ++x) {
            if (away[x] == far) continue;
            double meet = -1e18;
            while (count > 0) {
                const int other = column_[static_cast<std::size_t>(count) - 1];
                // Next to each other, as they mostly are, without a division.
                meet = x - other == 1 ? 0.5 * (square(x) - square(other))
                                      : (square(x) - square(other)) / (2.0 * (x - other));
                if (meet > from_[static_cast<std::size_t>(count) - 1]) break;
                --count;
                meet = -1e18;
            }
            column_[static_cast<std::size_t>(count)] = x;
            from_[static_cast<std::size_t>(count)] = meet;
            ++count;
        }
        if (count == 0) return static_cast<void>(std::fill(out.begin(), out.end(), -1));
        int k = 0;
        for (int x = 0; x < width; ++x) {
            while (k + 1 < count && from_[static_cast<std::size_t>(k) + 1] <= x) ++k;
            out[static_cast<std::size_t>(x)] = column_[static_cast<std::size_t>(k)];
        }
    }

  private:
    std::vector<int> column_;
    std::vector<double> from_;
};

}  // namespace

struct EdgeDistance::Pieces {
    Edges edges;
};

EdgeDistance::EdgeDistance(const Plane& alpha, float band, std::span<const float> exactAt,
                           int threads)
    : plane_(Plane::unset(alpha.size())), threads_(threads) {
    if (alpha.empty()) return;
    pieces_ = std::make_unique<Pieces>(Pieces{Edges(alpha, threads)});
    const Edges& edges = pieces_->edges;
    Plane& out = plane_;
    const int reach = std::min(30'000, static_cast<int>(std::ceil(band)) + 1);
    const auto away =
        edges.none() ? nullptr : nearestInColumns(edges, alpha.size(), reach, threads);
    overRows(alpha.height(), 16, threads, [&](int firstRow, int lastRow) {
        Envelope envelope(alpha.width());
        std::vector<int> nearest(static_cast<std::size_t>(alpha.width()), -1);
        for (int y = firstRow; y < lastRow; ++y) {
            const std::int16_t* row =
                away ? away.get() + static_cast<std::ptrdiff_t>(y) * alpha.width() : nullptr;
            if (row) envelope.nearest(row, alpha.width(), nearest);
            const float* a = alpha.row(y);
            float* d = out.row(y);
            for (int x = 0; x < alpha.width(); ++x) {
                const bool inside = a[x] >= 0.5f;
                d[x] = inside ? -band : band;
                const int column = nearest[static_cast<std::size_t>(x)];
                if (column < 0 || std::abs(column - x) > reach) continue;
                const int ex = column, ey = y + row[column];
                const auto across = static_cast<float>(ex - x), down = static_cast<float>(ey - y);
                const float centres = std::sqrt(across * across + down * down);
                if (centres > band + 1.5f) continue;
                if (ex == x && ey == y) {  // it holds an edge itself
                    d[x] = std::clamp(edges.in(x, y)->own, -band, band);
                    continue;
                }
                // The nearest centre tells the distance to three quarters of a px; where it matters
                // it is looked up.
                const float rough = inside ? -centres : centres;
                const bool exact = std::any_of(exactAt.begin(), exactAt.end(), [&](float level) {
                    return std::abs(rough - level) < 2.5f;
                });
                const float apart = std::min(band, exact ? edges.distance(x, y, ex, ey) : centres);
                d[x] = inside ? -apart : apart;
            }
        }
    });
}

EdgeDistance::~EdgeDistance() = default;

// A pixel close to a corner: points of it whose distance is looked up, each to all the edge that is
// near enough.
float EdgeDistance::countedNear(int x, int y, float by) const {
    constexpr int points = 6;
    const int reach = static_cast<int>(std::ceil(std::abs(by))) + 2;
    const float* here = plane_.row(y);
    int covered = 0;
    for (int j = 0; j < points; ++j)
        for (int i = 0; i < points; ++i) {
            const float px = (static_cast<float>(i) + 0.5f) / points - 0.5f,
                        py = (static_cast<float>(j) + 0.5f) / points - 0.5f;
            float least = 1e18f;
            for (int dy = -reach; dy <= reach; ++dy)
                for (int dx = -reach; dx <= reach; ++dx)
                    if (const Piece* piece = pieces_->edges.in(x + dx, y + dy))
                        for (int k = 0; k < piece->count; ++k)
                            least =
                                std::min(least, squareTo(piece->parts[static_cast<std::size_t>(k)],
                                                         px - static_cast<float>(dx),
                                                         py - static_cast<float>(dy)));
            const int sx = std::clamp(px < 0 ? x - 1 : x + 1, 0, plane_.width() - 1),
                      sy = std::clamp(py < 0 ? y - 1 : y + 1, 0, plane_.height() - 1);
            const float ax = std::abs(px), ay = std::abs(py);
            const float signedly = (here[x] * (1 - ax) + here[sx] * ax) * (1 - ay) +
                                   (plane_.row(sy)[x] * (1 - ax) + plane_.row(sy)[sx] * ax) * ay;
            covered += (signedly < 0 ? -std::sqrt(least) : std::sqrt(least)) <= by;
        }
    return static_cast<float>(covered) / (points * points);
}

Plane EdgeDistance::grown(float by) const {
    Plane out(plane_.size());
    const int width = plane_.width(), height = plane_.height();
    overRows(height, 32, threads_, [&](int firstRow, int lastRow) {
        for (int y = firstRow; y < lastRow; ++y) {
            const float *above = plane_.row(std::max(0, y - 1)), *here = plane_.row(y),
                        *below = plane_.row(std::min(height - 1, y + 1));
            float* to = out.row(y);
            for (int x = 0; x < width; ++x) {
                const float t = by - here[x];
                if (t >= 0.75f || t <= -0.75f) {
                    to[x] = t > 0 ? 1.0f : 0.0f;
                    continue;
                }
                const float nx = here[std::min(width - 1, x + 1)] - here[std::max(0, x - 1)],
                            ny = below[x] - above[x];
                const float length = std::sqrt(nx * nx + ny * ny);
                // Along a straight edge the distance grows by 1 px a px; round a corner by less. A
                // wide curve is straight enough.
                constexpr float straight = 1.97f, wide = 2.5f;
                if (length < straight && by > 0 && by < wide && pieces_)
                    to[x] = countedNear(x, y, by);
                else
                    to[x] = length < 1e-4f ? (t > 0 ? 1.0f : 0.0f)
                                           : coverageOf(t, nx / length, ny / length);
            }
        }
    });
    return out;
}

}  // namespace zl
