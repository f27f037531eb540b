// SPDX-License-Identifier: GPL-3.0-or-later
// What a window works on, put together: the document, what is chosen of it, its file, its journal,
// and what comes in. Widgets show it and send edits.
#pragma once

#include <QObject>
#include <functional>
#include <memory>
#include <set>

#include "brief/brief.h"
#include "film/clip_frames.h"
#include "film/known_films.h"
#include "render/render.h"
#include "work/choice.h"
#include "work/document.h"
#include "work/intake.h"
#include "work/jobs.h"
#include "work/journal.h"
#include "work/kit_files.h"
#include "work/look_shelf.h"
#include "work/piece_clock.h"
#include "work/subject_desk.h"

namespace zl::app {

class Session : public QObject {
    Q_OBJECT
  public:
    explicit Session(Briefs briefs, QObject* parent = nullptr);
    ~Session() override;

    Document& document() { return document_; }
    Choice& choice() { return choice_; }
    Journal& journal() { return journal_; }
    KitFiles& files() { return files_; }
    Intake& intake() { return intake_; }
    LookShelf& shelf() { return shelf_; }
    Jobs& jobs() { return jobs_; }
    SubjectDesk& subject() { return subject_; }  // of the chosen picture
    PieceClock& clock() { return clock_; }       // of the chosen piece
    const std::shared_ptr<InkStore>& inks() const { return inks_; }

    const Briefs& briefs() const { return briefs_; }
    // A brief of the person's own, into their data folder, aside; `done` gets its id. What is wrong
    // with it is an error, and nothing is written; that one of its id is there, too, unless it is
    // the one to be replaced.
    void keepOwnBrief(const OrderedJson& brief, Replace replace,
                      std::function<void(Result<std::string>)> done);

    // What is asked for all the time.
    const Kit& kit() const { return document_.kit(); }
    const Piece* piece() const { return choice_.piece(); }  // nothing in an empty kit
    const Brief* brief() const;  // of the chosen piece; nothing when it is missing
    const Layer* layer() const { return choice_.layer(); }
    // The chosen layer's picture; nothing where it shows none.
    const PictureLayer* picture() const { return layer() ? layer()->picture() : nullptr; }
    const std::set<int>& chosenIds() const { return choice_.layerIds(); }
    bool apply(const Result<Kit>& next, const QString& what, const QString& mergeKey = {}) {
        return document_.apply(next, what, mergeKey);
    }
    void applyAside(AsideEdit edit) { document_.applyAside(jobs_, std::move(edit)); }
    void tell(const QString& sentence, bool bad) { Q_EMIT told(sentence, bad); }

    // The layers changed as one edit.
    void editLayers(const std::set<int>& ids, const QString& what, const QString& mergeKey,
                    const std::function<void(Layer&)>& change);
    // The chosen layers and their group mates moved.
    void moveChosen(double dx, double dy, const QString& what, const QString& mergeKey);

  Q_SIGNALS:
    void kitChanged();  // any edit, undo, redo, opening; what is chosen has followed
    void chosen();      // another piece or layer was chosen
    void opened();      // another kit
    void told(const QString& sentence, bool bad);

  private:
    void showStep(const Kit& before);
    Briefs briefs_;
    std::shared_ptr<KnownFilms> films_ = std::make_shared<KnownFilms>(stripFolder());
    std::shared_ptr<ClipFrames> clips_ = std::make_shared<ClipFrames>();
    std::shared_ptr<InkStore> inks_ = std::make_shared<InkStore>();
    Jobs jobs_;
    Document document_;
    Choice choice_;
    Journal journal_;
    KitFiles files_;
    Intake intake_;
    LookShelf shelf_;
    SubjectDesk subject_{inks_, this};
    PieceClock clock_{document_, choice_, files_, jobs_, this};
};

}  // namespace zl::app
