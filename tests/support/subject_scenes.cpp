// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/subject_scenes.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "colour/colour.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "raster/components.h"

namespace zl::test {
namespace {

using Rgb = std::array<float, 3>;

// Not std::*_distribution, whose numbers a library may choose.
class Dice {
  public:
    explicit Dice(unsigned seed) : engine_(seed) {}
    double unit() { return static_cast<double>(engine_() >> 8) / 16777216.0; }
    double in(double low, double high) { return low + (high - low) * unit(); }
    int below(int n) { return static_cast<int>(unit() * n); }

  private:
    std::mt19937 engine_;
};

// Smooth noise -1..1 on a lattice of random values.
class Noise {
  public:
    Noise(Dice& dice) {
        for (float& v : values_) v = static_cast<float>(dice.in(-1, 1));
    }
    double at(double x, double y) const {
        const double fx = std::floor(x), fy = std::floor(y);
        const auto ease = [](double t) { return t * t * (3 - 2 * t); };
        const double u = ease(x - fx), v = ease(y - fy);
        const auto value = [&](double i, double j) {
            const auto a = static_cast<long long>(i), b = static_cast<long long>(j);
            return static_cast<double>(values_[static_cast<std::size_t>((a & 63) * 64 + (b & 63))]);
        };
        return (value(fx, fy) * (1 - u) + value(fx + 1, fy) * u) * (1 - v) +
               (value(fx, fy + 1) * (1 - u) + value(fx + 1, fy + 1) * u) * v;
    }
    double octaves(double x, double y, int count) const {
        double sum = 0, by = 1, all = 0;
        for (int k = 0; k < count; ++k) {
            sum += by * at(x + 17.3 * k, y + 5.7 * k);
            all += by;
            x *= 2.03;
            y *= 2.03;
            by *= 0.55;
        }
        return sum / all;
    }

  private:
    std::array<float, 4096> values_{};
};

Rgb fromHue(double hue, double saturation, double value) {
    const auto channel = [&](double shift) {
        const double k = std::fmod(shift + hue * 6, 6.0);
        return static_cast<float>(
            255 * (value - value * saturation * std::max(0.0, std::min({k, 4 - k, 1.0}))));
    };
    return {channel(5), channel(3), channel(1)};
}

// A texture of a few colours: patches, a slow drift of light, grain.
struct Texture {
    std::vector<Rgb> colours;
    Noise patches, light, grain;
    double size, busy;
    Texture(Dice& dice, std::vector<Rgb> palette, double patchSize, double busyness)
        : colours(std::move(palette)),
          patches(dice),
          light(dice),
          grain(dice),
          size(patchSize),
          busy(busyness) {}
    Rgb at(double x, double y) const {
        const double p =
            0.5 + 0.5 * std::clamp(1.6 * patches.octaves(x / size, y / size, 3), -1.0, 1.0);
        const double where = p * static_cast<double>(colours.size() - 1);
        const auto k = std::min(colours.size() - 2, static_cast<std::size_t>(where));
        const double t = std::clamp((where - static_cast<double>(k) - 0.5) * 3 + 0.5, 0.0, 1.0);
        const double shade = 1 + 0.16 * light.at(x / (6 * size), y / (6 * size)) +
                             busy * grain.octaves(x / 3.1, y / 3.1, 2);
        Rgb out{};
        for (std::size_t c = 0; c < 3; ++c)
            out[c] = static_cast<float>(
                std::clamp(shade * (colours[k][c] * (1 - t) + colours[k + 1][c] * t), 2.0, 253.0));
        return out;
    }
};

// Coverage by 4 x 4 points a pixel.
template <class Inside>
void cover(Plane& alpha, const Inside& inside) {
    for (int y = 0; y < alpha.height(); ++y)
        for (int x = 0; x < alpha.width(); ++x) {
            int hits = 0;
            for (int k = 0; k < 16; ++k)
                hits += inside(x + (k % 4 + 0.5) / 4, y + (k / 4 + 0.5) / 4);
            alpha.row(y)[x] = std::max(alpha.row(y)[x], static_cast<float>(hits) / 16);
        }
}

// A soft line of the width given.
void line(Plane& alpha, double x0, double y0, double x1, double y1, double width, float most) {
    const double reach = width / 2 + 1;
    const double dx = x1 - x0, dy = y1 - y0, length = std::hypot(dx, dy);
    for (int y = std::max(0, static_cast<int>(std::min(y0, y1) - reach));
         y < std::min(alpha.height(), static_cast<int>(std::max(y0, y1) + reach) + 1); ++y)
        for (int x = std::max(0, static_cast<int>(std::min(x0, x1) - reach));
             x < std::min(alpha.width(), static_cast<int>(std::max(x0, x1) + reach) + 1); ++x) {
            const double px = x + 0.5 - x0, py = y + 0.5 - y0;
            const double t =
                length > 0 ? std::clamp((px * dx + py * dy) / (length * length), 0.0, 1.0) : 0;
            const double away = std::hypot(px - t * dx, py - t * dy);
            const auto a =
                static_cast<float>(std::clamp(width / 2 + 0.5 - away, 0.0, std::min(1.0, width)));
            alpha.row(y)[x] = std::max(alpha.row(y)[x], most * a);
        }
}

struct Wobble {
    double parts[5], turns[5];
    explicit Wobble(Dice& dice, double size) {
        for (int k = 0; k < 5; ++k) {
            parts[k] = dice.in(-size, size) / (k + 1);
            turns[k] = dice.in(0, 6.28);
        }
    }
    double at(double angle) const {
        double r = 1;
        for (int k = 0; k < 5; ++k) r += parts[k] * std::sin((k + 2) * angle + turns[k]);
        return r;
    }
};

void blur(Plane& alpha, double dx, double dy, int steps) {
    const Plane from = alpha.clone();
    for (int y = 0; y < alpha.height(); ++y)
        for (int x = 0; x < alpha.width(); ++x) {
            double sum = 0;
            for (int k = 0; k < steps; ++k) {
                const double t = steps > 1 ? static_cast<double>(k) / (steps - 1) - 0.5 : 0;
                const double u = x + t * dx, v = y + t * dy;
                const int i = static_cast<int>(std::floor(u)), j = static_cast<int>(std::floor(v));
                const auto a = static_cast<float>(u - i), b = static_cast<float>(v - j);
                sum += (from.at(i, j) * (1 - a) + from.at(i + 1, j) * a) * (1 - b) +
                       (from.at(i, j + 1) * (1 - a) + from.at(i + 1, j + 1) * a) * b;
            }
            alpha.row(y)[x] = static_cast<float>(sum / steps);
        }
}

void strands(Plane& alpha, Dice& dice, const Wobble& wobble, double cx, double cy, double r,
             bool fur) {
    const double unit = r / 100;
    const int count = fur ? 420 : 90;
    for (int k = 0; k < count; ++k) {
        double angle = dice.in(0, 6.28318);
        const double base = r * wobble.at(angle) * 0.96;
        double x = cx + base * std::cos(angle), y = cy + base * std::sin(angle);
        const double length = fur ? dice.in(6, 16) * unit : dice.in(20, 60) * unit;
        const double width = fur ? 1.6 * unit + 0.6 : dice.in(1, 3);
        double way = angle + dice.in(-0.7, 0.7);
        const int parts = fur ? 2 : 8;
        for (int i = 0; i < parts; ++i) {
            const double step = length / parts;
            const double u = x + step * std::cos(way), v = y + step * std::sin(way);
            line(alpha, x, y, u, v, width * (1 - 0.6 * i / parts), 1.0F);
            x = u;
            y = v;
            way += dice.in(-0.25, 0.25);
        }
    }
}

Plane formAlpha(Form form, Dice& dice, PixelSize size) {
    Plane alpha(size);
    const double w = size.width, h = size.height, least = std::min(w, h);
    const double cx = w * dice.in(0.42, 0.58), cy = h * dice.in(0.46, 0.54);
    const double r = least * dice.in(0.24, 0.32);
    const Wobble wobble(dice, form == Form::blob ? 0.16 : 0.07);
    const auto polar = [&](const auto& radius) {
        cover(alpha, [&](double x, double y) {
            return std::hypot(x - cx, y - cy) < radius(std::atan2(y - cy, x - cx));
        });
    };
    switch (form) {
        case Form::blob:
            polar([&](double a) { return r * wobble.at(a); });
            break;
        case Form::person:
            cover(alpha, [&](double x, double y) {
                const double head = 0.42 * r, hy = cy - 0.75 * r;
                if (std::hypot((x - cx) * 1.15, y - hy) < head) return true;
                if (std::abs(x - cx) < 0.17 * r && y > hy && y < cy) return true;
                const double t = (y - (cy - 0.28 * r)) / (0.5 * r);
                return t > 0 && std::abs(x - cx) < r * (1.05 - 0.75 * std::exp(-2.2 * t));
            });
            break;
        case Form::cup:
            cover(alpha, [&](double x, double y) {
                const double u = (x - cx) / r, v = (y - cy) / r;
                if (std::abs(v) < 0.95 && std::abs(u + 0.15) < 0.72 - 0.12 * v) return true;
                const double ring = std::hypot(u - 0.62, v * 0.9 - 0.05);
                return ring < 0.5 && ring > 0.3;
            });
            break;
        case Form::spikes: {
            const double turn = dice.in(0, 1);
            polar([&](double a) {
                const double saw =
                    std::abs(std::fmod((a + 4 * 3.14159265 + turn) * 13 / 6.2831853, 1.0) * 2 - 1);
                return r * (0.72 + 0.75 * std::pow(saw, 2.5));
            });
            break;
        }
        case Form::wheel:
            cover(alpha, [&](double x, double y) {
                const double d = std::hypot(x - cx, y - cy) / r;
                if (d < 0.22 || (d < 1.1 && d > 0.92)) return true;
                if (d > 1) return false;
                const double a = std::atan2(y - cy, x - cx) + 0.2;
                const double off = std::remainder(a, 6.2831853 / 10);
                return std::abs(d * r * std::sin(off)) < std::max(1.6, 0.022 * r);
            });
            break;
        case Form::hair:
        case Form::fur:
            polar([&](double a) { return r * wobble.at(a); });
            strands(alpha, dice, wobble, cx, cy, r, form == Form::fur);
            break;
        case Form::motion: {
            polar([&](double a) { return r * wobble.at(a); });
            const double way = dice.in(0, 3.14), far = least * dice.in(0.03, 0.06);
            blur(alpha, far * std::cos(way), far * std::sin(way), 33);
            break;
        }
        case Form::defocus: {
            polar([&](double a) { return r * wobble.at(a); });
            const double far = least * dice.in(0.008, 0.018);
            for (int k = 0; k < 3; ++k) {
                blur(alpha, 2 * far, 0, 9);
                blur(alpha, 0, 2 * far, 9);
            }
            break;
        }
    }
    return alpha;
}

std::vector<Rgb> palette(Dice& dice, double hue, double spread, double value) {
    std::vector<Rgb> out;
    for (int k = 0; k < 4; ++k)
        out.push_back(fromHue(std::fmod(hue + dice.in(-spread, spread) + 1, 1.0),
                              dice.in(0.25, 0.8),
                              std::clamp(value + dice.in(-0.22, 0.22), 0.15, 0.97)));
    return out;
}

}  // namespace

SubjectScene subjectScene(Form form, Contrast contrast, unsigned seed, int longSide) {
    constexpr const char* forms[] = {"blob", "person", "cup",    "spikes", "wheel",
                                     "hair", "fur",    "motion", "defocus"};
    constexpr const char* contrasts[] = {"easy", "medium", "hard"};
    Dice dice(seed * 7919 + static_cast<unsigned>(form) * 101 +
              static_cast<unsigned>(contrast) * 13 + 1);
    const bool wide = dice.unit() < 0.7;
    const PixelSize size{wide ? longSide : longSide * 3 / 4, wide ? longSide * 9 / 16 : longSide};
    const double scale = longSide / 640.0;
    // How far the two sides' hues lie apart, how much each spreads, how far their light.
    constexpr double apart[] = {0.42, 0.22, 0.10}, spread[] = {0.07, 0.10, 0.12},
                     lighter[] = {0.30, 0.18, 0.10}, busy[] = {0.05, 0.08, 0.10};
    const auto level = static_cast<std::size_t>(contrast);
    const double hue = dice.unit(), light = dice.unit() < 0.5 ? -0.5 : 0.5;
    SubjectScene scene;
    scene.name = std::string(forms[static_cast<int>(form)]) + "-" + contrasts[level];
    const Texture ground(dice, palette(dice, hue, spread[level], 0.55 - light * lighter[level]),
                         dice.in(30, 70) * scale, busy[level]);
    const Texture ink(
        dice, palette(dice, hue + apart[level], spread[level], 0.6 + light * lighter[level]),
        dice.in(25, 60) * scale, busy[level]);
    scene.alpha = formAlpha(form, dice, size);
    scene.picture = Straight8(size);
    scene.ink.resize(static_cast<std::size_t>(size.count()));
    PixelRect box;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const Rgb f = ink.at(x, y), b = ground.at(x, y);
            const float a = scene.alpha.row(y)[x];
            scene.ink[static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) +
                      static_cast<std::size_t>(x)] = f;
            int c[3];
            for (std::size_t k = 0; k < 3; ++k)
                c[k] = static_cast<int>(std::lround(
                    std::clamp(a * f[k] + (1 - a) * b[k] + static_cast<float>(dice.in(-1.5, 1.5)),
                               0.0F, 255.0F)));
            scene.picture.row(y)[x] = packed(c[0], c[1], c[2], 255);
            if (a <= 0.5F) continue;
            if (box.empty()) box = {x, y, x + 1, y + 1};
            box.left = std::min(box.left, x);
            box.right = std::max(box.right, x + 1);
            box.bottom = y + 1;
        }
    const double room = 0.03 * longSide;
    const double left = std::max(0.0, box.left - room * dice.in(0.5, 1.2)),
                 top = std::max(0.0, box.top - room * dice.in(0.5, 1.2));
    scene.box = {left, top, std::min<double>(size.width, box.right + room) - left,
                 std::min<double>(size.height, box.bottom + room) - top};
    return scene;
}

Straight8 throughJpeg(const Straight8& picture, int quality) {
    Encoding encoding{Content::jpeg, quality};
    encoding.chroma = Chroma::half;
    encoding.effort = Effort::quick;
    const auto bytes = encode(picture, encoding);
    const auto decoded = decode(*bytes, "scene.jpg");
    return decoded->pixels->clone();
}

Labels bandOf(const SubjectScene& scene) {
    const PixelSize size = scene.alpha.size();
    Labels seeds(size, ofGround);
    const auto over = [&](int x, int y) { return scene.alpha.row(y)[x] > 0.5F; };
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float a = scene.alpha.row(y)[x];
            const bool soft = a > 0.02F && a < 0.98F;
            const bool edge = (x + 1 < size.width && over(x, y) != over(x + 1, y)) ||
                              (y + 1 < size.height && over(x, y) != over(x, y + 1));
            seeds.at(x, y) = soft || edge ? ofSubject : ofGround;
        }
    const Plane depth = depthOf(seeds);
    const double near = std::max(4.0, std::round(std::max(size.width, size.height) / 320.0));
    Labels band(size, ofGround);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            band.at(x, y) = seeds.at(x, y) == ofSubject || depth.row(y)[x] <= near ? undecided
                            : over(x, y)                                           ? ofSubject
                                                                                   : ofGround;
    return band;
}

SubjectErrors errorsOf(const SubjectScene& scene, const Straight8& cut) {
    const Labels band = bandOf(scene);
    double both = 0, either = 0, alphas = 0, count = 0, sums[3] = {}, halo = 0, soft = 0;
    for (int y = 0; y < cut.height(); ++y)
        for (int x = 0; x < cut.width(); ++x) {
            const std::uint32_t p = cut.row(y)[x];
            const double a = alphaOf(p) / 255.0, t = scene.alpha.row(y)[x];
            both += a > 0.5 && t > 0.5;
            either += a > 0.5 || t > 0.5;
            if (band.at(x, y) != undecided) continue;
            const auto& ink =
                scene.ink[static_cast<std::size_t>(y) * static_cast<std::size_t>(cut.width()) +
                          static_cast<std::size_t>(x)];
            const double c[3] = {static_cast<double>(redOf(p)), static_cast<double>(greenOf(p)),
                                 static_cast<double>(blueOf(p))};
            count += 1;
            alphas += std::abs(a - t);
            constexpr double grounds[3] = {255, 0, 128};
            for (int g = 0; g < 3; ++g)
                for (std::size_t k = 0; k < 3; ++k)
                    sums[g] += std::abs(a * c[k] + (1 - a) * grounds[g] - t * ink[k] -
                                        (1 - t) * grounds[g]) /
                               3;
            if (t <= 0.05 || t >= 0.95) continue;
            soft += 1;
            for (std::size_t k = 0; k < 3; ++k) halo += a * std::abs(c[k] - ink[k]) / 3;
        }
    return {either > 0 ? both / either : 1, alphas / count,
            std::max({sums[0], sums[1], sums[2]}) / count, soft > 0 ? halo / soft : 0};
}

bool strokeWhatIsWrong(const SubjectScene& scene, const Labels& labels, double scale,
                       SubjectCut& cut) {
    const PixelSize size = labels.size();
    Labels truth(size);
    // Where a hand may draw: what it calls subject or ground is so all over the working pixel, and
    // a pixel of the picture round it. Nobody calls the soft part of an edge sure.
    Labels sure(size, undecided);
    const Plane& alpha = scene.alpha;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const auto at = [&](int v, double by, int most) {
                return std::clamp(static_cast<int>((v + by) / scale), 0, most - 1);
            };
            const int cx = at(x, 0.5, alpha.width()), cy = at(y, 0.5, alpha.height());
            truth.at(x, y) = alpha.row(cy)[cx] > 0.5F ? ofSubject : ofGround;
            float low = 1, high = 0;
            for (int v = std::max(0, at(y, 0, alpha.height()) - 1);
                 v <= std::min(alpha.height() - 1, at(y, 1, alpha.height()) + 1); ++v)
                for (int u = std::max(0, at(x, 0, alpha.width()) - 1);
                     u <= std::min(alpha.width() - 1, at(x, 1, alpha.width()) + 1); ++u) {
                    low = std::min(low, alpha.row(v)[u]);
                    high = std::max(high, alpha.row(v)[u]);
                }
            constexpr float nearly = 0.95F;
            if (low >= nearly) sure.at(x, y) = ofSubject;
            if (high <= 1 - nearly) sure.at(x, y) = ofGround;
        }
    if (overlapOf(labels, truth) >= 0.97) return false;
    long long most = 7;  // px: less is not worth a stroke
    Labels region(size);
    bool keeps = false;
    for (const std::uint8_t side : {ofGround, ofSubject}) {
        const Components parts(size, Neighbours::eight, [&](int x, int y) {
            return sure.at(x, y) == side && labels.at(x, y) != side;
        });
        for (std::size_t i = 0; i < parts.all().size(); ++i) {
            if (parts.all()[i].pixels <= most) continue;
            most = parts.all()[i].pixels;
            keeps = side == ofSubject;
            region = Labels(size);
            for (const Components::Run& run : parts.runs())
                for (int x = run.from; x < run.to && run.component == static_cast<int>(i); ++x)
                    region.at(x, run.y) = ofSubject;
        }
    }
    if (most <= 7) return false;
    const Plane depth = depthOf(region);
    int bx = 0, by = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (region.at(x, y) == ofSubject &&
                (region.at(bx, by) != ofSubject || depth.row(y)[x] > depth.row(by)[bx])) {
                bx = x;
                by = y;
            }
    // To the place that is furthest from its deepest one, through its middle.
    const float deepest = depth.row(by)[bx];
    Cells<int> from(size, -1);
    std::vector<int> queue{by * size.width + bx};
    from.at(bx, by) = queue.front();
    for (std::size_t i = 0; i < queue.size(); ++i)
        for (int k = 0; k < 9; ++k) {
            const int x = queue[i] % size.width + k % 3 - 1, y = queue[i] / size.width + k / 3 - 1;
            if (!from.holds(x, y) || region.at(x, y) != ofSubject || from.at(x, y) >= 0 ||
                depth.row(y)[x] < 0.35F * deepest)
                continue;
            from.at(x, y) = queue[i];
            queue.push_back(y * size.width + x);
        }
    Stroke stroke{keeps, std::max(1.0, 0.5 * static_cast<double>(deepest)) / scale, {}};
    for (int at = queue.back();; at = from.all()[static_cast<std::size_t>(at)]) {
        stroke.points.push_back({(at % size.width + 0.5) / scale, (at / size.width + 0.5) / scale});
        if (from.all()[static_cast<std::size_t>(at)] == at) break;
    }
    cut.strokes.push_back(std::move(stroke));
    return true;
}

CorrectedSubject correctedSubject(const SubjectScene& scene, int threads) {
    CorrectedSubject out;
    out.cut.box = scene.box;
    out.start = *subjectStart(scene.picture, scene.box, threads);
    constexpr int most = 6;
    for (int strokes = 0;; ++strokes) {
        out.labels = *subjectLabels(*out.start, out.cut);
        if (strokes == most ||
            !strokeWhatIsWrong(scene, out.labels, out.start->working.scale, out.cut))
            break;
    }
    out.pixels = std::move(*subjectCut(scene.picture, *out.start, out.cut, threads));
    return out;
}

}  // namespace zl::test
