// SPDX-License-Identifier: GPL-3.0-or-later
#include "edit/arrange.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "edit/edits.h"
#include "kit/layer_kinds.h"

namespace zl {
namespace {

double lineOf(const RealRect& box, Line line) {
    switch (line) {
        case Line::left:
            return box.x;
        case Line::middle:
            return box.centre().x;
        case Line::right:
            return box.right();
        case Line::top:
            return box.y;
        case Line::centre:
            return box.centre().y;
        default:
            return box.bottom();
    }
}

Result<Piece> pieceOf(const Kit& kit, std::string_view id) {
    const Piece* piece = kit.piece(id);
    if (!piece)
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", id));
    return *piece;
}

}  // namespace

std::vector<RealPoint> alignMoves(const std::vector<RealRect>& boxes, const RealRect& to,
                                  Line line) {
    std::vector<RealPoint> moves;
    const bool across = line == Line::left || line == Line::middle || line == Line::right;
    for (const RealRect& box : boxes) {
        const double by = lineOf(to, line) - lineOf(box, line);
        moves.push_back(across ? RealPoint{by, 0} : RealPoint{0, by});
    }
    return moves;
}

std::vector<RealPoint> distributeMoves(const std::vector<RealRect>& boxes, bool across) {
    std::vector<RealPoint> moves(boxes.size());
    if (boxes.size() < 3) return moves;
    const auto start = [&](std::size_t i) { return across ? boxes[i].x : boxes[i].y; };
    const auto length = [&](std::size_t i) { return across ? boxes[i].width : boxes[i].height; };
    std::vector<std::size_t> order(boxes.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return start(a) + length(a) / 2 < start(b) + length(b) / 2;
    });
    const std::size_t last = order.back();
    double taken = 0;
    for (const std::size_t i : order) taken += length(i);
    const double gap = (start(last) + length(last) - start(order.front()) - taken) /
                       static_cast<double>(boxes.size() - 1);
    double at = start(order.front());
    for (const std::size_t i : order) {
        (across ? moves[i].x : moves[i].y) = at - start(i);
        at += length(i) + gap;
    }
    moves[last] = {};  // not off by a rounding
    return moves;
}

std::optional<RealRect> around(const std::vector<RealRect>& boxes) {
    if (boxes.empty()) return {};
    double left = 1e300, top = 1e300, right = -1e300, bottom = -1e300;
    for (const RealRect& box : boxes) {
        left = std::min(left, box.x);
        top = std::min(top, box.y);
        right = std::max(right, box.right());
        bottom = std::max(bottom, box.bottom());
    }
    return RealRect{left, top, right - left, bottom - top};
}

Result<Kit> withPieceScaled(const Kit& kit, std::string_view pieceId, double factor) {
    auto piece = pieceOf(kit, pieceId);
    if (!piece) return passOn(piece.error());
    if (!std::isfinite(factor) || factor <= 0 || factor > 100)
        return fail(Code::badUsage, "A piece is scaled by a factor between 0 and 100.");
    piece->frame = {static_cast<int>(std::lround(piece->frame.width * factor)),
                    static_cast<int>(std::lround(piece->frame.height * factor))};
    for (Layer& layer : piece->layers) layer = scaled(layer, factor, factor, {0, 0});
    for (Guide& guide : piece->guides)
        if (!guide.isShare) guide.at *= factor;
    carryRegions(*piece, factor, factor, 0, 0);
    return withChangedPiece(kit, std::move(*piece));
}

Result<Kit> withFrame(const Kit& kit, std::string_view pieceId, PixelSize frame, RealPoint anchor) {
    auto piece = pieceOf(kit, pieceId);
    if (!piece) return passOn(piece.error());
    // Whole px, so that nothing is blurred.
    const double dx = std::round((frame.width - piece->frame.width) * anchor.x),
                 dy = std::round((frame.height - piece->frame.height) * anchor.y);
    for (Layer& layer : piece->layers) layer = moved(layer, dx, dy);
    for (Guide& guide : piece->guides)
        if (!guide.isShare) guide.at += guide.upright ? dx : dy;
    piece->frame = frame;
    carryRegions(*piece, 1, 1, dx, dy);
    return withChangedPiece(kit, std::move(*piece));
}

Result<Kit> withPieceRelaid(const Kit& kit, std::string_view pieceId, PixelSize frame,
                            const std::vector<RealRect>& boxes) {
    auto piece = pieceOf(kit, pieceId);
    if (!piece) return passOn(piece.error());
    const RealRect before = RealRect::of(piece->frame), after = RealRect::of(frame);
    const double fx = after.width / before.width, fy = after.height / before.height,
                 lesser = std::min(fx, fy);
    constexpr double fills = 0.95;
    for (std::size_t i = 0; i < piece->layers.size() && i < boxes.size(); ++i) {
        Layer& layer = piece->layers[i];
        const RealRect& box = boxes[i];
        const bool ground = !kindOf(layer).isText &&
                            box.intersected(before).width >= fills * before.width &&
                            box.intersected(before).height >= fills * before.height;
        const double factor = ground ? std::max(after.width / std::min(box.width, before.width),
                                                after.height / std::min(box.height, before.height))
                                     : lesser;
        const RealPoint centre = box.centre();
        layer = scaled(layer, factor, factor, centre);
        layer = moved(layer, centre.x * fx - centre.x, centre.y * fy - centre.y);
    }
    for (Guide& guide : piece->guides)
        if (!guide.isShare) guide.at *= guide.upright ? fx : fy;
    piece->frame = frame;
    carryRegions(*piece, fx, fy, 0, 0);
    return withChangedPiece(kit, std::move(*piece));
}

}  // namespace zl
