// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/faces.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <mutex>

#include "base/module.h"
#include "colour/colour.h"

namespace zl {
namespace {

using FindFaces = int (*)(const std::uint8_t*, int, int, double*, int);

}  // namespace

std::vector<Face> facesIn(const Straight8& picture) {
    constexpr int least = 48, longSide = 640;
    if (picture.width() < least || picture.height() < least) return {};
    static std::mutex one;
    const std::lock_guard lock(one);
    static const auto find =
        reinterpret_cast<FindFaces>(functionOfModule("zl_faces.so", "zl_find_faces"));
    if (!find) return {};
    // Grey at a working size; each pixel the mean of what it covers.
    const double scale =
        std::min(1.0, static_cast<double>(longSide) / std::max(picture.width(), picture.height()));
    const int w = std::max(1, static_cast<int>(picture.width() * scale)),
              h = std::max(1, static_cast<int>(picture.height() * scale));
    std::vector<double> sums(static_cast<std::size_t>(w) * static_cast<std::size_t>(h)),
        counts(sums.size());
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
            const std::uint32_t p = picture.row(y)[x];
            const auto at = static_cast<std::size_t>(std::min(h - 1, static_cast<int>(y * scale))) *
                                static_cast<std::size_t>(w) +
                            static_cast<std::size_t>(std::min(w - 1, static_cast<int>(x * scale)));
            const double a = alphaOf(p) / 255.0;
            sums[at] += a * luma709(redOf(p), greenOf(p), blueOf(p)) + 128 * (1 - a);
            counts[at] += 1;
        }
    std::vector<std::uint8_t> grey(sums.size());
    for (std::size_t i = 0; i < sums.size(); ++i)
        grey[i] = static_cast<std::uint8_t>(counts[i] > 0 ? sums[i] / counts[i] : 0);
    constexpr int most = 16;
    std::array<double, 5 * most> out{};
    const int count = find(grey.data(), w, h, out.data(), most);
    std::vector<Face> faces;
    for (int i = 0; i < count; ++i) {
        const double* f = out.data() + 5 * i;
        // The cascade's square goes from the brows to the chin: the hair and the ears are added.
        constexpr double hair = 0.4, ears = 0.15, chin = 0.15;
        faces.push_back({{(f[0] - ears * f[2]) / scale, (f[1] - hair * f[3]) / scale,
                          (1 + 2 * ears) * f[2] / scale, (1 + hair + chin) * f[3] / scale},
                         f[4]});
    }
    return faces;
}

}  // namespace zl
