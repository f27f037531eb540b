// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/session.h"

#include "base/data_files.h"
#include "base/json.h"
#include "edit/edits.h"
#include "edit/stack.h"

namespace zl::app {

Session::Session(Briefs briefs, QObject* parent)
    : QObject(parent),
      briefs_(std::move(briefs)),
      choice_(document_),
      journal_(document_, jobs_),
      files_(document_, journal_, jobs_),
      intake_(document_, choice_, files_, jobs_, inks_),
      shelf_(jobs_) {
    inks_->knowFilms(films_);
    inks_->knowClips(clips_);
    for (const auto signal : {&KitFiles::opened, &KitFiles::saved})
        connect(&files_, signal, this, [this] {
            films_->kitLiesAt(files_.path());
            clips_->kitLiesAt(files_.path());
        });
    connect(&document_, &Document::kitChanged, this, &Session::kitChanged);
    connect(&document_, &Document::told, this, &Session::told);
    connect(&choice_, &Choice::chosen, this, &Session::chosen);
    // What is done to one layer, and later to another or to it again, are two steps.
    connect(&choice_, &Choice::leaving, &document_, &Document::endStep);
    connect(&document_, &Document::stepped, this, &Session::showStep);
    const auto follow = [this] { subject_.follow(kit(), layer()); };
    connect(this, &Session::kitChanged, this, follow);
    connect(this, &Session::chosen, this, follow);
    connect(&subject_, &SubjectDesk::refused, this,
            [this](const QString& sentence) { tell(sentence, true); });
    connect(&journal_, &Journal::told, this, &Session::told);
    connect(&files_, &KitFiles::told, this, &Session::told);
    connect(&intake_, &Intake::told, this, &Session::told);
    connect(&files_, &KitFiles::opening, this, [this] {
        inks_->clear();
        choice_.clear();
    });
    connect(&files_, &KitFiles::opened, this, [this] {
        Q_EMIT chosen();
        Q_EMIT opened();
    });
}

Session::~Session() {
    jobs_.stopAll();
    jobs_.waitForDone();
}

const Brief* Session::brief() const {
    return piece() ? briefs_.find(piece()->brief) : nullptr;
}

// What is taken back is seen: the piece that it changed is chosen, unless the chosen one is one of
// those. Once the step is over, since choosing may end what is being typed.
void Session::showStep(const Kit& before) {
    std::string shown;
    for (const Piece& one : kit().pieces) {
        const Piece* old = before.piece(one.id);
        if (old == &one || (old && *old == one)) continue;
        if (one.id == choice_.pieceId()) return;
        if (shown.empty()) shown = one.id;
    }
    if (shown.empty()) return;
    QMetaObject::invokeMethod(
        this,
        [this, shown, chosen = choice_.pieceId()] {
            if (choice_.pieceId() == chosen) choice_.choosePiece(shown);
        },
        Qt::QueuedConnection);
}

void Session::keepOwnBrief(const OrderedJson& brief, Replace replace,
                           std::function<void(Result<std::string>)> done) {
    struct Kept {
        std::string id;
        Briefs all;
    };
    aside(
        jobs_, this,
        [brief, replace, mine = personalFolder()]() -> Result<Kept> {
            const auto data = dataFolder();
            if (!data) return passOn(data.error());
            auto id = saveOwnBrief(brief, *data, mine, replace);
            if (!id) return passOn(id.error());
            auto all = loadBriefs(*data, mine);
            if (!all) return passOn(all.error());
            return Kept{std::move(*id), std::move(*all)};
        },
        [this, done = std::move(done)](Result<Kept> kept) {
            if (!kept) return done(passOn(kept.error()));
            briefs_ = std::move(kept->all);
            done(std::move(kept->id));
        });
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
    apply(withChangedLayers(kit(), piece()->id, next), what, mergeKey);
}

void Session::moveChosen(double dx, double dy, const QString& what, const QString& mergeKey) {
    if (!piece()) return;
    editLayers(withGroupMates(*piece(), chosenIds()), what, mergeKey,
               [=](Layer& one) { one = moved(one, dx, dy); });
}

}  // namespace zl::app
