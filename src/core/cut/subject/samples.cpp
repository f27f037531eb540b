// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/samples.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"

namespace zl {
namespace {

constexpr int rays = 6;

struct Rgb {
    float r = 0, g = 0, b = 0;
};
struct Seen {
    Rgb colour;
    float distance = 0;
};
Rgb rgb(std::uint32_t p) {
    return {static_cast<float>(redOf(p)), static_cast<float>(greenOf(p)),
            static_cast<float>(blueOf(p))};
}

struct Pair {
    Rgb subject, ground;
    float alpha = 0.5F, cost = 1e9F, apart = 0;
};

// The alpha at which `c` is nearest to the line between the two, and how far it is then.
Pair judged(const Rgb& c, const Rgb& f, const Rgb& b) {
    const Rgb d{f.r - b.r, f.g - b.g, f.b - b.b}, e{c.r - b.r, c.g - b.g, c.b - b.b};
    const float dd = d.r * d.r + d.g * d.g + d.b * d.b;
    Pair pair{f, b};
    pair.apart = dd;
    pair.alpha = dd > 1 ? std::clamp((e.r * d.r + e.g * d.g + e.b * d.b) / dd, 0.0F, 1.0F) : 0.5F;
    const float x = e.r - pair.alpha * d.r, y = e.g - pair.alpha * d.g, z = e.b - pair.alpha * d.b;
    pair.cost = x * x + y * y + z * z;
    return pair;
}

class Sampler {
  public:
    Sampler(const Straight8& picture, const Labels& known)
        : picture_(picture),
          known_(known),
          most_(std::max(48, std::max(known.width(), known.height()) / 8)) {
        for (int k = 0; k < 9; ++k)
            for (int ray = 0; ray < rays; ++ray) {
                const double angle =
                    2 * 3.14159265358979 * (ray + k / 9.0) / static_cast<double>(rays);
                std::vector<std::array<int, 2>>& way =
                    ways_[static_cast<std::size_t>(k)][static_cast<std::size_t>(ray)];
                for (int step = 1; step < most_; ++step)
                    way.push_back({static_cast<int>(std::lround(std::cos(angle) * step)),
                                   static_cast<int>(std::lround(std::sin(angle) * step))});
            }
    }

    Pair best(int x, int y) const {
        Seen subjects[rays], grounds[rays];
        int subjectCount = 0, groundCount = 0;
        for (const auto& way : ways_[static_cast<std::size_t>(y % 3 * 3 + x % 3)]) {
            bool wants[2] = {true, true};
            for (std::size_t step = 0; step < way.size() && (wants[0] || wants[1]); ++step) {
                const int u = x + way[step][0], v = y + way[step][1];
                if (!known_.holds(u, v)) break;
                const std::uint8_t label = known_.at(u, v);
                if (label == undecided || !wants[label]) continue;
                wants[label] = false;
                const Seen seen{around(u, v, label), static_cast<float>(step + 1)};
                if (label == ofSubject)
                    subjects[subjectCount++] = seen;
                else
                    grounds[groundCount++] = seen;
            }
        }
        Pair best;
        const Rgb c = rgb(picture_.row(y)[x]);
        float least = 1e12F;
        for (int i = 0; i < subjectCount; ++i)
            for (int j = 0; j < groundCount; ++j) {
                const Pair pair = judged(c, subjects[i].colour, grounds[j].colour);
                // Near ones are likelier; colours that hardly differ tell nothing.
                const float cost = (pair.cost + 20) *
                                   (1 + 0.02F * (subjects[i].distance + grounds[j].distance)) *
                                   (1 + 400 / (pair.apart + 40));
                if (cost >= least) continue;
                least = cost;
                best = pair;
            }
        return best;
    }

    Pair judgedHere(int x, int y, const Pair& other) const {
        return judged(rgb(picture_.row(y)[x]), other.subject, other.ground);
    }

  private:
    // The mean of the label's own pixels among nine: grain counts less.
    Rgb around(int x, int y, std::uint8_t label) const {
        Rgb sum;
        float count = 0;
        for (int v = std::max(0, y - 1); v <= std::min(known_.height() - 1, y + 1); ++v)
            for (int u = std::max(0, x - 1); u <= std::min(known_.width() - 1, x + 1); ++u)
                if (known_.at(u, v) == label) {
                    const Rgb p = rgb(picture_.row(v)[u]);
                    sum = {sum.r + p.r, sum.g + p.g, sum.b + p.b};
                    count += 1;
                }
        return {sum.r / count, sum.g / count, sum.b / count};
    }

    const Straight8& picture_;
    const Labels& known_;
    int most_;
    // The steps of each ray; they turn from pixel to pixel.
    std::array<std::array<std::vector<std::array<int, 2>>, rays>, 9> ways_;
};

}  // namespace

struct Samples::Seen {
    Seen(const Straight8& picture, const Labels& known)
        : sampler(picture, known), number(known.size(), -1) {}
    Sampler sampler;
    Cells<int> number;
    std::vector<Pair> own;
};

Samples::Samples(const Straight8& picture, const Labels& known)
    : seen_(std::make_unique<Seen>(picture, known)) {}
Samples::~Samples() = default;

namespace {

// The new pixels, and the old ones near them: what those took for pure was mixed, or it would not
// have been opened.
std::vector<std::size_t> toTake(const PixelList& all, std::size_t from, PixelSize size) {
    constexpr int side = 16;
    Cells<std::uint8_t> near({size.width / side + 1, size.height / side + 1}, 0);
    for (std::size_t i = from; i < all.size(); ++i)
        for (int y = all[i][1] / side - 1; y <= all[i][1] / side + 1; ++y)
            for (int x = all[i][0] / side - 1; x <= all[i][0] / side + 1; ++x)
                if (near.holds(x, y)) near.at(x, y) = 1;
    std::vector<std::size_t> taken;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (i >= from || near.at(all[i][0] / side, all[i][1] / side) != 0) taken.push_back(i);
    return taken;
}

}  // namespace

void Samples::take(const PixelList& all, std::size_t from, int threads,
                   const std::stop_token& stop) {
    const Sampler& sampler = seen_->sampler;
    Cells<int>& number = seen_->number;
    std::vector<Pair>& own = seen_->own;
    own.resize(all.size());
    samples_.resize(all.size());
    for (std::size_t i = from; i < all.size(); ++i)
        number.at(all[i][0], all[i][1]) = static_cast<int>(i);
    const std::vector<std::size_t> taken = toTake(all, from, number.size());
    constexpr int some = 512;
    const int count = static_cast<int>(taken.size());
    overRows(count, some, threads, [&](int first, int last) {
        if (stop.stop_requested()) return;
        for (auto k = static_cast<std::size_t>(first); k < static_cast<std::size_t>(last); ++k)
            own[taken[k]] = sampler.best(all[taken[k]][0], all[taken[k]][1]);
    });
    // A neighbour may have found a better pair; the ones that fit are averaged by how well they do.
    const auto shared = [&](int x, int y) {
        float alphas = 0, weights = 0, trusts = 0;
        for (int dy = -2; dy <= 2; ++dy)
            for (int dx = -2; dx <= 2; ++dx) {
                if ((dx & 1) != (dy & 1) || !number.holds(x + dx, y + dy)) continue;
                const int other = number.at(x + dx, y + dy);
                if (other < 0) continue;
                const Pair& theirs = own[static_cast<std::size_t>(other)];
                if (theirs.cost > 1e8F) continue;
                const Pair pair = sampler.judgedHere(x, y, theirs);
                const float fits =
                    std::exp(-pair.cost / 30.0F) * (1 - std::exp(-pair.apart / 800.0F));
                const float weight = fits * fits + 1e-9F;
                alphas += weight * pair.alpha;
                trusts += weight * fits;
                weights += weight;
            }
        return weights > 0 ? Sample{alphas / weights, trusts / weights} : Sample{};
    };
    overRows(count, some, threads, [&](int first, int last) {
        if (stop.stop_requested()) return;
        for (auto k = static_cast<std::size_t>(first); k < static_cast<std::size_t>(last); ++k)
            samples_[taken[k]] = shared(all[taken[k]][0], all[taken[k]][1]);
    });
}

}  // namespace zl
