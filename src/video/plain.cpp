// SPDX-License-Identifier: GPL-3.0-or-later
#include "plain.h"

extern "C" {
#include <libavutil/pixdesc.h>
}

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "base/processor.h"
#include "matrix.h"
#include "pixels.h"

namespace zl::video {
namespace {

// A matrix in whole numbers: light in 2^-20 of a code, colour, which comes sixteen times as large,
// in 2^-16.
struct Terms {
    int black = 0;  // the code of it
    int light = 0, red = 0, greenOfRed = 0, greenOfBlue = 0, blue = 0;

    static Terms of(const Weights& w, bool full) {
        const double lightBy = full ? 1 : 255.0 / 219, colourBy = full ? 1 : 255.0 / 224;
        const double green = 1 - w.red - w.blue;
        const auto whole = [](double v, int bits) {
            return static_cast<int>(std::lround(v * static_cast<double>(1 << bits)));
        };
        const double red = 2 * (1 - w.red) * colourBy, blue = 2 * (1 - w.blue) * colourBy;
        return {full ? 0 : 16,
                whole(lightBy, 20),
                whole(red, 16),
                whole(-red * w.red / green, 16),
                whole(-blue * w.blue / green, 16),
                whole(blue, 16)};
    }
};

// Four times a row of colour, from the two that lie next to a row of light.
ZL_INLINE void mixLines(const std::uint8_t* upper, const std::uint8_t* lower, int ofUpper, int* to,
                        int count) {
    for (int i = 0; i < count; ++i) to[i] = ofUpper * upper[i] + (4 - ofUpper) * lower[i];
}

// Sixteen times the colour at every place of a row, from four times that at every second one;
// `from` has one place more at each end. `between`: places of colour lie between those of light.
ZL_INLINE void fillLines(const int* from, bool between, int* to, int places) {
    if (between)
        for (int i = 0; i < places; ++i) {
            to[2 * i] = from[i - 1] + 3 * from[i];
            to[2 * i + 1] = 3 * from[i] + from[i + 1];
        }
    else
        for (int i = 0; i < places; ++i) {
            to[2 * i] = 4 * from[i];
            to[2 * i + 1] = 2 * (from[i] + from[i + 1]);
        }
}

ZL_INLINE void pixelLines(const std::uint8_t* light, const int* u, const int* v, const Terms& t,
                          std::uint32_t* to, int width) {
    constexpr int half = 1 << 19, middle = 128 * 16;
    for (int x = 0; x < width; ++x) {
        const int y = t.light * (light[x] - t.black) + half, cb = u[x] - middle, cr = v[x] - middle;
        const int r = (y + t.red * cr) >> 20,
                  g = (y + t.greenOfRed * cr + t.greenOfBlue * cb) >> 20,
                  b = (y + t.blue * cb) >> 20;
        const auto code = [](int c) { return static_cast<std::uint32_t>(std::clamp(c, 0, 255)); };
        to[x] = 0xFF000000u | code(r) | code(g) << 8 | code(b) << 16;
    }
}

ZL_FOR_THIS_PROCESSOR(void, mix,
                      (const std::uint8_t* upper, const std::uint8_t* lower, int ofUpper, int* to,
                       int count),
                      mixLines(upper, lower, ofUpper, to, count));
ZL_FOR_THIS_PROCESSOR(void, fillIn, (const int* from, bool between, int* to, int places),
                      fillLines(from, between, to, places));
ZL_FOR_THIS_PROCESSOR(void, pixels,
                      (const std::uint8_t* light, const int* u, const int* v, const Terms& t,
                       std::uint32_t* to, int width),
                      pixelLines(light, u, v, t, to, width));

struct Kind {
    bool across = false, down = false;  // colour at every second place
    bool between = false;               // across: between two places of light
    int ofUpper[2] = {4, 4};            // quarters of the upper row of colour, in even and odd rows
    int before[2] = {0, 0};             // which row is the upper one, from half of the row's number
    Terms terms;
};

std::optional<Kind> kindOf(const AVFrame& frame) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    constexpr std::uint64_t others = AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL |
                                     AV_PIX_FMT_FLAG_ALPHA | AV_PIX_FMT_FLAG_BITSTREAM |
                                     AV_PIX_FMT_FLAG_HWACCEL | AV_PIX_FMT_FLAG_FLOAT;
    if (!d || (d->flags & others) != 0 || d->nb_components != 3) return {};
    for (int c = 0; c < 3; ++c)
        if (d->comp[c].plane != c || d->comp[c].shift != 0 || d->comp[c].step != 1 ||
            d->comp[c].depth != 8)
            return {};
    if (d->log2_chroma_w > 1 || d->log2_chroma_h > d->log2_chroma_w) return {};
    const ZimgTerms terms = zimgTermsOf(frame);
    const auto weights = weightsOf(terms.matrix);
    if (!weights || terms.wide) return {};
    Kind kind;
    kind.across = d->log2_chroma_w == 1;
    kind.down = d->log2_chroma_h == 1;
    kind.terms = Terms::of(*weights, terms.full);
    using Siting = zimg_chroma_location_e;
    const Siting at = terms.siting;
    kind.between = at == ZIMG_CHROMA_CENTER || at == ZIMG_CHROMA_TOP || at == ZIMG_CHROMA_BOTTOM;
    if (!kind.down) return kind;
    const bool top = at == ZIMG_CHROMA_TOP || at == ZIMG_CHROMA_TOP_LEFT,
               bottom = at == ZIMG_CHROMA_BOTTOM || at == ZIMG_CHROMA_BOTTOM_LEFT;
    if (top) {  // on the even rows
        kind.ofUpper[1] = 2;
    } else if (bottom) {  // on the odd ones
        kind.before[0] = -1;
        kind.ofUpper[0] = 2;
    } else {
        kind.before[0] = -1;
        kind.ofUpper[0] = 1;
        kind.ofUpper[1] = 3;
    }
    return kind;
}

}  // namespace

std::optional<Straight8> plainPixelsOf(const AVFrame& frame) {
    const auto kind = kindOf(frame);
    if (!kind) return {};
    const int width = frame.width, height = frame.height,
              places = kind->across ? (width + 1) / 2 : width,
              rows = kind->down ? (height + 1) / 2 : height;
    Straight8 out({width, height});
    const auto wide = static_cast<std::size_t>(2 * places + 2);
    std::array<std::vector<int>, 2> mixed{std::vector<int>(wide), std::vector<int>(wide)},
        whole{std::vector<int>(wide), std::vector<int>(wide)};
    for (int y = 0; y < height; ++y) {
        const auto odd = static_cast<std::size_t>(kind->down ? y % 2 : 0);
        const int upper = kind->down ? y / 2 + kind->before[odd] : y;
        for (std::size_t c = 0; c < 2; ++c) {
            const auto line = [&](int row) {
                return frame.data[c + 1] +
                       static_cast<std::ptrdiff_t>(std::clamp(row, 0, rows - 1)) *
                           frame.linesize[c + 1];
            };
            int* from = mixed[c].data() + 1;
            mix(line(upper), line(upper + 1), kind->ofUpper[odd], from, places);
            if (!kind->across) {
                for (int i = 0; i < places; ++i)
                    whole[c][static_cast<std::size_t>(i)] = 4 * from[i];
                continue;
            }
            from[-1] = from[0];
            from[places] = from[places - 1];
            fillIn(from, kind->between, whole[c].data(), places);
        }
        pixels(frame.data[0] + static_cast<std::ptrdiff_t>(y) * frame.linesize[0], whole[0].data(),
               whole[1].data(), kind->terms, out.row(y), width);
    }
    return out;
}

}  // namespace zl::video
