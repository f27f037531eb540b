// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/mark.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <ctime>

#include "base/overloads.h"
#include "edit/edits.h"
#include "finish/finish.h"
#include "kit/layer_kinds.h"
#include "lettering/lettering.h"
#include "raster/ink_box.h"
#include "store/kit_file.h"

namespace zl {
namespace {

Path foundFrom(const Path& folder, const std::string& file) {
    const Path path(file);
    return path.is_absolute() ? path : folder / path;
}

Result<Mark> markOfText(const StampText& text, const StampFields& fields) {
    Mark mark;
    Layer layer;
    layer.id = 1;
    layer.name = "Text";
    LetteringLayer letters = text.letters;
    auto says = withFields(letters.text, fields);
    if (!says) return passOn(says.error());
    mark.own = hasFields(letters.text);
    letters.text = std::move(*says);
    const auto box = measure(letters);
    if (!box) return passOn(box.error());
    const auto caps = capHeight(letters);
    if (!caps) return passOn(caps.error());
    mark.capHeight = *caps;
    // Room for the finishes on all sides.
    const double reach = std::ceil(reachOf(text.finishes)) + 2;
    letters.at = {reach - std::floor(box->ink.x), reach - std::floor(box->ink.y)};
    mark.piece.frame = {static_cast<int>(std::ceil(box->ink.width) + 2 * reach) + 1,
                        static_cast<int>(std::ceil(box->ink.height) + 2 * reach) + 1};
    layer.what = std::move(letters);
    layer.finishes = text.finishes;
    if (auto good = checkLayer(layer, mark.kit); !good) return passOn(good.error());
    mark.piece.layers = {std::move(layer)};
    return mark;
}

// Without its empty rim, so that its edge stays one when it is made larger.
Result<Mark> markOfPicture(const StampPicture& picture, const Path& folder, InkStore& store) {
    Mark mark;
    const Path file = foundFrom(folder, picture.file);
    auto bytes = readFile(file);
    if (!bytes) return passOn(bytes.error());
    const Asset asset = makeAsset(std::move(*bytes), file.filename().string());
    const auto whole = store.picture(asset);
    if (!whole) return passOn(whole.error());
    const PixelRect box = inkBoxOf(*(*whole)->pixels, 1).value_or(PixelRect{0, 0, 1, 1});
    mark.kit = withAsset({}, asset);
    mark.piece.frame = box.size();
    Layer layer;
    layer.id = 1;
    layer.name = "Picture";
    layer.what = PictureLayer{asset.sha256, realOf(box), RealRect::of(box.size())};
    if (auto good = checkLayer(layer, mark.kit); !good) return passOn(good.error());
    mark.piece.layers = {std::move(layer)};
    return mark;
}

Result<double> leastCapitals(const Piece& piece) {
    double least = 0;
    for (const Layer& layer : piece.layers) {
        if (layer.hidden || !layer.lettering()) continue;
        const auto caps = capHeight(*layer.lettering());
        if (!caps) return passOn(caps.error());
        if (least == 0 || *caps < least) least = *caps;
    }
    return least;
}

Result<Mark> markOfPiece(const StampPiece& asked, const StampHome& home) {
    Mark mark;
    if (!asked.kit.empty()) {
        auto kit = openKit(foundFrom(home.folder, asked.kit));
        if (!kit) return passOn(kit.error());
        mark.kit = std::move(*kit);
    } else if (home.kit) {
        mark.kit = *home.kit;
    } else {
        return fail(Code::badUsage, "The stamp names a piece, and no kit that it is in.",
                    "Name the kit as well.");
    }
    const Piece* piece = mark.kit.piece(asked.piece);
    if (!piece)
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in the kit.", cutToFit(asked.piece, 60)));
    mark.piece = *piece;
    std::erase_if(mark.piece.layers,
                  [](const Layer& layer) { return layer.hidden || layer.isReference(); });
    useFontsOf(mark.kit);
    const auto caps = leastCapitals(mark.piece);
    if (!caps) return passOn(caps.error());
    mark.capHeight = *caps;
    return mark;
}

Result<Mark> withInk(Mark mark, InkStore& store) {
    const auto inks = inksOf({mark.piece, mark.kit, 0, For::release}, store);
    if (!inks) return passOn(inks.error());
    for (const Ink& ink : *inks)
        if (const auto box = inkBoxOf(ink, inkAlpha)) mark.ink = mark.ink.united(*box);
    mark.ink = mark.ink.intersected(PixelRect::of(mark.piece.frame));
    if (mark.ink.empty())
        return fail(Code::badUsage, "There is nothing to be seen of the stamp's mark.",
                    "Choose another picture or piece, or write a text.");
    return mark;
}

// The piece `factor` times as large and turned as a whole about the middle of its ink, which comes
// to lie in the middle of a frame with room for all of it.
Piece transformed(const Mark& mark, double factor, double degrees, PixelRect& outline) {
    Piece piece = mark.piece;
    const RealRect ink = realOf(mark.ink);
    const RealRect whole{0, 0, ink.width * factor, ink.height * factor};
    double reach = 4;
    for (const Layer& layer : piece.layers)
        reach = std::max(reach, reachOf(layer.finishes) * factor + 4);
    const RealRect round = boundsOf(whole, {degrees, false, false}, whole.centre());
    const double room = std::ceil(reach);
    // The upright bounds' corner lies on a whole px, so that what is not scaled is not resampled.
    const double dx = room - round.x, dy = room - round.y;
    for (Layer& layer : piece.layers) {
        layer = factor == 1 ? layer : scaled(layer, factor, factor, {0, 0});
        layer = moved(layer, dx - ink.x * factor, dy - ink.y * factor);
        if (degrees != 0) {
            const RealPoint centre = boxOf(layer).centre();
            const RealPoint to = turned(centre, {degrees, false, false},
                                        {dx + whole.width / 2, dy + whole.height / 2});
            layer = moved(layer, to.x - centre.x, to.y - centre.y);
            layer.turn.degrees += degrees;
        }
    }
    piece.frame = {static_cast<int>(std::ceil(round.width + 2 * room)),
                   static_cast<int>(std::ceil(round.height + 2 * room))};
    outline = roundOutwards({room, room, round.width, round.height});
    return piece;
}

// All layers as one, so that the stamp's opacity holds for them together.
Result<Ink> drawnAsOne(const Mark& mark, const Piece& piece, double opacity, InkStore& store) {
    const auto inks = inksOf({piece, mark.kit, 0, For::release}, store);
    if (!inks) return passOn(inks.error());
    if (inks->size() == 1) {
        Ink ink = inks->front();
        ink.opacity *= static_cast<float>(opacity);
        return ink;
    }
    Straight8 flat = Straight8::cleared(piece.frame);
    blendOver(*inks, PixelRect::of(piece.frame), flat);
    Ink ink;
    ink.box = PixelRect::of(piece.frame);
    ink.eight = std::make_shared<const Straight8>(std::move(flat));
    ink.opacity = static_cast<float>(opacity);
    return ink;
}

struct Drawn {
    Ink ink;
    PixelRect box;
    double factor = 1;
};
Result<Drawn> drawnAt(double factor, const Stamp& stamp, const Mark& mark, InkStore& store) {
    PixelRect outline;
    const Piece piece = transformed(mark, factor, stamp.turn, outline);
    auto ink = drawnAsOne(mark, piece, stamp.opacity, store);
    if (!ink) return passOn(ink.error());
    const auto box = inkBoxOf(*ink, inkAlpha);
    // What is nearly gone at that size still has its place.
    return Drawn{std::move(*ink), box.value_or(outline), factor};
}

// The largest factor at which the turned ink stays in the room that its insets leave.
double mostFactor(const RealRect& room, const Mark& mark, double degrees) {
    const RealRect ink{0, 0, static_cast<double>(mark.ink.width()),
                       static_cast<double>(mark.ink.height())};
    const RealRect bounds = boundsOf(ink, {degrees, false, false}, ink.centre());
    return std::min(room.width / bounds.width, room.height / bounds.height);
}

struct Sized {
    double factor = 1;
    bool madeSmaller = false;
};

Sized factorOn(PixelSize photo, const Stamp& stamp, const StampPlacing& placing, const Mark& mark,
               RealPoint inset) {
    const double w = photo.width, h = photo.height;
    const RealRect room{0, 0, std::max(0.0, w - std::max(0.0, inset.x)),
                        std::max(0.0, h - std::max(0.0, inset.y))};
    const RealRect both{0, 0, std::max(0.0, w - 2 * std::max(0.0, inset.x)),
                        std::max(0.0, h - 2 * std::max(0.0, inset.y))};
    if (placing.size == StampSize::inside) return {mostFactor(both, mark, stamp.turn), false};
    if (placing.size == StampSize::covers) {
        const RealRect ink{0, 0, static_cast<double>(mark.ink.width()),
                           static_cast<double>(mark.ink.height())};
        const RealRect bounds = boundsOf(ink, {stamp.turn, false, false}, ink.centre());
        return {std::max(w / bounds.width, h / bounds.height), false};
    }
    const double side = placing.of == StampOf::width ? w : std::min(w, h);
    double width = placing.width.on(side);
    if (stamp.most > 0) width = std::min(width, stamp.most);
    width = std::max(width, stamp.least);
    double factor = std::max(1.0, std::round(width)) / mark.ink.width();
    if (stamp.leastCapitals > 0 && mark.capHeight > 0)
        factor = std::max(factor, stamp.leastCapitals / mark.capHeight);
    const double most = mostFactor(placing.centre ? RealRect{0, 0, w, h} : room, mark, stamp.turn);
    if (stamp.tiled || factor <= most) return {factor, false};
    return {most, true};
}

// Where the turned ink begins along one axis.
double startOf(double share, double length, double side, double inset) {
    return share == 0 ? inset : share == 1 ? side - inset - length : (side - length) / 2;
}

RealPoint startOn(PixelSize photo, const StampPlacing& placing, const PixelRect& ink,
                  RealPoint inset) {
    if (placing.centre) {
        // It stays on the photograph where it fits there at all.
        const auto start = [](double share, int side, int length) {
            return std::clamp(share * side - length / 2.0, std::min(0.0, double(side - length)),
                              std::max(0.0, double(side - length)));
        };
        return {start(placing.centre->x, photo.width, ink.width()),
                start(placing.centre->y, photo.height, ink.height())};
    }
    const RealPoint share = shareOf(placing.at);
    if (placing.size == StampSize::covers)
        return {(photo.width - ink.width()) * share.x, (photo.height - ink.height()) * share.y};
    return {startOf(share.x, ink.width(), photo.width, inset.x),
            startOf(share.y, ink.height(), photo.height, inset.y)};
}

// Copies in rows along the mark's own slant, every other row moved by half a step.
void tile(Laid& laid, PixelSize photo, const Stamp& stamp, const Mark& mark) {
    const double gap = stamp.tiled->on(mark.ink.width() * laid.factor);
    const double stepX = std::max(8.0, mark.ink.width() * laid.factor + gap),
                 stepY = std::max(8.0, mark.ink.height() * laid.factor + gap);
    const Ink one = laid.inks.front();
    const RealPoint first{(laid.box.left + laid.box.right) / 2.0,
                          (laid.box.top + laid.box.bottom) / 2.0};
    const double reach = std::hypot(photo.width, photo.height) + stepX + stepY;
    const int columns = static_cast<int>(reach / stepX) + 1,
              rows = static_cast<int>(reach / stepY) + 1;
    laid.inks.clear();
    for (int row = -rows; row <= rows; ++row)
        for (int column = -columns; column <= columns; ++column) {
            const double across = (column + (row % 2 != 0 ? 0.5 : 0.0)) * stepX;
            const RealPoint at = turned({first.x + across, first.y + row * stepY},
                                        {stamp.turn, false, false}, first);
            const Ink copy = one.moved(static_cast<int>(std::lround(at.x - first.x)),
                                       static_cast<int>(std::lround(at.y - first.y)));
            if (!copy.box.intersected(PixelRect::of(photo)).empty()) laid.inks.push_back(copy);
        }
}

}  // namespace

bool hasFields(const std::string& pattern) {
    for (std::size_t at = 0; (at = pattern.find('{', at)) != std::string::npos; at += 2)
        if (pattern.compare(at, 2, "{{") != 0) return true;
    return false;
}

Result<std::string> withFields(const std::string& pattern, const StampFields& fields) {
    std::string out;
    for (std::size_t at = 0; at < pattern.size(); ++at) {
        const std::string two = pattern.substr(at, 2);
        if (two == "{{" || two == "}}") {
            out += two[0];
            ++at;
            continue;
        }
        const std::size_t end = pattern[at] == '{' ? pattern.find('}', at) : at;
        if (pattern[at] != '{') {
            out += pattern[at];
            continue;
        }
        const std::string field =
            end == std::string::npos ? "" : pattern.substr(at + 1, end - at - 1);
        if (field == "year")
            out += fields.year();
        else if (field == "date")
            out += fields.date;
        else if (field == "file" || field == "name")
            out += fields.file;
        else if (field == "n")
            out += fmt::format("{:0{}}", fields.number, fields.digits);
        else
            return fail(Code::badUsage,
                        fmt::format("There is no field \"{{{}}}\".", cutToFit(field, 30)),
                        "There are {year}, {date}, {file} and {n}; a brace itself is written "
                        "twice.");
        at = end;
    }
    return out;
}

Result<Mark> markOf(const StampWhat& what, const StampFields& fields, const StampHome& home,
                    InkStore& store) {
    auto mark = std::visit(
        Overloads{
            [&](const StampText& text) { return markOfText(text, fields); },
            [&](const StampPicture& picture) { return markOfPicture(picture, home.folder, store); },
            [&](const StampPiece& piece) { return markOfPiece(piece, home); }},
        what);
    if (!mark) return mark;
    mark->piece.id = mark->piece.title = "stamp";
    return withInk(std::move(*mark), store);
}

Result<Laid> laidOn(PixelSize photo, const Stamp& stamp, const StampPlacing& placing,
                    const Mark& mark, InkStore& store) {
    const double shorter = std::min(photo.width, photo.height);
    const RealPoint inset{
        std::round(placing.insetX.on(placing.of == StampOf::width ? photo.width : shorter)),
        std::round(placing.insetY.on(placing.of == StampOf::width ? photo.width : shorter))};
    const Sized sized = factorOn(photo, stamp, placing, mark, inset);
    constexpr double leastPx = 4;  // of the ink: less is a speck
    if (std::max(mark.ink.width(), mark.ink.height()) * sized.factor < leastPx)
        return fail(Code::limitNotMet,
                    fmt::format("The photograph is too small for a mark: {} x {} px.", photo.width,
                                photo.height));
    const double most = static_cast<double>(mostPixels) /
                        (static_cast<double>(mark.ink.width()) * mark.ink.height());
    if (sized.factor * sized.factor > most)
        return fail(Code::limitNotMet, "The mark would be too large to be drawn.",
                    "Make the stamp smaller.");
    auto drawn = drawnAt(sized.factor, stamp, mark, store);
    if (!drawn) return passOn(drawn.error());
    // Ink that was measured at one size is not quite as wide at another.
    const int wide = static_cast<int>(std::lround(mark.ink.width() * sized.factor));
    if (stamp.turn == 0 && std::abs(drawn->box.width() - wide) > 1)
        drawn = drawnAt(sized.factor * wide / drawn->box.width(), stamp, mark, store);
    if (!drawn) return passOn(drawn.error());
    const PixelRect& box = drawn->box;
    const RealPoint start = startOn(photo, placing, box, inset);
    const int dx = static_cast<int>(std::lround(start.x)) - box.left,
              dy = static_cast<int>(std::lround(start.y)) - box.top;
    Laid laid{{drawn->ink.moved(dx, dy)},
              box.moved(dx, dy),
              drawn->factor,
              mark.capHeight * drawn->factor,
              sized.madeSmaller};
    if (stamp.tiled) tile(laid, photo, stamp, mark);
    return laid;
}

Result<Laid> laidOn(PixelSize photo, const Stamp& stamp, const Mark& mark,
                    std::optional<StampAt> at, InkStore& store) {
    StampPlacing placing = stamp.placingOn(photo);
    if (at) {
        placing.at = *at;
        placing.centre.reset();
    }
    return laidOn(photo, stamp, placing, mark, store);
}

Result<std::vector<Layer>> layersOn(PixelSize frame, const Stamp& stamp, const Mark& mark,
                                    InkStore& store) {
    Stamp once = stamp;
    once.tiled.reset();
    const auto laid = laidOn(frame, once, mark, {}, store);
    if (!laid) return passOn(laid.error());
    PixelRect outline;
    Piece piece = transformed(mark, laid->factor, stamp.turn, outline);
    auto drawn = drawnAt(laid->factor, once, mark, store);
    if (!drawn) return passOn(drawn.error());
    for (Layer& layer : piece.layers) {
        layer = moved(layer, laid->box.left - drawn->box.left, laid->box.top - drawn->box.top);
        layer.opacity *= stamp.opacity;
        layer.name = cutToFit(stamp.name);
        layer.group = piece.layers.size() > 1 ? 1 : 0;
    }
    return std::move(piece.layers);
}

Result<Kit> withStampOn(const Kit& kit, std::string_view pieceId, const Stamp& stamp,
                        const StampHome& home) {
    const Piece* piece = kit.piece(pieceId);
    if (!piece) return fail(Code::badUsage, "That piece is not in the kit.");
    const std::time_t now = std::time(nullptr);
    std::tm day{};
    ::localtime_r(&now, &day);
    const StampFields fields{
        piece->title, 1, 1,
        fmt::format("{:04}-{:02}-{:02}", day.tm_year + 1900, day.tm_mon + 1, day.tm_mday)};
    StampHome own = home;
    own.kit = &kit;
    InkStore store;
    const auto mark = markOf(stamp.what, fields, own, store);
    if (!mark) return passOn(mark.error());
    auto layers = layersOn(piece->frame, stamp, *mark, store);
    if (!layers) return passOn(layers.error());
    return withPastedLayers(kit, pieceId, std::move(*layers), mark->kit);
}

}  // namespace zl
