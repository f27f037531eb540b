// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut/subject/working.h"

#include <algorithm>
#include <cmath>

#include "base/parallel.h"
#include "colour/colour.h"
#include "raster/resample.h"

namespace zl {
namespace {

constexpr int steps[4][2] = {{1, 0}, {1, 1}, {0, 1}, {-1, 1}};

float squaredDifference(std::uint32_t p, std::uint32_t q) {
    const int r = redOf(p) - redOf(q), g = greenOf(p) - greenOf(q), b = blueOf(p) - blueOf(q);
    return static_cast<float>(r * r + g * g + b * b);
}

// 64 x 64 x 64 code values to their cells: a picture has more pixels than that.
const std::vector<std::uint16_t>& cellTable() {
    static const std::vector<std::uint16_t> table = [] {
        std::vector<std::uint16_t> made(std::size_t{64} * 64 * 64);
        const auto cell = [](double v) { return std::clamp(static_cast<int>(v * 32), 0, 31); };
        for (int r = 0; r < 64; ++r)
            for (int g = 0; g < 64; ++g)
                for (int b = 0; b < 64; ++b) {
                    const Lab lab = labOf(4 * r + 1.5, 4 * g + 1.5, 4 * b + 1.5);
                    made[static_cast<std::size_t>(r * 4096 + g * 64 + b)] =
                        static_cast<std::uint16_t>(cell(lab.l / 100) * 1024 +
                                                   cell((lab.a + 110) / 220) * 32 +
                                                   cell((lab.b + 110) / 220));
                }
        return made;
    }();
    return table;
}

// A histogram spread over neighbouring cells, 1 2 1 each way, that sums to 1.
void spread(std::vector<float>& histogram) {
    std::vector<float> out(histogram.size());
    for (const std::size_t step : {std::size_t{1}, std::size_t{32}, std::size_t{1024}}) {
        for (std::size_t i = 0; i < histogram.size(); ++i) {
            const std::size_t at = i / step % 32;
            out[i] = 0.5F * histogram[i] + 0.25F * (at > 0 ? histogram[i - step] : histogram[i]) +
                     0.25F * (at < 31 ? histogram[i + step] : histogram[i]);
        }
        histogram.swap(out);
    }
    double sum = 0;
    for (const float v : histogram) sum += v;
    if (sum > 0)
        for (float& v : histogram) v = static_cast<float>(v / sum);
}

}  // namespace

std::uint16_t labCell(std::uint32_t pixel) {
    static const std::vector<std::uint16_t>& table = cellTable();
    return table[static_cast<std::size_t>((redOf(pixel) >> 2) * 4096 + (greenOf(pixel) >> 2) * 64 +
                                          (blueOf(pixel) >> 2))];
}

float Working::link(int x, int y, int dx, int dy) const {
    const float d = squaredDifference(pixels.row(y)[x], pixels.row(y + dy)[x + dx]);
    return std::exp(-contrast * d) * (dx != 0 && dy != 0 ? 0.70710678F : 1.0F);
}

Working workingOf(const Straight8& picture, int longSide, int threads) {
    Working out;
    const int longest = std::max(picture.width(), picture.height());
    out.scale = longest > longSide ? static_cast<double>(longSide) / longest : 1.0;
    const PixelSize size{std::max(1, static_cast<int>(std::lround(picture.width() * out.scale))),
                         std::max(1, static_cast<int>(std::lround(picture.height() * out.scale)))};
    if (out.scale < 1) {
        // Lent for this call alone.
        const std::shared_ptr<const Straight8> lent(&picture, [](const Straight8*) {});
        out.pixels = rounded8(resampled(lent, false, RealRect::of(picture.size()),
                                        RealRect::of(size), PixelRect::of(size), threads));
    } else {
        out.pixels = picture.clone();
    }
    out.sure = Labels(size, undecided);
    for (int y = 0; y < size.height; ++y) {
        std::uint32_t* row = out.pixels.row(y);
        for (int x = 0; x < size.width; ++x) {
            const int a = alphaOf(row[x]);
            if (a == 255) continue;
            if (a < 128) out.sure.at(x, y) = ofGround;
            const auto over = [a](int v) { return (v * a + 128 * (255 - a) + 127) / 255; };
            row[x] = packed(over(redOf(row[x])), over(greenOf(row[x])), over(blueOf(row[x])), 255);
        }
    }
    double sum = 0;
    long long count = 0;
    for (int y = 0; y + 1 < size.height; ++y)
        for (int x = 1; x + 1 < size.width; ++x)
            for (const auto& [dx, dy] : steps) {
                sum += squaredDifference(out.pixels.row(y)[x], out.pixels.row(y + dy)[x + dx]);
                ++count;
            }
    out.contrast = sum > 0 ? static_cast<float>(static_cast<double>(count) / (2 * sum)) : 0;
    return out;
}

Colours::Colours(const Working& working, const Labels& labels, const Labels& strokes) {
    std::vector<float> all[2] = {std::vector<float>(labCells), std::vector<float>(labCells)};
    double counts[2] = {0, 0}, stroked[2] = {0, 0};
    for (std::size_t i = 0; i < labels.all().size(); ++i) {
        if (labels.all()[i] < undecided) counts[labels.all()[i]] += 1;
        if (!strokes.empty() && strokes.all()[i] < undecided) stroked[strokes.all()[i]] += 1;
    }
    float weight[2] = {0, 0};
    for (int side = 0; side < 2; ++side)
        if (stroked[side] > 0)
            weight[side] = static_cast<float>(0.25 * std::max(1.0, counts[side]) / stroked[side]);
    for (std::size_t i = 0; i < labels.all().size(); ++i) {
        const std::uint16_t cell = labCell(working.pixels.pixels()[i]);
        if (labels.all()[i] < undecided) all[labels.all()[i]][cell] += 1;
        if (!strokes.empty() && strokes.all()[i] < undecided)
            all[strokes.all()[i]][cell] += weight[strokes.all()[i]];
    }
    std::vector<double> seen(labCells);
    double total = 0;
    for (std::size_t i = 0; i < labCells; ++i) {
        seen[i] = all[0][i] + all[1][i];
        total += seen[i];
    }
    for (std::vector<float>& histogram : all) spread(histogram);
    ratio_.resize(labCells);
    constexpr float unseen = 2e-5F, most = 5;
    for (std::size_t i = 0; i < labCells; ++i) {
        ratio_[i] = std::clamp(std::log((all[1][i] + unseen) / (all[0][i] + unseen)), -most, most);
        if (total > 0) apart_ += seen[i] / total * std::abs(ratio_[i]) / most;
    }
}

Labels drawn(std::span<const Stroke> strokes, PixelSize size, double scale) {
    Labels out(size, undecided);
    for (const Stroke& stroke : strokes) {
        const double radius = std::max(0.75, stroke.radius * scale);
        const auto dab = [&](double cx, double cy) {
            const int top = static_cast<int>(std::floor(cy - radius)),
                      bottom = static_cast<int>(std::ceil(cy + radius));
            for (int y = std::max(0, top); y <= std::min(size.height - 1, bottom); ++y) {
                const double dy = y + 0.5 - cy,
                             half = std::sqrt(std::max(0.0, radius * radius - dy * dy));
                if (std::abs(dy) > radius) continue;
                const int left = std::max(0, static_cast<int>(std::ceil(cx - half - 0.5))),
                          right = std::min(size.width - 1,
                                           static_cast<int>(std::floor(cx + half - 0.5)));
                for (int x = left; x <= right; ++x)
                    out.at(x, y) = stroke.restores ? ofSubject : ofGround;
            }
        };
        RealPoint last = stroke.points.front();
        dab(last.x * scale, last.y * scale);
        for (const RealPoint& p : stroke.points) {
            // Far away points would take forever and change nothing.
            const double length = std::hypot(p.x - last.x, p.y - last.y) * scale;
            const int parts =
                std::clamp(static_cast<int>(length / std::max(0.5, radius / 2)), 1, 20'000);
            for (int i = 1; i <= parts; ++i)
                dab((last.x + (p.x - last.x) * i / parts) * scale,
                    (last.y + (p.y - last.y) * i / parts) * scale);
            last = p;
        }
    }
    return out;
}

Plane geodesicFrom(const Working& working, const Labels& from, std::uint8_t label) {
    constexpr float far = 1e9F;
    const PixelSize size = working.size();
    Plane out(size, far);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (from.at(x, y) == label) out.row(y)[x] = 0;
    // A step over the contrast that is usual costs three times its length.
    const float sharp = 2 * std::sqrt(2 * working.contrast);
    const auto relax = [&](int x, int y, int u, int v) {
        if (u < 0 || v < 0 || u >= size.width || v >= size.height) return;
        float& here = out.row(y)[x];
        const float there = out.row(v)[u];
        if (there >= here) return;
        const float length = u != x && v != y ? 1.41421356F : 1.0F;
        const float step =
            length * (1 + sharp * std::sqrt(squaredDifference(working.pixels.row(y)[x],
                                                              working.pixels.row(v)[u])));
        here = std::min(here, there + step);
    };
    for (int pass = 0; pass < 2; ++pass) {
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                relax(x, y, x - 1, y);
                relax(x, y, x - 1, y - 1);
                relax(x, y, x, y - 1);
                relax(x, y, x + 1, y - 1);
            }
        for (int y = size.height - 1; y >= 0; --y)
            for (int x = size.width - 1; x >= 0; --x) {
                relax(x, y, x + 1, y);
                relax(x, y, x + 1, y + 1);
                relax(x, y, x, y + 1);
                relax(x, y, x - 1, y + 1);
            }
    }
    return out;
}

Plane depthOf(const Labels& labels) {
    // Chamfer distance with the weights 1 and 1.3507 (Borgefors 1986), within 8 percent.
    constexpr float straight = 0.96194F, slant = 1.36039F;
    const PixelSize size = labels.size();
    Plane out(size, 1e6F);
    // One row from the row before it in the scan (`towards` -1: above) and from the pixel before.
    const auto scan = [&](int y, int towards) {
        float* row = out.row(y);
        const std::uint8_t* own = labels.row(y);
        const bool before = y + towards >= 0 && y + towards < size.height;
        const float* other = before ? out.row(y + towards) : nullptr;
        const std::uint8_t* theirs = before ? labels.row(y + towards) : nullptr;
        const int first = towards < 0 ? 0 : size.width - 1, end = towards < 0 ? size.width : -1;
        for (int x = first; x != end; x -= towards) {
            float least = row[x];
            const auto from = [&](const float* values, const std::uint8_t* kinds, int u,
                                  float step) {
                least = std::min(least, kinds[u] != own[x] ? 0.5F * step : values[u] + step);
            };
            if (x != first) from(row, own, x + towards, straight);
            if (other) {
                if (x > 0) from(other, theirs, x - 1, slant);
                from(other, theirs, x, straight);
                if (x + 1 < size.width) from(other, theirs, x + 1, slant);
            }
            row[x] = least;
        }
    };
    for (int y = 0; y < size.height; ++y) scan(y, -1);
    for (int y = size.height - 1; y >= 0; --y) scan(y, 1);
    return out;
}

Labels enlarged(const Labels& labels, PixelSize size) {
    if (labels.width() == size.width && labels.height() == size.height) return labels;
    Labels out(size);
    for (int y = 0; y < size.height; ++y) {
        const auto v = static_cast<int>(static_cast<long long>(y) * labels.height() / size.height);
        for (int x = 0; x < size.width; ++x)
            out.at(x, y) = labels.at(
                static_cast<int>(static_cast<long long>(x) * labels.width() / size.width), v);
    }
    return out;
}

Labels partOf(const Labels& labels, const PixelRect& part) {
    Labels out(part.size());
    for (int y = 0; y < out.height(); ++y)
        std::copy_n(labels.row(part.top + y) + part.left, out.width(), out.row(y));
    return out;
}

double overlapOf(const Labels& one, const Labels& other) {
    long long both = 0, any = 0;
    for (std::size_t i = 0; i < one.all().size(); ++i) {
        const bool a = one.all()[i] == ofSubject, b = other.all()[i] == ofSubject;
        both += a && b;
        any += a || b;
    }
    return any == 0 ? 1 : static_cast<double>(both) / static_cast<double>(any);
}

PixelRect boxOf(const Labels& labels, std::uint8_t label) {
    PixelRect box;
    for (int y = 0; y < labels.height(); ++y)
        for (int x = 0; x < labels.width(); ++x)
            if (labels.at(x, y) == label) {
                if (box.empty()) box = {x, y, x + 1, y + 1};
                box.left = std::min(box.left, x);
                box.right = std::max(box.right, x + 1);
                box.bottom = y + 1;
            }
    return box;
}

}  // namespace zl
