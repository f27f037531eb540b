// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/photo.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "encode/fit.h"
#include "encode/jpeg_part.h"
#include "encode/jpeg_scan.h"
#include "picture/profile.h"
#include "raster/resample.h"
#include "stamp/ink_change.h"

namespace zl {

class Photo {
  public:
    ByteView bytes;
    std::string name;
    PictureFacts facts;
    JpegHead head;
    std::optional<JpegScan> scan;             // of a JPEG that can be read so
    std::shared_ptr<const Straight8> pixels;  // once it was decoded
};

void PhotoDeleter::operator()(Photo* photo) const {
    delete photo;
}

namespace {

constexpr int usualQuality = 92;  // where the photograph has none of its own

// As it is seen, of as it is stored.
Straight8 upright(const Straight8& stored, int orientation) {
    Straight8 out(seenSize(stored.size(), orientation));
    for (int y = 0; y < stored.height(); ++y)
        for (int x = 0; x < stored.width(); ++x) {
            const PixelPlace to = seenAt(x, y, stored.size(), orientation);
            out.row(to.y)[to.x] = stored.row(y)[x];
        }
    return out;
}

Result<void> decodeWhole(Photo& photo) {
    if (photo.pixels) return {};
    auto picture = decode(photo.bytes, photo.name);
    if (!picture) return passOn(picture.error());
    photo.pixels = picture->pixels;
    return {};
}

// The inks with colours of the photograph's profile. Nothing when it cannot be worked with.
std::optional<std::vector<Ink>> inProfileOf(const Photo& photo, const std::vector<Ink>& inks) {
    if (photo.facts.profileIsSrgb) return inks;
    Ink plain = inks.front();
    plain.opacity = 1;
    plain.box = plain.box.moved(-plain.box.left, -plain.box.top);
    Straight8 flat = Straight8::cleared(plain.box.size());
    blendOver({&plain, 1}, plain.box, flat);
    auto converted = inProfile(flat, photo.head.profile);
    if (!converted) return {};
    const auto shared = std::make_shared<const Straight8>(std::move(*converted));
    std::vector<Ink> out = inks;
    for (Ink& ink : out) {
        ink.eight = shared;
        ink.sixteen.reset();
        ink.fromX = ink.fromY = 0;
    }
    return out;
}

// Only the blocks under the mark changed; nothing when it cannot be done so.
std::optional<JpegChanged> changedBlocks(const Photo& photo, const std::vector<Ink>& inks) {
    const int orientation = photo.head.orientation;
    const PixelSize stored = seenSize(photo.facts.size, orientation);
    std::vector<Ink> own;
    if (!inks.empty()) {
        auto converted = inProfileOf(photo, inks);
        if (!converted) return {};
        own = std::move(*converted);
    }
    const InkChange change(std::move(own), stored, orientation);
    if (photo.scan)
        if (auto changed = photo.scan->changed(change)) return changed;
    return changedJpeg(photo.bytes, change);
}

Result<Bytes> withItsTags(const Photo& photo, Bytes bytes, const Stamp& stamp,
                          const PhotoAsked& asked, int orientation, PixelSize stored) {
    const bool own = !stamp.author.empty() || !stamp.rights.empty() || !stamp.address.empty();
    const bool some = photo.head.tagged || photo.facts.content != Content::jpeg;
    if (orientation == 1 && (asked.keep == KeepTags::none || (!own && !some))) return bytes;
    TagsAsked tags{asked.keep, {}, {}, {}, orientation, stored};
    if (asked.keep != KeepTags::none) {
        tags.author = stamp.author;
        tags.rights = stamp.rights;
        tags.address = stamp.address;
    }
    return withTags(photo.bytes, std::move(bytes), tags, photo.name);
}

// The ink's part of the pixels, blended with it.
void blendInto(Straight8& pixels, const Ink& ink) {
    const PixelRect box = ink.box.intersected(PixelRect::of(pixels.size()));
    if (box.empty()) return;
    Ink ground;
    ground.box = PixelRect::of(box.size());
    ground.eight = std::make_shared<const Straight8>(partOf(pixels, box));
    ground.opaque = isOpaque(*ground.eight);
    const std::array<Ink, 2> both{ground, ink.moved(-box.left, -box.top)};
    Straight8 out(box.size());
    blendOver(both, PixelRect::of(box.size()), out);
    for (int y = 0; y < box.height(); ++y)
        std::copy_n(out.row(y), box.width(), pixels.row(box.top + y) + box.left);
}

Result<Straight8> blended(Photo& photo, PixelSize size, const std::vector<Ink>& inks,
                          const std::stop_token& stop) {
    if (auto good = decodeWhole(photo); !good) return passOn(good.error());
    if (size == photo.pixels->size()) {
        // Nobody else holds them, so that a large photograph is in memory once.
        Straight8 pixels = photo.pixels.use_count() == 1
                               ? std::move(*std::const_pointer_cast<Straight8>(photo.pixels))
                               : photo.pixels->clone();
        photo.pixels.reset();
        for (const Ink& ink : inks) blendInto(pixels, ink);
        return pixels;
    }
    Ink ground =
        resampled(photo.pixels, isOpaque(*photo.pixels), RealRect::of(photo.pixels->size()),
                  RealRect::of(size), PixelRect::of(size), 1, stop);
    std::vector<Ink> all{std::move(ground)};
    all.insert(all.end(), inks.begin(), inks.end());
    Straight8 out = Straight8::cleared(size);
    blendOver(all, PixelRect::of(size), out);
    return out;
}

Result<Bytes> encodedAs(Content content, const Straight8& pixels, const Photo& photo,
                        const PhotoAsked& asked, const std::stop_token& stop) {
    if (!factsOf(content).alpha && !isOpaque(pixels))
        return fail(Code::limitNotMet,
                    fmt::format("{} is see-through, and {} has no alpha.", photo.name,
                                factsOf(content).title),
                    "Keep its format, or choose PNG or WebP.");
    constexpr long long many = 4'000'000;  // px: the last percent of weight takes too long
    Encoding how{content, asked.quality > 0 ? asked.quality : usualQuality, Chroma::full,
                 pixels.size().count() > many ? Effort::quick : Effort::release};
    if (asked.limit) {
        FitOptions options{{content}, asked.limit, {}, {}};
        if (asked.quality > 0) options.exactly = how;
        auto fitted = fitToLimit(pixels, options, stop);
        if (!fitted) return passOn(fitted.error());
        return std::move(fitted->bytes);
    }
    if (content == Content::jpeg && photo.facts.content == Content::jpeg)
        if (auto like = encodeJpegLike(pixels, photo.bytes, asked.quality)) return like;
    if (content == Content::jpeg) how.effort = Effort::release;
    return encode(pixels, how);
}

std::vector<std::string> notesOf(const Photo& photo, const MarkedPhoto& out) {
    std::vector<std::string> notes;
    if (photo.facts.cmyk) notes.emplace_back("Its four printing inks became red, green and blue.");
    if (photo.facts.bitsPerChannel > 8) notes.emplace_back("Its 16 bits a channel became 8.");
    if (photo.facts.pages > 1)
        notes.emplace_back("It holds several pictures; the first is marked.");
    if (out.content != photo.facts.content && !factsOf(photo.facts.content).written)
        notes.push_back(fmt::format("It was written as {}, since {} cannot be written.",
                                    factsOf(out.content).title,
                                    factsOf(photo.facts.content).title));
    if (!photo.facts.profileIsSrgb && !out.keptOutside)
        notes.emplace_back("Its colours were converted to sRGB.");
    return notes;
}

// A row of red, green and blue under the inks.
void blendRow(const std::vector<Ink>& inks, int y, int width, std::uint8_t* row) {
    for (const Ink& ink : inks) {
        if (y < ink.box.top || y >= ink.box.bottom) continue;
        const int iy = y - ink.box.top;
        for (int x = std::max(0, ink.box.left); x < std::min(width, ink.box.right); ++x) {
            const int ix = x - ink.box.left;
            std::array<double, 4> p{};
            if (ink.eight) {
                const std::uint32_t v = ink.eight->row(iy + ink.fromY)[ix + ink.fromX];
                p = {double(redOf(v)), double(greenOf(v)), double(blueOf(v)), double(alphaOf(v))};
            } else {
                for (int i = 0; i < 4; ++i)
                    p[static_cast<std::size_t>(i)] = ink.sixteen->row(i, iy)[ix] / 257.0;
            }
            const double a = p[3] / 255 * double{ink.opacity};
            if (a <= 0) continue;
            for (std::size_t i = 0; i < 3; ++i) {
                std::uint8_t& v = row[3 * x + static_cast<int>(i)];
                v = static_cast<std::uint8_t>(std::lround(v * (1 - a) + p[i] * a));
            }
        }
    }
}

// A JPEG that stays one at its size, with another quality: row by row, so that it is never in
// memory as a whole. False where that cannot be done.
bool recodedByRows(const Photo& photo, const PhotoAsked& asked, PixelSize size, MarkedPhoto& out) {
    const bool plain = photo.facts.content == Content::jpeg && out.content == Content::jpeg &&
                       !photo.facts.cmyk && photo.facts.profileIsSrgb &&
                       photo.head.orientation == 1 && size == photo.facts.size && !asked.limit;
    if (!plain) return false;
    auto bytes = recodedJpeg(photo.bytes, asked.quality, [&](int y, std::uint8_t* row) {
        blendRow(out.chosen.laid.inks, y, size.width, row);
    });
    if (bytes) out.bytes = std::move(*bytes);
    return bytes.has_value();
}

// The coefficient path, where it can be taken; else nothing.
Result<bool> keptOutside(Photo& photo, const Stamp& stamp, const PhotoAsked& asked,
                         MarkedPhoto& out) {
    if (!staysJpeg(photo, asked)) return false;
    const auto changed = changedBlocks(photo, out.chosen.laid.inks);
    if (!changed) {
        if (!asked.keepOutside) return false;
        return fail(Code::limitNotMet,
                    fmt::format("{} is a JPEG whose blocks cannot be changed alone.", photo.name),
                    "Leave --keep-outside out, and it is encoded again.");
    }
    const int orientation = photo.head.orientation;
    auto bytes = withItsTags(photo, bareJpeg(changed->bytes, photo.bytes), stamp, asked,
                             orientation, seenSize(photo.facts.size, orientation));
    if (!bytes) return passOn(bytes.error());
    if (asked.limit && static_cast<long long>(bytes->size()) > *asked.limit) return false;
    out.bytes = std::move(*bytes);
    out.content = Content::jpeg;
    out.size = photo.facts.size;
    out.keptOutside = true;
    out.blocks = changed->blocks;
    out.changed = changed->changed;
    return true;
}

Result<void> encodeAgain(Photo& photo, const Stamp& stamp, const PhotoAsked& asked, PixelSize size,
                         const std::stop_token& stop, MarkedPhoto& out) {
    if (!recodedByRows(photo, asked, size, out)) {
        const auto pixels = blended(photo, size, out.chosen.laid.inks, stop);
        if (!pixels) return passOn(pixels.error());
        auto bytes = encodedAs(out.content, *pixels, photo, asked, stop);
        if (!bytes) return passOn(bytes.error());
        out.bytes = std::move(*bytes);
    }
    out.size = size;
    if (out.content == Content::gif) return {};
    auto bytes = withItsTags(photo, std::move(out.bytes), stamp, asked, 1, size);
    if (!bytes) return passOn(bytes.error());
    out.bytes = std::move(*bytes);
    return {};
}

}  // namespace

Result<PhotoPointer> openPhoto(ByteView bytes, const std::string& name) {
    auto facts = readFacts(bytes, name);
    if (!facts) return passOn(facts.error());
    PhotoPointer photo(new Photo);
    photo->bytes = bytes;
    photo->name = name;
    photo->facts = std::move(*facts);
    if (photo->facts.content == Content::jpeg) {
        photo->head = headOf(bytes);
        if (!photo->facts.cmyk) photo->scan = JpegScan::read(bytes);
        if (photo->scan &&
            seenSize(photo->scan->size(), photo->head.orientation) != photo->facts.size)
            photo->scan.reset();
    }
    return photo;
}

PixelSize sizeOf(const Photo& photo) {
    return photo.facts.size;
}

bool staysJpeg(const Photo& photo, const PhotoAsked& asked) {
    const PixelSize size = photo.facts.size;
    const bool smaller =
        asked.within && ((asked.within->width > 0 && asked.within->width < size.width) ||
                         (asked.within->height > 0 && asked.within->height < size.height));
    return photo.facts.content == Content::jpeg && !photo.facts.cmyk && !smaller &&
           asked.format.value_or(Content::jpeg) == Content::jpeg && asked.quality == 0 &&
           (!asked.limit || static_cast<long long>(photo.bytes.size()) <= *asked.limit);
}

Content contentFor(const Photo& photo, const PhotoAsked& asked) {
    if (asked.format) return *asked.format;
    return factsOf(photo.facts.content).written ? photo.facts.content : Content::png;
}

namespace {

// No smaller than it is shown in that frame; sizes say that of the whole.
Result<std::shared_ptr<const Straight8>> decodedFor(Photo& photo, PixelSize within) {
    const PixelSize size = photo.facts.size;
    if (photo.pixels) return photo.pixels;
    const double scale = galleryScale(size, within);
    auto picture = decodeFor({std::max(1, static_cast<int>(size.width * scale)),
                              std::max(1, static_cast<int>(size.height * scale))},
                             photo.bytes, photo.name);
    if (!picture) return passOn(picture.error());
    if (picture->pixels->size() == size) photo.pixels = picture->pixels;
    return picture->pixels;
}

}  // namespace

Result<PhotoGlance> glanceOf(Photo& photo) {
    const double scale = galleryScale(photo.facts.size, galleryLarge);
    constexpr double enough =
        1 / 8.0 / 0.75;  // an eighth may be a quarter smaller than the gallery
    if (photo.scan && photo.facts.profileIsSrgb && scale <= enough)
        return glanceOf(photo.facts.size, upright(photo.scan->eighth(), photo.head.orientation));
    const auto picture = decodedFor(photo, galleryLarge);
    if (!picture) return passOn(picture.error());
    return glanceOf(photo.facts.size, **picture);
}

Result<PhotoGlance> shownWithin(PixelSize within, Photo& photo) {
    const auto picture = decodedFor(photo, within);
    if (!picture) return passOn(picture.error());
    return shownWithin(within, photo.facts.size, **picture);
}

Result<Straight8> markedPart(Photo& photo, const PixelRect& part, const Laid& laid) {
    if (auto good = decodeWhole(photo); !good) return passOn(good.error());
    const PixelRect seen = part.intersected(PixelRect::of(photo.facts.size));
    if (seen.empty()) return fail(Code::badUsage, "That part lies outside the photograph.");
    Straight8 out = partOf(*photo.pixels, seen);
    for (const Ink& ink : laid.inks) blendInto(out, ink.moved(-seen.left, -seen.top));
    return out;
}

Result<MarkedPhoto> marked(Photo& photo, const PhotoGlance& glance, const Stamp& stamp,
                           const Marks& marks, const PhotoChoice& choice, const PhotoAsked& asked,
                           InkStore& store, const std::stop_token& stop) {
    return unlessTooLarge(photo.name, [&]() -> Result<MarkedPhoto> {
        MarkedPhoto out;
        out.content = contentFor(photo, asked);
        const PixelSize size = sizeWithin(photo.facts.size, asked.within);
        if (!asked.clean) {
            PhotoGlance sized = {size, glance.picture.clone(), glance.heads, glance.detail};
            auto chosen = chosenFor(sized, stamp, marks, choice, store);
            if (!chosen) return passOn(chosen.error());
            out.chosen = std::move(*chosen);
        }
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const auto kept = keptOutside(photo, stamp, asked, out);
        if (!kept) return passOn(kept.error());
        if (!*kept)
            if (auto done = encodeAgain(photo, stamp, asked, size, stop, out); !done)
                return passOn(done.error());
        out.notes = notesOf(photo, out);
        return out;
    });
}

PixelSize sizeWithin(PixelSize own, const std::optional<PixelSize>& frame) {
    if (!frame) return own;
    double scale = 1;
    if (frame->width > 0) scale = std::min(scale, static_cast<double>(frame->width) / own.width);
    if (frame->height > 0) scale = std::min(scale, static_cast<double>(frame->height) / own.height);
    return {std::max(1, static_cast<int>(std::lround(own.width * scale))),
            std::max(1, static_cast<int>(std::lround(own.height * scale)))};
}

Result<void> checkAsked(const PhotoAsked& asked) {
    if (asked.keepOutside && (asked.within || asked.quality > 0 ||
                              asked.format.value_or(Content::jpeg) != Content::jpeg))
        return fail(Code::badUsage,
                    "What lies outside the mark is kept only where size, format and quality are.",
                    "Leave --keep-outside out, or the others.");
    if (asked.format && !factsOf(*asked.format).written)
        return fail(Code::badUsage,
                    fmt::format("{} cannot be written.", factsOf(*asked.format).title),
                    "There are png, jpeg, gif and webp.");
    return {};
}

}  // namespace zl
