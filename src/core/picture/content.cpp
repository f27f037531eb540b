// SPDX-License-Identifier: GPL-3.0-or-later
#include "picture/content.h"

#include <algorithm>
#include <array>

namespace zl {
namespace {

constexpr std::array<ContentFacts, 10> table{{
    {Content::unknown, "unknown", "unknown", "application/octet-stream", "", false, false, false},
    {Content::png, "png", "PNG", "image/png", ".png", true, true, true},
    {Content::jpeg, "jpeg", "JPEG", "image/jpeg", ".jpg .jpeg .jpe", false, true, true},
    {Content::gif, "gif", "GIF", "image/gif", ".gif", false, true, true},
    {Content::webp, "webp", "WebP", "image/webp", ".webp", true, true, true},
    {Content::bmp, "bmp", "BMP", "image/bmp", ".bmp", false, true, false},
    {Content::tiff, "tiff", "TIFF", "image/tiff", ".tif .tiff", true, true, false},
    {Content::svg, "svg", "SVG", "image/svg+xml", ".svg", true, true, false},
    {Content::heif, "heif", "HEIC or AVIF", "image/heif", ".heic .heif .avif", true, true, false},
    {Content::jxl, "jxl", "JPEG XL", "image/jxl", ".jxl", true, true, false},
}};

bool startsWith(ByteView bytes, std::string_view head, std::size_t at = 0) {
    return bytes.size() >= at + head.size() &&
           std::equal(head.begin(), head.end(), bytes.begin() + static_cast<std::ptrdiff_t>(at),
                      [](char a, std::uint8_t b) { return static_cast<std::uint8_t>(a) == b; });
}

}  // namespace

std::span<const ContentFacts> allContents() {
    return table;
}

const ContentFacts& factsOf(Content content) {
    return table[static_cast<std::size_t>(content)];
}

std::optional<Content> contentById(std::string_view id) {
    for (const auto& row : table)
        if (row.content != Content::unknown && row.id == id) return row.content;
    if (id == "jpg") return Content::jpeg;
    return {};
}

std::optional<Content> contentByEnding(std::string_view ending) {
    if (ending.size() < 2) return {};
    for (const auto& row : table) {
        std::string_view rest = row.endings;
        while (!rest.empty()) {
            const std::string_view one = rest.substr(0, rest.find(' '));
            if (one == ending) return row.content;
            rest.remove_prefix(std::min(rest.size(), one.size() + 1));
        }
    }
    return {};
}

std::string usualEnding(Content content) {
    const std::string_view all = factsOf(content).endings;
    return std::string(all.substr(0, all.find(' ')));
}

Content sniff(ByteView bytes) {
    using namespace std::string_view_literals;
    if (startsWith(bytes, "\x89PNG\r\n\x1a\n"sv)) return Content::png;
    if (startsWith(bytes, "\xff\xd8\xff"sv)) return Content::jpeg;
    if (startsWith(bytes, "GIF87a"sv) || startsWith(bytes, "GIF89a"sv)) return Content::gif;
    if (startsWith(bytes, "RIFF"sv) && startsWith(bytes, "WEBP"sv, 8)) return Content::webp;
    if (startsWith(bytes, "BM"sv) && bytes.size() >= 26) return Content::bmp;
    if (startsWith(bytes, "II*\0"sv) || startsWith(bytes, "MM\0*"sv)) return Content::tiff;
    // With lengths of 64 bits ("BigTIFF").
    if (startsWith(bytes, "II+\0"sv) || startsWith(bytes, "MM\0+"sv)) return Content::tiff;
    if (startsWith(bytes, "ftyp"sv, 4))
        for (const std::string_view brand :
             {"avif"sv, "avis"sv, "heic"sv, "heix"sv, "heim"sv, "heis"sv, "mif1"sv, "msf1"sv})
            if (startsWith(bytes, brand, 8)) return Content::heif;
    if (startsWith(bytes, "\xff\x0a"sv) || startsWith(bytes, "\0\0\0\x0cJXL \r\n\x87\n"sv))
        return Content::jxl;
    const std::string_view head(reinterpret_cast<const char*>(bytes.data()),
                                std::min<std::size_t>(bytes.size(), 1024));
    if (head.find("<svg") != std::string_view::npos) return Content::svg;
    return Content::unknown;
}

std::string nameOfOther(ByteView bytes) {
    using namespace std::string_view_literals;
    if (startsWith(bytes, "%PDF"sv)) return "a PDF document";
    if (startsWith(bytes, "\x1a\x45\xdf\xa3"sv) || startsWith(bytes, "ftyp"sv, 4)) return "a video";
    if (startsWith(bytes, "PK\3\4"sv)) return "a ZIP archive";
    if (startsWith(bytes, "8BPS"sv)) return "a layered working file";
    if (startsWith(bytes, "\0\0\1\0"sv)) return "an icon file";
    if (startsWith(bytes, "\0\0\0\x0cjP"sv)) return "a JPEG 2000 picture";
    if (startsWith(bytes, "qoif"sv)) return "a QOI picture";
    if (startsWith(bytes, "OggS"sv) || startsWith(bytes, "ID3"sv) || startsWith(bytes, "fLaC"sv))
        return "sound";
    return {};
}

bool isAnimatedPng(ByteView bytes) {
    using namespace std::string_view_literals;
    for (std::size_t at = 8; at + 8 <= bytes.size();) {
        if (startsWith(bytes, "acTL"sv, at + 4)) return true;
        if (startsWith(bytes, "IDAT"sv, at + 4)) return false;
        const std::size_t length = static_cast<std::size_t>(bytes[at]) << 24 |
                                   static_cast<std::size_t>(bytes[at + 1]) << 16 |
                                   static_cast<std::size_t>(bytes[at + 2]) << 8 | bytes[at + 3];
        if (length > bytes.size()) return false;
        at += 12 + length;
    }
    return false;
}

}  // namespace zl
