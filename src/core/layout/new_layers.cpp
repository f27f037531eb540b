// SPDX-License-Identifier: GPL-3.0-or-later
#include "layout/new_layers.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "edit/edits.h"
#include "lettering/lettering.h"
#include "picture/attention.h"

namespace zl {
namespace {

constexpr Colour dark{16, 21, 28, 255}, bright{255, 246, 227, 255}, marked{255, 198, 83, 255};

RealRect placeOf(BarShape shape, double w, double h) {
    const double side = std::round(std::min(w, h) * 0.4);
    switch (shape) {
        case BarShape::rectangle:
            return {0, std::round(h * 0.92), w, h - std::round(h * 0.92)};
        case BarShape::rounded:
            return {std::round(w * 0.1), std::round(h * 0.72), std::round(w * 0.8),
                    std::round(h * 0.18)};
        case BarShape::line:
            return {std::round(w * 0.25), std::round(h * 0.5), std::round(w * 0.5),
                    std::max(2.0, std::round(h * 0.01))};
        case BarShape::arrow:
            return {std::round(w * 0.35), std::round(h * 0.45), std::round(w * 0.3),
                    std::round(h * 0.12)};
        case BarShape::ellipse:
        case BarShape::ring:
            break;
    }
    return {std::round((w - side) / 2), std::round((h - side) / 2), side, side};
}

}  // namespace

std::string freeName(const Piece& piece, const std::string& name) {
    const auto taken = [&](const std::string& one) {
        return std::any_of(piece.layers.begin(), piece.layers.end(),
                           [&](const Layer& layer) { return layer.name == one; });
    };
    std::string made = name;
    for (int i = 2; taken(made); ++i) made = fmt::format("{} {}", name, i);
    return made;
}

PictureLayer newPicture(const std::string& source, const Straight8& picture, PixelSize frame) {
    return fillingFrame(source, picture.size(), frame,
                        firstCrop(picture, frame.width, frame.height));
}

Layer newLettering(const Piece& piece, const Brief* brief, std::string text, std::string name) {
    LetteringLayer letters;
    letters.text = std::move(text);
    letters.size =
        std::max(12.0, std::round(std::min(piece.frame.width, piece.frame.height) * 0.16));
    // Words begin within the frame, however narrow it is.
    constexpr double widest = 0.9;
    if (const auto box = measure(letters); box && box->block.width > widest * piece.frame.width)
        letters.size = std::max(
            12.0, std::floor(letters.size * widest * piece.frame.width / box->block.width));
    if (const auto box = measure(letters))
        letters.at = {std::round((piece.frame.width - box->block.width) / 2),
                      std::round((piece.frame.height - box->block.height) / 2)};
    const double seen =
        brief ? outlineThatCounts(sizesShown(*brief, piece.frame).front().scale) : 0;
    Layer layer;
    layer.name = freeName(piece, name);
    layer.what = letters;
    layer.finishes = {outlineOf(std::max(std::round(letters.size * 0.06), seen), dark)};
    return layer;
}

Layer newBar(const Piece& piece, BarShape shape, std::string name) {
    const bool ground = shape == BarShape::rectangle || shape == BarShape::rounded;
    BarLayer bar;
    bar.shape = shape;
    bar.place = placeOf(shape, piece.frame.width, piece.frame.height);
    bar.thickness = std::max(2.0, std::round(std::min(bar.place.width, bar.place.height) *
                                             (shape == BarShape::arrow ? 0.35 : 0.1)));
    if (!ground) bar.colour = marked;
    Layer layer;
    layer.name = freeName(piece, name);
    layer.what = bar;
    if (ground) layer.opacity = 0.8;
    return layer;
}

std::vector<Layer> newOverlayBox(const Piece& piece, OverlayBox which,
                                 const OverlayBoxWords& words) {
    const double w = piece.frame.width, h = piece.frame.height, left = std::round(w * 0.052),
                 bottom = std::round(h * 0.945), wide = std::round(w * 0.18),
                 high = std::round(which == OverlayBox::camera ? wide * 9 / 16
                                   : which == OverlayBox::chat ? h * 0.34
                                                               : h * 0.13);
    const bool camera = which == OverlayBox::camera;
    BarLayer bar;
    bar.shape = BarShape::rounded;
    bar.radius = std::round(h * 0.012);
    bar.colour = {16, 21, 28, 204};
    bar.place = {camera ? w - left - wide : left, std::round(bottom - high), wide, high};
    std::vector<Layer> made(1);
    made[0].name = freeName(piece, words.box);
    // The camera stands behind the overlay: its box is a frame round a faint ground.
    if (camera) {
        bar.colour.alpha = 26;
        made[0].finishes = {outlineOf(std::max(2.0, std::round(h * 0.005)), bright)};
    }
    made[0].what = bar;
    if (which != OverlayBox::links) return made;
    LetteringLayer letters;
    letters.text = words.lines;
    letters.style = "Bold";
    letters.size = std::max(12.0, std::round(h * 0.036));
    letters.leading = 1.2;
    if (const auto box = measure(letters); box && box->block.width > 0.88 * wide)
        letters.size *= 0.88 * wide / box->block.width;
    if (const auto box = measure(letters))
        letters.at = {bar.place.x + std::round(wide * 0.06),
                      std::round(bar.place.centre().y - box->block.height / 2)};
    made.emplace_back();
    made[1].name = freeName(piece, words.list);
    made[1].what = letters;
    return made;
}

}  // namespace zl
