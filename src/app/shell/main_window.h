// SPDX-License-Identifier: GPL-3.0-or-later
// The window: the kit's pieces on the left, four questions as views in the middle, the bench on the
// right, the ledge below.
#pragma once

#include <QMainWindow>
#include <QTimer>

#include "ask/dialogs.h"
#include "gauge/gauge_view.h"
#include "make/bench.h"
#include "make/canvas/canvas.h"
#include "rehearse/rehearse_view.h"
#include "release/release_view.h"
#include "shell/findings.h"
#include "shell/header.h"
#include "shell/kit_door.h"
#include "shell/ledge.h"
#include "shell/mending.h"
#include "shell/notice.h"
#include "shell/rail.h"
#include "work/readings_desk.h"
#include "work/session.h"

class QStackedWidget;
class QToolButton;

namespace zl::app {

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    enum View { make, gauge, rehearse, release };

    // `hostFolder` is where the stand-in host keeps what it accepts.
    MainWindow(Briefs briefs, Path hostFolder, Dialogs dialogs, QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return session_; }
    ReadingsDesk& readings() { return desk_; }
    Canvas& canvas() { return *canvas_; }
    void showView(View view);
    View view() const;
    void openFindings(const QString& readingId);
    void offerRecovery() { door_->offerRecovery(); }

  Q_SIGNALS:
    void firstPainted();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void buildMenus();
    QWidget* buildCanvasBar();
    QToolButton* buildZoneMenu(QToolButton* shown);
    void openBriefDialog();
    void wearTheme(const QString& name);
    void refreshTitle();
    void refreshLedge();
    void refreshActions();
    void placeFindings();
    void placeNotice();
    void showOnlyPlace();
    void pointAt(const PixelRect& place);
    void goTo(const Finding& finding);
    void tell(const QString& sentence, bool bad);
    void addPicture(bool reference = false);
    void addFont();
    void addLettering();
    void addBar(int shape);
    void addBox(int which);
    void copyLayers();
    bool pasteLayers();
    void paste();
    void startPiece();

    Dialogs dialogs_;
    Session session_;
    ReadingsDesk desk_;
    Mending* mending_;
    KitDoor* door_;
    Canvas* canvas_;
    Rail* rail_;
    Bench* bench_;
    Ledge* ledge_;
    Findings* findings_;
    GaugeView* gaugeView_;
    ReleaseView* releaseView_;
    RehearseView* rehearseView_;
    QStackedWidget *centre_, *right_;
    QLabel* frameWords_;
    Header* header_;
    Notice* notice_;
    QAction *reference_, *essential_;
    std::vector<QAction*> pieceActions_, layerActions_;
    std::optional<std::vector<Finish>> copiedFinish_;
    std::string openReading_;
    QTimer ledgeTurn_;
    bool allFindings_ = false, closing_ = false, painted_ = false;
};

}  // namespace zl::app
