// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/jpeg_over.h"

#include <cstdio>
#include <cstdlib>

#include <jpeglib.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <csetjmp>
#include <numbers>

#include "encode/jpeg_part.h"

namespace zl {
namespace {

constexpr int side = DCTSIZE;
using Samples = std::array<double, DCTSIZE2>;

// The orthonormal cosines of T.81, A.3.3, by frequency and place.
const Samples& cosines() {
    static const Samples made = [] {
        Samples out{};
        for (int u = 0; u < side; ++u)
            for (int x = 0; x < side; ++x)
                out[static_cast<std::size_t>(u * side + x)] =
                    (u == 0 ? std::sqrt(0.125) : 0.5) *
                    std::cos((2 * x + 1) * u * std::numbers::pi / 16);
        return out;
    }();
    return made;
}

// The same by place and frequency.
const Samples& cosinesAcross() {
    static const Samples made = [] {
        Samples out{};
        for (std::size_t u = 0; u < side; ++u)
            for (std::size_t x = 0; x < side; ++x) out[x * side + u] = cosines()[u * side + x];
        return out;
    }();
    return made;
}

// To samples when `inverse`, else to coefficients. The inner loops go along rows, for the
// compiler's vectors.
Samples transformed(const Samples& in, bool inverse) {
    // By what is taken and what is made of it.
    const Samples& c = inverse ? cosines() : cosinesAcross();
    Samples rows{}, out{};
    for (std::size_t y = 0; y < side; ++y)
        for (std::size_t x = 0; x < side; ++x)
            for (std::size_t to = 0; to < side; ++to)
                rows[y * side + to] += in[y * side + x] * c[x * side + to];
    for (std::size_t y = 0; y < side; ++y)
        for (std::size_t to = 0; to < side; ++to)
            for (std::size_t x = 0; x < side; ++x)
                out[to * side + x] += rows[y * side + x] * c[y * side + to];
    return out;
}

// T.871: Y, Cb or Cr of a pixel, 0..255.
double componentOf(std::uint32_t p, int component) {
    const double r = redOf(p), g = greenOf(p), b = blueOf(p);
    return component == 0   ? 0.299 * r + 0.587 * g + 0.114 * b
           : component == 1 ? 128 - 0.168735892 * r - 0.331264108 * g + 0.5 * b
                            : 128 + 0.5 * r - 0.418687589 * g - 0.081312411 * b;
}

// The pixels that are others in the second picture.
class PixelsChanged : public SampleChange {
  public:
    PixelsChanged(const Straight8& before, const Straight8& after, const PixelRect& box)
        : before_(before), after_(after), box_(box) {}
    PixelRect box() const override { return box_; }
    bool into(std::span<double, 64> samples, int component, int left, int top, int across,
              int down) const override {
        bool any = false;
        for (int sy = 0; sy < side; ++sy)
            for (int sx = 0; sx < side; ++sx) {
                double& sample = samples[static_cast<std::size_t>(sy * side + sx)];
                double sum = 0;
                bool changed = false;
                for (int y = top + sy * down; y < top + (sy + 1) * down; ++y)
                    for (int x = left + sx * across; x < left + (sx + 1) * across; ++x) {
                        const bool own = x < after_.width() && y < after_.height() &&
                                         before_.row(y)[x] != after_.row(y)[x];
                        changed |= own;
                        sum += own ? componentOf(after_.row(y)[x], component) : sample;
                    }
                if (changed) sample = sum / (across * down);
                any |= changed;
            }
        return any;
    }

  private:
    const Straight8& before_;
    const Straight8& after_;
    PixelRect box_;  // round all changed pixels
};

PixelRect boxOfChanges(const Straight8& before, const Straight8& after) {
    PixelRect box;
    for (int y = 0; y < after.height(); ++y) {
        const auto one = before.pixels().subspan(
            static_cast<std::size_t>(y) * static_cast<std::size_t>(after.width()),
            static_cast<std::size_t>(after.width()));
        const std::uint32_t* other = after.row(y);
        const auto first = std::mismatch(one.begin(), one.end(), other).first;
        if (first == one.end()) continue;
        int last = after.width();
        while (one[static_cast<std::size_t>(last) - 1] == other[last - 1]) --last;
        box = box.united({static_cast<int>(first - one.begin()), y, last, y + 1});
    }
    return box;
}

struct Jump {
    jpeg_error_mgr manager;
    std::jmp_buf back;
};
[[noreturn]] void leaveAt(j_common_ptr common) {
    std::longjmp(reinterpret_cast<Jump*>(common->err)->back, 1);
}
void countWarning(j_common_ptr common, int level) {
    if (level < 0) ++common->err->num_warnings;
}

struct Work {
    ByteView jpeg;
    const SampleChange& change;
    unsigned char* data = nullptr;
    unsigned long size = 0;
    long long changed = 0, blocks = 0;
};

void changeComponent(jpeg_decompress_struct& in, jvirt_barray_ptr array, int index, Work& work) {
    const jpeg_component_info& component = in.comp_info[index];
    const int across = in.max_h_samp_factor / component.h_samp_factor,
              down = in.max_v_samp_factor / component.v_samp_factor;
    for (JDIMENSION row = 0; row < component.height_in_blocks; ++row) {
        JBLOCKARRAY blocks =
            (*in.mem->access_virt_barray)(reinterpret_cast<j_common_ptr>(&in), array, row, 1, TRUE);
        for (JDIMENSION column = 0; column < component.width_in_blocks; ++column) {
            ++work.blocks;
            work.changed +=
                changeBlock(std::span<std::int16_t, 64>(blocks[0][column], 64),
                            std::span<const std::uint16_t, 64>(component.quant_table->quantval, 64),
                            work.change, index, static_cast<int>(column) * side * across,
                            static_cast<int>(row) * side * down, across, down);
        }
    }
}

// Nothing with a destructor lives here: an error leaves it by a jump.
bool recode(Work& work, Jump& failure) {
    jpeg_decompress_struct in;
    jpeg_compress_struct out;
    in.err = out.err = jpeg_std_error(&failure.manager);
    failure.manager.error_exit = leaveAt;
    failure.manager.emit_message = countWarning;
    jpeg_create_decompress(&in);
    jpeg_create_compress(&out);
    bool good = false;
    if (setjmp(failure.back) == 0) {
        jpeg_mem_src(&in, work.jpeg.data(), static_cast<unsigned long>(work.jpeg.size()));
        jpeg_read_header(&in, TRUE);
        const bool grey = in.jpeg_color_space == JCS_GRAYSCALE && in.num_components == 1;
        const bool colour = in.jpeg_color_space == JCS_YCbCr && in.num_components == 3;
        bool whole = grey || colour;
        for (int i = 0; i < in.num_components; ++i)
            whole = whole && in.max_h_samp_factor % in.comp_info[i].h_samp_factor == 0 &&
                    in.max_v_samp_factor % in.comp_info[i].v_samp_factor == 0;
        if (whole && in.data_precision == 8) {
            jvirt_barray_ptr* arrays = jpeg_read_coefficients(&in);
            const bool damaged =
                failure.manager.num_warnings > 0;  // such a one is not passed on as whole
            for (int i = 0; i < in.num_components; ++i) changeComponent(in, arrays[i], i, work);
            jpeg_copy_critical_parameters(&in, &out);
            out.restart_interval = in.restart_interval;
            out.optimize_coding = TRUE;
            if (in.progressive_mode) jpeg_simple_progression(&out);
            jpeg_mem_dest(&out, &work.data, &work.size);
            jpeg_write_coefficients(&out, arrays);
            jpeg_finish_compress(&out);
            good = !damaged;
        }
    }
    jpeg_destroy_compress(&out);
    jpeg_destroy_decompress(&in);
    return good;
}

}  // namespace

bool changeBlock(std::span<std::int16_t, 64> coefficients, std::span<const std::uint16_t, 64> steps,
                 const SampleChange& change, int component, int left, int top, int across,
                 int down) {
    if (!change.touches({left, top, left + side * across, top + side * down})) return false;
    Samples values{};
    for (std::size_t i = 0; i < DCTSIZE2; ++i)
        values[i] = coefficients[i] * static_cast<double>(steps[i]);
    Samples samples = transformed(values, true);
    constexpr double middle = 128;
    for (double& s : samples) s += middle;
    if (!change.into(samples, component, left, top, across, down)) return false;
    for (double& s : samples) s -= middle;
    values = transformed(samples, false);
    for (std::size_t i = 0; i < DCTSIZE2; ++i) {
        constexpr double most = 1023;  // of 8-bit samples, T.81 F.1.1.5
        if (steps[i] == 0) continue;
        coefficients[i] =
            static_cast<std::int16_t>(std::lround(std::clamp(values[i] / steps[i], -most, most)));
    }
    return true;
}

std::optional<JpegChanged> changedJpeg(ByteView jpeg, const SampleChange& change) {
    Work work{jpeg, change};
    Jump failure{};
    std::optional<JpegChanged> out;
    if (recode(work, failure))
        out = JpegChanged{Bytes(work.data, work.data + work.size), work.changed, work.blocks};
    std::free(work.data);
    return out;
}

std::optional<JpegChanged> changedJpeg(ByteView jpeg, const Straight8& before,
                                       const Straight8& after) {
    if (before.size() != after.size() || before.empty() || !strippedJpeg(jpeg)) return {};
    return changedJpeg(jpeg, PixelsChanged(before, after, boxOfChanges(before, after)));
}

}  // namespace zl
