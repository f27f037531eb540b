// SPDX-License-Identifier: GPL-3.0-or-later
// Rehearse: the released file is handed to the stand-in host as a draft, then published; what the
// host said, and every surface with the host's own copy of the file, light or dark, at true pixels;
// players and programmes run. Or the wall: all of the kit.
#pragma once

#include <QStackedWidget>
#include <set>
#include <stop_token>

#include "rehearsal/rehearse.h"
#include "rehearse/gallery_view.h"
#include "rehearse/stage_panel.h"
#include "rehearse/wall_view.h"
#include "work/readings_desk.h"
#include "work/session.h"

class QLabel;
class QPushButton;
class QHBoxLayout;
class QScrollArea;
class QToolButton;
class QVBoxLayout;

namespace zl::app {

class Panel;
class SurfacePicture;

class RehearseView : public QWidget {
    Q_OBJECT
  public:
    RehearseView(Session& session, ReadingsDesk& desk, Path hostFolder, QWidget* bench,
                 QWidget* parent = nullptr);
    // The file that the chosen piece would be handed over with; nothing while it is not released.
    std::function<std::optional<Path>(const std::string&)> releasedFile;
    void handOver(const Path& file);
    void publish();
    void refresh();
    enum class Page { piece, wall, gallery };
    void showPage(Page page);
    void showWall(bool wall) { showPage(wall ? Page::wall : Page::piece); }
    GalleryView& gallery() { return *gallery_; }
    WallView& wall() { return *wall_; }
    StagePanel& stage() { return *stage_; }
    // One report about the whole kit, written aside.
    void writeReport(const Path& file);

  Q_SIGNALS:
    void releaseAsked();
    void fileAsked();    // wants another file from the person
    void reportAsked();  // wants a place for the report
    void allAsked();     // all that is ready goes out
    void pieceAsked(const QString& id);
    void stagePainted();  // what moves stands at a new moment

  protected:
    void resizeEvent(QResizeEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    void listen();
    void buildModes(QHBoxLayout* bar);
    void buildThemes(QHBoxLayout* bar);
    void buildSurfaces();
    void buildBench(QWidget* bench);
    void fillBench(Panel& panel, Panel& kitPanel);
    void send(std::optional<Path> file, bool publish);
    Path hostOfKit() const;
    void lookWithHost(const std::string& id);
    const Rehearsed* shown() const;
    void fill();
    void flow();
    // Pictures side by side, as many in a row as the view is wide.
    void lay(const std::vector<SurfacePicture*>& pictures);
    bool isOfTheme(const std::vector<Surface>& all, const Surface& surface) const;
    void restage();
    int mostWidth() const;  // device px of a surface; 0: at true pixels
    void say(const Rehearsed& now);
    void tellWall();
    Page page() const { return static_cast<Page>(stack_->currentIndex()); }

    Session& session_;
    ReadingsDesk& desk_;
    Path hostFolder_;
    std::map<std::string, Rehearsed> shown_;
    std::set<std::string> lookedFor_;  // pieces whose file of an earlier sitting was asked for
    QLabel *headline_, *empty_, *said_, *file_, *state_;
    QPushButton *handOver_, *publish_, *other_, *toRelease_, *cancel_, *report_, *all_;
    QToolButton *light_, *dark_, *onePiece_, *wallButton_, *galleryButton_, *truePixels_;
    QScrollArea* scroll_;
    QStackedWidget* stack_;
    WallView* wall_;
    GalleryView* gallery_;
    QWidget *board_, *pieceBench_;
    QVBoxLayout* surfaces_;
    StagePanel* stage_;
    std::vector<QWidget*> rows_;
    std::map<std::string, SurfacePicture*> pictures_;
    std::stop_source stop_, stopReport_;
    bool busy_ = false, reporting_ = false;
    LatestJob stageJob_{false, Stands::withTheHand};
};

}  // namespace zl::app
