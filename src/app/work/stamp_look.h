// SPDX-License-Identifier: GPL-3.0-or-later
// How one photograph looks with its mark, for the window. Done aside; one thread at a time holds
// what it works in.
#pragma once

#include <QImage>
#include <QString>
#include <optional>

#include "stamp/run.h"

namespace zl::app {

struct StampPhoto {
    Path file;
    int number = 1;  // in the order in which they came
    PhotoChoice choice{};
    bool measured = false;
    PixelSize size{};
    Verdict verdict = Verdict::notMeasured;
    QString says{}, shown{};  // of the reading
    bool bad = false;         // it cannot be marked; `says` tells why
    bool inBlocks = false;    // a JPEG of which only the blocks under the mark need change
    bool twin = false;
    PixelRect mark{};
};

// The chosen photograph with its mark.
struct StampShown {
    QImage picture;
    int photo = -1;
    double scale = 1;  // px of the picture for a px of the photograph
    PixelRect part;    // of the photograph, that is seen
    PixelRect mark;    // px of the photograph
    QString refusal;   // why there is no mark on it
};

// The photograph that is shown and the mark that it was shown with, kept so that a drag need not
// read and draw them again.
struct StampOpened {
    Path file;
    QSize room;
    Bytes bytes;
    PhotoPointer photo;
    PhotoGlance glance, view;
    std::optional<Stamp> marksOf;
    Marks marks;
};

struct StampAsked {
    StampPhoto photo;
    int index = -1;
    Stamp stamp;
    StampHome home;
    QSize room;
    bool truePixels = false;
};
StampShown shownWith(StampOpened& opened, const StampAsked& asked, InkStore& store);

struct StampMeasured {
    StampPhoto photo;
    QImage small;
};
// `marks` is filled at the first call and used again while it may be.
StampMeasured measuredWith(const StampPhoto& photo, const Stamp& stamp, const StampHome& home,
                           std::optional<Marks>& marks, InkStore& store);

}  // namespace zl::app
