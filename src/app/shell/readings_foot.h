// SPDX-License-Identifier: GPL-3.0-or-later
// The foot of the window: the ledge, and the findings of a reading that was opened on it.
#pragma once

#include <QObject>
#include <QTimer>

#include "shell/findings.h"
#include "shell/ledge.h"
#include "work/readings_desk.h"

namespace zl::app {

class ReadingsFoot : public QObject {
    Q_OBJECT
  public:
    // The ledge belongs to a layout of `whole`; the findings stand over it.
    ReadingsFoot(Session& session, ReadingsDesk& desk, QWidget* whole);
    Ledge* ledge() { return ledge_; }
    Findings* findings() { return findings_; }

    void refresh();
    void refreshSoon() {
        turn_.start();
    }  // in a turn of its own: the hand waits for the canvas
       // only, and several numbers at a time are one picture
    // Of one reading, or of all when the id is empty; closed when they are open already.
    void open(const QString& readingId);
    void place();

  Q_SIGNALS:
    // A reading that was opened; where it has one place, that one.
    void opened(const std::optional<zl::PixelRect>& onlyPlace);
    void closed();
    void emptied();  // what was open is gone, and the focus with it
    void placed();

  private:
    QString wordsFor(const PieceState* state) const;
    std::optional<PixelRect> onlyPlace() const;

    Session& session_;
    ReadingsDesk& desk_;
    Ledge* ledge_;
    Findings* findings_;
    std::string openReading_;
    bool all_ = false;
    QTimer turn_;
};

}  // namespace zl::app
