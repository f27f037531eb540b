// SPDX-License-Identifier: GPL-3.0-or-later
// Colours at hand in every colour field: the kit's own, one picked from the piece. A child of the
// window, found by the fields.
#pragma once

#include <QObject>
#include <functional>

#include "session.h"

namespace zl::app {

class Palette : public QObject {
    Q_OBJECT
  public:
    Palette(Session& session, QObject* parent) : QObject(parent), session_(session) {}
    const std::vector<Colour>& colours() const { return session_.kit().colours; }
    void keep(Colour colour);
    void drop(Colour colour);
    std::function<void(std::function<void(Colour)>)> pickFromPiece;

  private:
    Session& session_;
};

}  // namespace zl::app
