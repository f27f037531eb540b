// SPDX-License-Identifier: GPL-3.0-or-later
#include "yuv.h"

#include <algorithm>
#include <cstdlib>
#include <cstring>

#include "pixels.h"

namespace zl::video {
namespace {

constexpr std::size_t aligned = 64;  // bytes, as zimg likes rows

void* roomOf(std::size_t bytes) {
    void* room =
        std::aligned_alloc(aligned, std::max(aligned, (bytes + aligned - 1) / aligned * aligned));
    if (!room) throw std::bad_alloc();
    return room;
}

}  // namespace

Result<Yuv> Yuv::begin(PixelSize size, bool alpha) {
    Yuv made(size, alpha);
    zimg_image_format in, out;
    zimg_image_format_default(&in, ZIMG_API_VERSION);
    // Colour stands at every second place: an odd side has its last pixel twice.
    const PixelSize even{(size.width + 1) / 2 * 2, (size.height + 1) / 2 * 2};
    in.width = static_cast<unsigned>(even.width);
    in.height = static_cast<unsigned>(even.height);
    in.pixel_type = ZIMG_PIXEL_BYTE;
    in.depth = 8;
    in.color_family = ZIMG_COLOR_RGB;
    in.matrix_coefficients = ZIMG_MATRIX_RGB;
    in.pixel_range = ZIMG_RANGE_FULL;
    out = in;
    out.color_family = ZIMG_COLOR_YUV;
    out.matrix_coefficients = ZIMG_MATRIX_BT709;
    out.pixel_range = ZIMG_RANGE_LIMITED;
    out.subsample_w = out.subsample_h = 1;
    out.chroma_location = ZIMG_CHROMA_LEFT;
    zimg_graph_builder_params how;
    zimg_graph_builder_params_default(&how, ZIMG_API_VERSION);
    how.cpu_type = ZIMG_CPU_NONE;  // the same samples on every processor
    made.graph_.reset(zimg_filter_graph_build(&in, &out, &how));
    if (!made.graph_) return fail(Code::unwritable, "The colours cannot be converted.");
    std::size_t room = 0;
    zimg_filter_graph_get_tmp_size(made.graph_.get(), &room);
    made.work_.reset(roomOf(room));
    made.stride_ = static_cast<std::ptrdiff_t>(
        (static_cast<std::size_t>(even.width) + aligned - 1) / aligned * aligned);
    const auto plane =
        static_cast<std::size_t>(made.stride_) * static_cast<std::size_t>(even.height);
    made.from_.reset(roomOf(3 * plane));
    made.to_.reset(roomOf(3 * plane));
    return made;
}

Result<void> Yuv::convert(const Straight8& pixels) {
    const PixelSize even{(size_.width + 1) / 2 * 2, (size_.height + 1) / 2 * 2};
    const auto plane = static_cast<std::size_t>(stride_) * static_cast<std::size_t>(even.height);
    auto* from = static_cast<std::uint8_t*>(from_.get());
    auto* to = static_cast<std::uint8_t*>(to_.get());
    for (int y = 0; y < even.height; ++y) {
        std::uint8_t* row = from + y * stride_;
        const std::uint32_t* line = pixels.row(std::min(y, size_.height - 1));
        for (int x = 0; x < even.width; ++x) {
            const std::uint32_t p = line[std::min(x, size_.width - 1)];
            row[x] = static_cast<std::uint8_t>(p);
            row[plane + static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(p >> 8);
            row[2 * plane + static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(p >> 16);
        }
    }
    zimg_image_buffer_const source{ZIMG_API_VERSION, {}};
    zimg_image_buffer target{ZIMG_API_VERSION, {}};
    for (std::size_t c = 0; c < 3; ++c) {
        source.plane[c] = {from + c * plane, stride_, ZIMG_BUFFER_MAX};
        target.plane[c] = {to + c * plane, stride_, ZIMG_BUFFER_MAX};
    }
    if (zimg_filter_graph_process(graph_.get(), &source, &target, work_.get(), nullptr, nullptr,
                                  nullptr, nullptr) != ZIMG_ERROR_SUCCESS)
        return fail(Code::unwritable, "The colours could not be converted.");
    return {};
}

Result<Frame> Yuv::of(const Straight8& pixels) {
    if (pixels.size() != size_)
        return fail(Code::badUsage, "The frame is not of the video's size.");
    // What stands still is converted once.
    if (!std::equal(pixels.pixels().begin(), pixels.pixels().end(), last_.begin(), last_.end())) {
        if (auto done = convert(pixels); !done) return passOn(done.error());
        last_.assign(pixels.pixels().begin(), pixels.pixels().end());
    }
    const auto plane =
        static_cast<std::size_t>(stride_) * static_cast<std::size_t>((size_.height + 1) / 2 * 2);
    const auto* to = static_cast<const std::uint8_t*>(to_.get());
    Frame frame(av_frame_alloc());
    if (!frame) throw std::bad_alloc();
    frame->format = alpha_ ? AV_PIX_FMT_YUVA420P : AV_PIX_FMT_YUV420P;
    frame->width = size_.width;
    frame->height = size_.height;
    if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
    for (std::size_t c = 0; c < 3; ++c) {
        const int less = c > 0 ? 2 : 1;
        for (int y = 0; y < (size_.height + less - 1) / less; ++y)
            std::memcpy(frame->data[c] + static_cast<std::ptrdiff_t>(y) * frame->linesize[c],
                        to + c * plane + static_cast<std::size_t>(y * stride_),
                        static_cast<std::size_t>((size_.width + less - 1) / less));
    }
    for (int y = 0; alpha_ && y < size_.height; ++y) {
        std::uint8_t* row = frame->data[3] + static_cast<std::ptrdiff_t>(y) * frame->linesize[3];
        const std::uint32_t* line = pixels.row(y);
        for (int x = 0; x < size_.width; ++x) row[x] = static_cast<std::uint8_t>(line[x] >> 24);
    }
    frame->color_range = AVCOL_RANGE_MPEG;
    frame->colorspace = AVCOL_SPC_BT709;
    frame->color_primaries = AVCOL_PRI_BT709;
    frame->color_trc = AVCOL_TRC_BT709;
    frame->chroma_location = AVCHROMA_LOC_LEFT;
    return frame;
}

Result<Frame> Yuv::ofFrame(const AVFrame& frame) {
    auto pixels = pixelsOf(frame);
    if (!pixels) return passOn(pixels.error());
    return of(pixels->eight);
}

}  // namespace zl::video
