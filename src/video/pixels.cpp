// SPDX-License-Identifier: GPL-3.0-or-later
#include "pixels.h"

extern "C" {
#include <libavutil/imgutils.h>
#include <libavutil/pixdesc.h>
}
#include <zimg.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <optional>

#include "plain.h"
#include "zimg_held.h"

namespace zl::video {
namespace {

constexpr int limitOf601 = 576;  // lines: what is not told is BT.601 up to there (PAL's picture)

// A plane of 16-bit words, or of floats: rows begin where vectors like them.
template <class T>
class Words {
  public:
    Words(int width, int height) : width_(width), height_(height) {
        constexpr std::size_t aligned = 64;
        stride_ = (static_cast<std::size_t>(width) * sizeof(T) + aligned - 1) / aligned * aligned;
        data_.reset(static_cast<T*>(
            std::aligned_alloc(aligned, stride_ * static_cast<std::size_t>(height))));
        if (!data_) throw std::bad_alloc();
    }
    T* row(int y) { return at(data_.get(), y); }
    const T* row(int y) const { return at(data_.get(), y); }
    int width() const { return width_; }
    int height() const { return height_; }
    std::ptrdiff_t stride() const { return static_cast<std::ptrdiff_t>(stride_); }
    void* data() { return data_.get(); }

  private:
    T* at(T* data, int y) const {
        return data + static_cast<std::size_t>(y) * (stride_ / sizeof(T));
    }
    struct Free {
        void operator()(T* p) const { std::free(p); }
    };
    int width_, height_;
    std::size_t stride_;
    std::unique_ptr<T, Free> data_;
};
using Plane16 = Words<std::uint16_t>;

bool isRgb(const AVPixFmtDescriptor& d) {
    return (d.flags & (AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL)) != 0;
}

int lessBy(int size, int shift) {
    return -((-size) >> shift);
}

// A component as the format describes it; what a chroma plane lacks at an odd border is repeated.
Plane16 component(const AVFrame& frame, const AVPixFmtDescriptor& d, int c, int width, int height) {
    const bool chroma = !isRgb(d) && (c == 1 || c == 2) && d.nb_components >= 3;
    const int have = chroma ? lessBy(frame.width, d.log2_chroma_w) : frame.width,
              rows = chroma ? lessBy(frame.height, d.log2_chroma_h) : frame.height;
    Plane16 plane(width, height);
    for (int y = 0; y < height; ++y) {
        std::uint16_t* out = plane.row(y);
        av_read_image_line2(out, const_cast<const std::uint8_t**>(frame.data), frame.linesize, &d,
                            0, std::min(y, rows - 1), c, have, 0, 2);
        std::fill(out + have, out + width, out[have - 1]);
    }
    return plane;
}

std::uint32_t eightOf(std::uint32_t v, int depth) {
    const std::uint32_t most = (1u << depth) - 1;
    return depth == 8 ? v : (v * 255u + most / 2) / most;
}

std::uint32_t sixteenOf(std::uint32_t v, int depth) {
    const std::uint64_t most = (1ull << depth) - 1;
    return static_cast<std::uint32_t>((v * 65535ull + most / 2) / most);
}

// Where components go: into 8 bits, or into 16 and from there into 8.
class Target {
  public:
    Target(PixelSize size, bool deep) : size_(size) {
        if (!deep) {
            eight_ = Straight8::cleared(size, 0xFF000000u);
            return;
        }
        deep_ = std::make_shared<Deep16>();
        deep_->size = size;
        deep_->values.assign(static_cast<std::size_t>(size.count()) * 4, 65535);
    }
    bool deep() const { return deep_ != nullptr; }
    // `v` of `depth` bits; channel 0..3 is red, green, blue, alpha.
    void set(int x, int y, int channel, std::uint32_t v, int depth) {
        if (deep_) {
            deep_->values[at(x, y) + static_cast<std::size_t>(channel)] =
                static_cast<std::uint16_t>(sixteenOf(v, depth));
            return;
        }
        std::uint32_t& p = eight_.row(y)[x];
        p = (p & ~(255u << (8 * channel))) | eightOf(v, depth) << (8 * channel);
    }
    FramePixels done(bool toned) && {
        if (!deep_) return {std::move(eight_), nullptr, toned};
        eight_ = Straight8(size_);
        const std::uint16_t* from = deep_->values.data();
        for (int y = 0; y < size_.height; ++y)
            for (int x = 0; x < size_.width; ++x, from += 4) {
                const auto byte = [&](int c) { return (from[c] * 255u + 32767u) / 65535u; };
                eight_.row(y)[x] = byte(0) | byte(1) << 8 | byte(2) << 16 | byte(3) << 24;
            }
        return {std::move(eight_), std::move(deep_), toned};
    }

  private:
    std::size_t at(int x, int y) const {
        return 4 * (static_cast<std::size_t>(y) * static_cast<std::size_t>(size_.width) +
                    static_cast<std::size_t>(x));
    }
    PixelSize size_;
    Straight8 eight_;
    std::shared_ptr<Deep16> deep_;
};

// Components that are red, green and blue already.
FramePixels fromRgb(const AVFrame& frame, const AVPixFmtDescriptor& d) {
    const bool palette = (d.flags & AV_PIX_FMT_FLAG_PAL) != 0;
    Target out({frame.width, frame.height}, !palette && d.comp[0].depth > 8);
    std::vector<std::uint16_t> line(static_cast<std::size_t>(frame.width));
    const int channels = palette ? 4 : d.nb_components;
    for (int y = 0; y < frame.height; ++y)
        for (int c = 0; c < channels; ++c) {
            av_read_image_line2(line.data(), const_cast<const std::uint8_t**>(frame.data),
                                frame.linesize, &d, 0, y, palette ? 0 : c, frame.width, 0, 2);
            for (int x = 0; x < frame.width; ++x) {
                const std::uint32_t v = line[static_cast<std::size_t>(x)];
                if (!palette) {
                    out.set(x, y, c, v, d.comp[c].depth);
                    continue;
                }
                std::uint32_t p = 0;  // 0xAARRGGBB in the machine's order
                std::memcpy(&p, frame.data[1] + 4 * v, 4);
                out.set(x, y, c, c == 3 ? p >> 24 : p >> (16 - 8 * c) & 255u, 8);
            }
        }
    return std::move(out).done(false);
}

zimg_matrix_coefficients_e matrixOf(const AVFrame& frame) {
    if (frame.colorspace != AVCOL_SPC_UNSPECIFIED && frame.colorspace != AVCOL_SPC_RGB &&
        frame.colorspace != AVCOL_SPC_RESERVED)
        return static_cast<zimg_matrix_coefficients_e>(frame.colorspace);
    return frame.height <= limitOf601 ? ZIMG_MATRIX_BT470_BG : ZIMG_MATRIX_BT709;
}

bool isWide(const AVFrame& frame) {
    return frame.color_trc == AVCOL_TRC_SMPTE2084 || frame.color_trc == AVCOL_TRC_ARIB_STD_B67;
}

zimg_chroma_location_e sitingOf(const AVFrame& frame) {
    switch (frame.chroma_location) {
        case AVCHROMA_LOC_CENTER:
            return ZIMG_CHROMA_CENTER;
        case AVCHROMA_LOC_TOPLEFT:
            return ZIMG_CHROMA_TOP_LEFT;
        case AVCHROMA_LOC_TOP:
            return ZIMG_CHROMA_TOP;
        case AVCHROMA_LOC_BOTTOMLEFT:
            return ZIMG_CHROMA_BOTTOM_LEFT;
        case AVCHROMA_LOC_BOTTOM:
            return ZIMG_CHROMA_BOTTOM;
        default:
            return ZIMG_CHROMA_LEFT;
    }
}

// Luma and chroma, or luma alone, to three planes of red, green and blue: codes of `bits` in words,
// or linear light in floats where the picture is a wide one.
template <class T>
Result<void> converted(const AVFrame& frame, const AVPixFmtDescriptor& d,
                       std::array<Plane16*, 3> from, std::array<Words<T>*, 3> to, unsigned bits) {
    constexpr bool linear = std::is_same_v<T, float>;
    const bool colours = from[1] != nullptr;
    zimg_image_format in, out;
    zimg_image_format_default(&in, ZIMG_API_VERSION);
    in.width = static_cast<unsigned>(from[0]->width());
    in.height = static_cast<unsigned>(from[0]->height());
    in.pixel_type = ZIMG_PIXEL_WORD;
    in.depth = static_cast<unsigned>(d.comp[0].depth);
    in.color_family = colours ? ZIMG_COLOR_YUV : ZIMG_COLOR_GREY;
    in.subsample_w = colours ? d.log2_chroma_w : 0;
    in.subsample_h = colours ? d.log2_chroma_h : 0;
    in.chroma_location = sitingOf(frame);
    in.pixel_range = colourOf(frame).range.name == "full" ? ZIMG_RANGE_FULL : ZIMG_RANGE_LIMITED;
    if (colours) in.matrix_coefficients = matrixOf(frame);
    out = in;
    out.subsample_w = out.subsample_h = 0;
    out.color_family = colours ? ZIMG_COLOR_RGB : ZIMG_COLOR_GREY;
    if (colours) out.matrix_coefficients = ZIMG_MATRIX_RGB;
    out.pixel_range = ZIMG_RANGE_FULL;
    out.pixel_type = linear ? ZIMG_PIXEL_FLOAT : ZIMG_PIXEL_WORD;
    out.depth = bits;
    if (linear) {
        in.transfer_characteristics = static_cast<zimg_transfer_characteristics_e>(frame.color_trc);
        in.color_primaries = frame.color_primaries == AVCOL_PRI_UNSPECIFIED
                                 ? ZIMG_PRIMARIES_BT2020
                                 : static_cast<zimg_color_primaries_e>(frame.color_primaries);
        out.transfer_characteristics = ZIMG_TRANSFER_LINEAR;
        out.color_primaries = ZIMG_PRIMARIES_BT709;
    }
    zimg_graph_builder_params how;
    zimg_graph_builder_params_default(&how, ZIMG_API_VERSION);
    how.cpu_type = ZIMG_CPU_NONE;      // its vectors differ by a code in a few samples per million
    how.nominal_peak_luminance = 203;  // cd/m2 of white (ITU-R BT.2408)
    const Graph graph(zimg_filter_graph_build(&in, &out, &how));
    if (!graph)
        return fail(Code::unreadable, "The video's colours are of a kind that is not read.");
    zimg_image_buffer_const source{ZIMG_API_VERSION, {}};
    zimg_image_buffer target{ZIMG_API_VERSION, {}};
    for (std::size_t c = 0; c < 3; ++c) {
        if (from[c]) source.plane[c] = {from[c]->data(), from[c]->stride(), ZIMG_BUFFER_MAX};
        if (to[c]) target.plane[c] = {to[c]->data(), to[c]->stride(), ZIMG_BUFFER_MAX};
    }
    std::size_t room = 0;
    zimg_filter_graph_get_tmp_size(graph.get(), &room);
    const Room work(std::aligned_alloc(64, std::max<std::size_t>(64, (room + 63) / 64 * 64)));
    if (!work) throw std::bad_alloc();
    if (zimg_filter_graph_process(graph.get(), &source, &target, work.get(), nullptr, nullptr,
                                  nullptr, nullptr) != ZIMG_ERROR_SUCCESS)
        return fail(Code::unreadable, "The video's colours could not be worked out.");
    return {};
}

// Linear light, 1 being 203 nits, to an sRGB code of 16 bits. Up to the knee it stays as it is;
// above it is bent towards 1 as tanh does it, the brightest of the three deciding, so that the hue
// stays.
std::uint32_t tonedCode(double light) {
    const double v = std::clamp(light, 0.0, 1.0);
    const double coded = v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
    return static_cast<std::uint32_t>(std::lround(65535 * coded));
}

double bent(double most) {
    constexpr double knee = 0.6;
    if (most <= knee) return 1;
    return (knee + (1 - knee) * std::tanh((most - knee) / (1 - knee))) / most;
}

}  // namespace

ZimgTerms zimgTermsOf(const AVFrame& frame) {
    return {matrixOf(frame),
            frame.color_primaries == AVCOL_PRI_UNSPECIFIED
                ? ZIMG_PRIMARIES_BT2020
                : static_cast<zimg_color_primaries_e>(frame.color_primaries),
            sitingOf(frame), colourOf(frame).range.name == "full", isWide(frame)};
}

VideoColour colourOf(const AVFrame& frame) {
    const auto fact = [](const char* name, bool told) {
        return ColourFact{name ? name : "unknown", told};
    };
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    const bool rgb = d && isRgb(*d), low = frame.height <= limitOf601;
    VideoColour out;
    const bool space = frame.colorspace != AVCOL_SPC_UNSPECIFIED;
    out.matrix = rgb     ? fact("gbr", true)
                 : space ? fact(av_color_space_name(frame.colorspace), true)
                         : fact(low ? "bt470bg" : "bt709", false);
    const bool primaries = frame.color_primaries != AVCOL_PRI_UNSPECIFIED;
    out.primaries = primaries ? fact(av_color_primaries_name(frame.color_primaries), true)
                              : fact(rgb || !low ? "bt709" : "bt470bg", false);
    const bool transfer = frame.color_trc != AVCOL_TRC_UNSPECIFIED;
    out.transfer = transfer ? fact(av_color_transfer_name(frame.color_trc), true)
                            : fact(rgb ? "iec61966-2-1" : "bt709", false);
    const bool full = frame.color_range == AVCOL_RANGE_JPEG || rgb ||
                      (d && std::string_view(d->name).starts_with("yuvj"));
    out.range =
        fact(full ? "full" : "limited", rgb || frame.color_range != AVCOL_RANGE_UNSPECIFIED);
    out.wide = isWide(frame);
    return out;
}

Result<FramePixels> pixelsOf(const AVFrame& frame) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    if (!d || (d->flags & AV_PIX_FMT_FLAG_HWACCEL) != 0 ||
        PixelSize{frame.width, frame.height}.count() > mostPixels)
        return fail(Code::unreadable, "The video's pixels are of a kind that is not read.");
    if (isRgb(*d)) return fromRgb(frame, *d);
    if (auto plain = plainPixelsOf(frame)) return FramePixels{std::move(*plain)};
    const bool colours = d->nb_components >= 3;
    const int w = lessBy(frame.width, d->log2_chroma_w), h = lessBy(frame.height, d->log2_chroma_h);
    const int wide = colours ? w << d->log2_chroma_w : frame.width,
              high = colours ? h << d->log2_chroma_h : frame.height;
    Plane16 luma = component(frame, *d, 0, wide, high);
    std::optional<Plane16> cb, cr, alpha;
    if (colours) {
        cb.emplace(component(frame, *d, 1, w, h));
        cr.emplace(component(frame, *d, 2, w, h));
    }
    const int last = d->nb_components - 1;
    if ((d->flags & AV_PIX_FMT_FLAG_ALPHA) != 0)
        alpha.emplace(component(frame, *d, last, wide, high));
    const std::array<Plane16*, 3> from{&luma, cb ? &*cb : nullptr, cr ? &*cr : nullptr};
    const bool toned = isWide(frame) && colours;
    Target out({frame.width, frame.height}, toned || d->comp[0].depth > 8);
    if (alpha)
        for (int y = 0; y < frame.height; ++y)
            for (int x = 0; x < frame.width; ++x)
                out.set(x, y, 3, alpha->row(y)[x], d->comp[last].depth);
    if (toned) {
        Words<float> r(wide, high), g(wide, high), b(wide, high);
        if (auto done = converted<float>(frame, *d, from, {&r, &g, &b}, 32); !done)
            return passOn(done.error());
        for (int y = 0; y < frame.height; ++y)
            for (int x = 0; x < frame.width; ++x) {
                const double red = r.row(y)[x], green = g.row(y)[x], blue = b.row(y)[x],
                             by = bent(std::max({red, green, blue}));
                out.set(x, y, 0, tonedCode(red * by), 16);
                out.set(x, y, 1, tonedCode(green * by), 16);
                out.set(x, y, 2, tonedCode(blue * by), 16);
            }
        return std::move(out).done(true);
    }
    const int bits = out.deep() ? 16 : 8;
    Plane16 r(wide, high), g(colours ? wide : 1, colours ? high : 1),
        b(colours ? wide : 1, colours ? high : 1);
    if (auto done = converted<std::uint16_t>(frame, *d, from,
                                             {&r, colours ? &g : nullptr, colours ? &b : nullptr},
                                             static_cast<unsigned>(bits));
        !done)
        return passOn(done.error());
    for (int y = 0; y < frame.height; ++y)
        for (int x = 0; x < frame.width; ++x) {
            out.set(x, y, 0, r.row(y)[x], bits);
            out.set(x, y, 1, colours ? g.row(y)[x] : r.row(y)[x], bits);
            out.set(x, y, 2, colours ? b.row(y)[x] : r.row(y)[x], bits);
        }
    return std::move(out).done(false);
}

namespace {

// What stands for luma: green is near enough to it for looking through.
int lumaOf(const AVPixFmtDescriptor& d) {
    return isRgb(d) && (d.flags & AV_PIX_FMT_FLAG_PAL) == 0 ? 1 : 0;
}

// A line of luma; of one with a palette, the green of its colours.
void readLuma(const AVFrame& frame, const AVPixFmtDescriptor& d, int y,
              std::vector<std::uint16_t>& line) {
    av_read_image_line2(line.data(), const_cast<const std::uint8_t**>(frame.data), frame.linesize,
                        &d, 0, y, lumaOf(d), frame.width, 0, 2);
    if ((d.flags & AV_PIX_FMT_FLAG_PAL) == 0) return;
    for (std::uint16_t& v : line) {
        std::uint32_t p = 0;
        std::memcpy(&p, frame.data[1] + 4 * v, 4);
        v = static_cast<std::uint16_t>(p >> 8 & 255u);
    }
}

// A code of luma as lightness from 0 to 255: of limited range, black is 16 and white 235.
std::uint32_t lightOf(std::uint32_t code, bool limited) {
    if (!limited) return std::min(255u, code);
    return code <= 16 ? 0 : std::min(255u, ((code - 16) * 255 + 109) / 219);
}

bool isLimited(const AVFrame& frame, const AVPixFmtDescriptor& d) {
    return !isRgb(d) && colourOf(frame).range.name != "full";
}

bool isPlainEight(const AVPixFmtDescriptor& d) {
    const AVComponentDescriptor& luma = d.comp[0];
    return !isRgb(d) && luma.depth == 8 && luma.step == 1 && luma.shift == 0 && luma.plane == 0 &&
           (d.flags & AV_PIX_FMT_FLAG_BITSTREAM) == 0;
}

}  // namespace

void shrinkLuma(const AVFrame& frame, int width, Passing& into) {
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    if (!d || frame.width <= 0 || frame.height <= 0) return;
    const int w = into.width = std::min(width, frame.width),
              h = into.height = std::max(1, into.width * frame.height / frame.width);
    const int depth = (d->flags & AV_PIX_FMT_FLAG_PAL) != 0 ? 8 : d->comp[lumaOf(*d)].depth;
    const bool plain = isPlainEight(*d), limited = isLimited(frame, *d);
    std::vector<std::uint16_t> line(static_cast<std::size_t>(frame.width));
    std::vector<std::uint64_t> sums(static_cast<std::size_t>(w));
    into.luma.reserve(static_cast<std::size_t>(w) * static_cast<std::size_t>(h));
    // The pixels that fall to one: those with floor(x * w / all) equal to it.
    std::vector<int> from(static_cast<std::size_t>(w) + 1);
    for (int x = 0; x <= w; ++x)
        from[static_cast<std::size_t>(x)] =
            static_cast<int>((static_cast<long long>(x) * frame.width + w - 1) / w);
    for (int y = 0; y < h; ++y) {
        std::fill(sums.begin(), sums.end(), 0u);
        const int top = y * frame.height / h,
                  bottom = std::max(top + 1, (y + 1) * frame.height / h);
        for (int row = top; row < bottom; ++row) {
            const std::uint8_t* bytes =
                frame.data[0] + static_cast<std::ptrdiff_t>(row) * frame.linesize[0];
            if (!plain) readLuma(frame, *d, row, line);
            for (std::size_t x = 0; x < sums.size(); ++x) {
                std::uint32_t sum = 0;
                for (int i = from[x]; i < from[x + 1]; ++i)
                    sum += plain ? bytes[i] : line[static_cast<std::size_t>(i)];
                sums[x] += sum;
            }
        }
        for (std::size_t x = 0; x < sums.size(); ++x) {
            const auto count = static_cast<std::uint64_t>(std::max(1, from[x + 1] - from[x])) *
                               static_cast<std::uint64_t>(bottom - top);
            const auto mean = static_cast<std::uint32_t>(sums[x] / count);
            into.luma.push_back(static_cast<std::uint8_t>(lightOf(eightOf(mean, depth), limited)));
        }
    }
}

Glance glanceAt(const AVFrame& frame) {
    constexpr int finer = 8;  // samples along a cell's side
    Glance out;
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    if (!d || frame.width <= 0 || frame.height <= 0) return out;
    const int depth = (d->flags & AV_PIX_FMT_FLAG_PAL) != 0 ? 8 : d->comp[lumaOf(*d)].depth;
    const bool limited = isLimited(frame, *d);
    std::vector<std::uint16_t> line(static_cast<std::size_t>(frame.width));
    constexpr int w = Glance::across * finer, h = Glance::down * finer;
    std::array<std::uint32_t, static_cast<std::size_t>(Glance::across * Glance::down)> sums{};
    for (int y = 0; y < h; ++y) {
        readLuma(frame, *d, static_cast<int>((2ll * y + 1) * frame.height / (2 * h)), line);
        for (int x = 0; x < w; ++x) {
            const auto at = static_cast<std::size_t>((2ll * x + 1) * frame.width / (2 * w));
            const std::uint32_t v = lightOf(eightOf(line[at], depth), limited);
            sums[static_cast<std::size_t>(y / finer * Glance::across + x / finer)] += v;
        }
    }
    for (std::size_t i = 0; i < sums.size(); ++i)
        out.cells[i] = static_cast<std::uint8_t>(sums[i] / (finer * finer));
    return out;
}

}  // namespace zl::video
