// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/journal.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QLocale>

namespace zl::app {

std::pair<QString, QString> lostKit(const Path& journal) {
    const auto recovered = readRecovery(journal);
    const QString title = !recovered ? Journal::tr("a kit")
                          : recovered->saved
                              ? QString::fromStdString(recovered->saved->filename().string())
                              : QString::fromStdString(recovered->kit.title);
    QDateTime last;
    for (const QFileInfo& file :
         QDir(QString::fromStdString(journal.string())).entryInfoList(QDir::Files))
        last = std::max(last, file.lastModified());
    return {title, last.isValid() ? QLocale().toString(last, QLocale::ShortFormat)
                                  : Journal::tr("an unknown time")};
}

Journal::Journal(Document& document, Jobs& jobs, QObject* parent)
    : QObject(parent), document_(document), jobs_(jobs) {
    timer_.setSingleShot(true);
    constexpr int patience =
        1000;  // ms; writing takes its own time, and two seconds are the most that may be lost
    timer_.setInterval(patience);
    connect(&timer_, &QTimer::timeout, this, &Journal::write);
    connect(&document.history(), &QUndoStack::indexChanged, this, &Journal::noteEdit);
    connect(&document.history(), &QUndoStack::cleanChanged, this, &Journal::noteEdit);
}

Journal::~Journal() {
    if (!own_.empty()) removeRecovery(own_);
}

void Journal::keepIn(const Path& folder) {
    folder_ = folder;
}

void Journal::keepFor(const std::optional<Path>& kitFile) {
    kitFile_ = kitFile;
}

// It is written a while after the first edit, not after the last: a long drag is kept, too.
void Journal::noteEdit() {
    if (folder_.empty()) return;
    if (!document_.changed()) {
        timer_.stop();
        return end();
    }
    if (!timer_.isActive()) timer_.start();
}

void Journal::write() {
    if (folder_.empty() || !document_.changed()) return;
    if (writing_) return timer_.start();
    if (!held_) {
        QDir().mkpath(QString::fromStdString(folder_.string()));
        own_ = folder_ / QString("%1-%2")
                             .arg(QCoreApplication::applicationPid())
                             .arg(quintptr(this), 0, 16)
                             .toStdString();
        held_ = std::make_unique<QLockFile>(QString::fromStdString(own_.string()) + ".lock");
        held_->setStaleLockTime(0);
        held_->tryLock(0);
    }
    writing_ = true;
    const int index = document_.history().index();
    aside(
        jobs_, this,
        [kit = document_.kit(), folder = own_, saved = kitFile_, there = written_]() mutable {
            auto done = writeRecovery(folder, kit, saved, there);
            return std::pair(std::move(done), std::move(there));
        },
        [this, index](std::pair<Result<void>, std::set<std::string>> outcome) {
            writing_ = false;
            if (!outcome.first)
                Q_EMIT told(tr("The recovery journal cannot be written: %1")
                                .arg(QString::fromStdString(outcome.first.error().sentence())),
                            true);
            else if (const Path old = std::exchange(takenOver_, {}); !old.empty())
                forget(old);
            written_ = std::move(outcome.second);
            if (!document_.changed()) return end();
            if (document_.history().index() != index && !timer_.isActive()) timer_.start();
        });
}

void Journal::end() {
    if (writing_ || own_.empty()) return;  // what is being written goes when it is done
    removeRecovery(own_);
    written_.clear();
    held_.reset();
    own_.clear();
}

std::vector<Path> Journal::lostIn(const Path& folder) {
    std::vector<Path> lost;
    std::error_code none;
    for (const auto& entry : std::filesystem::directory_iterator(folder, none)) {
        if (!entry.is_directory(none)) continue;
        QLockFile lock(QString::fromStdString(entry.path().string()) + ".lock");
        lock.setStaleLockTime(0);
        if (lock.tryLock(0)) lost.push_back(entry.path());  // nobody holds it any more
    }
    std::sort(lost.begin(), lost.end());
    return lost;
}

void Journal::takeOver(const Path& journal) {
    takenOver_ = journal;
    write();
}

void Journal::forget(const Path& journal) {
    removeRecovery(journal);
    QFile::remove(QString::fromStdString(journal.string()) + ".lock");
}

}  // namespace zl::app
