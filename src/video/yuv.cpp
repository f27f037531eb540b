// SPDX-License-Identifier: GPL-3.0-or-later
#include "yuv.h"

#include <algorithm>
#include <array>

#include "pixels.h"

namespace zl::video {
namespace {

// BT.709 of sRGB codes in whole numbers of 2^-20, so that every processor gives the same: the
// weights of ITU-T H.273's matrix 1, times 219 / 255 for light and 224 / 255 for colour.
constexpr int unit = 20;
constexpr double one = 1 << unit;
constexpr int rounded(double v) {
    return static_cast<int>(v < 0 ? v - 0.5 : v + 0.5);
}
constexpr double redPart = 0.2126, bluePart = 0.0722, greenPart = 1 - redPart - bluePart;
constexpr double light = 219.0 / 255 * one, colour = 224.0 / 255 * one;
constexpr int yr = rounded(redPart * light), yg = rounded(greenPart * light),
              yb = rounded(bluePart * light);
constexpr int ur = rounded(-redPart / (2 * (1 - bluePart)) * colour),
              ug = rounded(-greenPart / (2 * (1 - bluePart)) * colour), ub = rounded(0.5 * colour),
              vr = rounded(0.5 * colour), vg = rounded(-greenPart / (2 * (1 - redPart)) * colour),
              vb = rounded(-bluePart / (2 * (1 - redPart)) * colour);

void lightRow(const std::uint32_t* from, std::uint8_t* to, int width) {
    constexpr int start = (16 << unit) + (1 << (unit - 1));
    for (int x = 0; x < width; ++x) {
        const auto p = from[x];
        const int r = static_cast<int>(p & 255u), g = static_cast<int>(p >> 8 & 255u),
                  b = static_cast<int>(p >> 16 & 255u);
        to[x] = static_cast<std::uint8_t>((yr * r + yg * g + yb * b + start) >> unit);
    }
}

// Of two rows: what their columns add up to, the outer ones once more at each end; and eight times
// the mean that each place of colour stands for, [1 2 1] across, the two rows alike.
class Sums {
  public:
    explicit Sums(int width) : width_(width) {
        const int columns = (width + 1) / 2;
        for (std::size_t c = 0; c < 3; ++c) {
            down_[c].resize(static_cast<std::size_t>(2 * columns + 2));
            all[c].resize(static_cast<std::size_t>(columns));
        }
    }
    void of(const std::uint32_t* upper, const std::uint32_t* lower) {
        for (std::size_t c = 0; c < 3; ++c) {
            int* down = down_[c].data() + 1;
            const int shift = static_cast<int>(8 * c);
            for (int x = 0; x < width_; ++x)
                down[x] = static_cast<int>((upper[x] >> shift & 255u) + (lower[x] >> shift & 255u));
            down[-1] = down[0];
            std::fill(down_[c].begin() + 1 + width_, down_[c].end(), down[width_ - 1]);
            int* to = all[c].data();
            for (std::size_t i = 0; i < all[c].size(); ++i)
                to[i] = down_[c][2 * i] + 2 * down_[c][2 * i + 1] + down_[c][2 * i + 2];
        }
    }
    std::array<std::vector<int>, 3> all;

  private:
    int width_;
    std::array<std::vector<int>, 3> down_;
};

void colourRow(const Sums& sums, std::uint8_t* u, std::uint8_t* v) {
    // At most (128 + 112) << 23, which is below 2^31.
    constexpr int shift = unit + 3, start = (128 << shift) + (1 << (shift - 1));
    const int *red = sums.all[0].data(), *green = sums.all[1].data(), *blue = sums.all[2].data();
    for (std::size_t i = 0; i < sums.all[0].size(); ++i) {
        const int r = red[i], g = green[i], b = blue[i];
        u[i] = static_cast<std::uint8_t>((ur * r + ug * g + ub * b + start) >> shift);
        v[i] = static_cast<std::uint8_t>((vr * r + vg * g + vb * b + start) >> shift);
    }
}

// Two rows of light and one of colour at a time.
void convertRows(const Straight8& from, AVFrame& to, bool alpha, int first, int last) {
    const int width = from.width(), height = from.height();
    Sums sums(width);
    for (int pair = first; pair < last; ++pair) {
        const int y = 2 * pair, below = std::min(height - 1, y + 1);
        for (int row = y; row <= below; ++row) {
            lightRow(from.row(row), to.data[0] + static_cast<std::ptrdiff_t>(row) * to.linesize[0],
                     width);
            if (!alpha) continue;
            std::uint8_t* a = to.data[3] + static_cast<std::ptrdiff_t>(row) * to.linesize[3];
            for (int x = 0; x < width; ++x)
                a[x] = static_cast<std::uint8_t>(from.row(row)[x] >> 24);
        }
        sums.of(from.row(y), from.row(below));
        colourRow(sums, to.data[1] + static_cast<std::ptrdiff_t>(pair) * to.linesize[1],
                  to.data[2] + static_cast<std::ptrdiff_t>(pair) * to.linesize[2]);
    }
}

}  // namespace

Result<Frame> Yuv::of(const Straight8& pixels) {
    if (pixels.size() != size_)
        return fail(Code::badUsage, "The frame is not of the video's size.");
    Frame frame(av_frame_alloc());
    if (!frame) throw std::bad_alloc();
    frame->format = alpha_ ? AV_PIX_FMT_YUVA420P : AV_PIX_FMT_YUV420P;
    frame->width = size_.width;
    frame->height = size_.height;
    if (av_frame_get_buffer(frame.get(), 0) < 0) throw std::bad_alloc();
    convertRows(pixels, *frame, alpha_, 0, (size_.height + 1) / 2);
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
