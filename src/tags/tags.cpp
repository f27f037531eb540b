// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of Exiv2: a photograph's EXIF (CIPA DC-008), XMP (ISO 16684-1) and IPTC records read,
// and written into its marked copy. Loaded by picture/photo_tags.cpp.
#include <exiv2/exiv2.hpp>

#include <cstdint>
#include <exception>
#include <string>

#include "picture/photo_tags_part.h"

namespace {

using zl::tags_part::Asked;

Exiv2::Image::AutoPtr opened(const std::uint8_t* bytes, std::size_t size) {
    auto image = Exiv2::ImageFactory::open(bytes, size);
    image->readMetadata();
    return image;
}

constexpr const char* authorInExif[]{"Exif.Image.Artist", "Exif.Image.Copyright",
                                     "Exif.Image.XPAuthor"};
constexpr const char* authorInXmp[]{"Xmp.dc.creator",
                                    "Xmp.dc.rights",
                                    "Xmp.xmpRights.WebStatement",
                                    "Xmp.xmpRights.Marked",
                                    "Xmp.xmpRights.Owner",
                                    "Xmp.xmpRights.UsageTerms",
                                    "Xmp.iptc.CreatorContactInfo/Iptc4xmpCore:CiUrlWork"};
constexpr const char* authorInIptc[]{"Iptc.Application2.Byline", "Iptc.Application2.Copyright"};

template <class Data, class Key, std::size_t count>
void copyNamed(const Data& from, Data& into, const char* const (&names)[count]) {
    for (const char* name : names)
        if (const auto at = from.findKey(Key(name)); at != from.end()) into.add(*at);
}

// Small pictures of the photograph as it was without its mark, and where its parts once lay.
void dropPreviews(Exiv2::ExifData& exif, Exiv2::XmpData& xmp) {
    Exiv2::ExifThumb(exif).erase();
    for (auto at = exif.begin(); at != exif.end();)
        at = at->key().find("Preview") != std::string::npos ||
                     at->key().find("Thumbnail") != std::string::npos
                 ? exif.erase(at)
                 : std::next(at);
    for (auto at = xmp.begin(); at != xmp.end();)
        at = at->key().find("Thumbnails") != std::string::npos ? xmp.erase(at) : std::next(at);
}

void sayWhose(Exiv2::ExifData& exif, Exiv2::XmpData& xmp, const Asked& asked) {
    const auto afresh = [&](const char* key, const char* value, Exiv2::TypeId type) {
        if (const auto at = xmp.findKey(Exiv2::XmpKey(key)); at != xmp.end()) xmp.erase(at);
        const auto made = Exiv2::Value::create(type);
        made->read(value);
        xmp.add(Exiv2::XmpKey(key), made.get());
    };
    if (*asked.author) {
        exif["Exif.Image.Artist"] = std::string(asked.author);
        afresh("Xmp.dc.creator", asked.author, Exiv2::xmpSeq);
    }
    if (*asked.rights) {
        exif["Exif.Image.Copyright"] = std::string(asked.rights);
        afresh("Xmp.dc.rights", asked.rights, Exiv2::langAlt);
        afresh("Xmp.xmpRights.Marked", "True", Exiv2::xmpText);
    }
    if (*asked.address) afresh("Xmp.xmpRights.WebStatement", asked.address, Exiv2::xmpText);
}

void writeTags(const Asked& asked, const std::uint8_t* photo, std::size_t photoSize,
               const std::uint8_t* marked, std::size_t markedSize, zl::tags_part::Take take,
               void* taker) {
    const auto source = opened(photo, photoSize);
    const auto out = opened(marked, markedSize);
    Exiv2::ExifData exif;
    Exiv2::XmpData xmp;
    Exiv2::IptcData iptc;
    if (asked.keep == zl::tags_part::keepAll) {
        exif = source->exifData();
        xmp = source->xmpData();
        iptc = source->iptcData();
        dropPreviews(exif, xmp);
    } else if (asked.keep == zl::tags_part::keepAuthor) {
        copyNamed<Exiv2::ExifData, Exiv2::ExifKey>(source->exifData(), exif, authorInExif);
        copyNamed<Exiv2::XmpData, Exiv2::XmpKey>(source->xmpData(), xmp, authorInXmp);
        copyNamed<Exiv2::IptcData, Exiv2::IptcKey>(source->iptcData(), iptc, authorInIptc);
    }
    sayWhose(exif, xmp, asked);
    for (const char* turned : {"Exif.Image.Orientation"})
        if (const auto at = exif.findKey(Exiv2::ExifKey(turned)); at != exif.end()) exif.erase(at);
    if (const auto at = xmp.findKey(Exiv2::XmpKey("Xmp.tiff.Orientation")); at != xmp.end())
        xmp.erase(at);
    if (asked.orientation > 1)
        exif["Exif.Image.Orientation"] = static_cast<std::uint16_t>(asked.orientation);
    for (const auto& [key, value] : {std::pair{"Exif.Photo.PixelXDimension", asked.width},
                                     std::pair{"Exif.Photo.PixelYDimension", asked.height}})
        if (exif.findKey(Exiv2::ExifKey(key)) != exif.end())
            exif[key] = static_cast<std::uint32_t>(value);
    out->setExifData(exif);
    out->setXmpData(xmp);
    out->setIptcData(iptc);
    out->clearComment();
    out->writeMetadata();
    Exiv2::BasicIo& io = out->io();
    io.open();
    take(taker, io.mmap(), io.size());
    io.munmap();
}

// Warnings about odd tags of foreign photographs are nobody's business on the terminal.
void beStill() {
    Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
    Exiv2::XmpParser::initialize();
}

}  // namespace

extern "C" int zl_write_tags(const Asked* asked, const std::uint8_t* photo, std::size_t photoSize,
                             const std::uint8_t* marked, std::size_t markedSize,
                             zl::tags_part::Take take, void* taker) {
    try {
        beStill();
        writeTags(*asked, photo, photoSize, marked, markedSize, take, taker);
        return 1;
    } catch (const std::exception&) {
        return 0;
    }
}

extern "C" int zl_date_taken(const std::uint8_t* photo, std::size_t size, char* out,
                             std::size_t room) {
    try {
        beStill();
        const auto image = opened(photo, size);
        for (const char* key : {"Exif.Photo.DateTimeOriginal", "Exif.Image.DateTimeOriginal"})
            if (const auto at = image->exifData().findKey(Exiv2::ExifKey(key));
                at != image->exifData().end()) {
                const std::string text = at->toString();
                text.copy(out, room - 1);
                out[std::min(text.size(), room - 1)] = '\0';
                return 1;
            }
        return 0;
    } catch (const std::exception&) {
        return 0;
    }
}
