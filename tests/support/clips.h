// SPDX-License-Identifier: GPL-3.0-or-later
// Videos that tests draw frame by frame.
#pragma once

#include <cmath>
#include <functional>
#include <random>
#include <stdexcept>

#include "base/file.h"
#include "support/support.h"
#include "video/video.h"
#include "video/write.h"

namespace zl::test {

inline constexpr PixelSize small{320, 180};

// Frames of `size`, 25 a second, written by the program itself.
inline Path clipOf(const Path& file, PixelSize size, int frames,
                   const std::function<Straight8(int)>& frame, int quality = 18) {
    VideoPlan plan;
    plan.size = size;
    plan.quality = quality;
    auto sink = good(writeVideo(plan));
    for (int n = 0; n < frames; ++n)
        if (auto done = sink->picture(frame(n)); !done) throw std::runtime_error(done.error().what);
    const Bytes bytes = good(sink->finish());
    if (auto done = writeFile(file, bytes, Replace::yes); !done)
        throw std::runtime_error(done.error().what);
    return file;
}

// A ground without an edge of its own: soft hills of light in three inks, another one for each
// seed.
class Ground {
  public:
    Ground(PixelSize size, unsigned seed) : size_(size) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> unit(0, 1);
        std::array<Hill, 24> hills{};
        for (Hill& hill : hills)
            hill = {unit(random) * size.width * 2, unit(random) * size.height * 1.2,
                    (0.05 + 0.18 * unit(random)) * size.width, 30 + 160 * unit(random),
                    static_cast<int>(unit(random) * 3)};
        const double base = 20 + 60 * unit(random);
        whole_ = painted({2 * size.width, size.height}, [&](int x, int y) {
            std::array<double, 3> ink{base, base, base};
            for (const Hill& hill : hills) {
                const double dx = (x - hill.x) / hill.reach, dy = (y - hill.y) / hill.reach;
                const double far = dx * dx + dy * dy;
                // Crisp at its rim, so that a picture of it can be sharp.
                if (far < 1) ink[static_cast<std::size_t>(hill.ink)] += hill.height * (1.2 - far);
            }
            const auto code = [](double v) { return static_cast<int>(std::min(v, 255.0)); };
            return packed(code(ink[0]), code(ink[1]), code(ink[2]), 255);
        });
    }
    // Seen `left` px further on, at most as far as it is wide; `light` times as bright.
    Straight8 seen(double left, double light = 1) const {
        std::array<std::uint32_t, 256> code{};
        for (std::size_t v = 0; v < code.size(); ++v)
            code[v] =
                static_cast<std::uint32_t>(std::clamp(static_cast<double>(v) * light, 0.0, 255.0));
        Straight8 out(size_);
        for (int y = 0; y < size_.height; ++y) {
            const std::uint32_t* from = whole_.row(y) + static_cast<int>(left);
            std::uint32_t* to = out.row(y);
            for (int x = 0; x < size_.width; ++x)
                to[x] = code[from[x] & 255] | code[from[x] >> 8 & 255] << 8 |
                        code[from[x] >> 16 & 255] << 16 | 0xff000000u;
        }
        return out;
    }

  private:
    struct Hill {
        double x = 0, y = 0, reach = 1, height = 0;
        int ink = 0;
    };
    PixelSize size_;
    Straight8 whole_;
};

// The mean of what passes while the shutter is open.
inline Straight8 smeared(const Straight8& sharp, int px) {
    Straight8 out(sharp.size());
    for (int y = 0; y < sharp.height(); ++y) {
        std::array<int, 3> sum{};
        const auto put = [&](int x, int by) {
            const std::uint32_t p = sharp.row(y)[std::min(sharp.width() - 1, x)];
            sum[0] += by * redOf(p);
            sum[1] += by * greenOf(p);
            sum[2] += by * blueOf(p);
        };
        for (int i = 0; i < px; ++i) put(i, 1);
        for (int x = 0; x < sharp.width(); ++x) {
            out.row(y)[x] = packed(sum[0] / px, sum[1] / px, sum[2] / px, 255);
            put(x, -1);
            put(x + px, 1);
        }
    }
    return out;
}

}  // namespace zl::test
