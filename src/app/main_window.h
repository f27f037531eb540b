// SPDX-License-Identifier: GPL-3.0-or-later
// The window: the kit's pieces on the left, four questions as views in the middle, the bench on the
// right, the ledge below.
#pragma once

#include <QMainWindow>
#include <QTimer>

#include "bench.h"
#include "canvas.h"
#include "dialogs.h"
#include "findings.h"
#include "gauge_view.h"
#include "ledge.h"
#include "palette.h"
#include "rail.h"
#include "readings_desk.h"
#include "rehearse_view.h"
#include "release_view.h"
#include "session.h"

class QButtonGroup;
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
    // Asks about edits of windows that are gone, one journal after the other.
    void offerRecovery();
    void askToRecover(const Path& journal, const QString& title, const QString& when);

  Q_SIGNALS:
    void firstPainted();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void buildMenus();
    QWidget* buildHeader();
    QWidget* buildCanvasBar();
    QToolButton* buildZoneMenu(QToolButton* shown);
    void openBriefDialog();
    void wearTheme(const QString& name);
    void refreshTitle();
    void refreshLedge();
    void refreshActions();
    void placeFindings();
    void tellWhyNot(const std::string& mendId, const Error& why);
    void placeNotice();
    void showOnlyPlace();
    void pointAt(const PixelRect& place);
    void goTo(const Finding& finding);
    void mend(const QString& id);
    void tell(const QString& sentence, bool bad);
    void askSave(std::function<void(bool)> done = {});
    void askSaveAs(std::function<void(bool)> done = {});
    // Calls `then` once nothing unsaved would be lost.
    void whenSafe(std::function<void()> then);
    void openKit();
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
    Canvas* canvas_;
    Rail* rail_;
    Bench* bench_;
    Ledge* ledge_;
    Findings* findings_;
    GaugeView* gaugeView_;
    ReleaseView* releaseView_;
    RehearseView* rehearseView_;
    QStackedWidget *centre_, *right_;
    QButtonGroup* tabs_;
    QLabel *crumb_, *frameWords_, *noticeText_, *savedWords_;
    QWidget* notice_;
    std::stop_source stopMend_;
    QAction *reference_, *essential_;
    std::vector<QAction*> pieceActions_, layerActions_;
    std::optional<std::vector<Finish>> copiedFinish_;
    Palette* palette_;
    std::string openReading_;
    QTimer ledgeTurn_;
    bool allFindings_ = false, closing_ = false, painted_ = false, mending_ = false,
         noticeBad_ = false;
};

}  // namespace zl::app
