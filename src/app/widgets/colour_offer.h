// SPDX-License-Identifier: GPL-3.0-or-later
// Colours at hand in every colour field: those that are kept, and one picked from the piece. A
// child of the window, found by the fields; whoever owns the colours fills in what it does.
#pragma once

#include <QObject>
#include <functional>
#include <vector>

#include "base/colour_value.h"

namespace zl::app {

class ColourOffer : public QObject {
    Q_OBJECT
  public:
    using QObject::QObject;
    std::function<std::vector<Colour>()> colours;
    std::function<void(Colour)> keep, drop;
    std::function<void(std::function<void(Colour)>)> pickFromPiece;
};

}  // namespace zl::app
