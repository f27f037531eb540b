// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/kit_door.h"

#include <QMessageBox>
#include <QPushButton>

#include "kit/kit.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

QString kitFilter() {
    return KitDoor::tr("Kits (*.zlkit)");
}

}  // namespace

KitDoor::KitDoor(Session& session, Dialogs& dialogs, QWidget* window)
    : QObject(window), session_(session), dialogs_(dialogs), window_(window) {}

void KitDoor::save(std::function<void(bool)> done) {
    if (!session_.files().path()) return saveAs(std::move(done));
    session_.files().save(*session_.files().path(), Replace::yes, std::move(done));
}

void KitDoor::saveAs(std::function<void(bool)> done) {
    const auto& path = session_.files().path();
    const QString suggested =
        path ? QString::fromStdString(path->string())
             : QString::fromStdString(fileNameFromTitle(session_.kit().title)) + ".zlkit";
    dialogs_.saveFile(window_, tr("Save the kit"), suggested, kitFilter(),
                      [this, done = std::move(done)](QString file) {
                          // The dialog asked about a file that stands there, by the name that it
                          // was given.
                          const bool whole = file.endsWith(".zlkit");
                          if (!whole) file += ".zlkit";
                          session_.files().save(file.toStdString(),
                                                whole ? Replace::yes : Replace::no, done);
                      });
}

void KitDoor::whenSafe(std::function<void()> then) {
    if (!session_.document().changed()) return then();
    dialogs_.unsaved(window_, QString::fromStdString(session_.kit().title),
                     [this, then = std::move(then)](Unsaved answer) {
                         if (answer == Unsaved::discard) return then();
                         if (answer == Unsaved::save)
                             save([then](bool good) {
                                 if (good) then();
                             });
                     });
}

void KitDoor::open() {
    whenSafe([this] {
        dialogs_.openFile(window_, tr("Open a kit"), kitFilter(), [this](const QString& file) {
            session_.files().open(file.toStdString());
        });
    });
}

void KitDoor::offerRecovery() {
    // Aside: the journal may hold large originals.
    aside(
        session_.jobs(), this,
        [folder = session_.journal().folder()] {
            const std::vector<Path> lost = Journal::lostIn(folder);
            return lost.empty() ? std::pair<Path, std::pair<QString, QString>>()
                                : std::pair(lost.front(), lostKit(lost.front()));
        },
        [this](const std::pair<Path, std::pair<QString, QString>>& lost) {
            if (!lost.first.empty())
                askToRecover(lost.first, lost.second.first, lost.second.second);
        });
}

void KitDoor::askToRecover(const Path& journal, const QString& title, const QString& when) {
    auto* ask = new QMessageBox(QMessageBox::NoIcon, tr("Unsaved edits were found"),
                                tr("A window ended without saving \"%1\"; its last edit is from "
                                   "%2. It can be brought back; the kit as it was saved stays "
                                   "untouched until you save.")
                                    .arg(title, when),
                                QMessageBox::NoButton, window_);
    ask->setObjectName("recoveryQuestion");
    ask->setAttribute(Qt::WA_DeleteOnClose);
    auto* back = ask->addButton(tr("Bring the edits back"), QMessageBox::AcceptRole);
    auto* away = ask->addButton(tr("Throw them away"), QMessageBox::DestructiveRole);
    ask->addButton(tr("Later"), QMessageBox::RejectRole)->setObjectName("recoverLater");
    back->setObjectName("recover");
    away->setObjectName("throwAway");
    ask->setDefaultButton(back);
    connect(ask, &QMessageBox::buttonClicked, this,
            [this, journal, back, away](QAbstractButton* pressed) {
                if (pressed == back)
                    whenSafe([this, journal] { session_.files().recover(journal); });
                else if (pressed == away)
                    session_.journal().forget(journal);
            });
    ask->open();
}

}  // namespace zl::app
