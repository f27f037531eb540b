// SPDX-License-Identifier: GPL-3.0-or-later
// The piece for the screen, made off the interface thread: the frame is kept, only what an edit
// damaged is blended again, and only the screen pixels that show it are painted again.
#pragma once

#include <QImage>
#include <QObject>
#include <QRect>
#include <functional>
#include <memory>

#include "kit/kit.h"
#include "picture/shrink.h"
#include "render/render.h"
#include "work/jobs.h"

namespace zl::app {

struct ScreenRequest {
    Kit kit;
    std::string pieceId;
    Mapping mapping;     // device px
    PixelSize viewport;  // device px
    Backdrop backdrop;
    Colour surround;
    std::optional<double> moment{};  // s, of a piece that moves
    bool plays = false;              // and the next one is due soon
    PixelSize overview{};  // px of a small picture of the whole frame that comes along; empty: none
};

// A part of the viewport, painted. `whole`: all of it, for this mapping; else it goes over what
// stands there.
struct ScreenPatch {
    QImage image;
    QPoint at;  // device px
    bool whole = false;
    Mapping mapping;
    QImage overview;  // of the whole frame, when it was asked for
};

class ScreenDesk : public QObject {
    Q_OBJECT
  public:
    explicit ScreenDesk(std::shared_ptr<InkStore> inks, QObject* parent = nullptr);
    // The newest request wins; one that is being worked on is finished, so that a drag shows its
    // way, but for a subject that has another stroke by now.
    void ask(ScreenRequest request);
    void forget();  // the next patch is whole

  Q_SIGNALS:
    void painted(const zl::app::ScreenPatch& patch);
    void refused(const QString& sentence);

  private:
    void work(const ScreenRequest& request, const std::stop_token& stop);

    std::shared_ptr<InkStore> inks_;
    std::vector<SubjectCut> subjects_;  // of what was asked for last
    // Used by the worker only.
    void drawOverview(const ScreenRequest& request, bool whole, const PixelRect& damage);
    Straight8 frame_;
    QImage overview_;
    Piece shown_;
    std::optional<ScreenRequest> last_;
    std::atomic<bool> forget_{false};
    LatestJob job_{false, Stands::withTheHand};
};

}  // namespace zl::app
