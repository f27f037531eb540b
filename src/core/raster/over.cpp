// SPDX-License-Identifier: GPL-3.0-or-later
#include "raster/over.h"

#include <cmath>

#include "base/parallel.h"
#include "base/processor.h"

namespace zl {
namespace {

constexpr int tileWidth = 512;  // four float planes of it stay in the first-level cache

// What has been blended so far: colour premultiplied, 0..255; alpha 0..1, unused while everything
// is solid.
struct alignas(64) Tile {
    float red[tileWidth], green[tileWidth], blue[tileWidth], alpha[tileWidth];
};

struct Row8 {
    const std::uint32_t* pixels;
};
struct Row16 {
    const std::uint16_t *red, *green, *blue, *alpha;
};

constexpr float to255 = 255.0f / 65535.0f;

ZL_INLINE float asFloat(std::uint32_t v) {
    return static_cast<float>(static_cast<int>(v));
}
ZL_INLINE float redAt(const Row8& s, int i) {
    return asFloat(s.pixels[i] & 255u);
}
ZL_INLINE float greenAt(const Row8& s, int i) {
    return asFloat(s.pixels[i] >> 8 & 255u);
}
ZL_INLINE float blueAt(const Row8& s, int i) {
    return asFloat(s.pixels[i] >> 16 & 255u);
}
ZL_INLINE float alphaAt(const Row8& s, int i) {
    return asFloat(s.pixels[i] >> 24) * (1.0f / 255.0f);
}
ZL_INLINE float redAt(const Row16& s, int i) {
    return asFloat(s.red[i]) * to255;
}
ZL_INLINE float greenAt(const Row16& s, int i) {
    return asFloat(s.green[i]) * to255;
}
ZL_INLINE float blueAt(const Row16& s, int i) {
    return asFloat(s.blue[i]) * to255;
}
ZL_INLINE float alphaAt(const Row16& s, int i) {
    return asFloat(s.alpha[i]) * (1.0f / 65535.0f);
}

template <class Source>
ZL_INLINE void copySolid(Tile& t, int at, const Source& s, int count) {
    for (int i = 0; i < count; ++i) {
        t.red[at + i] = redAt(s, i);
        t.green[at + i] = greenAt(s, i);
        t.blue[at + i] = blueAt(s, i);
    }
}

template <class Source>
ZL_INLINE void overSolid(Tile& t, int at, const Source& s, int count, float opacity) {
    float* __restrict red = t.red + at;
    float* __restrict green = t.green + at;
    float* __restrict blue = t.blue + at;
    for (int i = 0; i < count; ++i) {
        const float a = alphaAt(s, i) * opacity;
        red[i] += (redAt(s, i) - red[i]) * a;
        green[i] += (greenAt(s, i) - green[i]) * a;
        blue[i] += (blueAt(s, i) - blue[i]) * a;
    }
}

template <class Source>
ZL_INLINE void overSeeThrough(Tile& t, int at, const Source& s, int count, float opacity) {
    float* __restrict red = t.red + at;
    float* __restrict green = t.green + at;
    float* __restrict blue = t.blue + at;
    float* __restrict alpha = t.alpha + at;
    for (int i = 0; i < count; ++i) {
        const float a = alphaAt(s, i) * opacity;
        red[i] += (redAt(s, i) - red[i]) * a;
        green[i] += (greenAt(s, i) - green[i]) * a;
        blue[i] += (blueAt(s, i) - blue[i]) * a;
        alpha[i] += (1.0f - alpha[i]) * a;
    }
}

// W3C Compositing and Blending Level 1, section 9.1: B(Cb, Cs) of backdrop and source, 0..1.
template <BlendMode mode>
ZL_INLINE float mixed(float b, float s) {
    if constexpr (mode == BlendMode::multiply) return b * s;
    if constexpr (mode == BlendMode::screen) return b + s - b * s;
    if constexpr (mode == BlendMode::overlay)  // hard-light the other way round
        return b <= 0.5f ? 2 * b * s : 1 - 2 * (1 - b) * (1 - s);
    if constexpr (mode == BlendMode::softLight) {
        const float root = std::sqrt(b), d = b <= 0.25f ? ((16 * b - 12) * b + 4) * b : root;
        return s <= 0.5f ? b - (1 - 2 * s) * b * (1 - b) : b + (2 * s - 1) * (d - b);
    }
    return s;
}

// Section 5.1 with a blend: co = cs αs (1 - αb) + αs αb B(cb, cs) + (1 - αs) cb αb.
template <BlendMode mode, class Source>
ZL_INLINE void blendInto(Tile& t, int at, const Source& s, int count, float opacity, bool solid) {
    for (int i = 0; i < count; ++i) {
        const float below = solid ? 1.0f : t.alpha[at + i],
                    back = 1.0f / (255.0f * std::max(below, 1e-6f));
        const float a = alphaAt(s, i) * opacity;
        const auto channel = [&](float* plane, float code) {
            const float source = code * (1.0f / 255.0f),
                        backdrop = std::min(1.0f, plane[at + i] * back);
            const float colour =
                (source + below * (mixed<mode>(backdrop, source) - source)) * 255.0f;
            plane[at + i] += (colour - plane[at + i]) * a;
        };
        channel(t.red, redAt(s, i));
        channel(t.green, greenAt(s, i));
        channel(t.blue, blueAt(s, i));
        if (!solid) t.alpha[at + i] += (1.0f - below) * a;
    }
}

template <class Source>
ZL_INLINE void layOver(Tile& t, int at, const Source& s, int count, const Ink& ink, bool solid) {
    switch (ink.blend) {
        case BlendMode::normal:
            return solid ? overSolid(t, at, s, count, ink.opacity)
                         : overSeeThrough(t, at, s, count, ink.opacity);
        case BlendMode::multiply:
            return blendInto<BlendMode::multiply>(t, at, s, count, ink.opacity, solid);
        case BlendMode::screen:
            return blendInto<BlendMode::screen>(t, at, s, count, ink.opacity, solid);
        case BlendMode::overlay:
            return blendInto<BlendMode::overlay>(t, at, s, count, ink.opacity, solid);
        case BlendMode::softLight:
            return blendInto<BlendMode::softLight>(t, at, s, count, ink.opacity, solid);
    }
}

ZL_INLINE std::uint32_t rounded(float v) {
    return static_cast<std::uint32_t>(static_cast<int>(v + 0.5f));
}

ZL_INLINE void storeSolid(const Tile& t, std::uint32_t* __restrict out, int count) {
    for (int i = 0; i < count; ++i)
        out[i] =
            rounded(t.red[i]) | rounded(t.green[i]) << 8 | rounded(t.blue[i]) << 16 | 0xFF000000u;
}

ZL_INLINE void storeSeeThrough(const Tile& t, std::uint32_t* __restrict out, int count) {
    for (int i = 0; i < count; ++i) {
        const float a = t.alpha[i];
        const std::uint32_t whole = rounded(a * 255.0f);
        const float back = 1.0f / std::max(a, 1e-6f);
        const float r = std::min(255.0f, t.red[i] * back), g = std::min(255.0f, t.green[i] * back),
                    b = std::min(255.0f, t.blue[i] * back);
        const std::uint32_t p = rounded(r) | rounded(g) << 8 | rounded(b) << 16 | whole << 24;
        out[i] = whole == 0 ? 0u : p;
    }
}

// A solid layer with nothing over it goes out as it is.
ZL_INLINE void copyOut(const Row8& s, std::uint32_t* __restrict out, int count) {
    std::copy_n(s.pixels, count, out);
}
ZL_INLINE void copyOut(const Row16& s, std::uint32_t* __restrict out, int count) {
    for (int i = 0; i < count; ++i)
        out[i] = rounded(redAt(s, i)) | rounded(greenAt(s, i)) << 8 | rounded(blueAt(s, i)) << 16 |
                 0xFF000000u;
}

Row8 row8(const Ink& ink, int x, int y) {
    return {ink.eight->row(y - ink.box.top + ink.fromY) + (x - ink.box.left + ink.fromX)};
}
Row16 row16(const Ink& ink, int x, int y) {
    const int sx = x - ink.box.left, sy = y - ink.box.top;
    const Ink16& s = *ink.sixteen;
    return {s.row(0, sy) + sx, s.row(1, sy) + sx, s.row(2, sy) + sx, s.row(3, sy) + sx};
}

bool coversSolid(const Ink& ink, int left, int right, int y) {
    return ink.opaque && ink.opacity >= 1 && ink.blend == BlendMode::normal && ink.box.top <= y &&
           y < ink.box.bottom && ink.box.left <= left && ink.box.right >= right;
}

bool touches(const Ink& ink, int left, int right, int y) {
    return ink.box.top <= y && y < ink.box.bottom && ink.box.left < right && ink.box.right > left;
}

// One tile of one row through all layers. What lies below the topmost solid layer is not looked at.
ZL_INLINE void blendTile(std::span<const Ink> inks, int left, int right, int y,
                         std::uint32_t* out) {
    std::size_t first = inks.size();
    while (first > 0 && !coversSolid(inks[first - 1], left, right, y)) --first;
    const bool solid = first > 0;
    const int width = right - left;
    while (solid && inks.size() > first && !touches(inks.back(), left, right, y))
        inks = inks.first(inks.size() - 1);
    if (solid && first == inks.size()) {
        const Ink& ground = inks[first - 1];
        return ground.eight ? copyOut(row8(ground, left, y), out, width)
                            : copyOut(row16(ground, left, y), out, width);
    }
    Tile tile;
    if (solid) {
        const Ink& ground = inks[first - 1];
        if (ground.eight)
            copySolid(tile, 0, row8(ground, left, y), width);
        else
            copySolid(tile, 0, row16(ground, left, y), width);
    } else {
        for (float* plane : {tile.red, tile.green, tile.blue, tile.alpha})
            std::fill_n(plane, width, 0.0f);
    }
    for (std::size_t i = first; i < inks.size(); ++i) {
        const Ink& ink = inks[i];
        if (y < ink.box.top || y >= ink.box.bottom) continue;
        const int from = std::max(left, ink.box.left), to = std::min(right, ink.box.right);
        if (from >= to) continue;
        const int at = from - left, count = to - from;
        if (ink.eight)
            layOver(tile, at, row8(ink, from, y), count, ink, solid);
        else
            layOver(tile, at, row16(ink, from, y), count, ink, solid);
    }
    solid ? storeSolid(tile, out, width) : storeSeeThrough(tile, out, width);
}

ZL_INLINE void blendTiles(std::span<const Ink> inks, int left, int right, int y, Straight8& frame) {
    for (int x = left; x < right; x += tileWidth)
        blendTile(inks, x, std::min(right, x + tileWidth), y, frame.row(y) + x);
}

ZL_FOR_THIS_PROCESSOR(void, blendRow,
                      (std::span<const Ink> inks, int left, int right, int y, Straight8& frame),
                      blendTiles(inks, left, right, y, frame));

}  // namespace

void blendOver(std::span<const Ink> inks, PixelRect damage, Straight8& frame, int threads) {
    damage = damage.intersected(PixelRect::of(frame.size()));
    if (damage.empty()) return;
    constexpr int rowsAtOnce = 32;
    constexpr long long worthSharing =
        200'000;  // px; below it a second thread costs more than it brings
    if (damage.size().count() < worthSharing) threads = 1;
    overRows(damage.height(), rowsAtOnce, threads, [&](int firstRow, int lastRow) {
        for (int y = firstRow; y < lastRow; ++y)
            blendRow(inks, damage.left, damage.right, damage.top + y, frame);
    });
}

}  // namespace zl
