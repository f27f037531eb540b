// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/shrink.h"

#include <cmath>
#include <vector>

namespace zl {
namespace {

// The frame pixels [first, first + n) that one screen pixel shows, with their shares; `part` is how much of the screen
// pixel lies in the frame.
struct Span {
    int first = 0, count = 0;
    float head = 0, middle = 0, tail = 0;  // weights of the first, the inner and the last frame pixel; they sum to 1
    float part = 0;
};

Span spanOf(int screen, double scale, double origin, int length) {
    const double from = (screen - origin) / scale, to = (screen + 1 - origin) / scale;
    const double a = std::clamp<double>(from, 0, length), b = std::clamp<double>(to, 0, length);
    Span span;
    if (b - a < 1e-9) return span;
    span.part = static_cast<float>((b - a) / (to - from));
    span.first = std::min(static_cast<int>(a + 1e-9), length - 1);
    const int end = std::clamp(static_cast<int>(std::ceil(b - 1e-9)), span.first + 1, length);
    span.count = end - span.first;
    const double all = b - a;
    if (span.count == 1) {
        span.head = 1;
    } else {
        span.head = static_cast<float>((span.first + 1 - a) / all);
        span.middle = static_cast<float>(1 / all);
        span.tail = static_cast<float>((b - (end - 1)) / all);
    }
    return span;
}

float weightAt(const Span& span, int k) {
    return k == 0 ? span.head : k == span.count - 1 ? span.tail : span.middle;
}

#define ZL_INLINE static inline __attribute__((always_inline))

ZL_INLINE float asFloat(std::uint32_t v) {
    return static_cast<float>(static_cast<int>(v));
}

// Sums `weight` of a row, premultiplied: red, green, blue, alpha interleaved, 0..255.
ZL_INLINE void addRow(const std::uint32_t* __restrict source, int count, float weight, float* __restrict sum) {
    for (int i = 0; i < count; ++i) {
        const std::uint32_t p = source[i];
        const float a = asFloat(p >> 24) * weight, c = a * (1.0f / 255.0f);
        sum[4 * i] += asFloat(p & 255u) * c;
        sum[4 * i + 1] += asFloat(p >> 8 & 255u) * c;
        sum[4 * i + 2] += asFloat(p >> 16 & 255u) * c;
        sum[4 * i + 3] += a;
    }
}
void addRowPlain(const std::uint32_t* s, int n, float w, float* p) {
    addRow(s, n, w, p);
}
#if defined(__x86_64__)
__attribute__((target("avx2"))) void addRowAvx2(const std::uint32_t* s, int n, float w, float* p) {
    addRow(s, n, w, p);
}
const auto addRowBest = __builtin_cpu_supports("avx2") ? addRowAvx2 : addRowPlain;
#else
const auto addRowBest = addRowPlain;
#endif

std::uint32_t code(float v) {
    return static_cast<std::uint32_t>(std::clamp(v, 0.0f, 255.0f) + 0.5f);
}

Colour behind(const Backdrop& backdrop, int x, int y) {
    constexpr int square = 8;
    return backdrop.checks && ((x / square + y / square) & 1) ? backdrop.other : backdrop.one;
}

}  // namespace

void showOnScreen(const Straight8& frame, const Mapping& m, const Backdrop& backdrop, Colour surround, PixelRect want, std::uint32_t* out,
                  int stride) {
    if (want.empty()) return;
    std::vector<Span> columns;
    columns.reserve(static_cast<std::size_t>(want.width()));
    int low = frame.width(), high = 0;
    for (int x = want.left; x < want.right; ++x) {
        columns.push_back(spanOf(x, m.scale, m.originX, frame.width()));
        if (columns.back().count == 0) continue;
        low = std::min(low, columns.back().first);
        high = std::max(high, columns.back().first + columns.back().count);
    }
    std::vector<float> sum(static_cast<std::size_t>(std::max(0, high - low)) * 4);
    const int checksX = static_cast<int>(std::floor(m.originX)), checksY = static_cast<int>(std::floor(m.originY));
    for (int y = want.top; y < want.bottom; ++y, out += stride) {
        const Span rows = spanOf(y, m.scale, m.originY, frame.height());
        std::fill(sum.begin(), sum.end(), 0.0f);
        for (int k = 0; k < rows.count && high > low; ++k)
            addRowBest(frame.row(rows.first + k) + low, high - low, weightAt(rows, k), sum.data());
        for (int x = want.left; x < want.right; ++x) {
            const Span& span = columns[static_cast<std::size_t>(x - want.left)];
            float c[4] = {0, 0, 0, 0};
            for (int k = 0; k < span.count && rows.count > 0; ++k) {
                const float w = weightAt(span, k);
                const float* from = sum.data() + 4 * static_cast<std::ptrdiff_t>(span.first + k - low);
                for (int channel = 0; channel < 4; ++channel) c[channel] += w * from[channel];
            }
            const float part = span.part * rows.part, a = c[3] / 255.0f;
            const Colour back = behind(backdrop, x - checksX + (1 << 20), y - checksY + (1 << 20));
            const auto mixed = [&](float ink, std::uint8_t under, std::uint8_t outside) {
                return code(part * (ink + (1 - a) * static_cast<float>(under)) + (1 - part) * static_cast<float>(outside));
            };
            out[x - want.left] = 0xFF000000u | mixed(c[0], back.red, surround.red) << 16 | mixed(c[1], back.green, surround.green) << 8 |
                                 mixed(c[2], back.blue, surround.blue);
        }
    }
}

}  // namespace zl
