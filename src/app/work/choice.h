// SPDX-License-Identifier: GPL-3.0-or-later
// Which piece and which layers are chosen. What is gone from the kit is no longer chosen.
#pragma once

#include <QObject>
#include <set>
#include <string>

#include "work/document.h"

namespace zl::app {

class Choice : public QObject {
    Q_OBJECT
  public:
    explicit Choice(Document& document, QObject* parent = nullptr);

    const Piece* piece() const {
        return document_.kit().piece(pieceId_);
    }  // nothing in an empty
       // kit
    const Layer* layer() const { return piece() ? piece()->layer(layerId_) : nullptr; }
    const std::string& pieceId() const { return pieceId_; }
    const std::set<int>& layerIds() const { return layerIds_; }  // with the primary one

    void choosePiece(std::string id);
    void chooseLayer(int id);  // that one alone; 0: none
    // Several at once; `primary` is the one whose values are shown. Ids that are gone are left out.
    void chooseLayers(std::set<int> ids, int primary);
    void toggleLayer(int id);  // adds it to the choice, or takes it out
    void clear();              // the first piece, no layer; without a signal

  Q_SIGNALS:
    // Another piece or layer is about to be chosen; the last moment for edits of the one before.
    void leaving();
    void chosen();  // another piece or layer was chosen

  private:
    void follow();

    Document& document_;
    std::string pieceId_;
    int layerId_ = 0;
    std::set<int> layerIds_;
};

}  // namespace zl::app
