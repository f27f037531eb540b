// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/stamp_look.h"

#include <algorithm>

#include "words/words.h"
#include "work/film_desk.h"

namespace zl::app {
namespace {

PixelSize sizeOf(QSize size) {
    return {std::max(1, size.width()), std::max(1, size.height())};
}

QImage imageFrom(Straight8 picture) {
    return imageOf(std::make_shared<const Straight8>(std::move(picture)));
}

bool isOwn(const Marks& marks) {
    return marks.mark.own || (marks.twin && marks.twin->own);
}

Result<void> open(StampOpened& opened, const StampAsked& asked) {
    if (opened.photo && opened.file == asked.photo.file && opened.room == asked.room) return {};
    opened.photo.reset();
    opened.file = asked.photo.file;
    opened.room = asked.room;
    auto bytes = readFile(opened.file);
    if (!bytes) return tl::unexpected(bytes.error());
    opened.bytes = std::move(*bytes);
    auto photo = openPhoto(opened.bytes, opened.file.filename().string());
    if (!photo) return tl::unexpected(photo.error());
    auto glance = glanceOf(**photo);
    if (!glance) return tl::unexpected(glance.error());
    auto view = shownWithin(sizeOf(asked.room), **photo);
    if (!view) return tl::unexpected(view.error());
    opened.glance = std::move(*glance);
    opened.view = std::move(*view);
    opened.photo = std::move(*photo);
    return {};
}

// A piece may have changed where the stamp has not.
Result<void> drawMarks(StampOpened& opened, const StampAsked& asked, InkStore& store) {
    const Stamp& stamp = asked.stamp;
    const auto isPiece = [](const StampWhat& what) {
        return std::holds_alternative<StampPiece>(what);
    };
    const bool piece = isPiece(stamp.what) || (stamp.twin && isPiece(*stamp.twin));
    if (opened.marksOf && opened.marksOf->what == stamp.what &&
        opened.marksOf->twin == stamp.twin && !piece && !isOwn(opened.marks))
        return {};
    opened.marksOf.reset();
    auto marks = marksOf(stamp, fieldsOf(stamp, asked.photo.file, asked.photo.number, opened.bytes),
                         asked.home, store);
    if (!marks) return tl::unexpected(marks.error());
    opened.marks = std::move(*marks);
    opened.marksOf = stamp;
    return {};
}

// The part of the photograph round its mark that fills the room, px for px.
PixelRect roundMark(const PixelRect& mark, PixelSize all, QSize room) {
    const auto start = [](int low, int high, int side, int whole) {
        return std::clamp((low + high - side) / 2, 0, std::max(0, whole - side));
    };
    const int left = start(mark.left, mark.right, room.width(), all.width),
              top = start(mark.top, mark.bottom, room.height(), all.height);
    return PixelRect{left, top, left + room.width(), top + room.height()}.intersected(
        PixelRect::of(all));
}

Result<void> draw(StampOpened& opened, const StampAsked& asked, InkStore& store, StampShown& seen) {
    if (auto good = open(opened, asked); !good) return good;
    seen.picture = imageFrom(opened.view.picture.clone());
    seen.scale = opened.view.scale();
    seen.part = PixelRect::of(opened.view.photo);
    if (auto good = drawMarks(opened, asked, store); !good) return good;
    const auto how = chosenFor(opened.glance, asked.stamp, opened.marks, asked.photo.choice, store);
    if (!how) return tl::unexpected(how.error());
    seen.mark = how->laid.box;
    const bool out = asked.photo.choice.leftOut;
    if (!asked.truePixels) {
        if (!out) seen.picture = imageFrom(markedGlance(opened.view, how->laid));
        return {};
    }
    seen.part = roundMark(how->laid.box, opened.view.photo, asked.room);
    seen.scale = 1;
    auto part = markedPart(*opened.photo, seen.part, out ? Laid{} : how->laid);
    if (!part) return tl::unexpected(part.error());
    seen.picture = imageFrom(std::move(*part));
    return {};
}

Result<StampMeasured> measured(const StampPhoto& photo, const Stamp& stamp, const StampHome& home,
                               std::optional<Marks>& marks, InkStore& store) {
    const auto bytes = readFile(photo.file);
    if (!bytes) return tl::unexpected(bytes.error());
    auto open = openPhoto(*bytes, photo.file.filename().string());
    if (!open) return tl::unexpected(open.error());
    const auto glance = glanceOf(**open);
    if (!glance) return tl::unexpected(glance.error());
    if (!marks || isOwn(*marks)) {
        auto made = marksOf(stamp, fieldsOf(stamp, photo.file, photo.number, *bytes), home, store);
        if (!made) return tl::unexpected(made.error());
        marks = std::move(*made);
    }
    const auto how = chosenFor(*glance, stamp, *marks, photo.choice, store);
    if (!how) return tl::unexpected(how.error());
    StampMeasured out{photo, {}};
    out.photo.size = zl::sizeOf(**open);
    out.photo.verdict = how->stamped.verdict;
    out.photo.says = QString::fromStdString(english(how->stamped.says));
    out.photo.shown = QString::fromStdString(how->stamped.shown);
    out.photo.twin = how->twin;
    out.photo.mark = how->laid.box;
    out.photo.bad = false;
    out.photo.inBlocks = staysJpeg(**open, {});
    constexpr QSize room(288, 216);
    out.small = imageFrom(markedGlance(*glance, photo.choice.leftOut ? Laid{} : how->laid));
    if (out.small.width() > room.width() || out.small.height() > room.height())
        out.small = out.small.scaled(room, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    return out;
}

}  // namespace

StampShown shownWith(StampOpened& opened, const StampAsked& asked, InkStore& store) {
    StampShown seen;
    seen.photo = asked.index;
    const auto done = unlessTooLarge(asked.photo.file.filename().string(),
                                     [&] { return draw(opened, asked, store, seen); });
    if (!done) seen.refusal = QString::fromStdString(done.error().sentence());
    return seen;
}

StampMeasured measuredWith(const StampPhoto& photo, const Stamp& stamp, const StampHome& home,
                           std::optional<Marks>& marks, InkStore& store) {
    auto done = unlessTooLarge(photo.file.filename().string(),
                               [&] { return measured(photo, stamp, home, marks, store); });
    StampMeasured out = done ? std::move(*done) : StampMeasured{photo, {}};
    if (!done) {
        out.photo.bad = true;
        out.photo.verdict = Verdict::fail;
        out.photo.says = QString::fromStdString(done.error().sentence());
    }
    out.photo.measured = true;
    return out;
}

}  // namespace zl::app
