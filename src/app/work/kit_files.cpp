// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/kit_files.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>

#include "film/take_still.h"
#include "lettering/fonts.h"
#include "store/kit_file.h"

namespace zl::app {
namespace {

QString wholePath(const Path& path) {
    return QFileInfo(QString::fromStdString(path.string())).absoluteFilePath();
}

QString nameOf(const Path& path) {
    return QString::fromStdString(path.filename().string());
}

}  // namespace

QStringList recentFiles(const char* what) {
    QStringList files = QSettings().value(what).toStringList();
    files.removeIf([](const QString& file) { return !QFileInfo::exists(file); });
    return files;
}

void rememberFile(const char* what, const Path& path) {
    const QString file = wholePath(path);
    QStringList files = QSettings().value(what).toStringList();
    files.removeAll(file);
    files.prepend(file);
    constexpr int most = 10;
    QSettings().setValue(what, files.mid(0, most));
}

KitFiles::KitFiles(Document& document, Journal& journal, Jobs& jobs, QObject* parent)
    : QObject(parent), document_(document), journal_(journal), jobs_(jobs) {}

QString KitFiles::lastKit() {
    const QString kit = QSettings().value("lastKit").toString();
    return QFileInfo::exists(kit) ? kit : QString();
}

void KitFiles::refuse(const Error& error) {
    Q_EMIT told(QString::fromStdString(error.sentence()), true);
}

void KitFiles::reset(const Kit& kit, std::optional<Path> path) {
    path_ = std::move(path);
    journal_.keepFor(path_);
    Q_EMIT opening();
    document_.reset(kit);
    Q_EMIT opened();
}

void KitFiles::newKit() {
    held_.reset();
    reset(Kit{}, {});
}

void KitFiles::openValue(const Kit& kit, const Path& path) {
    reset(kit, path);
}

// Edits that were made while another kit was being read are not thrown away with the old one.
bool KitFiles::editedSince(const Kit& before) {
    if (document_.kit() == before) return false;
    Q_EMIT told(tr("The kit was edited meanwhile; save it, then open the other one again."), true);
    return true;
}

void KitFiles::open(const Path& path) {
    if (busy_) return;
    busy_ = true;
    aside(
        jobs_, this,
        [path] {
            auto kit = openKit(path);
            if (kit) useFontsOf(*kit);  // so that they are there when the interface asks
            return kit;
        },
        [this, path, before = document_.kit()](const Result<Kit>& kit) {
            busy_ = false;
            if (!kit) return refuse(kit.error());
            if (editedSince(before)) return;
            if (!hold(path)) {
                Q_EMIT told(tr("%1 is open in another window; work on it there.").arg(nameOf(path)),
                            true);
                return;
            }
            rememberFile("recentKits", path);
            reset(*kit, path);
            QSettings().setValue("lastKit", wholePath(path));
        });
}

void KitFiles::save(const Path& path, Replace replace, std::function<void(bool)> done) {
    if (busy_) return;
    if (!hold(path)) {
        Q_EMIT told(tr("%1 is open in another window; save under another name.").arg(nameOf(path)),
                    true);
        if (done) done(false);
        return;
    }
    busy_ = true;
    // In another folder the videos would not be found by their way from the old one.
    if (path_ && path_->parent_path() != path.parent_path())
        if (const Kit whole = withWholeVideoPaths(document_.kit(), *path_);
            !(whole == document_.kit()))
            document_.apply(whole, tr("Remember where the videos are"));
    aside(
        jobs_, this, [kit = document_.kit(), path, replace] { return saveKit(kit, path, replace); },
        [this, path, kit = document_.kit(), done = std::move(done)](const Result<void>& result) {
            busy_ = false;
            if (!result) {
                refuse(result.error());
            } else {
                path_ = path;
                journal_.keepFor(path_);
                rememberFile("recentKits", path);
                // What was edited while it was written is not saved yet; a drag that goes on adds
                // no step to the history.
                if (document_.kit() == kit) document_.history().setClean();
                QSettings().setValue("lastKit", wholePath(path));
                Q_EMIT told(tr("Saved %1.").arg(nameOf(path)), false);
                Q_EMIT saved();
            }
            if (done) done(result.has_value());
        });
}

void KitFiles::recover(const Path& journal) {
    if (busy_) return;
    busy_ = true;
    struct Found {
        Recovered recovered;
        std::optional<Kit> saved;
    };
    aside(
        jobs_, this,
        [journal]() -> Result<Found> {
            auto recovered = readRecovery(journal);
            if (!recovered) return passOn(recovered.error());
            useFontsOf(recovered->kit);
            Found found{std::move(*recovered), {}};
            if (found.recovered.saved)
                if (auto kit = openKit(*found.recovered.saved)) found.saved = std::move(*kit);
            return found;
        },
        [this, journal, before = document_.kit()](const Result<Found>& found) {
            busy_ = false;
            if (!found) return refuse(found.error());
            if (editedSince(before)) return;
            // As an edit of what is saved, so that it counts as unsaved and Ctrl+Z leads back to
            // the saved state.
            std::optional<Path> saved = found->recovered.saved;
            if (!found->saved || !hold(*saved)) saved.reset();
            reset(saved ? *found->saved : Kit{}, saved);
            document_.apply(found->recovered.kit, tr("What was recovered"));
            Q_EMIT opened();
            if (!document_.changed()) {
                journal_.forget(journal);
                Q_EMIT told(tr("The file has all of it already: nothing was lost."), false);
                return;
            }
            journal_.takeOver(journal);
            Q_EMIT told(tr("Your edits are back. They are not saved yet."), false);
        });
}

// A lock that goes with the process, kept apart from the person's own folders.
bool KitFiles::hold(const Path& path) {
    const std::string whole = wholePath(path).toStdString();
    const QString folder =
        QStandardPaths::writableLocation(QStandardPaths::TempLocation) + "/zinc-ledge-open";
    QDir().mkpath(folder);
    auto lock = std::make_unique<QLockFile>(
        folder + "/" +
        QString::fromStdString(
            sha256({reinterpret_cast<const std::uint8_t*>(whole.data()), whole.size()})
                .substr(0, 32)));
    lock->setStaleLockTime(0);
    if (held_ && held_->fileName() == lock->fileName()) return true;
    if (!lock->tryLock(0)) return false;
    held_ = std::move(lock);
    return true;
}

}  // namespace zl::app
