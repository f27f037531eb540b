// SPDX-License-Identifier: GPL-3.0-or-later
// Stamping: photographs on the left, one large in the middle, the same mark at several sizes below
// it, the stamp on the right, the run at the foot.
#pragma once

#include <QWidget>

#include "stamping/photo_grid.h"
#include "stamping/run_foot.h"
#include "stamping/stamp_bench.h"
#include "stamping/stamp_preview.h"

class QCheckBox;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace zl::app {

class StampingView : public QWidget {
    Q_OBJECT
  public:
    StampingView(Session& session, QWidget* parent = nullptr);
    StampDesk& desk() { return desk_; }
    StampBench* bench() { return bench_; }
    RunFoot* foot() { return foot_; }
    bool withSubfolders() const;

  Q_SIGNALS:
    void filesAsked();
    void folderAsked();
    void stamped();  // the stamp lies on the piece

  protected:
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    QWidget* buildPhotos();
    QWidget* buildMiddle();
    void refresh();
    QWidget* buildVerdict();
    void tellPhoto();
    void fillSizes();
    void putOnPiece();

    Session& session_;
    StampDesk desk_;
    StampBench* bench_;
    RunFoot* foot_;
    PhotoGrid* grid_;
    StampPreview* preview_;
    QStackedWidget* pages_;
    QWidget* sizes_;
    QLabel *headline_, *name_, *says_;
    QWidget* verdict_;
    QPushButton *clear_, *onto_;
    QCheckBox* deep_;
};

}  // namespace zl::app
