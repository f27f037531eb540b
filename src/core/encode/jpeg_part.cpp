// SPDX-License-Identifier: GPL-3.0-or-later
#include "encode/jpeg_part.h"

#include <jpeglib.h>
#include <csetjmp>
#include <cstdio>
#include <cstdlib>

#include <fmt/core.h>

#include <array>

#include "picture/decode.h"

namespace zl {
namespace {

// N. Robidoux's table for luma and chroma alike, as general image tools ship it (from memory):
// finer where the eye is, coarser at the corner. At small sizes it is often nearer to the picture
// than the tables printed in ITU-T T.81, K.1.
constexpr std::array<unsigned, 64> robidoux{
    16, 16, 16, 18,  25,  37,  56,  85,  16, 17, 20,  27,  34,  40,  53,  75,
    16, 20, 24, 31,  43,  62,  91,  135, 18, 27, 31,  40,  53,  74,  106, 156,
    25, 34, 43, 53,  69,  94,  131, 189, 37, 40, 62,  74,  94,  124, 169, 238,
    56, 53, 91, 106, 131, 169, 226, 311, 85, 75, 135, 156, 189, 238, 311, 418};

struct Failure {
    jpeg_error_mgr manager;
    std::jmp_buf back;
    std::array<char, JMSG_LENGTH_MAX> words;
};

[[noreturn]] void leave(j_common_ptr common) {
    auto* failure = reinterpret_cast<Failure*>(common->err);
    (*common->err->format_message)(common, failure->words.data());
    std::longjmp(failure->back, 1);
}

struct Written {
    unsigned char* data = nullptr;
    unsigned long size = 0;
};

// Of another JPEG: its quantisation tables, in rows of a block, and its sampling, by component.
struct Tables {
    int components = 0;
    bool progressive = false;
    std::array<std::array<unsigned, 64>, 3> steps{};
    std::array<int, 3> across{}, down{};
};

// Nothing with a destructor lives here: an error leaves it by a jump.
bool readTables(ByteView jpeg, Failure& failure, Tables& out) {
    jpeg_decompress_struct in;
    in.err = jpeg_std_error(&failure.manager);
    failure.manager.error_exit = leave;
    jpeg_create_decompress(&in);
    if (setjmp(failure.back)) {
        jpeg_destroy_decompress(&in);
        return false;
    }
    jpeg_mem_src(&in, jpeg.data(), static_cast<unsigned long>(jpeg.size()));
    jpeg_read_header(&in, TRUE);
    out.components = in.jpeg_color_space == JCS_YCbCr       ? 3
                     : in.jpeg_color_space == JCS_GRAYSCALE ? 1
                                                            : 0;
    out.progressive = in.progressive_mode == TRUE;
    for (int c = 0; c < out.components; ++c) {
        const auto i = static_cast<std::size_t>(c);
        const jpeg_component_info& one = in.comp_info[c];
        const JQUANT_TBL* table = in.quant_tbl_ptrs[one.quant_tbl_no];
        if (!table) out.components = 0;
        for (std::size_t k = 0; table && k < 64; ++k) out.steps[i][k] = table->quantval[k];
        out.across[i] = one.h_samp_factor;
        out.down[i] = one.v_samp_factor;
    }
    jpeg_destroy_decompress(&in);
    return out.components > 0;
}

// The tables are those of `quality` where it is not 0.
void setTables(jpeg_compress_struct& j, const Tables& like, int quality) {
    if (like.components == 1) jpeg_set_colorspace(&j, JCS_GRAYSCALE);
    if (quality > 0) jpeg_set_quality(&j, quality, TRUE);
    for (int c = 0; c < like.components; ++c) {
        const auto i = static_cast<std::size_t>(c);
        if (quality == 0) {
            jpeg_add_quant_table(&j, c, like.steps[i].data(), 100, FALSE);
            j.comp_info[c].quant_tbl_no = c;
        }
        j.comp_info[c].h_samp_factor = like.across[i];
        j.comp_info[c].v_samp_factor = like.down[i];
    }
    if (like.progressive) jpeg_simple_progression(&j);
}

// Nothing with a destructor lives here: an error leaves it by a jump.
bool recode(ByteView jpeg, int quality, const Tables& like,
            const std::function<void(int, std::uint8_t*)>& change, std::uint8_t* row,
            Failure& failure, Written& written) {
    jpeg_decompress_struct in;
    jpeg_compress_struct out;
    in.err = out.err = jpeg_std_error(&failure.manager);
    failure.manager.error_exit = leave;
    failure.manager.emit_message = [](j_common_ptr common, int level) {
        if (level < 0) ++common->err->num_warnings;
    };
    jpeg_create_decompress(&in);
    jpeg_create_compress(&out);
    bool good = false;
    if (setjmp(failure.back) == 0) {
        jpeg_mem_src(&in, jpeg.data(), static_cast<unsigned long>(jpeg.size()));
        jpeg_read_header(&in, TRUE);
        in.out_color_space = JCS_RGB;
        in.dct_method = JDCT_ISLOW;
        jpeg_start_decompress(&in);
        jpeg_mem_dest(&out, &written.data, &written.size);
        out.image_width = in.output_width;
        out.image_height = in.output_height;
        out.input_components = 3;
        out.in_color_space = JCS_RGB;
        jpeg_set_defaults(&out);
        out.dct_method = JDCT_ISLOW;
        setTables(out, like, quality);
        jpeg_start_compress(&out, TRUE);
        JSAMPROW rows[1] = {row};
        while (in.output_scanline < in.output_height) {
            const int y = static_cast<int>(in.output_scanline);
            jpeg_read_scanlines(&in, rows, 1);
            change(y, row);
            jpeg_write_scanlines(&out, rows, 1);
        }
        jpeg_finish_compress(&out);
        good = failure.manager.num_warnings == 0;
    }
    jpeg_destroy_compress(&out);
    jpeg_destroy_decompress(&in);
    return good;
}

// Nothing with a destructor lives here: an error leaves it by a jump.
bool compress(const Straight8& frame, const Encoding& e, const Tables* like, std::uint8_t* row,
              Failure& failure, Written& out) {
    jpeg_compress_struct j;
    j.err = jpeg_std_error(&failure.manager);
    failure.manager.error_exit = leave;
    jpeg_create_compress(&j);
    if (setjmp(failure.back)) {
        jpeg_destroy_compress(&j);
        return false;
    }
    jpeg_mem_dest(&j, &out.data, &out.size);
    j.image_width = static_cast<JDIMENSION>(frame.width());
    j.image_height = static_cast<JDIMENSION>(frame.height());
    j.input_components = 3;
    j.in_color_space = JCS_RGB;
    jpeg_set_defaults(&j);
    j.dct_method = JDCT_ISLOW;
    jpeg_set_quality(&j, e.quality, TRUE);
    if (e.table == Table::even) {
        const int scale = jpeg_quality_scaling(e.quality);
        jpeg_add_quant_table(&j, 0, robidoux.data(), scale, TRUE);
        jpeg_add_quant_table(&j, 1, robidoux.data(), scale, TRUE);
    }
    j.comp_info[0].h_samp_factor = e.chroma == Chroma::full ? 1 : 2;
    j.comp_info[0].v_samp_factor = e.chroma == Chroma::half ? 2 : 1;
    if (e.progressive) jpeg_simple_progression(&j);
    if (like) setTables(j, *like, e.quality);
    j.optimize_coding = e.effort == Effort::release ? TRUE : FALSE;
    jpeg_start_compress(&j, TRUE);
    while (j.next_scanline < j.image_height) {
        const std::uint32_t* from = frame.row(static_cast<int>(j.next_scanline));
        for (int x = 0; x < frame.width(); ++x) {
            row[3 * x] = static_cast<std::uint8_t>(redOf(from[x]));
            row[3 * x + 1] = static_cast<std::uint8_t>(greenOf(from[x]));
            row[3 * x + 2] = static_cast<std::uint8_t>(blueOf(from[x]));
        }
        JSAMPROW rows[1] = {row};
        jpeg_write_scanlines(&j, rows, 1);
    }
    jpeg_finish_compress(&j);
    jpeg_destroy_compress(&j);
    return true;
}

constexpr std::uint8_t startOfScan = 0xDA, comment = 0xFE;

bool isFrameHeader(std::uint8_t marker) {
    return marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
}

// EXIF's orientation of an application segment 1, 1..8; 1 when it tells none. Exif 2.3, TIFF 6.0.
int orientationIn(ByteView body) {
    if (body.size() < 14 || body[0] != 'E' || body[1] != 'x' || body[2] != 'i' || body[3] != 'f')
        return 1;
    const ByteView tiff = body.subspan(6);
    const bool little = tiff[0] == 'I';
    const auto number = [&](std::size_t at, std::size_t bytes) -> std::size_t {
        std::size_t v = 0;
        if (at + bytes > tiff.size()) return 0;
        for (std::size_t i = 0; i < bytes; ++i)
            v = v << 8 | tiff[little ? at + bytes - 1 - i : at + i];
        return v;
    };
    const std::size_t first = number(4, 4), entries = number(first, 2);
    constexpr std::size_t orientation = 0x0112;
    for (std::size_t i = 0; i < std::min<std::size_t>(entries, 200); ++i)
        if (number(first + 2 + 12 * i, 2) == orientation) {
            const auto value = static_cast<int>(number(first + 2 + 12 * i + 8, 2));
            return value >= 1 && value <= 8 ? value : 1;
        }
    return 1;
}

}  // namespace

namespace {

Result<Bytes> encoded(const Straight8& frame, const Encoding& encoding, const Tables* like) {
    Failure failure{};
    Written out;
    Bytes row(static_cast<std::size_t>(frame.width()) * 3);
    const bool good = !frame.empty() && compress(frame, encoding, like, row.data(), failure, out);
    Bytes bytes;
    if (good) bytes.assign(out.data, out.data + out.size);
    std::free(out.data);
    if (!good)
        return fail(Code::unwritable, fmt::format("The picture could not be written as JPEG: {}.",
                                                  failure.words.data()));
    return bytes;
}

}  // namespace

Result<Bytes> encodeJpeg(const Straight8& frame, const Encoding& encoding) {
    return encoded(frame, encoding, nullptr);
}

Result<Bytes> encodeJpegLike(const Straight8& frame, ByteView photo, int quality) {
    Failure failure{};
    Tables like;
    if (!readTables(photo, failure, like))
        return fail(Code::unwritable, "The photograph's own quality cannot be told.",
                    "Give a quality.");
    Encoding how{Content::jpeg, quality};
    return encoded(frame, how, &like);
}

std::optional<Bytes> recodedJpeg(ByteView jpeg, int quality,
                                 const std::function<void(int y, std::uint8_t* row)>& change) {
    Failure failure{};
    Tables like;
    const auto facts = readFacts(jpeg, "the JPEG");
    if (!facts || facts->cmyk || !readTables(jpeg, failure, like)) return {};
    constexpr std::size_t widest = 65'535;
    Bytes row(widest * 3);
    Written out;
    const bool good = recode(jpeg, quality, like, change, row.data(), failure, out);
    std::optional<Bytes> bytes;
    if (good) bytes.emplace(out.data, out.data + out.size);
    std::free(out.data);
    return bytes;
}

namespace {

constexpr std::uint8_t application0 = 0xE0, application15 = 0xEF,
                       colourTransform = 0xEE;  // application segment 14 tells it

// Calls `each(marker, segment)` for all segments before the first scan; where that begins, or 0.
template <class Each>
std::size_t overSegments(ByteView jpeg, const Each& each) {
    std::size_t at = 2;
    while (at + 4 <= jpeg.size() && jpeg[at] == 0xFF && jpeg[at + 1] != startOfScan) {
        const std::uint8_t marker = jpeg[at + 1];
        if (marker == 0xFF) {  // padding
            ++at;
            continue;
        }
        const std::size_t length = 2 + (static_cast<std::size_t>(jpeg[at + 2]) << 8 | jpeg[at + 3]);
        if (length < 4 || at + length > jpeg.size()) return 0;
        if (!each(marker, jpeg.subspan(at, length))) return 0;
        at += length;
    }
    return at + 4 > jpeg.size() ? 0 : at;
}

bool beginsWith(ByteView segment, std::string_view words) {
    return segment.size() >= 4 + words.size() &&
           std::equal(words.begin(), words.end(), segment.begin() + 4);
}
constexpr std::string_view profileWords{"ICC_PROFILE\0", 12}, jfif{"JFIF\0", 5};

void add(Bytes& out, ByteView bytes) {
    out.insert(out.end(), bytes.begin(), bytes.end());
}

}  // namespace

std::optional<Bytes> strippedJpeg(ByteView jpeg) {
    const auto facts = readFacts(jpeg, "the JPEG");
    if (!facts || facts->content != Content::jpeg || !facts->profileIsSrgb || facts->cmyk)
        return {};
    Bytes out(jpeg.begin(), jpeg.begin() + 2);
    const std::size_t scan = overSegments(jpeg, [&](std::uint8_t marker, ByteView segment) {
        if (marker == application0 + 1 && orientationIn(segment.subspan(4)) != 1) return false;
        if (isFrameHeader(marker) && segment[4] != 8) return false;
        const bool goes = marker == comment || (marker > application0 && marker <= application15 &&
                                                marker != colourTransform);
        if (!goes) add(out, segment);
        return true;
    });
    if (scan == 0) return {};
    add(out, jpeg.subspan(scan));
    return out;
}

JpegHead headOf(ByteView jpeg) {
    JpegHead head;
    overSegments(jpeg, [&](std::uint8_t marker, ByteView segment) {
        constexpr std::uint8_t exifOrXmp = application0 + 1, iptc = application0 + 13;
        if (marker == exifOrXmp && head.orientation == 1)
            head.orientation = orientationIn(segment.subspan(4));
        head.tagged = head.tagged || marker == exifOrXmp || marker == iptc || marker == comment;
        // Two bytes of it count its parts, which come in order.
        if (marker == application0 + 2 && beginsWith(segment, profileWords) &&
            segment.size() > 4 + profileWords.size() + 2)
            add(head.profile, segment.subspan(4 + profileWords.size() + 2));
        return true;
    });
    return head;
}

Bytes bareJpeg(ByteView coded, ByteView photo) {
    Bytes out(coded.begin(), coded.begin() + 2), rest;
    out.reserve(coded.size());
    const std::size_t scan = overSegments(coded, [&](std::uint8_t marker, ByteView segment) {
        if (marker == application0 && beginsWith(segment, jfif))
            add(out, segment);
        else if (marker == colourTransform ||
                 (marker != comment && (marker < application0 || marker > application15)))
            add(rest, segment);
        return true;
    });
    overSegments(photo, [&](std::uint8_t marker, ByteView segment) {
        if (marker == application0 + 2 && beginsWith(segment, profileWords)) add(out, segment);
        return true;
    });
    add(out, rest);
    add(out, coded.subspan(scan));
    return out;
}

}  // namespace zl
