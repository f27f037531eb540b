// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/distance.h"

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

// A straight piece of the edge inside its pixel, from (ax, ay) to (bx, by), px of the plane (a pixel's centre is at 0.5).
struct Piece {
    float ax, ay, bx, by;
    float own;  // signed distance of its pixel's centre
};

class Edges {
  public:
    Edges(const Plane& alpha, int threads) : alpha_(alpha), index_(static_cast<std::size_t>(alpha.size().count()), -1) {
        // Rows are looked at side by side, and numbered in order: the outcome does not depend on the threads.
        std::vector<std::vector<std::pair<int, Piece>>> rows(static_cast<std::size_t>(alpha.height()));
        overRows(alpha.height(), 32, threads, [&](int from, int to) {
            for (int y = from; y < to; ++y) lookAt(y, rows[static_cast<std::size_t>(y)]);
        });
        for (int y = 0; y < alpha.height(); ++y)
            for (const auto& [x, piece] : rows[static_cast<std::size_t>(y)]) {
                index_[at(x, y)] = static_cast<std::int32_t>(pieces_.size());
                pieces_.push_back(piece);
            }
    }
    bool none() const { return pieces_.empty(); }
    // Nothing when the pixel holds no edge.
    const Piece* in(int x, int y) const {
        if (x < 0 || y < 0 || x >= alpha_.width() || y >= alpha_.height()) return nullptr;
        const std::int32_t i = index_[at(x, y)];
        return i < 0 ? nullptr : &pieces_[static_cast<std::size_t>(i)];
    }
    const std::int32_t* row(int y) const { return index_.data() + at(0, y); }

  private:
    std::size_t at(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(alpha_.width()) + static_cast<std::size_t>(x);
    }

    void lookAt(int y, std::vector<std::pair<int, Piece>>& out) const {
        const float* row = alpha_.row(y);
        for (int x = 0; x < alpha_.width(); ++x) {
            const float a = row[x];
            if (a <= nothing) continue;
            // Quickly past the inside.
            const bool rim = x == 0 || y == 0 || x == alpha_.width() - 1 || y == alpha_.height() - 1;
            if (a >= all && !rim && row[x - 1] > nothing && row[x + 1] > nothing && alpha_.row(y - 1)[x] > nothing &&
                alpha_.row(y + 1)[x] > nothing)
                continue;
            float v[3][3];
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) v[dy + 1][dx + 1] = alpha_.at(x + dx, y + dy);
            if (!holdsEdge(v)) continue;
            if (const auto piece = pieceOf(v)) {
                const float cx = static_cast<float>(x) + 0.5f, cy = static_cast<float>(y) + 0.5f;
                out.emplace_back(x, Piece{piece->ax + cx, piece->ay + cy, piece->bx + cx, piece->by + cy, piece->own});
            }
        }
    }

    // A full pixel beside an empty one, or a pixel in part with a neighbour on the other side of one half.
    static bool holdsEdge(const float (&v)[3][3]) {
        const float a = v[1][1];
        if (a >= all) return v[0][1] <= nothing || v[2][1] <= nothing || v[1][0] <= nothing || v[1][2] <= nothing;
        for (const auto& line : v)
            for (const float other : line)
                if ((a >= 0.5f) != (other >= 0.5f)) return true;
        return false;
    }

    static std::optional<Piece> pieceOf(const float (&v)[3][3]) {
        constexpr float diagonal = 1.41421356f;
        const float gx = v[0][2] + diagonal * v[1][2] + v[2][2] - v[0][0] - diagonal * v[1][0] - v[2][0];
        const float gy = v[2][0] + diagonal * v[2][1] + v[2][2] - v[0][0] - diagonal * v[0][1] - v[0][2];
        const float length = std::sqrt(gx * gx + gy * gy);
        if (length < 1e-4f) return {};
        const float nx = -gx / length, ny = -gy / length, t = offsetOf(std::min(v[1][1], 1.0f), nx, ny);
        // The line n·p = t, cut to the pixel: along its direction (-ny, nx) from the foot of the centre.
        float from = -2, to = 2;
        const auto cut = [&](float foot, float along) {
            if (std::abs(along) < 1e-6f) return;
            const float one = (-0.5f - foot) / along, other = (0.5f - foot) / along;
            from = std::max(from, std::min(one, other));
            to = std::min(to, std::max(one, other));
        };
        cut(nx * t, -ny);
        cut(ny * t, nx);
        if (from > to) from = to = (from + to) / 2;  // it only touches a corner
        return Piece{nx * t - ny * from, ny * t + nx * from, nx * t - ny * to, ny * t + nx * to, -t};
    }

    const Plane& alpha_;
    std::vector<std::int32_t> index_;
    std::vector<Piece> pieces_;
};

float distanceTo(const Piece& piece, float x, float y) {
    const float dx = piece.bx - piece.ax, dy = piece.by - piece.ay, px = x - piece.ax, py = y - piece.ay;
    const float square = dx * dx + dy * dy;
    const float s = square > 1e-12f ? std::clamp((px * dx + py * dy) / square, 0.0f, 1.0f) : 0.0f;
    const float ox = px - s * dx, oy = py - s * dy;
    return ox * ox + oy * oy;
}

// The row of the nearest edge pixel in each column, as far as it lies within `reach`; `far` where there is none.
constexpr std::int16_t far = std::numeric_limits<std::int16_t>::max();

std::vector<std::int16_t> nearestInColumns(const Edges& edges, PixelSize size, int reach) {
    const auto width = static_cast<std::size_t>(size.width);
    std::vector<std::int16_t> away(width * static_cast<std::size_t>(size.height));  // rows to go: negative upwards
    std::vector<int> last(width, -1'000'000);
    for (int y = 0; y < size.height; ++y) {
        const std::int32_t* holds = edges.row(y);
        std::int16_t* out = away.data() + static_cast<std::size_t>(y) * width;
        for (std::size_t x = 0; x < width; ++x) {
            if (holds[x] >= 0) last[x] = y;
            out[x] = y - last[x] <= reach ? static_cast<std::int16_t>(last[x] - y) : far;
        }
    }
    std::fill(last.begin(), last.end(), 1'000'000'000);
    for (int y = size.height - 1; y >= 0; --y) {
        const std::int32_t* holds = edges.row(y);
        std::int16_t* out = away.data() + static_cast<std::size_t>(y) * width;
        for (std::size_t x = 0; x < width; ++x) {
            if (holds[x] >= 0) last[x] = y;
            const int down = last[x] - y;
            if (down <= reach && (out[x] == far || down < -out[x])) out[x] = static_cast<std::int16_t>(down);
        }
    }
    return away;
}

// The lower envelope of the columns' parabolas along one row (Felzenszwalb and Huttenlocher 2012): which column holds the
// nearest edge pixel of each x; -1 when none is near.
class Envelope {
  public:
    explicit Envelope(int width) : column_(static_cast<std::size_t>(width)), from_(static_cast<std::size_t>(width) + 1) {}

    void nearest(const std::int16_t* away, int width, std::vector<int>& out) {
        int count = 0;
        const auto square = [&](int x) { return static_cast<double>(away[x]) * away[x] + static_cast<double>(x) * x; };
        for (int x = 0; x < width; ++x) {
            if (away[x] == far) continue;
            double meet = -1e18;
            while (count > 0) {
                const int other = column_[static_cast<std::size_t>(count) - 1];
                meet = (square(x) - square(other)) / (2.0 * (x - other));
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

Plane signedDistance(const Plane& alpha, float band, int threads) {
    Plane out(alpha.size(), band);
    if (alpha.empty()) return out;
    const Edges edges(alpha, threads);
    const int reach = std::min(30'000, static_cast<int>(std::ceil(band)) + 1);
    const auto away = edges.none() ? std::vector<std::int16_t>{} : nearestInColumns(edges, alpha.size(), reach);
    overRows(alpha.height(), 16, threads, [&](int firstRow, int lastRow) {
        Envelope envelope(alpha.width());
        std::vector<int> nearest(static_cast<std::size_t>(alpha.width()), -1);
        for (int y = firstRow; y < lastRow; ++y) {
            const std::int16_t* row = away.empty() ? nullptr : away.data() + static_cast<std::ptrdiff_t>(y) * alpha.width();
            if (row) envelope.nearest(row, alpha.width(), nearest);
            const float* a = alpha.row(y);
            float* d = out.row(y);
            for (int x = 0; x < alpha.width(); ++x) {
                const bool inside = a[x] >= 0.5f;
                d[x] = inside ? -band : band;
                const int column = nearest[static_cast<std::size_t>(x)];
                if (column < 0 || std::abs(column - x) > reach) continue;
                const int ex = column, ey = y + row[column];
                const float centres = std::hypot(static_cast<float>(ex - x), static_cast<float>(ey - y));
                if (centres > band + 1.5f) continue;
                if (const Piece* own = edges.in(x, y)) {
                    d[x] = std::clamp(own->own, -band, band);
                    continue;
                }
                float least = 1e18f;
                for (int dy = -1; dy <= 1; ++dy)
                    for (int dx = -1; dx <= 1; ++dx)
                        if (const Piece* piece = edges.in(ex + dx, ey + dy))
                            least = std::min(least, distanceTo(*piece, static_cast<float>(x) + 0.5f, static_cast<float>(y) + 0.5f));
                const float far01 = std::min(band, std::sqrt(least));
                d[x] = inside ? -far01 : far01;
            }
        }
    });
    return out;
}

Plane grown(const Plane& distance, float by, int threads) {
    Plane out(distance.size());
    const int width = distance.width(), height = distance.height();
    overRows(height, 32, threads, [&](int firstRow, int lastRow) {
        for (int y = firstRow; y < lastRow; ++y) {
            const float *above = distance.row(std::max(0, y - 1)), *here = distance.row(y),
                        *below = distance.row(std::min(height - 1, y + 1));
            float* to = out.row(y);
            for (int x = 0; x < width; ++x) {
                const float t = by - here[x];
                if (t >= 0.75f || t <= -0.75f) {
                    to[x] = t > 0 ? 1.0f : 0.0f;
                    continue;
                }
                float nx = here[std::min(width - 1, x + 1)] - here[std::max(0, x - 1)], ny = below[x] - above[x];
                const float length = std::sqrt(nx * nx + ny * ny);
                if (length < 1e-4f)
                    nx = 1, ny = 0;
                else
                    nx /= length, ny /= length;
                to[x] = coverageOf(t, nx, ny);
            }
        }
    });
    return out;
}

}  // namespace zl
