// SPDX-License-Identifier: GPL-3.0-or-later
// Readings off the interface thread: of the chosen piece after each edit (a bound of the weight
// first, the exact count right after, the latest edit winning), and of the kit's other pieces for
// their cards.
#pragma once

#include <QElapsedTimer>
#include <QImage>
#include <QObject>
#include <map>
#include <memory>

#include "measure/measure.h"
#include "readings/edge_facts.h"
#include "work/jobs.h"
#include "work/session.h"

namespace zl::app {

struct PieceState {
    Piece measured;                  // what it was measured of
    std::optional<double> moment{};  // s, of a piece that moves; nothing: the one that tells most
    std::vector<Reading> readings;
    Verdict verdict = Verdict::notMeasured;
    long long bytes = 0;
    bool exact = false;
    QImage card;  // a small picture of it
    std::vector<SurfaceNote> notes;
    std::vector<EdgeMark> marks;
    std::shared_ptr<const Fitted> outcome;
    std::shared_ptr<const Straight8> frame;
    bool opaque = false;  // of the frame
    QString refusal;      // why it could not be measured
};

class ReadingsDesk : public QObject {
    Q_OBJECT
  public:
    explicit ReadingsDesk(Session& session, QObject* parent = nullptr);
    // Nothing until it was measured once. It may be of an older state; see isCurrent().
    const PieceState* state(const std::string& pieceId) const;
    bool isCurrent(const std::string& pieceId) const;
    // Something beside the kit has changed: a video was looked through.
    void measureAgain();

  Q_SIGNALS:
    void changed(const QString& pieceId);

  private:
    void measureChosen();
    void measureOthers();
    void deliver(PieceState state);

    Session& session_;
    std::map<std::string, PieceState> states_;
    QElapsedTimer lastEdit_;
    LatestJob chosen_{true}, others_{true, Stands::farBack};
};

}  // namespace zl::app
