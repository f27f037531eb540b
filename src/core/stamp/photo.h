// SPDX-License-Identifier: GPL-3.0-or-later
// One photograph marked: looked at, the mark laid on, its metadata written. A JPEG that keeps its
// size, its format and its quality is not encoded again: only the blocks under the mark change, in
// their coefficients (encode/jpeg_scan.h, encode/jpeg_over.h). Any other is decoded, blended as
// pieces are (raster/over.h) and encoded.
#pragma once

#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "picture/photo_tags.h"
#include "stamp/photo_glance.h"

namespace zl {

struct PhotoAsked {
    std::optional<PixelSize> within{};  // made smaller to fit inside; a side of 0 is free
    std::optional<Content> format{};    // nothing: the photograph's own, PNG where it cannot be
                                        // written
    int quality = 0;                    // JPEG and WebP, 1..100; 0: the photograph's own
    std::optional<long long> limit{};   // bytes
    KeepTags keep = KeepTags::author;
    bool keepOutside = false;  // refuse a JPEG that would have to be encoded again
    bool clean = false;        // without the mark, for delivery
    bool operator==(const PhotoAsked&) const = default;
};

struct MarkedPhoto {
    Bytes bytes;
    Content content = Content::jpeg;
    PixelSize size;            // of what is written, as it is seen
    bool keptOutside = false;  // every block that the mark does not touch is bit by bit the same
    long long blocks = 0, changed = 0;  // of a JPEG whose outside was kept
    Chosen chosen;                      // nothing is laid where it is clean
    std::vector<std::string> notes;     // what a person should know, whole sentences
};

// A photograph as it was read: nothing is decoded twice.
class Photo;
struct PhotoDeleter {
    void operator()(Photo* photo) const;
};
using PhotoPointer = std::unique_ptr<Photo, PhotoDeleter>;

// `bytes` must outlive it; `name` stands in sentences. Errors: Code::unreadable.
[[nodiscard]] Result<PhotoPointer> openPhoto(ByteView bytes, const std::string& name);
PixelSize sizeOf(const Photo& photo);  // as it is seen
// Whether it is a JPEG that keeps its size, format and quality: only blocks under the mark change.
bool staysJpeg(const Photo& photo, const PhotoAsked& asked);
// The content that would be written.
Content contentFor(const Photo& photo, const PhotoAsked& asked);
[[nodiscard]] Result<PhotoGlance> glanceOf(Photo& photo);
// For the eye alone, at any size.
[[nodiscard]] Result<PhotoGlance> shownWithin(PixelSize within, Photo& photo);
// That part of the photograph, px as it is seen, with the mark on it; clipped to it.
[[nodiscard]] Result<Straight8> markedPart(Photo& photo, const PixelRect& part, const Laid& laid);

[[nodiscard]] Result<MarkedPhoto> marked(Photo& photo, const PhotoGlance& glance,
                                         const Stamp& stamp, const Marks& marks,
                                         const PhotoChoice& choice, const PhotoAsked& asked,
                                         InkStore& store, const std::stop_token& stop = {});

// Made smaller in its shape to fit inside the frame, whose sides of 0 are free; never larger.
PixelSize sizeWithin(PixelSize own, const std::optional<PixelSize>& frame);

// Code::badUsage: what is asked cannot be had together.
[[nodiscard]] Result<void> checkAsked(const PhotoAsked& asked);

}  // namespace zl
