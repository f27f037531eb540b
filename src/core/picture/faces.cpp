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
using FindOpenEyes = int (*)(const std::uint8_t*, int, int);

// One works at a time: the module's cascades are shared.
std::mutex& moduleMutex() {
    static std::mutex one;
    return one;
}

double greyOf(std::uint32_t p) {
    const double a = alphaOf(p) / 255.0;
    return a * luma709(redOf(p), greenOf(p), blueOf(p)) + 128 * (1 - a);
}

}  // namespace

std::vector<Face> facesIn(const Straight8& picture) {
    constexpr int least = 48, longSide = 640;
    if (picture.width() < least || picture.height() < least) return {};
    const std::lock_guard lock(moduleMutex());
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
            sums[at] += greyOf(p);
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
                         f[4],
                         {f[0] / scale, f[1] / scale, f[2] / scale, f[3] / scale}});
    }
    return faces;
}

OpenEyes openEyesOf(const Straight8& picture, const Face& face) {
    constexpr double narrowest = 60;       // px
    constexpr int surely = 4, hardly = 1;  // of six: two eyes, at three sizes
    const RealRect& square = face.square;
    const PixelRect at =
        PixelRect{static_cast<int>(square.x), static_cast<int>(square.y),
                  static_cast<int>(square.right()), static_cast<int>(square.bottom())}
            .intersected(PixelRect::of(picture.size()));
    if (square.width < narrowest || at.width() < narrowest || at.height() < narrowest)
        return OpenEyes::unknown;
    std::vector<std::uint8_t> grey;
    grey.reserve(static_cast<std::size_t>(at.size().count()));
    for (int y = at.top; y < at.bottom; ++y)
        for (int x = at.left; x < at.right; ++x)
            grey.push_back(static_cast<std::uint8_t>(greyOf(picture.row(y)[x])));
    const std::lock_guard lock(moduleMutex());
    static const auto find =
        reinterpret_cast<FindOpenEyes>(functionOfModule("zl_faces.so", "zl_find_open_eyes"));
    const int open = find ? find(grey.data(), at.width(), at.height()) : -1;
    if (open < 0) return OpenEyes::unknown;
    return open >= surely ? OpenEyes::seen : open <= hardly ? OpenEyes::none : OpenEyes::unknown;
}

}  // namespace zl
