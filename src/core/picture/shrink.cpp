// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/shrink.h"

#include <array>
#include <cmath>
#include <cstring>
#include <span>
#include <vector>

#include "base/parallel.h"
#include "base/processor.h"

namespace zl {
namespace {

// The frame pixels [first, first + n) that one screen pixel shows, with their shares; `part` is how
// much of the screen pixel lies in the frame.
struct Span {
    int first = 0, count = 0;
    float head = 0, middle = 0,
          tail = 0;  // weights of the first, the inner and the last frame pixel; they sum to 1
    float part = 0;
    static constexpr int few = 4;
    std::array<float, few> weights{};  // of the first few; 0 beyond the last
};

float weightAt(const Span& span, int k) {
    return k == 0 ? span.head : k == span.count - 1 ? span.tail : span.middle;
}

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
    for (int k = 0; k < std::min(span.count, Span::few); ++k)
        span.weights[static_cast<std::size_t>(k)] = weightAt(span, k);
    return span;
}

ZL_INLINE float asFloat(std::uint32_t v) {
    return static_cast<float>(static_cast<int>(v));
}

// Red, green, blue, alpha.
using Four = float __attribute__((vector_size(16)));

ZL_INLINE Four fourAt(const float* from) {
    Four four;
    std::memcpy(&four, from, sizeof four);
    return four;
}

// A row of the frame from one column on, and its share of a row of the screen.
struct Share {
    const std::uint32_t* row;
    float weight;
};

ZL_INLINE bool solid(const std::uint32_t* pixels, int count) {
    std::uint32_t all = ~0u;
    for (int i = 0; i < count; ++i) all &= pixels[i];
    return all >> 24 == 255u;
}

// The weighted sum of rows, premultiplied: red, green, blue, alpha interleaved, 0..255.
ZL_INLINE void sumRows(std::span<const Share> shares, int count, float* __restrict sum) {
    constexpr int block = 256;  // px whose sums stay in the first-level cache
    alignas(32) float scale[4 * block];
    for (int at = 0; at < count; at += block) {
        const int n = std::min(block, count - at);
        float* __restrict into = sum + 4 * at;
        std::fill_n(into, 4 * n, 0.0f);
        for (const Share& share : shares) {
            const auto* __restrict bytes = reinterpret_cast<const std::uint8_t*>(share.row + at);
            const float weight = share.weight;
            if (solid(share.row + at, n)) {
                for (int i = 0; i < 4 * n; ++i) into[i] += asFloat(bytes[i]) * weight;
                continue;
            }
            for (int i = 0; i < n; ++i) {
                const float a = asFloat(bytes[4 * i + 3]) * (weight * (1.0f / 255.0f));
                const Four each{a, a, a, weight};
                std::memcpy(scale + 4 * i, &each, sizeof each);
            }
            for (int i = 0; i < 4 * n; ++i) into[i] += asFloat(bytes[i]) * scale[i];
        }
    }
}
// The mean over a span of summed pixels. Few are summed without asking how many, which varies from
// one to the next.
ZL_INLINE Four meanOver(const Span& span, const float* from) {
    if (span.count <= Span::few)
        return (fourAt(from) * span.weights[0] + fourAt(from + 4) * span.weights[1]) +
               (fourAt(from + 8) * span.weights[2] + fourAt(from + 12) * span.weights[3]);
    Four mean = fourAt(from) * span.head;
    for (int k = 1; k + 1 < span.count; ++k) mean += fourAt(from + 4 * k) * span.middle;
    return mean + fourAt(from + 4 * (span.count - 1)) * span.tail;
}

Four fourOf(const Colour& c) {
    const Four four{static_cast<float>(c.red), static_cast<float>(c.green),
                    static_cast<float>(c.blue), 0};
    return four;
}

// 0xFFRRGGBB
ZL_INLINE std::uint32_t screenCode(const Four& v) {
    using Ints = std::int32_t __attribute__((vector_size(16)));
    const Ints codes = __builtin_convertvector(v + 0.5f, Ints);
    return 0xFF000000u | static_cast<std::uint32_t>(codes[0] << 16 | codes[1] << 8 | codes[2]);
}

// What a row of the screen is made of.
struct Row {
    std::span<const Share> shares;  // empty: nothing of the frame
    std::span<const Span> columns;
    int low = 0, high = 0;  // the columns of the frame that are shown
    float part = 0;         // of the row that lies in the frame
    Four one{}, other{}, outside{};
    bool checks = false;
    int x = 0, y = 0;  // px from the corner of the checks, to the row's first pixel
};

ZL_INLINE void show(const Row& row, float* __restrict sum, std::uint32_t* __restrict out) {
    constexpr int square = 8, far = 1 << 20;  // far: no number below 0 is divided
    if (!row.shares.empty()) sumRows(row.shares, row.high - row.low, sum);
    const Four one = row.one, other = row.other, outside = row.outside;
    const int low = row.low, count = static_cast<int>(row.columns.size()), x = row.x + far,
              y = (row.y + far) / square;
    const bool checks = row.checks;
    const Span* columns = row.columns.data();
    for (int i = 0; i < count; ++i) {
        const Span& span = columns[i];
        const float part = span.part * row.part;
        if (part <= 0) {
            out[i] = screenCode(outside);
            continue;
        }
        const Four ink = meanOver(span, sum + 4 * static_cast<std::ptrdiff_t>(span.first - low));
        const Four& back = checks && (((x + i) / square + y) & 1) ? other : one;
        const Four shown = ink + back * (1 - std::min(ink[3] * (1.0f / 255.0f), 1.0f));
        out[i] = screenCode(part >= 1 ? shown : shown * part + outside * (1 - part));
    }
}
ZL_FOR_THIS_PROCESSOR(void, showRow, (const Row& row, float* sum, std::uint32_t* out),
                      show(row, sum, out));

}  // namespace

void showOnScreen(const Straight8& frame, const Mapping& m, const Backdrop& backdrop,
                  Colour surround, PixelRect want, std::uint32_t* out, int stride, int threads) {
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
    Row any{{},
            columns,
            low,
            high,
            0,
            fourOf(backdrop.one),
            fourOf(backdrop.other),
            fourOf(surround),
            backdrop.checks};
    any.x = want.left - static_cast<int>(std::floor(m.originX));
    constexpr int rowsAtOnce = 16;
    constexpr double worthSharing =
        200'000;  // px of the frame; below it a second thread costs more than it brings
    if (static_cast<double>(want.size().count()) / (m.scale * m.scale) < worthSharing) threads = 1;
    overRows(want.height(), rowsAtOnce, threads, [&](int first, int last) {
        std::vector<Share> shares;
        std::vector<float> sum(static_cast<std::size_t>(std::max(0, high - low) + Span::few) * 4);
        for (int y = first; y < last; ++y) {
            const Span rows = spanOf(want.top + y, m.scale, m.originY, frame.height());
            shares.clear();
            for (int k = 0; k < rows.count && high > low; ++k)
                shares.push_back({frame.row(rows.first + k) + low, weightAt(rows, k)});
            Row row = any;
            row.shares = shares;
            row.part = rows.part;
            row.y = want.top + y - static_cast<int>(std::floor(m.originY));
            showRow(row, sum.data(), out + static_cast<std::ptrdiff_t>(y) * stride);
        }
    });
}

}  // namespace zl
