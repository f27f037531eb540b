// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/stamp_keeping.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>
#include <QToolButton>
#include <QVBoxLayout>

#include "base/data_files.h"
#include "edit/edits.h"
#include "store/stamp_shelf.h"
#include "widgets/form.h"

namespace zl::app {
namespace {

QString nameOf(const Stamp& stamp) {
    return QString::fromStdString(stamp.name);
}

}  // namespace

StampKeeping::StampKeeping(Session& session, StampDesk& desk, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk), shelf_(personalFolder() / "stamps") {
    build();
    connect(&session_, &Session::kitChanged, this, &StampKeeping::refresh);
    connect(&session_, &Session::opened, this, &StampKeeping::refresh);
    connect(&desk_, &StampDesk::stampChanged, this, &StampKeeping::refresh);
    readShelf();
}

void StampKeeping::build() {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    which_ = named(new QComboBox, "stampWhich");
    which_->setAccessibleName(tr("Stamp"));
    auto* choice = new QHBoxLayout;
    choice->setSpacing(4);
    choice->addWidget(which_, 1);
    const auto step = [&](const QString& sign, const char* id, const QString& name, int by) {
        auto* made = named(new QToolButton, id);
        made->setText(sign);
        made->setProperty("words", true);
        made->setFixedSize(28, 28);
        made->setAccessibleName(name);
        made->setToolTip(name);
        choice->addWidget(made);
        connect(made, &QToolButton::clicked, this, [this, by] { next(by); });
    };
    step("‹", "stampPrevious", tr("The stamp before, over the same photograph"), -1);
    step("›", "stampNext", tr("The next stamp, over the same photograph"), 1);
    column->addLayout(choice);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    keep_ = named(new QPushButton(tr("Keep")), "stampKeep");
    keep_->setToolTip(tr("Keeps the stamp in the kit as it is set now"));
    more_ = named(new QPushButton(tr("More")), "stampMore");
    row->addWidget(keep_, 1);
    row->addWidget(more_, 1);
    column->addLayout(row);
    note_ = softLabel({});
    note_->setObjectName("stampNote");
    note_->setWordWrap(true);
    column->addWidget(note_);
    connect(keep_, &QPushButton::clicked, this, &StampKeeping::keep);
    connect(which_, &QComboBox::activated, this, [this](int at) {
        if (const int kit = which_->itemData(at).toInt(); kit > 0)
            desk_.setStamp(session_.kit().stamps[static_cast<std::size_t>(kit - 1)]);
        else if (kit < 0)
            desk_.setStamp(onShelf_[static_cast<std::size_t>(-kit - 1)]);
    });
    buildMenu();
}

void StampKeeping::buildMenu() {
    auto* menu = new QMenu(more_);
    more_->setMenu(menu);
    const auto item = [&](const QString& words, const char* id, const std::function<void()>& run) {
        QAction* action = menu->addAction(words);
        action->setObjectName(id);
        connect(action, &QAction::triggered, this, run);
    };
    item(tr("Keep under another name…"), "stampKeepAs", [this] {
        Q_EMIT nameAsked(tr("Keep the stamp as"), freeName(nameOf(desk_.stamp())),
                         [this](const QString& name) { keepAs(name); });
    });
    item(tr("Rename…"), "stampRename", [this] {
        Q_EMIT nameAsked(tr("Rename the stamp"), nameOf(desk_.stamp()),
                         [this](const QString& name) { rename(name); });
    });
    item(tr("Double"), "stampDouble", [this] { keepAs(freeName(nameOf(desk_.stamp()))); });
    item(tr("Give up the changes"), "stampLeave", [this] { leave(); });
    item(tr("Delete…"), "stampDelete", [this] {
        Q_EMIT deleteAsked(
            tr("The stamp “%1” goes out of the kit. Photographs that wear it stay as "
               "they are.")
                .arg(nameOf(desk_.stamp())),
            [this] { remove(); });
    });
    menu->addSeparator();
    item(tr("Put on my own shelf"), "stampShelve", [this] {
        aside(
            session_.jobs(), this,
            [folder = shelf_, stamp = desk_.stamp()] { return putOnShelf(folder, stamp); },
            [this](Result<void> done) {
                if (!done) session_.tell(QString::fromStdString(done.error().sentence()), true);
                readShelf();
            });
    });
    item(tr("Write as a file…"), "stampExport", [this] {
        Q_EMIT exportAsked(QString::fromStdString(fileNameFromTitle(desk_.stamp().name)) + ".json");
    });
    item(tr("Read from a file…"), "stampImport", [this] { Q_EMIT importAsked(); });
}

QString StampKeeping::freeName(const QString& name) const {
    for (int i = 2;; ++i) {
        const QString next = QString("%1 %2").arg(name, QString::number(i));
        if (!session_.kit().stamp(next.toStdString())) return next;
    }
}

void StampKeeping::readShelf() {
    aside(
        session_.jobs(), this, [folder = shelf_] { return stampsOnShelf(folder); },
        [this](std::vector<Stamp> stamps) {
            onShelf_ = std::move(stamps);
            refresh();
        });
}

bool StampKeeping::isChanged() const {
    const Stamp* kept = session_.kit().stamp(desk_.stamp().name);
    if (kept) return !(*kept == desk_.stamp());
    for (const Stamp& one : onShelf_)
        if (one.name == desk_.stamp().name) return !(one == desk_.stamp());
    return true;
}

void StampKeeping::refresh() {
    const QSignalBlocker block(which_);
    which_->clear();
    const std::string& now = desk_.stamp().name;
    const Kit& kit = session_.kit();
    if (!kit.stamp(now)) which_->addItem(tr("%1 (not in the kit)").arg(nameOf(desk_.stamp())), 0);
    for (std::size_t i = 0; i < kit.stamps.size(); ++i) {
        which_->addItem(nameOf(kit.stamps[i]), static_cast<int>(i) + 1);
        if (kit.stamps[i].name == now) which_->setCurrentIndex(which_->count() - 1);
    }
    for (std::size_t i = 0; i < onShelf_.size(); ++i)
        which_->addItem(tr("%1 (my shelf)").arg(nameOf(onShelf_[i])), -static_cast<int>(i) - 1);
    const bool inKit = kit.stamp(now), changed = isChanged();
    keep_->setEnabled(!inKit || changed);
    note_->setText(inKit && changed ? tr("Changed since it was kept.") : QString());
    note_->setVisible(inKit && changed);
    for (const char* id : {"stampRename", "stampDelete"})
        more_->menu()->findChild<QAction*>(id)->setEnabled(inKit);
    more_->menu()->findChild<QAction*>("stampLeave")->setEnabled(inKit && changed);
}

void StampKeeping::keep() {
    session_.apply(withStamp(session_.kit(), desk_.stamp()), tr("Keep stamp"));
}

void StampKeeping::keepAs(const QString& name) {
    const std::string words = name.trimmed().toStdString();
    if (words.empty()) return;
    if (session_.kit().stamp(words))
        return session_.tell(tr("There is a stamp “%1” already.").arg(name), true);
    Stamp stamp = desk_.stamp();
    stamp.name = cutToFit(words);
    desk_.setStamp(stamp);
    keep();
}

void StampKeeping::rename(const QString& name) {
    const std::string words = name.trimmed().toStdString();
    const auto next = withStampNamed(session_.kit(), desk_.stamp().name, words);
    if (!session_.apply(next, tr("Rename stamp"))) return;
    desk_.change([&](Stamp& stamp) { stamp.name = cutToFit(words); });
}

void StampKeeping::remove() {
    const QString name = nameOf(desk_.stamp());
    if (session_.apply(withoutStamp(session_.kit(), desk_.stamp().name), tr("Delete stamp")))
        session_.tell(tr("The stamp “%1” is deleted; Ctrl+Z brings it back.").arg(name), false);
}

void StampKeeping::leave() {
    if (const Stamp* kept = session_.kit().stamp(desk_.stamp().name)) desk_.setStamp(*kept);
}

void StampKeeping::next(int by) {
    const auto& stamps = session_.kit().stamps;
    if (stamps.empty()) return;
    const int count = static_cast<int>(stamps.size());
    int at = by > 0 ? -1 : 0;
    for (int i = 0; i < count; ++i)
        if (stamps[static_cast<std::size_t>(i)].name == desk_.stamp().name) at = i;
    desk_.setStamp(stamps[static_cast<std::size_t>(((at + by) % count + count) % count)]);
}

void StampKeeping::importFrom(const QString& file) {
    aside(
        session_.jobs(), this, [file] { return readStamp(file.toStdString()); },
        [this](Result<Stamp> stamp) {
            if (!stamp)
                return session_.tell(QString::fromStdString(stamp.error().sentence()), true);
            desk_.setStamp(*stamp);
        });
}

void StampKeeping::exportTo(const QString& file) {
    aside(
        session_.jobs(), this,
        [file, stamp = desk_.stamp()] {
            return writeStamp(file.toStdString(), stamp, Replace::yes);
        },
        [this, file](Result<void> done) {
            session_.tell(done ? tr("The stamp is written as %1.").arg(file)
                               : QString::fromStdString(done.error().sentence()),
                          !done);
        });
}

}  // namespace zl::app
