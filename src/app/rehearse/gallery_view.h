// SPDX-License-Identifier: GPL-3.0-or-later
// The photographs that are to be marked as an online gallery shows them: one of 600 x 800 px, and
// small ones of 160 x 213 px round it. Marked ones are for looking; the stamp can be exchanged.
#pragma once

#include <QImage>
#include <QPointer>
#include <QWidget>

#include "work/stamp_desk.h"

class QComboBox;
class QLabel;
class QScrollArea;

namespace zl::app {

class GalleryView : public QWidget {
    Q_OBJECT
  public:
    explicit GalleryView(Session& session, QWidget* parent = nullptr);
    void setDesk(StampDesk* desk);
    std::vector<int> shown() const;  // of the desk's photographs

  Q_SIGNALS:
    void stampingAsked();

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    class Board;
    void refresh();
    void drawLarge();

    Session& session_;
    QPointer<StampDesk> desk_;
    QComboBox* stamp_;
    QLabel *note_, *empty_;
    QWidget* go_;
    QScrollArea* scroll_;
    Board* board_;
    std::shared_ptr<StampOpened> opened_ = std::make_shared<StampOpened>();
    std::shared_ptr<InkStore> store_ = std::make_shared<InkStore>(60'000'000);
    LatestJob job_{true, Stands::back};
};

}  // namespace zl::app
