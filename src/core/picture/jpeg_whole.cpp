// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/jpeg_whole.h"

#include <csetjmp>
#include <cstdio>  // jpeglib.h wants it

#include <jerror.h>
#include <jpeglib.h>

namespace zl {
namespace {

struct Reading {
    jpeg_error_mgr manager;
    std::jmp_buf back;
};

// Of a progressive one: what is known of each coefficient goes down to its last bit.
bool isRefined(const jpeg_decompress_struct& in) {
    if (!in.progressive_mode || !in.coef_bits) return true;
    for (int c = 0; c < in.num_components; ++c)
        for (int k = 0; k < DCTSIZE2; ++k)
            if (in.coef_bits[c][k] != 0) return false;
    return true;
}

}  // namespace

// Nothing with a destructor lives here: an error leaves it by a jump.
bool isWholeJpeg(ByteView jpeg) {
    Reading reading;
    jpeg_decompress_struct in;
    in.err = jpeg_std_error(&reading.manager);
    reading.manager.error_exit = [](j_common_ptr common) {
        std::longjmp(reinterpret_cast<Reading*>(common->err)->back, 1);
    };
    // Told where bits are made up; what else may be odd about a file takes nothing away.
    reading.manager.emit_message = [](j_common_ptr common, int level) {
        const int told = common->err->msg_code;
        if (level < 0 && (told == JWRN_HIT_MARKER || told == JWRN_JPEG_EOF))
            ++common->err->num_warnings;
    };
    jpeg_create_decompress(&in);
    if (setjmp(reading.back)) {
        jpeg_destroy_decompress(&in);
        return false;
    }
    jpeg_mem_src(&in, jpeg.data(), static_cast<unsigned long>(jpeg.size()));
    jpeg_read_header(&in, TRUE);
    // Small, since nobody looks at the pixels.
    in.scale_num = 1;
    in.scale_denom = 8;
    in.do_fancy_upsampling = FALSE;
    jpeg_start_decompress(&in);
    const JSAMPARRAY row =
        (*in.mem->alloc_sarray)(reinterpret_cast<j_common_ptr>(&in), JPOOL_IMAGE,
                                in.output_width * static_cast<JDIMENSION>(in.output_components), 1);
    while (in.output_scanline < in.output_height) jpeg_read_scanlines(&in, row, 1);
    // Where something lies behind its end, that end is its own.
    const bool ended = in.progressive_mode && in.src->bytes_in_buffer > 0;
    const bool whole = reading.manager.num_warnings == 0 && (ended || isRefined(in));
    jpeg_destroy_decompress(&in);
    return whole;
}

}  // namespace zl
