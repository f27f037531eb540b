// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/session.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QLocale>
#include <QSettings>
#include <QStandardPaths>

#include "base/data_files.h"
#include "base/json.h"
#include "kit/edits.h"
#include "kit/kit_file.h"
#include "kit/recovery.h"
#include "lettering/lettering.h"
#include "work/jobs.h"

namespace zl::app {

// A step of history: the kit before and after. Copies of kits are cheap.
class KitCommand : public QUndoCommand {
  public:
    KitCommand(Session& session, Kit before, Kit after, const QString& what, QString mergeKey)
        : QUndoCommand(what),
          session_(session),
          before_(std::move(before)),
          after_(std::move(after)),
          mergeKey_(std::move(mergeKey)) {}
    int id() const override { return mergeKey_.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const KitCommand*>(other);
        if (next->mergeKey_ != mergeKey_) return false;
        after_ = next->after_;
        setObsolete(after_ == before_);
        return true;
    }
    void undo() override { session_.show(before_); }
    void redo() override { session_.show(after_); }

  private:
    Session& session_;
    Kit before_, after_;
    QString mergeKey_;
};

Session::Session(Briefs briefs, QObject* parent) : QObject(parent), briefs_(std::move(briefs)) {
    constexpr int remembered = 500;
    history_.setUndoLimit(remembered);
    journalTimer_ = new QTimer(this);
    journalTimer_->setSingleShot(true);
    constexpr int patience =
        1000;  // ms; writing takes its own time, and two seconds are the most that may be lost
    journalTimer_->setInterval(patience);
    connect(journalTimer_, &QTimer::timeout, this, &Session::writeJournal);
    connect(&history_, &QUndoStack::indexChanged, this, &Session::noteEdit);
    connect(&history_, &QUndoStack::cleanChanged, this, &Session::noteEdit);
}

Session::~Session() {
    pool_.waitForDone();
    // A window that closes has saved or discarded; only a crash leaves a journal.
    if (!journal_.empty()) removeRecovery(journal_);
}

const Brief* Session::brief() const {
    return piece() ? briefs_.find(piece()->brief) : nullptr;
}

std::pair<QString, QString> lostKit(const Path& journal) {
    const auto recovered = readRecovery(journal);
    const QString title = !recovered ? Session::tr("a kit")
                          : recovered->saved
                              ? QString::fromStdString(recovered->saved->filename().string())
                              : QString::fromStdString(recovered->kit.title);
    QDateTime last;
    for (const QFileInfo& file :
         QDir(QString::fromStdString(journal.string())).entryInfoList(QDir::Files))
        last = std::max(last, file.lastModified());
    return {title, last.isValid() ? QLocale().toString(last, QLocale::ShortFormat)
                                  : Session::tr("an unknown time")};
}

Result<std::string> Session::keepOwnBrief(const OrderedJson& json) {
    const auto data = dataFolder();
    if (!data) return passOn(data.error());
    auto kept = saveOwnBrief(json, *data, personalFolder());
    if (!kept) return kept;
    auto all = loadBriefs(*data, personalFolder());
    if (!all) return passOn(all.error());
    briefs_ = std::move(*all);
    return kept;
}

void Session::show(const Kit& kit) {
    kit_ = kit;
    if (!piece()) pieceId_ = kit_.pieces.empty() ? "" : kit_.pieces.front().id;
    std::erase_if(layerIds_, [this](int id) { return !piece() || !piece()->layer(id); });
    if (!layer()) layerId_ = layerIds_.empty() ? 0 : *layerIds_.rbegin();
    Q_EMIT kitChanged();
}

bool Session::apply(const Result<Kit>& next, const QString& what, const QString& mergeKey) {
    if (!next) {
        tell(QString::fromStdString(next.error().sentence()), true);
        return false;
    }
    if (*next == kit_) return true;
    history_.push(new KitCommand(*this, kit_, *next, what, mergeKey));
    return true;
}

void Session::choosePiece(const std::string& id) {
    if (id == pieceId_ || !kit_.piece(id)) return;
    pieceId_ = id;
    layerId_ = 0;
    layerIds_.clear();
    Q_EMIT chosen();
}

void Session::chooseLayer(int id) {
    chooseLayers(id == 0 ? std::set<int>{} : std::set{id}, id);
}

void Session::chooseLayers(const std::set<int>& ids, int primary) {
    std::set<int> there;
    for (const int id : ids)
        if (piece() && piece()->layer(id)) there.insert(id);
    if (!there.contains(primary)) primary = there.empty() ? 0 : *there.rbegin();
    if (there == layerIds_ && primary == layerId_) return;
    layerIds_ = std::move(there);
    layerId_ = primary;
    Q_EMIT chosen();
}

void Session::toggleLayer(int id) {
    std::set<int> ids = layerIds_;
    const bool out = ids.erase(id) > 0;
    if (!out) ids.insert(id);
    chooseLayers(ids, out ? layerId_ : id);
}

void Session::editLayers(const std::set<int>& ids, const QString& what, const QString& mergeKey,
                         const std::function<void(Layer&)>& change) {
    if (!piece()) return;
    std::vector<Layer> next;
    for (const Layer& one : piece()->layers)
        if (ids.contains(one.id)) {
            next.push_back(one);
            change(next.back());
        }
    apply(withChangedLayers(kit_, pieceId_, next), what, mergeKey);
}

void Session::moveChosen(double dx, double dy, const QString& what, const QString& mergeKey) {
    if (!piece()) return;
    editLayers(withGroupMates(*piece(), layerIds_), what, mergeKey,
               [=](Layer& one) { one = moved(one, dx, dy); });
}

// The journal is written a while after the first edit, not after the last: a long drag is kept,
// too.
void Session::noteEdit() {
    if (journals_.empty()) return;
    if (history_.isClean()) {
        journalTimer_->stop();
        return endJournal();
    }
    if (!journalTimer_->isActive()) journalTimer_->start();
}

void Session::writeJournal() {
    if (journals_.empty() || history_.isClean()) return;
    if (journaling_) return journalTimer_->start();
    if (!journalHeld_) {
        QDir().mkpath(QString::fromStdString(journals_.string()));
        journal_ = journals_ / QString("%1-%2")
                                   .arg(QCoreApplication::applicationPid())
                                   .arg(quintptr(this), 0, 16)
                                   .toStdString();
        journalHeld_ =
            std::make_unique<QLockFile>(QString::fromStdString(journal_.string()) + ".lock");
        journalHeld_->setStaleLockTime(0);
        journalHeld_->tryLock(0);
    }
    journaling_ = true;
    const int index = history_.index();
    aside(
        pool_, this,
        [kit = kit_, folder = journal_, saved = path_, there = journaled_]() mutable {
            auto done = writeRecovery(folder, kit, saved, there);
            return std::pair(std::move(done), std::move(there));
        },
        [this, index](std::pair<Result<void>, std::set<std::string>> outcome) {
            journaling_ = false;
            if (!outcome.first)
                tell(tr("The recovery journal cannot be written: %1")
                         .arg(QString::fromStdString(outcome.first.error().sentence())),
                     true);
            else if (const Path old = std::exchange(recoveredFrom_, {}); !old.empty())
                forget(old);
            journaled_ = std::move(outcome.second);
            if (history_.isClean()) return endJournal();
            if (history_.index() != index && !journalTimer_->isActive()) journalTimer_->start();
        });
}

void Session::endJournal() {
    if (journaling_ || journal_.empty())
        return;  // what is being written is taken away when it is done
    removeRecovery(journal_);
    journaled_.clear();
    journalHeld_.reset();
    journal_.clear();
}

void Session::keepJournalIn(const Path& folder) {
    journals_ = folder;
}

std::vector<Path> Session::lostJournals() const {
    std::vector<Path> lost;
    std::error_code none;
    for (const auto& entry : std::filesystem::directory_iterator(journals_, none)) {
        if (!entry.is_directory(none)) continue;
        QLockFile lock(QString::fromStdString(entry.path().string()) + ".lock");
        lock.setStaleLockTime(0);
        if (lock.tryLock(0)) lost.push_back(entry.path());  // nobody holds it any more
    }
    std::sort(lost.begin(), lost.end());
    return lost;
}

void Session::recover(const Path& journal) {
    if (busy_) return;
    busy_ = true;
    struct Found {
        Recovered recovered;
        std::optional<Kit> saved;
    };
    aside(
        pool_, this,
        [journal]() -> Result<Found> {
            auto recovered = readRecovery(journal);
            if (!recovered) return passOn(recovered.error());
            useFontsOf(recovered->kit);
            Found found{std::move(*recovered), {}};
            if (found.recovered.saved)
                if (auto kit = openKit(*found.recovered.saved)) found.saved = std::move(*kit);
            return found;
        },
        [this, journal](Result<Found> found) {
            busy_ = false;
            if (!found) return tell(QString::fromStdString(found.error().sentence()), true);
            // As an edit of what is saved, so that it counts as unsaved and Ctrl+Z leads back to
            // the saved state.
            std::optional<Path> saved = found->recovered.saved;
            if (!found->saved || !hold(*saved)) saved.reset();
            reset(saved ? std::move(*found->saved) : Kit{}, saved);
            apply(found->recovered.kit, tr("What was recovered"));
            Q_EMIT chosen();
            Q_EMIT opened();
            recoveredFrom_ = journal;
            writeJournal();
            tell(tr("Your edits are back. They are not saved yet."), false);
        });
}

void Session::forget(const Path& journal) {
    removeRecovery(journal);
    QFile::remove(QString::fromStdString(journal.string()) + ".lock");
}

void Session::reset(Kit kit, std::optional<Path> path) {
    path_ = std::move(path);
    history_.clear();
    inks_->clear();
    pieceId_.clear();
    layerId_ = 0;
    layerIds_.clear();
    show(kit);
    Q_EMIT chosen();
    Q_EMIT opened();
}

void Session::remember(const char* what, const Path& path) {
    const QString file = QFileInfo(QString::fromStdString(path.string())).absoluteFilePath();
    QStringList files = QSettings().value(what).toStringList();
    files.removeAll(file);
    files.prepend(file);
    constexpr int most = 10;
    QSettings().setValue(what, files.mid(0, most));
}

QStringList Session::recent(const char* what) {
    QStringList files = QSettings().value(what).toStringList();
    files.removeIf([](const QString& file) { return !QFileInfo::exists(file); });
    return files;
}

// A lock that goes with the process, kept apart from the person's own folders.
bool Session::hold(const Path& path) {
    const std::string whole =
        QFileInfo(QString::fromStdString(path.string())).absoluteFilePath().toStdString();
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

QString Session::lastKit() {
    const QString kit = QSettings().value("lastKit").toString();
    return QFileInfo::exists(kit) ? kit : QString();
}

void Session::newKit() {
    held_.reset();
    reset(Kit{}, {});
}

void Session::openValue(Kit kit, const Path& path) {
    reset(std::move(kit), path);
}

void Session::open(const Path& path) {
    if (busy_) return;
    busy_ = true;
    aside(
        pool_, this,
        [path] {
            auto kit = openKit(path);
            if (kit) useFontsOf(*kit);
            return kit;
        },
        [this, path](Result<Kit> kit) {
            busy_ = false;
            if (!kit) return tell(QString::fromStdString(kit.error().sentence()), true);
            if (!hold(path))
                return tell(tr("%1 is open in another window; work on it there.")
                                .arg(QString::fromStdString(path.filename().string())),
                            true);
            remember("recentKits", path);
            reset(std::move(*kit), path);
            QSettings().setValue(
                "lastKit", QFileInfo(QString::fromStdString(path.string())).absoluteFilePath());
        });
}

void Session::save(const Path& path, Replace replace, std::function<void(bool)> done) {
    if (busy_) return;
    if (!hold(path)) {
        tell(tr("%1 is open in another window; save under another name.")
                 .arg(QString::fromStdString(path.filename().string())),
             true);
        if (done) done(false);
        return;
    }
    busy_ = true;
    const int index = history_.index();
    aside(
        pool_, this, [kit = kit_, path, replace] { return saveKit(kit, path, replace); },
        [this, path, index, done = std::move(done)](Result<void> result) {
            busy_ = false;
            if (!result) {
                tell(QString::fromStdString(result.error().sentence()), true);
            } else {
                path_ = path;
                remember("recentKits", path);
                // What was edited while it was written is not saved yet.
                if (history_.index() == index) history_.setClean();
                QSettings().setValue(
                    "lastKit", QFileInfo(QString::fromStdString(path.string())).absoluteFilePath());
                tell(tr("Saved %1.").arg(QString::fromStdString(path.filename().string())), false);
                Q_EMIT saved();
            }
            if (done) done(result.has_value());
        });
}

void Session::bringIn(const std::vector<Path>& files, bool reference) {
    for (const Path& file : files)
        aside(
            pool_, this, [file] { return readFile(file); },
            [this, file, reference](Result<Bytes> bytes) {
                if (!bytes) return tell(QString::fromStdString(bytes.error().sentence()), true);
                const std::string ending = endingOf(file);
                if (ending == ".otf" || ending == ".ttf" || ending == ".ttc")
                    return bringInFont(std::move(*bytes), file.filename().string());
                remember("recentPictures", file);
                bringIn(std::move(*bytes), file.filename().string(), reference);
            });
}

void Session::bringIn(Bytes bytes, const std::string& name, bool reference) {
    if (!piece()) return tell(tr("Start a piece first; then pictures have a place to go."), true);
    const std::string pieceId = pieceId_;
    struct Brought {
        Asset asset;
        Result<std::shared_ptr<const Picture>> picture;
    };
    // Decoded wholly before it may come in: a damaged picture never reaches the kit.
    aside(
        pool_, this,
        [bytes = std::move(bytes), name, store = inks_]() mutable {
            Asset asset = makeAsset(std::move(bytes), name);
            auto picture = store->picture(asset);
            return Brought{std::move(asset), std::move(picture)};
        },
        [this, pieceId, reference](Brought brought) {
            if (!brought.picture)
                return tell(QString::fromStdString(brought.picture.error().sentence()), true);
            const Piece* target = kit_.piece(pieceId);
            if (!target) return;
            Layer layer;
            layer.name = cutToFit(stemOf(brought.asset.name));
            PictureLayer picture =
                fillingFrame(brought.asset.sha256, (*brought.picture)->facts.size, target->frame);
            picture.reference = reference;
            layer.what = picture;
            if (apply(withLayer(withAsset(kit_, brought.asset), pieceId, layer),
                      reference ? tr("Bring in a reference") : tr("Bring in a picture")) &&
                pieceId == pieceId_)
                chooseLayer(kit_.piece(pieceId)->layers.back().id);
        });
}

void Session::bringInFont(Bytes bytes, const std::string& name) {
    struct Brought {
        Asset font;
        Result<std::vector<std::string>> families;
    };
    aside(
        pool_, this,
        [bytes = std::move(bytes), name]() mutable {
            Asset font = makeAsset(std::move(bytes), name);
            auto families = useFont(font);
            return Brought{std::move(font), std::move(families)};
        },
        [this](Brought brought) {
            if (!brought.families)
                return tell(QString::fromStdString(brought.families.error().sentence()), true);
            inks_->clear();  // letters that were drawn with another font in its place
            apply(withFont(kit_, brought.font), tr("Bring in a font"));
            Q_EMIT fontsChanged();
            tell(tr("The font %1 is in the kit now.")
                     .arg(QString::fromStdString(brought.families->front())),
                 false);
        });
}

void Session::tell(const QString& sentence, bool bad) {
    Q_EMIT told(sentence, bad);
}

}  // namespace zl::app
