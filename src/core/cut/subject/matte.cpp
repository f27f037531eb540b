// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/matte.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "base/parallel.h"
#include "cut/subject/samples.h"

namespace zl {
namespace {

constexpr int reach = 2, side = 2 * reach + 1, most = side * side;
constexpr int some = 1024;  // pixels that one thread takes at a time

// What a window of 3 x 3 says: its mean colour and the inverse of its covariance.
struct Window {
    float mean[3];
    float inverse[6];  // rr rg rb gg gb bb
};

// The rows of the matting Laplacian of pixels, each over its 5 x 5 neighbours. A row depends on the
// picture alone, so that those which are there stay when pixels are added.
class Laplacian {
  public:
    Laplacian(const Straight8& picture, ChromaDetail chroma, int threads)
        : picture_(picture), chroma_(chroma), threads_(threads), windowAt_(picture.size(), -1) {}

    void add(const PixelList& all) {
        const std::size_t from = rows_.size();
        gatherWindows(all, from);
        pixels_ = &all;
        rows_.resize(all.size());
        overRows(static_cast<int>(all.size() - from), some, threads_, [&](int first, int last) {
            for (int i = first; i < last; ++i) fill(from + static_cast<std::size_t>(i));
        });
    }

    int count() const { return static_cast<int>(rows_.size()); }
    const PixelList& pixels() const { return *pixels_; }
    float diagonal(std::size_t i) const { return rows_[i][most / 2]; }
    // The i-th row times the values of a plane.
    float times(std::size_t i, const Plane& plane) const {
        const auto [x, y] = (*pixels_)[i];
        const std::array<float, most>& row = rows_[i];
        float sum = 0;
        if (x >= reach && y >= reach && x + reach < plane.width() && y + reach < plane.height()) {
            for (int v = 0; v < side; ++v) {
                const float* p = plane.row(y + v - reach) + x - reach;
                for (int u = 0; u < side; ++u)
                    sum += row[static_cast<std::size_t>(v * side + u)] * p[u];
            }
            return sum;
        }
        for (int v = 0; v < side; ++v)
            for (int u = 0; u < side; ++u)
                sum += row[static_cast<std::size_t>(v * side + u)] *
                       plane.at(x + u - reach, y + v - reach);
        return sum;
    }

  private:
    std::array<float, 3> colour(int x, int y) const {
        const std::uint32_t p = picture_.row(y)[x];
        const float r = static_cast<float>(redOf(p)) / 255,
                    g = static_cast<float>(greenOf(p)) / 255,
                    b = static_cast<float>(blueOf(p)) / 255;
        if (chroma_ == ChromaDetail::whole) return {r, g, b};
        // ITU-T T.871's Y, Cb and Cr.
        constexpr float weight = 0.5F;
        const float luma = 0.299F * r + 0.587F * g + 0.114F * b;
        return {luma, weight * (b - luma) / 1.772F, weight * (r - luma) / 1.402F};
    }

    // The middles of windows that hold a new pixel.
    void gatherWindows(const PixelList& all, std::size_t from) {
        PixelList middles;
        const std::size_t before = windows_.size();
        for (std::size_t i = from; i < all.size(); ++i)
            for (int y = std::max(1, all[i][1] - 1);
                 y <= std::min(picture_.height() - 2, all[i][1] + 1); ++y)
                for (int x = std::max(1, all[i][0] - 1);
                     x <= std::min(picture_.width() - 2, all[i][0] + 1); ++x) {
                    if (windowAt_.at(x, y) >= 0) continue;
                    windowAt_.at(x, y) = static_cast<int>(before + middles.size());
                    middles.push_back({x, y});
                }
        windows_.resize(before + middles.size());
        overRows(static_cast<int>(middles.size()), some, threads_, [&](int first, int last) {
            for (auto i = static_cast<std::size_t>(first); i < static_cast<std::size_t>(last); ++i)
                windows_[before + i] = windowRound(middles[i][0], middles[i][1]);
        });
    }

    Window windowRound(int x, int y) const {
        double sum[3] = {}, product[6] = {};
        for (int v = y - 1; v <= y + 1; ++v)
            for (int u = x - 1; u <= x + 1; ++u) {
                const auto c = colour(u, v);
                for (int k = 0, n = 0; k < 3; ++k) {
                    sum[k] += c[static_cast<std::size_t>(k)];
                    for (int m = k; m < 3; ++m)
                        product[n++] += static_cast<double>(c[static_cast<std::size_t>(k)]) *
                                        c[static_cast<std::size_t>(m)];
                }
            }
        constexpr double epsilon = 1e-5;
        Window window{};
        for (int k = 0; k < 3; ++k) window.mean[k] = static_cast<float>(sum[k] / 9);
        double s[6];
        for (int k = 0, n = 0; k < 3; ++k)
            for (int m = k; m < 3; ++m, ++n)
                s[n] = product[n] / 9 - sum[k] * sum[m] / 81 + (k == m ? epsilon / 9 : 0);
        const double rr = s[3] * s[5] - s[4] * s[4], rg = s[2] * s[4] - s[1] * s[5],
                     rb = s[1] * s[4] - s[2] * s[3];
        const double det = s[0] * rr + s[1] * rg + s[2] * rb;
        const double inverse[6] = {rr,
                                   rg,
                                   rb,
                                   s[0] * s[5] - s[2] * s[2],
                                   s[1] * s[2] - s[0] * s[4],
                                   s[0] * s[3] - s[1] * s[1]};
        for (int n = 0; n < 6; ++n) window.inverse[n] = static_cast<float>(inverse[n] / det);
        return window;
    }

    void fill(std::size_t i) {
        const auto [x, y] = (*pixels_)[i];
        std::array<float, most>& row = rows_[i];
        row.fill(0);
        const auto own = colour(x, y);
        for (int wy = y - 1; wy <= y + 1; ++wy)
            for (int wx = x - 1; wx <= x + 1; ++wx) {
                if (!windowAt_.holds(wx, wy) || windowAt_.at(wx, wy) < 0) continue;
                const Window& w = windows_[static_cast<std::size_t>(windowAt_.at(wx, wy))];
                const float a = own[0] - w.mean[0], b = own[1] - w.mean[1], c = own[2] - w.mean[2];
                const float r = w.inverse[0] * a + w.inverse[1] * b + w.inverse[2] * c,
                            g = w.inverse[1] * a + w.inverse[3] * b + w.inverse[4] * c,
                            e = w.inverse[2] * a + w.inverse[4] * b + w.inverse[5] * c;
                for (int v = wy - 1; v <= wy + 1; ++v)
                    for (int u = wx - 1; u <= wx + 1; ++u) {
                        const auto o = colour(u, v);
                        const float affinity = (1 + r * (o[0] - w.mean[0]) +
                                                g * (o[1] - w.mean[1]) + e * (o[2] - w.mean[2])) /
                                               9;
                        row[static_cast<std::size_t>((v - y + reach) * side + u - x + reach)] -=
                            affinity;
                    }
                row[most / 2] += 1;
            }
    }

    const Straight8& picture_;
    ChromaDetail chroma_;
    int threads_;
    Cells<int> windowAt_;
    std::vector<Window> windows_;
    const PixelList* pixels_ = nullptr;
    std::vector<std::array<float, most>> rows_;
};

// The sum of what each block gives, in their order: the same on any number of threads.
template <class Block>
double summed(int count, int threads, const Block& block) {
    std::vector<double> parts(static_cast<std::size_t>((count + some - 1) / some));
    overRows(count, some, threads, [&](int from, int to) {
        parts[static_cast<std::size_t>(from / some)] = block(from, to);
    });
    double sum = 0;
    for (const double part : parts) sum += part;
    return sum;
}

// The band between subject and ground: alpha of its pixels, which may become more.
class Band {
  public:
    Band(const Straight8& picture, ChromaDetail chroma, const Labels& known, int threads,
         std::stop_token stop)
        : known_(known),
          threads_(threads),
          stop_(std::move(stop)),
          numbered_(known.size(), 0),
          samples_(picture, known),
          rows_(picture, chroma, threads),
          alpha_(known.size()) {}

    // Solves what is undecided in the labels now.
    const Plane& solved() {
        const std::size_t from = pixels_.size();
        for (int y = 0; y < known_.height(); ++y)
            for (int x = 0; x < known_.width(); ++x) {
                if (known_.at(x, y) != undecided) {
                    alpha_.row(y)[x] = static_cast<float>(known_.at(x, y));
                } else if (numbered_.at(x, y) == 0) {
                    numbered_.at(x, y) = 1;
                    pixels_.push_back({x, y});
                }
            }
        if (pixels_.empty()) return alpha_;
        samples_.take(pixels_, from, threads_, stop_);
        for (std::size_t i = from; i < pixels_.size(); ++i)
            alpha_.row(pixels_[i][1])[pixels_[i][0]] = samples_.all()[i].alpha;
        rows_.add(pixels_);
        if (!stop_.stop_requested()) conjugate();
        return alpha_;
    }
    // alpha within 0 and 1.
    Plane taken() && {
        for (const auto& [x, y] : pixels_) {
            float& a = alpha_.row(y)[x];
            a = settledAlpha(a);
        }
        return std::move(alpha_);
    }

  private:
    template <class Act>
    double each(const Act& act) const {
        return summed(rows_.count(), threads_, [&](int from, int to) {
            double sum = 0;
            for (auto i = static_cast<std::size_t>(from); i < static_cast<std::size_t>(to); ++i)
                sum += act(i, pixels_[i][0], pixels_[i][1]);
            return sum;
        });
    }

    // Conjugate gradients, each row divided by its diagonal (Hestenes and Stiefel 1952; Jacobi's
    // preconditioner), from what alpha is.
    void conjugate() {
        constexpr float data = 0.05F;
        constexpr double enough = 3e-4;
        constexpr int longest = 300;
        const auto n = pixels_.size();
        std::vector<float> residual(n), scaled(n), product(n), diagonal(n), weight(n);
        Plane way(known_.size());
        for (std::size_t i = 0; i < n; ++i) {
            weight[i] = data * samples_.all()[i].trust;
            diagonal[i] = rows_.diagonal(i) + weight[i] + 1e-6F;
        }
        // What the equations ask for, without any alpha to begin with: the size of what is right.
        double right = each([&](std::size_t i, int x, int y) {
            residual[i] =
                weight[i] * (samples_.all()[i].alpha - alpha_.row(y)[x]) - rows_.times(i, alpha_);
            const double asked = residual[i] + diagonal[i] * alpha_.row(y)[x];
            return asked * asked / diagonal[i];
        });
        right = std::max(right, 1e-12 * static_cast<double>(n));
        double rho = each([&](std::size_t i, int x, int y) {
            way.row(y)[x] = scaled[i] = residual[i] / diagonal[i];
            return static_cast<double>(residual[i]) * scaled[i];
        });
        for (int step = 0; step < longest && rho > enough * enough * right; ++step) {
            if (stop_.stop_requested()) return;
            const double down = each([&](std::size_t i, int x, int y) {
                product[i] = rows_.times(i, way) + weight[i] * way.row(y)[x];
                return static_cast<double>(product[i]) * way.row(y)[x];
            });
            if (!(down > 0)) break;
            const auto by = static_cast<float>(rho / down);
            const double next = each([&](std::size_t i, int x, int y) {
                alpha_.row(y)[x] += by * way.row(y)[x];
                residual[i] -= by * product[i];
                scaled[i] = residual[i] / diagonal[i];
                return static_cast<double>(residual[i]) * scaled[i];
            });
            const auto keep = static_cast<float>(next / rho);
            rho = next;
            each([&](std::size_t i, int x, int y) {
                way.row(y)[x] = scaled[i] + keep * way.row(y)[x];
                return 0.0;
            });
        }
    }

    const Labels& known_;
    int threads_;
    std::stop_token stop_;
    Cells<std::uint8_t> numbered_;
    PixelList pixels_;
    Samples samples_;
    Laplacian rows_;
    Plane alpha_;
};

}  // namespace

Plane solvedAlpha(const Straight8& picture, const Labels& known, int threads,
                  const std::stop_token& stop, ChromaDetail chroma) {
    Band band(picture, chroma, known, threads, stop);
    band.solved();
    return std::move(band).taken();
}

namespace {

// Opens what lies within `by` px of a rim pixel whose alpha is far from the value it meets there;
// nothing further than `farthest` from the border. Whether anything was opened.
bool grown(Labels& known, const Plane& alpha, const Plane& depth, const Labels& touched, float by,
           float farthest) {
    const PixelSize size = known.size();
    Labels seeds(size, ofGround);
    bool any = false;
    constexpr float far = 0.1F;
    for (int y = 1; y + 1 < size.height; ++y)
        for (int x = 1; x + 1 < size.width; ++x) {
            if (known.at(x, y) != undecided) continue;
            for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                const std::uint8_t met = known.at(x + dx, y + dy);
                if (met != undecided && std::abs(alpha.row(y)[x] - static_cast<float>(met)) > far)
                    seeds.at(x, y) = ofSubject, any = true;
            }
        }
    if (!any) return false;
    const PixelRect box = boxOf(seeds, ofSubject);
    const int room = static_cast<int>(by) + 2;
    const PixelRect part =
        PixelRect{box.left - room, box.top - room, box.right + room, box.bottom + room}.intersected(
            PixelRect::of(size));
    const Plane near = depthOf(partOf(seeds, part));
    bool opened = false;
    for (int y = part.top; y < part.bottom; ++y)
        for (int x = part.left; x < part.right; ++x)
            if (known.at(x, y) != undecided && seeds.at(x, y) == ofGround &&
                near.row(y - part.top)[x - part.left] <= by && depth.row(y)[x] <= farthest &&
                (touched.empty() || touched.at(x, y) == undecided)) {
                known.at(x, y) = undecided;
                opened = true;
            }
    return opened;
}

}  // namespace

Matte matteOf(const Straight8& picture, const Labels& sure, const Labels& labels,
              const Labels& touched, int threads, const std::stop_token& stop,
              ChromaDetail chroma) {
    const PixelSize size = picture.size();
    const int longest = std::max(size.width, size.height);
    const float first = std::max(3.0F, static_cast<float>(longest) / 320),
                farthest = std::max(first, static_cast<float>(longest) / 25);
    const Plane depth = depthOf(labels);
    Matte out{{}, labels};
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (depth.row(y)[x] <= first && sure.at(x, y) == undecided &&
                (touched.empty() || touched.at(x, y) == undecided))
                out.known.at(x, y) = undecided;
    constexpr int rounds = 5;
    Band band(picture, chroma, out.known, threads, stop);
    for (int round = 0;; ++round) {
        const Plane& alpha = band.solved();
        if (stop.stop_requested() || round == rounds ||
            !grown(out.known, alpha, depth, touched, 2 * first, farthest))
            break;
    }
    out.alpha = std::move(band).taken();
    return out;
}

}  // namespace zl
