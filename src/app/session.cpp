// SPDX-License-Identifier: GPL-3.0-or-later
#include "session.h"

#include <QFileInfo>
#include <QSettings>

#include "jobs.h"
#include "kit/edits.h"
#include "kit/kit_file.h"

namespace zl::app {

// A step of history: the kit before and after. Copies of kits are cheap.
class KitCommand : public QUndoCommand {
  public:
    KitCommand(Session& session, Kit before, Kit after, const QString& what, QString mergeKey)
        : QUndoCommand(what), session_(session), before_(std::move(before)), after_(std::move(after)), mergeKey_(std::move(mergeKey)) {}
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
}

Session::~Session() {
    pool_.waitForDone();
}

const Brief* Session::brief() const {
    return piece() ? briefs_.find(piece()->brief) : nullptr;
}

void Session::show(const Kit& kit) {
    kit_ = kit;
    if (!piece()) pieceId_ = kit_.pieces.empty() ? "" : kit_.pieces.front().id;
    if (!layer()) layerId_ = 0;
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
    Q_EMIT chosen();
}

void Session::chooseLayer(int id) {
    if (id == layerId_) return;
    layerId_ = piece() && piece()->layer(id) ? id : 0;
    Q_EMIT chosen();
}

void Session::reset(Kit kit, std::optional<Path> path) {
    path_ = std::move(path);
    history_.clear();
    inks_->clear();
    pieceId_.clear();
    layerId_ = 0;
    show(kit);
    Q_EMIT chosen();
    Q_EMIT opened();
}

QString Session::lastKit() {
    const QString kit = QSettings().value("lastKit").toString();
    return QFileInfo::exists(kit) ? kit : QString();
}

void Session::newKit() {
    reset(Kit{}, {});
}

void Session::openValue(Kit kit, const Path& path) {
    reset(std::move(kit), path);
}

void Session::open(const Path& path) {
    if (busy_) return;
    busy_ = true;
    aside(
        pool_, this, [path] { return openKit(path); },
        [this, path](Result<Kit> kit) {
            busy_ = false;
            if (!kit) return tell(QString::fromStdString(kit.error().sentence()), true);
            reset(std::move(*kit), path);
            QSettings().setValue("lastKit", QFileInfo(QString::fromStdString(path.string())).absoluteFilePath());
        });
}

void Session::save(const Path& path, Replace replace, std::function<void(bool)> done) {
    if (busy_) return;
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
                // What was edited while it was written is not saved yet.
                if (history_.index() == index) history_.setClean();
                QSettings().setValue("lastKit", QFileInfo(QString::fromStdString(path.string())).absoluteFilePath());
                tell(tr("Saved %1.").arg(QString::fromStdString(path.filename().string())), false);
                Q_EMIT saved();
            }
            if (done) done(result.has_value());
        });
}

void Session::bringIn(const std::vector<Path>& files) {
    for (const Path& file : files)
        aside(
            pool_, this, [file] { return readFile(file); },
            [this, file](Result<Bytes> bytes) {
                if (!bytes) return tell(QString::fromStdString(bytes.error().sentence()), true);
                bringIn(std::move(*bytes), file.filename().string());
            });
}

void Session::bringIn(Bytes bytes, const std::string& name) {
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
        [this, pieceId](Brought brought) {
            if (!brought.picture) return tell(QString::fromStdString(brought.picture.error().sentence()), true);
            const Piece* target = kit_.piece(pieceId);
            if (!target) return;
            Layer layer;
            layer.name = cutToFit(stemOf(brought.asset.name));
            layer.what = fillingFrame(brought.asset.sha256, (*brought.picture)->facts.size, target->frame);
            if (apply(withLayer(withAsset(kit_, brought.asset), pieceId, layer), tr("Bring in a picture")) && pieceId == pieceId_)
                chooseLayer(kit_.piece(pieceId)->layers.back().id);
        });
}

void Session::tell(const QString& sentence, bool bad) {
    Q_EMIT told(sentence, bad);
}

}  // namespace zl::app
