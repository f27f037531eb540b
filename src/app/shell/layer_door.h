// SPDX-License-Identifier: GPL-3.0-or-later
// The ways by which layers come into a piece: files, lettering, bars, the clipboard.
#pragma once

#include <QObject>

#include "ask/dialogs.h"
#include "work/session.h"

class QWidget;

namespace zl::app {

class LayerDoor : public QObject {
    Q_OBJECT
  public:
    LayerDoor(Session& session, Dialogs& dialogs, QWidget* window);
    void addPicture(bool reference = false);
    void addStill();
    void addClip();  // from a video that is chosen
    void openVideo(const std::function<void(const QString& file)>& chosen);
    void addFont();
    void addLettering();
    void addBar(int shape);
    void addOverlayBox(int which);
    void copy();
    void copyFinish();  // of the chosen layer
    void pasteFinish();
    // Layers, files or a picture, whatever was copied last.
    void paste();

  Q_SIGNALS:
    void added();
    void letteringAdded();

  private:
    // Whether there is a piece to go into; else it is told that `what` has no place to go.
    bool hasPlace(const QString& what);
    bool add(const std::vector<Layer>& layers, const QString& what);
    bool pasteLayers();
    void pastePicture();

    Session& session_;
    Dialogs& dialogs_;
    QWidget* window_;
    std::optional<std::vector<Finish>> finish_;
};

}  // namespace zl::app
