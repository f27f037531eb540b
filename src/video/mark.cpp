// SPDX-License-Identifier: GPL-3.0-or-later
#include "mark.h"

extern "C" {
#include <libavutil/pixdesc.h>
}

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "matrix.h"
#include "raster/ink_box.h"

namespace zl::video {
namespace {

// The sRGB standard's curve (IEC 61966-2-1).
double linearOf(double v) {
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}

// SMPTE ST 2084, of a display's light in cd/m2.
double pqOf(double light) {
    constexpr double m1 = 2610.0 / 16384, m2 = 2523.0 / 4096 * 128, c1 = 3424.0 / 4096,
                     c2 = 2413.0 / 4096 * 32, c3 = 2392.0 / 4096 * 32;
    const double y = std::pow(std::max(light, 0.0) / 10'000, m1);
    return std::pow((c1 + c2 * y) / (1 + c3 * y), m2);
}

// ITU-R BT.2100's curve of HLG, of a scene's light, 0..1.
double hlgOf(double light) {
    constexpr double a = 0.17883277, b = 0.28466892, c = 0.55991073;
    return light <= 1.0 / 12 ? std::sqrt(3 * std::max(light, 0.0))
                             : a * std::log(12 * light - b) + c;
}

using Three = std::array<double, 3>;

// An sRGB colour as red, green and blue of a wide video, white at 203 cd/m2 (ITU-R BT.2408).
Three inWide(const Three& srgb, bool pq) {
    constexpr double white = 203, peak = 1000;
    const Three l{linearOf(srgb[0]), linearOf(srgb[1]), linearOf(srgb[2])};
    // From BT.709's primaries to BT.2020's (ITU-R BT.2087).
    Three d{0.6274 * l[0] + 0.3293 * l[1] + 0.0433 * l[2],
            0.0691 * l[0] + 0.9195 * l[1] + 0.0114 * l[2],
            0.0164 * l[0] + 0.0880 * l[1] + 0.8956 * l[2]};
    for (double& v : d) v *= white;
    if (pq) return {pqOf(d[0]), pqOf(d[1]), pqOf(d[2])};
    const double y = (0.2627 * d[0] + 0.6780 * d[1] + 0.0593 * d[2]) / peak;
    const double by = y > 0 ? std::pow(y, -0.2 / 1.2) / peak : 0;
    return {hlgOf(d[0] * by), hlgOf(d[1] * by), hlgOf(d[2] * by)};
}

// A mark's colour as the codes of a frame's three components, in their order.
class Codes {
  public:
    static std::optional<Codes> of(const AVFrame& frame, const AVPixFmtDescriptor& d) {
        Codes codes;
        codes.terms_ = zimgTermsOf(frame);
        codes.pq_ = frame.color_trc == AVCOL_TRC_SMPTE2084;
        codes.rgb_ = (d.flags & AV_PIX_FMT_FLAG_RGB) != 0;
        codes.most_ = std::ldexp(1.0, d.comp[0].depth) - 1;
        codes.unit_ = std::ldexp(1.0, d.comp[0].depth - 8);
        if (codes.rgb_) return codes;
        codes.swapped_ = codes.terms_.matrix == ZIMG_MATRIX_RGB;
        const auto weights = weightsOf(codes.terms_.matrix);
        if (!weights && !codes.swapped_) return {};
        if (weights) codes.weights_ = *weights;
        return codes;
    }
    Three operator()(std::uint32_t pixel) const {
        Three v{redOf(pixel) / 255.0, greenOf(pixel) / 255.0, blueOf(pixel) / 255.0};
        if (terms_.wide) v = inWide(v, pq_);
        if (rgb_) return {v[0] * most_, v[1] * most_, v[2] * most_};
        if (swapped_) return {lightOf(v[1]), lightOf(v[2]), lightOf(v[0])};
        const auto [red, blue] = weights_;
        const double y = red * v[0] + (1 - red - blue) * v[1] + blue * v[2];
        return {lightOf(y), colourOf((v[2] - y) / (2 * (1 - blue))),
                colourOf((v[0] - y) / (2 * (1 - red)))};
    }

  private:
    double lightOf(double v) const { return terms_.full ? v * most_ : (16 + 219 * v) * unit_; }
    double colourOf(double v) const {
        return terms_.full ? 128 * unit_ + v * most_ : (128 + 224 * v) * unit_;
    }
    ZimgTerms terms_{};
    Weights weights_{0, 0};
    bool pq_ = false, rgb_ = false, swapped_ = false;
    double most_ = 255, unit_ = 1;
};

// The rows or columns that a place of colour stands for, with what each counts.
struct Tap {
    int at;
    double weight;
};
using Taps = std::vector<Tap>;

enum class Sited { between, onFirst, onSecond };

// `length`: rows or columns of the frame; `less`: places are 2^less apart.
Taps tapsAt(int place, int length, int less, Sited sited) {
    if (less == 0) return {{place, 1}};
    const int apart = 1 << less;
    Taps taps;
    const auto add = [&](int at, double weight) {
        taps.push_back({std::clamp(at, 0, length - 1), weight});
    };
    if (sited == Sited::between) {
        for (int i = 0; i < apart; ++i) add(place * apart + i, 1.0 / apart);
        return taps;
    }
    const int centre = place * apart + (sited == Sited::onSecond ? apart / 2 : 0);
    for (int i = -apart / 2; i <= apart / 2; ++i)
        add(centre + i, (std::abs(i) == apart / 2 ? 1.0 : 2.0) / (2 * apart));
    return taps;
}

// Rows of one field stand for rows of that field.
Taps fieldTapsAt(int place, int length) {
    const int field = place % 2, first = place / 2 * 4 + field;
    const double near = field == 0 ? 0.75 : 0.25;
    const auto at = [&](int row) { return row < length ? row : row - 2; };
    return {{at(first), near}, {at(first + 2), 1 - near}};
}

Sited acrossOf(zimg_chroma_location_e siting) {
    return siting == ZIMG_CHROMA_LEFT || siting == ZIMG_CHROMA_TOP_LEFT ||
                   siting == ZIMG_CHROMA_BOTTOM_LEFT
               ? Sited::onFirst
               : Sited::between;
}

Sited downOf(zimg_chroma_location_e siting) {
    return siting == ZIMG_CHROMA_TOP || siting == ZIMG_CHROMA_TOP_LEFT         ? Sited::onFirst
           : siting == ZIMG_CHROMA_BOTTOM || siting == ZIMG_CHROMA_BOTTOM_LEFT ? Sited::onSecond
                                                                               : Sited::between;
}

}  // namespace

std::optional<MarkOnPlanes> MarkOnPlanes::of(const Straight8& mark, int left, int top,
                                             const AVFrame& like) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(like.format));
    constexpr std::uint64_t others = AV_PIX_FMT_FLAG_BE | AV_PIX_FMT_FLAG_PAL |
                                     AV_PIX_FMT_FLAG_BITSTREAM | AV_PIX_FMT_FLAG_HWACCEL |
                                     AV_PIX_FMT_FLAG_ALPHA | AV_PIX_FMT_FLAG_FLOAT |
                                     AV_PIX_FMT_FLAG_BAYER;
    if (!d || (d->flags & others) != 0 || d->comp[0].depth < 8 || d->comp[0].depth > 16) return {};
    const auto codes = Codes::of(like, *d);
    if (!codes) return {};
    // The mark where it lies in the frame, its codes times its alpha.
    const PixelRect frame = PixelRect::of({like.width, like.height});
    PixelRect touched = inkBoxOf(mark, 1).value_or(PixelRect{});
    touched = {touched.left + left, touched.top + top, touched.right + left, touched.bottom + top};
    const PixelRect seen = frame.intersected(touched);
    MarkOnPlanes out;
    if (seen.empty()) return out;
    const auto width = static_cast<std::size_t>(seen.width());
    std::vector<std::array<float, 4>> pixels(width * static_cast<std::size_t>(seen.height()));
    for (int y = seen.top; y < seen.bottom; ++y)
        for (int x = seen.left; x < seen.right; ++x) {
            const std::uint32_t p = mark.row(y - top)[x - left];
            if (alphaOf(p) == 0) continue;
            const Three code = (*codes)(p);
            const double a = alphaOf(p) / 255.0;
            pixels[static_cast<std::size_t>(y - seen.top) * width +
                   static_cast<std::size_t>(x - seen.left)] = {
                static_cast<float>(code[0] * a), static_cast<float>(code[1] * a),
                static_cast<float>(code[2] * a), static_cast<float>(a)};
        }
    const ZimgTerms terms = zimgTermsOf(like);
    const bool rgb = (d->flags & AV_PIX_FMT_FLAG_RGB) != 0;
    for (int c = 0; c < std::min<int>(3, d->nb_components); ++c) {
        const bool less = c > 0 && !rgb;
        const int acrossLess = less ? d->log2_chroma_w : 0, downLess = less ? d->log2_chroma_h : 0;
        Part part;
        part.plane = d->comp[c].plane;
        part.step = d->comp[c].step;
        part.offset = d->comp[c].offset;
        part.shift = d->comp[c].shift;
        part.depth = d->comp[c].depth;
        const int columns = -((-like.width) >> acrossLess), rows = -((-like.height) >> downLess);
        part.box = {std::max(0, (seen.left >> acrossLess) - 1),
                    std::max(0, (seen.top >> downLess) - 2),
                    std::min(columns, (seen.right >> acrossLess) + 2),
                    std::min(rows, (seen.bottom >> downLess) + 3)};
        if (acrossLess == 0) part.box.left = seen.left, part.box.right = seen.right;
        if (downLess == 0) part.box.top = seen.top, part.box.bottom = seen.bottom;
        std::vector<Taps> across;
        for (int x = part.box.left; x < part.box.right; ++x)
            across.push_back(tapsAt(x, like.width, acrossLess, acrossOf(terms.siting)));
        for (int y = part.box.top; y < part.box.bottom; ++y) {
            const Taps down = like.interlaced_frame != 0 && downLess == 1
                                  ? fieldTapsAt(y, like.height)
                                  : tapsAt(y, like.height, downLess, downOf(terms.siting));
            for (const Taps& beside : across) {
                double ink = 0, alpha = 0;
                for (const Tap& row : down)
                    for (const Tap& column : beside) {
                        if (!seen.contains(column.at, row.at)) continue;
                        const auto& p = pixels[static_cast<std::size_t>(row.at - seen.top) * width +
                                               static_cast<std::size_t>(column.at - seen.left)];
                        ink += row.weight * column.weight *
                               static_cast<double>(p[static_cast<std::size_t>(c)]);
                        alpha += row.weight * column.weight * static_cast<double>(p[3]);
                    }
                part.ink.push_back(static_cast<float>(ink));
                part.alpha.push_back(static_cast<float>(alpha));
            }
        }
        out.parts_.push_back(std::move(part));
    }
    return out;
}

namespace {

template <class Sample>
void blendRow(std::uint8_t* row, std::size_t count, int step, int shift, const float* ink,
              const float* alpha, float weight, float most) {
    for (std::size_t x = 0; x < count; ++x, row += step) {
        if (alpha[x] <= 0) continue;
        Sample v;
        std::memcpy(&v, row, sizeof v);
        const float mixed =
            static_cast<float>(v >> shift) * (1 - weight * alpha[x]) + weight * ink[x] + 0.5f;
        v = static_cast<Sample>(static_cast<unsigned>(std::clamp(mixed, 0.0f, most)) << shift);
        std::memcpy(row, &v, sizeof v);
    }
}

}  // namespace

void MarkOnPlanes::blend(AVFrame& frame, double weight) const {
    for (const Part& part : parts_) {
        const auto width = static_cast<std::size_t>(part.box.width());
        const auto most = static_cast<float>((1 << part.depth) - 1) + 0.5f;
        for (int y = part.box.top; y < part.box.bottom; ++y) {
            std::uint8_t* row = frame.data[part.plane] +
                                static_cast<std::ptrdiff_t>(y) * frame.linesize[part.plane] +
                                static_cast<std::ptrdiff_t>(part.box.left) * part.step +
                                part.offset;
            const std::size_t from = static_cast<std::size_t>(y - part.box.top) * width;
            const auto by =
                part.depth + part.shift > 8 ? blendRow<std::uint16_t> : blendRow<std::uint8_t>;
            by(row, width, part.step, part.shift, part.ink.data() + from, part.alpha.data() + from,
               static_cast<float>(weight), most);
        }
    }
}

}  // namespace zl::video
