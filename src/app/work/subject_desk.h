// SPDX-License-Identifier: GPL-3.0-or-later
// The subject of the chosen picture, off the interface thread: its labels follow a stroke at once,
// then what is unsure, then the soft matte. The newest edit wins.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>
#include <optional>

#include "cut/subject/subject.h"
#include "kit/kit.h"
#include "render/ink_store.h"
#include "work/jobs.h"

namespace zl::app {

class Choice;

// How the canvas shows the picture while its subject is worked on.
enum class SubjectLook {
    cutOut,    // as it is released
    matte,     // white where the subject is
    original,  // the whole picture, the ground dimmed
};

struct SubjectState {
    int layer = 0;
    std::size_t cut = 0;  // index among the picture's
    SubjectCut of;
    std::shared_ptr<const SubjectStart> start;
    QImage original;              // opaque, as large as a screen shows it
    QImage ground;                // covers what is not subject, at the working size
    std::vector<QImage> guesses;  // up to three small pictures; none where there is a box
    std::optional<SubjectReport> report;
    QImage matte;  // grey; null until it is solved
};

class SubjectDesk : public QObject {
    Q_OBJECT
  public:
    SubjectDesk(std::shared_ptr<InkStore> inks, QObject* parent)
        : QObject(parent), inks_(std::move(inks)) {}

    // Nothing where the chosen layer has no subject cut, or it was not looked at yet. It may be of
    // the strokes before the last.
    const SubjectState* state() const { return state_ ? &*state_ : nullptr; }
    bool working() const { return working_; }  // the matte is not there yet
    SubjectLook look() const { return look_; }
    void setLook(SubjectLook look);
    // The next of the places that are unsure, in px of the original.
    void visitNext();

    // What is shown now; called at every edit and choice.
    void follow(const Kit& kit, const Layer* layer);

  Q_SIGNALS:
    void changed();
    void visited(const zl::RealRect& place);  // of the chosen picture, px of the original
    void refused(const QString& sentence);

  private:
    struct Asked;
    static void work(const Asked& asked, SubjectDesk& desk, const std::stop_token& stop);
    void back(int serial, std::function<void(SubjectDesk&)> act);

    std::shared_ptr<InkStore> inks_;
    std::optional<SubjectState> state_;
    std::shared_ptr<const Asked> asked_;
    QImage original_;  // of the picture looked at last
    std::string originalOf_;
    SubjectLook look_ = SubjectLook::cutOut;
    std::size_t next_ = 0;
    int serial_ = 0;
    bool working_ = false;
    LatestJob job_{true, Stands::withTheHand};
};

}  // namespace zl::app
