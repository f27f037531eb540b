// SPDX-License-Identifier: GPL-3.0-or-later
#include "screen.h"

extern "C" {
#include <libavutil/pixdesc.h>
}

#include <cstdlib>
#include <cstring>

#include "plain.h"

namespace zl::video {
namespace {

constexpr std::size_t aligned = 64;  // bytes

void* roomOf(std::size_t bytes) {
    void* room =
        std::aligned_alloc(aligned, std::max(aligned, (bytes + aligned - 1) / aligned * aligned));
    if (!room) throw std::bad_alloc();
    return room;
}

// Planes of luma and chroma, whole bytes or words of this machine, nothing else in them.
bool isPlain(const AVPixFmtDescriptor& d) {
    constexpr std::uint64_t others =
        AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL | AV_PIX_FMT_FLAG_ALPHA | AV_PIX_FMT_FLAG_BE |
        AV_PIX_FMT_FLAG_BITSTREAM | AV_PIX_FMT_FLAG_HWACCEL | AV_PIX_FMT_FLAG_FLOAT;
    if ((d.flags & others) != 0 || d.nb_components != 3) return false;
    for (int c = 0; c < 3; ++c)
        if (d.comp[c].plane != c || d.comp[c].shift != 0 ||
            d.comp[c].step != (d.comp[0].depth > 8 ? 2 : 1))
            return false;
    return true;
}

// The slow way, for kinds of pixels that are seldom met: each pixel the mean of what it covers.
Result<Straight8> shrunk(const AVFrame& frame, PixelSize size) {
    auto whole = pixelsOf(frame);
    if (!whole) return passOn(whole.error());
    const Straight8& from = whole->eight;
    if (from.size() == size) return std::move(whole->eight);
    Straight8 out(size);
    for (int y = 0; y < size.height; ++y) {
        const int top = static_cast<int>(static_cast<long long>(y) * from.height() / size.height),
                  bottom =
                      std::max(top + 1, static_cast<int>((y + 1ll) * from.height() / size.height));
        for (int x = 0; x < size.width; ++x) {
            const int left =
                          static_cast<int>(static_cast<long long>(x) * from.width() / size.width),
                      right = std::max(left + 1,
                                       static_cast<int>((x + 1ll) * from.width() / size.width));
            long long red = 0, green = 0, blue = 0, alpha = 0;
            for (int sy = top; sy < bottom; ++sy)
                for (int sx = left; sx < right; ++sx) {
                    const std::uint32_t p = from.row(sy)[sx];
                    const int a = alphaOf(p);
                    red += redOf(p) * a;
                    green += greenOf(p) * a;
                    blue += blueOf(p) * a;
                    alpha += a;
                }
            const long long count = static_cast<long long>(bottom - top) * (right - left);
            const auto mean = [&](long long v) {
                return alpha > 0 ? static_cast<int>((v + alpha / 2) / alpha) : 0;
            };
            out.row(y)[x] = packed(mean(red), mean(green), mean(blue),
                                   static_cast<int>((alpha + count / 2) / count));
        }
    }
    return out;
}

}  // namespace

bool Screen::ready(const AVFrame& frame, PixelSize size) {
    const AVPixFmtDescriptor& d = *av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    const Kind kind{frame.format,      frame.width,           frame.height, frame.colorspace,
                    frame.color_range, frame.chroma_location, size};
    if (graph_ && kind == kind_) return true;
    const ZimgTerms terms = zimgTermsOf(frame);
    zimg_image_format in, out;
    zimg_image_format_default(&in, ZIMG_API_VERSION);
    in.width = static_cast<unsigned>(frame.width);
    in.height = static_cast<unsigned>(frame.height);
    in.pixel_type = d.comp[0].depth > 8 ? ZIMG_PIXEL_WORD : ZIMG_PIXEL_BYTE;
    in.depth = static_cast<unsigned>(d.comp[0].depth);
    in.color_family = ZIMG_COLOR_YUV;
    in.subsample_w = d.log2_chroma_w;
    in.subsample_h = d.log2_chroma_h;
    in.matrix_coefficients = terms.matrix;
    in.chroma_location = terms.siting;
    in.pixel_range = terms.full ? ZIMG_RANGE_FULL : ZIMG_RANGE_LIMITED;
    out = in;
    out.width = static_cast<unsigned>(size.width);
    out.height = static_cast<unsigned>(size.height);
    out.pixel_type = ZIMG_PIXEL_BYTE;
    out.depth = 8;
    out.subsample_w = out.subsample_h = 0;
    out.color_family = ZIMG_COLOR_RGB;
    out.matrix_coefficients = ZIMG_MATRIX_RGB;
    out.pixel_range = ZIMG_RANGE_FULL;
    if (terms.wide) {  // cut off where a display ends: quick, and only to look at
        in.transfer_characteristics = static_cast<zimg_transfer_characteristics_e>(frame.color_trc);
        in.color_primaries = terms.primaries;
        out.transfer_characteristics = ZIMG_TRANSFER_IEC_61966_2_1;
        out.color_primaries = ZIMG_PRIMARIES_BT709;
    }
    zimg_graph_builder_params how;
    zimg_graph_builder_params_default(&how, ZIMG_API_VERSION);
    how.resample_filter = how.resample_filter_uv = ZIMG_RESIZE_BILINEAR;
    how.cpu_type = ZIMG_CPU_AUTO;
    how.allow_approximate_gamma = 1;
    how.nominal_peak_luminance = 203;  // cd/m2 of white (ITU-R BT.2408)
    graph_.reset(zimg_filter_graph_build(&in, &out, &how));
    if (!graph_) return false;
    std::size_t room = 0;
    zimg_filter_graph_get_tmp_size(graph_.get(), &room);
    work_.reset(roomOf(room));
    stride_ = static_cast<std::ptrdiff_t>((static_cast<std::size_t>(size.width) + aligned - 1) /
                                          aligned * aligned);
    for (Room& plane : to_)
        plane.reset(
            roomOf(static_cast<std::size_t>(stride_) * static_cast<std::size_t>(size.height)));
    kind_ = kind;
    return true;
}

Result<Straight8> Screen::of(const AVFrame& frame, PixelSize size) {
    if (size == PixelSize{frame.width, frame.height})
        if (auto plain = plainPixelsOf(frame)) return std::move(*plain);
    const AVPixFmtDescriptor* d = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(frame.format));
    if (!d || !isPlain(*d) || !ready(frame, size)) return shrunk(frame, size);
    zimg_image_buffer_const source{ZIMG_API_VERSION, {}};
    zimg_image_buffer target{ZIMG_API_VERSION, {}};
    const std::size_t step = d->comp[0].depth > 8 ? 2 : 1;
    for (std::size_t c = 0; c < 3; ++c) {
        const int shiftX = c > 0 ? d->log2_chroma_w : 0, shiftY = c > 0 ? d->log2_chroma_h : 0;
        const auto width = static_cast<std::size_t>(-((-frame.width) >> shiftX)),
                   height = static_cast<std::size_t>(-((-frame.height) >> shiftY));
        const std::uint8_t* data = frame.data[c];
        std::ptrdiff_t stride = frame.linesize[c];
        if (reinterpret_cast<std::uintptr_t>(data) % aligned != 0 || stride % 64 != 0 ||
            stride < 0) {
            const std::size_t row = (width * step + aligned - 1) / aligned * aligned;
            if (fromRoom_[c] < row * height) {
                from_[c].reset(roomOf(row * height));
                fromRoom_[c] = row * height;
            }
            auto* copy = static_cast<std::uint8_t*>(from_[c].get());
            for (std::size_t y = 0; y < height; ++y)
                std::memcpy(copy + y * row, data + static_cast<std::ptrdiff_t>(y) * stride,
                            width * step);
            data = copy;
            stride = static_cast<std::ptrdiff_t>(row);
        }
        source.plane[c] = {data, stride, ZIMG_BUFFER_MAX};
        target.plane[c] = {to_[c].get(), stride_, ZIMG_BUFFER_MAX};
    }
    if (zimg_filter_graph_process(graph_.get(), &source, &target, work_.get(), nullptr, nullptr,
                                  nullptr, nullptr) != ZIMG_ERROR_SUCCESS)
        return shrunk(frame, size);
    Straight8 out(size);
    for (int y = 0; y < size.height; ++y) {
        const auto line = [&](std::size_t c) {
            return static_cast<const std::uint8_t*>(to_[c].get()) + y * stride_;
        };
        const std::uint8_t *r = line(0), *g = line(1), *b = line(2);
        std::uint32_t* row = out.row(y);
        for (int x = 0; x < size.width; ++x)
            row[x] = 0xFF000000u | static_cast<std::uint32_t>(r[x]) |
                     static_cast<std::uint32_t>(g[x]) << 8 | static_cast<std::uint32_t>(b[x]) << 16;
    }
    return out;
}

}  // namespace zl::video
