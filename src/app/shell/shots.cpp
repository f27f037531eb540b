// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/shots.h"

#include <QApplication>
#include <QDir>
#include <QLabel>
#include <QLineEdit>
#include <QPixmap>
#include <QPushButton>
#include <QTimer>
#include <cstdio>

#include "ask/new_piece_dialog.h"
#include "ask/over_video_dialog.h"
#include "edit/edits.h"
#include "film/film_view.h"
#include "gauge/gauge_view.h"
#include "rehearse/rehearse_view.h"
#include "rehearse/wall_view.h"
#include "release/release_view.h"
#include "stamping/stamping_view.h"

namespace zl::app {
namespace {

const QString releaseFolder = QStringLiteral("Pictures/Mossgate Signals");
const QString markedFolder = QStringLiteral("Pictures/Marked");
constexpr int interval = 120, patience = 60'000, settle = 300;  // ms

}  // namespace

Shots::Shots(MainWindow& window, const QString& folder, const QString& work) : window_(window) {
    folder_ = QDir(folder).absolutePath();
    QDir().mkpath(folder_);
    // The folder that the pictures show is a made-up one.
    QDir::setCurrent(work);
    QDir().mkpath(releaseFolder);
    addMakeSteps();
    addMoreMakeSteps();
    addGaugeSteps();
    addDestinationSteps();
    addStampingSteps();
    QTimer::singleShot(0, this, [this] { next(); });
}

bool Shots::measured() const {
    for (const Piece& piece : window_.session().kit().pieces)
        if (!window_.readings().isCurrent(piece.id)) return false;
    return !window_.session().kit().pieces.empty();
}

QWidget* Shots::child(const char* name) const {
    return window_.findChild<QWidget*>(name);
}

void Shots::click(const char* name) const {
    static_cast<QAbstractButton*>(child(name))->click();
}

void Shots::scrollTo(const char* name) const {
    for (int turn = 0; turn < 4; ++turn)
        QApplication::processEvents();  // sections in sections are laid out turn by turn
    for (QScrollArea* area : window_.findChildren<QScrollArea*>())
        if (area->widget()->isAncestorOf(child(name)))
            area->ensureWidgetVisible(child(name), 0, 60);
}

QDialog* Shots::dialogOf(const char* name) const {
    for (auto* dialog : window_.findChildren<QDialog*>(name))
        if (dialog->isVisible()) return dialog;
    return nullptr;
}

void Shots::choose(const char* piece) const {
    window_.session().choice().choosePiece(piece);
    window_.showView(MainWindow::release);
}

bool Shots::released() const {
    if (!window_.readings().isCurrent(window_.session().piece()->id)) return false;
    if (child("handOverNext")->isEnabled()) return true;
    if (child("releaseNow")->isVisible() && child("releaseNow")->isEnabled()) click("releaseNow");
    return false;
}

std::function<bool()> Shots::shown(const char* name) const {
    return [this, name] { return child(name) && child("publishDraft")->isEnabled(); };
}

void Shots::addMakeSteps() {
    for (Step& step : std::vector<Step>{
             {"make", [this] { window_.session().choice().chooseLayer(4); },
              [this] { return measured(); }},
             {"film",
              [this] {
                  window_.session().choice().chooseLayer(1);
                  window_.findChild<QAction*>("anotherStillAction")->trigger();
              },
              [this] {
                  const auto* film = static_cast<FilmView*>(child("filmView"));
                  if (!child("proposal-5") || !film->now()) return false;
                  return static_cast<QLabel*>(child("filmLooking"))->text() ==
                         PartRow::tr("Proposals");
              }},
             {"",
              [this] {
                  click("filmBack");
                  window_.session().choice().chooseLayer(1);
                  scrollTo("gapsAcross");
                  scrollTo("histogram");
              },
              [this] { return measured(); }},
             {"variants",
              [this] {
                  window_.session().choice().choosePiece("thumbnail");
                  window_.findChild<QAction*>("variantAction")->trigger();
                  Layer layer = *window_.session().piece()->layer(4);
                  auto& letters = std::get<LetteringLayer>(layer.what);
                  letters.colour = {255, 246, 227, 255};
                  letters.caps = false;
                  letters.text = "and what it hid";
                  window_.session().apply(withChangedLayer(window_.session().kit(),
                                                           window_.session().piece()->id, layer),
                                          tr("Type"));
                  window_.findChild<QAction*>("compareVariantsAction")->trigger();
              },
              [this] { return measured() && dialogOf("variantsDialog") != nullptr; }},
             {"make-first-try",
              [this] {
                  dialogOf("variantsDialog")->close();
                  for (int i = 0; i < 2; ++i) window_.session().document().history().undo();
                  window_.session().choice().choosePiece("thumbnail-first-try");
                  window_.openFindings("frame");
              },
              [this] { return measured(); }},
         })
        steps_.push_back(std::move(step));
}

void Shots::addMoreMakeSteps() {
    for (Step& step : std::vector<Step>{
             {"subject",
              [this] {
                  window_.openFindings("frame");
                  window_.session().choice().choosePiece("cat-first-try");
                  window_.session().choice().chooseLayer(1);
                  Layer layer = *window_.session().layer();
                  SubjectCut cut;
                  cut.strokes = {{true, 12, {{822, 268}, {912, 272}}},
                                 {false, 12, {{690, 330}, {700, 480}, {760, 560}}}};
                  layer.picture()->cuts = {{cut}};
                  window_.session().apply(
                      withChangedLayer(window_.session().kit(), "cat-first-try", layer),
                      tr("Subject"));
                  window_.session().subject().setLook(SubjectLook::original);
                  scrollTo("subjectShadow");
                  scrollTo("cutOn-0");
                  click("subjectKeep");
              },
              [this] { return measured() && subjectSolved(); }},
             {"moving",
              [this] {
                  window_.canvas().endTool();
                  window_.session().choice().choosePiece("moving-card");
                  window_.session().choice().chooseLayer(2);
                  scrollTo("clipAbout");
              },
              [this] { return measured(); }},
             {"over-video",
              [this] {
                  window_.session().choice().choosePiece("overlay");
                  window_.findChild<QAction*>("overVideoAction")->trigger();
                  constexpr double dusk = 2;  // s: where there is more to see than a black second
                  Q_EMIT dialogOf("overVideoDialog")->findChild<LegibleChart*>()->asked(dusk);
              },
              [this] {
                  const QDialog* dialog = dialogOf("overVideoDialog");
                  const auto* words =
                      dialog ? dialog->findChild<QLabel*>("overVideoVerdict") : nullptr;
                  return words && words->text().contains(tr("of the time")) &&
                         !dialog->findChild<QLabel*>("overVideoPicture")->pixmap().isNull();
              }},
             {"", [this] { dialogOf("overVideoDialog")->close(); }, [] { return true; }},
             {"make-cut",
              [this] {
                  window_.session().document().history().undo();
                  window_.session().choice().choosePiece("corner-mark-on-white");
                  window_.session().choice().chooseLayer(1);
                  click("addKey");
                  scrollTo("cutNote-0");
                  scrollTo("addKey");
              },
              [this] { return measured(); }},
         })
        steps_.push_back(std::move(step));
}

bool Shots::subjectSolved() const {
    const SubjectState* state = window_.session().subject().state();
    return state && !window_.session().subject().working() && !state->guesses.empty();
}

void Shots::addGaugeSteps() {
    for (Step& step : std::vector<Step>{
             {"gauge",
              [this] {
                  window_.session().document().history().undo();
                  window_.session().choice().choosePiece("corner-mark-old");
                  window_.showView(MainWindow::gauge);
              },
              [this] { return measured() && child("gaugeShow-fringe") != nullptr; }},
             {"",
              [this] {
                  auto* show = static_cast<QAbstractButton*>(child("gaugeShow-fringe"));
                  show->click();
                  auto* view = static_cast<GaugeView*>(child("gaugeView"));
                  Q_EMIT view->pane(0).sliced({108, 44}, {130, 29});
                  Q_EMIT view->pane(0).hovered({119.5, 36.5});
              },
              [this] { return measured(); }},
             {"make-overlay",
              [this] {
                  window_.showView(MainWindow::make);
                  window_.session().choice().choosePiece("overlay");
                  window_.session().choice().chooseLayer(2);
              },
              [this] { return measured(); }},
             {"make-banner",
              [this] {
                  window_.session().choice().choosePiece("banner");
                  window_.session().choice().chooseLayer(3);
              },
              [this] { return measured(); }},
             {"make-links",
              [this] {
                  window_.session().choice().choosePiece("header-tangled");
                  window_.session().choice().chooseLayer(0);
                  window_.openFindings("links");
                  scrollTo("removeRegion");
              },
              [this] { return measured(); }},
         })
        steps_.push_back(std::move(step));
}

void Shots::addDestinationSteps() {
    for (Step& step : std::vector<Step>{
             {"release",
              [this] {
                  window_.session().choice().choosePiece("thumbnail");
                  window_.showView(MainWindow::release);
                  static_cast<QLineEdit*>(child("releaseFolder"))->setText(releaseFolder);
                  click("releaseNow");
              },
              [this] {
                  const auto* table = window_.findChild<ReleaseTable*>();
                  return child("handOverNext")->isEnabled() && child("notice")->isHidden() &&
                         !table->running() && table->bestRow() >= 0;
              }},
             {"", [this] { click("handOverNext"); },
              [this] { return child("publishDraft")->isEnabled(); }},
             {"rehearse", [this] { click("publishDraft"); },
              [this] {
                  return static_cast<QLabel*>(child("hostState"))
                             ->text()
                             .contains(RehearseView::tr("published")) &&
                         child("surface-suggestion-light") != nullptr;
              }},
             // Each goes the whole way: released, handed over, looked at.
             {"", [this] { choose("corner-mark"); }, [this] { return released(); }},
             {"rehearse-player", [this] { click("handOverNext"); },
              shown("surface-player-640-light")},
             {"", [this] { choose("overlay"); }, [this] { return released(); }},
             {"rehearse-stream", [this] { click("handOverNext"); },
              shown("surface-programme-desktop")},
             {"wall", [this] { click("rehearseWall"); },
              [this] {
                  const auto* wall = window_.findChild<WallView*>();
                  return wall->complete();
              }},
         })
        steps_.push_back(std::move(step));
}

bool Shots::stamping() const {
    const StampDesk& desk = window_.part<StampingView>()->desk();
    return !desk.photos().empty() && !desk.measuring();
}

void Shots::addStampingSteps() {
    for (Step& step : std::vector<Step>{
             {"stamping",
              [this] {
                  click("rehearsePiece");
                  window_.showView(MainWindow::stamping);
                  StampDesk& desk = window_.part<StampingView>()->desk();
                  desk.add({window_.session().files().path()->parent_path() / "photos"}, true);
                  static_cast<QLineEdit*>(child("stampFolder"))->setText(markedFolder);
              },
              [this] { return stamping(); }},
             {"new-piece",
              [this] {
                  window_.showView(MainWindow::make);
                  click("newPiece");
              },
              [this] { return window_.findChild<NewPieceDialog*>() != nullptr; }},
         })
        steps_.push_back(std::move(step));
}

void Shots::next() {
    if (at_ == steps_.size()) {
        return QApplication::quit();
    }
    Step& step = steps_[at_];
    if (step.before && !window_.session().files().busy() && window_.session().piece())
        std::exchange(step.before, nullptr)();
    if (step.before || !step.ready()) {
        waited_ += interval;
        if (waited_ > patience) {
            std::fprintf(stderr, "zinc-ledge: the view \"%s\" did not come up.\n",
                         qPrintable(step.name));
            return QApplication::exit(1);
        }
        return QTimer::singleShot(interval, this, [this] { next(); });
    }
    QTimer::singleShot(settle, this, [this] {
        QWidget* top = &window_;
        QPixmap picture = top->grab();
        for (auto* dialog : window_.findChildren<QDialog*>()) {
            if (!dialog->isVisible()) continue;
            QPainter painter(&picture);
            painter.fillRect(picture.rect(), QColor(0, 0, 0, 90));
            dialog->render(&painter, QPoint((picture.width() - dialog->width()) / 2,
                                            (picture.height() - dialog->height()) / 2));
        }
        if (steps_[at_].name.isEmpty()) return goOn();
        const QString file = QString("%1/%2.png").arg(folder_, steps_[at_].name);
        if (!picture.save(file)) {
            std::fprintf(stderr, "zinc-ledge: %s cannot be written.\n", qPrintable(file));
            return QApplication::exit(4);
        }
        std::printf("%s\n", qPrintable(file));
        std::fflush(stdout);
        goOn();
    });
}

void Shots::goOn() {
    ++at_;
    waited_ = 0;
    next();
}

}  // namespace zl::app
