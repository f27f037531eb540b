// SPDX-License-Identifier: GPL-3.0-or-later
// Photographs that are to be marked, the stamp that is set now, and its run. Everything that reads,
// measures or writes is done aside; what the hand does last wins.
#pragma once

#include <QCache>
#include <QImage>
#include <QObject>
#include <QTimer>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <set>
#include <vector>

#include "work/session.h"
#include "work/stamp_look.h"

namespace zl::app {

class StampDesk : public QObject {
    Q_OBJECT
  public:
    explicit StampDesk(Session& session, QObject* parent = nullptr);
    ~StampDesk() override;

    // The stamp as it is set now, which may differ from the one that is kept.
    const Stamp& stamp() const { return stamp_; }
    void setStamp(const Stamp& stamp);
    void change(const std::function<void(Stamp&)>& how);

    void add(const std::vector<Path>& files, bool recursive);
    void removeAll();
    // Where files of the stamp are looked for.
    StampHome home() const;
    const std::vector<StampPhoto>& photos() const { return photos_; }
    int now() const { return now_; }
    void choose(int photo);
    void setChoice(int photo, const PhotoChoice& choice);
    // The small picture with its mark; none yet: it is being made.
    QImage small(int photo);
    // How large the chosen one is shown; `truePixels`: round its mark, px for px.
    void showWithin(QSize room, bool truePixels);
    // Whether what was asked for last has been shown.
    bool isShown() const { return askedShows_ == shownShows_; }
    int measuredCount() const;
    bool measuring() const { return measuring_; }
    // Upright, wide, tiny and huge ones at one height.
    const std::vector<QImage>& sizes() const { return sizes_; }

    bool running() const { return running_; }
    void run(RunAsked asked);
    void pause(bool on);
    bool paused() const;
    void cancelRun() { runStop_.request_stop(); }
    // Whether a run was left in that folder; known a moment after it was asked first, when
    // `runChanged` tells.
    bool unfinishedIn(const Path& folder);
    // Files of the run that ended last, removed as far as they are unchanged.
    void undoRun();
    const std::optional<RunOutcome>& outcome() const { return outcome_; }

  Q_SIGNALS:
    void stampChanged();
    void photosChanged();          // others, or in another order
    void photoChanged(int photo);  // measured, or its choice
    void chosen(int photo);
    void shown(const zl::app::StampShown& seen);
    void sizesChanged();
    void progressed(int done, int of, double secondsLeft);
    void runChanged();  // it began, was paused, ended

  private:
    class Hand;
    void measureAgain();
    void measureRest();
    void measure(const std::stop_token& stop, const Stamp& stamp, const StampHome& home,
                 const std::vector<std::pair<int, StampPhoto>>& todo, int serial);
    void makeSmall();
    void arrived(int photo, const StampMeasured& measured, int serial);
    void sortWorstFirst();
    void show();
    void showSizes();
    void ended(Result<RunOutcome> outcome);

    Session& session_;
    Stamp stamp_;
    std::vector<StampPhoto> photos_;
    int now_ = -1, serial_ = 0, askedShows_ = 0, shownShows_ = 0;
    bool measuring_ = false, running_ = false, truePixels_ = false;
    QSize room_;
    QCache<QString, QImage> small_{800};
    std::set<int> wanted_;  // small pictures that are seen and gone
    QTimer wanting_;
    std::vector<QImage> sizes_;
    std::shared_ptr<InkStore> store_ = std::make_shared<InkStore>(120'000'000);
    std::shared_ptr<StampOpened> opened_ = std::make_shared<StampOpened>();
    std::optional<RunOutcome> outcome_;
    std::optional<Path> folderAsked_;
    bool unfinished_ = false;
    std::shared_ptr<Hand> hand_;
    std::stop_source runStop_;
    LatestJob measuringJob_{true, Stands::farBack}, showing_{true, Stands::withTheHand},
        smallJob_{true, Stands::back};
};

}  // namespace zl::app
