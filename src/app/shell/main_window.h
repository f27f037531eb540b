// SPDX-License-Identifier: GPL-3.0-or-later
// The window: the kit's pieces on the left, the views in the middle, the view's bench on the right,
// the ledge below. What it holds are tables: views (view_row.h) and actions (actions.h).
#pragma once

#include <QMainWindow>

#include "ask/dialogs.h"
#include "make/canvas/canvas.h"
#include "shell/actions.h"
#include "shell/header.h"
#include "shell/kit_door.h"
#include "shell/layer_door.h"
#include "shell/mending.h"
#include "shell/notice.h"
#include "shell/rail.h"
#include "shell/readings_foot.h"
#include "shell/views.h"
#include "work/readings_desk.h"
#include "work/session.h"

namespace zl::app {

// The files that were used last, as actions of a menu.
void fillRecent(QMenu& menu, const char* what, const std::function<void(const QString&)>& run);

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    // The ids of the shipped views.
    static constexpr const char *make = "make", *gauge = "gauge", *rehearse = "rehearse",
                                *release = "release", *stamping = "stamping";

    MainWindow(Briefs briefs, std::vector<ViewRow> views, Dialogs dialogs,
               QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return session_; }
    ReadingsDesk& readings() { return desk_; }
    Dialogs& dialogs() { return dialogs_; }
    Mending& mending() { return *mending_; }
    KitDoor& door() { return *door_; }
    LayerDoor& layerDoor() { return *layerDoor_; }
    Actions& actions() { return *actions_; }
    // A view, or a part of one, by its type; it is there once its view was made.
    template <class T>
    T* part() const {
        return findChild<T*>();
    }
    Canvas& canvas() { return *part<Canvas>(); }

    void showView(std::string_view id);
    std::string view() const { return views_.now(); }
    const Views& views() const { return views_; }

    void openFindings(const QString& readingId) { foot_->open(readingId); }
    void openBriefDialog();
    // With a video, a still of it is picked as the first thing of the piece.
    void startPiece(const QString& video = {});
    void offerRecovery() { door_->offerRecovery(); }
    void wearTheme(const QString& name);
    void goTo(const Finding& finding);
    // A still is picked from the video; at a moment, or where it proposes.
    void openFilm(const QString& file, std::optional<double> at = {});
    // The next rectangle that is drawn on the piece.
    void drawRegion(const std::function<void(PixelRect)>& drawn);
    void tell(const QString& sentence, bool bad) { notice_->tell(sentence, bad); }
    void advise(const QString& advice);  // what the hand can do; empty: nothing special

  Q_SIGNALS:
    void firstPainted();
    void filmOpened();

  protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

  private:
    QWidget* build();
    void listen();
    void offerColours();
    void refresh();
    void pointAt(const PixelRect& place);

    Dialogs dialogs_;
    Session session_;
    ReadingsDesk desk_;
    Mending* mending_;
    KitDoor* door_;
    LayerDoor* layerDoor_;
    Views views_;
    Header* header_;
    Rail* rail_;
    ReadingsFoot* foot_;
    Notice* notice_;
    Actions* actions_;
    bool closing_ = false, painted_ = false;
};

}  // namespace zl::app
