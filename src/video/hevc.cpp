// SPDX-License-Identifier: GPL-3.0-or-later
#include "hevc.h"

#include <algorithm>
#include <cstdint>
#include <span>

namespace zl::video {
namespace {

constexpr int firstNoPicture = 32, lastOfLeadingAndTrailing = 14;  // types of NAL units

std::optional<HevcPicture> pictureOf(std::span<const std::uint8_t> unit) {
    if (unit.size() < 2) return {};
    const int type = unit[0] >> 1 & 0x3f, layer = (unit[1] & 7) - 1;
    if (type >= firstNoPicture || layer < 0) return {};
    // Even ones up to RSV_VCL_N14 are pictures that their sub-layer does not need.
    return HevcPicture{layer, type > lastOfLeadingAndTrailing || type % 2 != 0};
}

}  // namespace

std::optional<HevcPicture> hevcPictureIn(const AVPacket& packet, const AVCodecParameters& coded) {
    // Of a skimmed packet no more than that was read.
    constexpr int seen = 4096;
    std::span<const std::uint8_t> bytes(packet.data,
                                        static_cast<std::size_t>(std::min(packet.size, seen)));
    constexpr int lengthAt = 21;  // in the configuration record: how long lengths are
    if (coded.extradata_size > lengthAt && coded.extradata[0] == 1) {
        const auto wide = static_cast<std::size_t>((coded.extradata[lengthAt] & 3) + 1);
        while (bytes.size() > wide) {
            std::size_t length = 0;
            for (std::size_t i = 0; i < wide; ++i) length = length << 8 | bytes[i];
            bytes = bytes.subspan(wide);
            if (const auto found = pictureOf(bytes)) return found;
            if (length > bytes.size()) return {};
            bytes = bytes.subspan(length);
        }
        return {};
    }
    // Units behind start codes.
    for (std::size_t i = 0; i + 5 <= bytes.size(); ++i)
        if (bytes[i] == 0 && bytes[i + 1] == 0 && bytes[i + 2] == 1)
            if (const auto found = pictureOf(bytes.subspan(i + 3))) return found;
    return {};
}

}  // namespace zl::video
