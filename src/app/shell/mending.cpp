// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/mending.h"

#include <QTimer>

#include "mend/mend.h"
#include "work/jobs.h"

namespace zl::app {

void Mending::cancel() {
    if (busy_) stop_.request_stop();
}

// A mend may have to render and encode, so it is made aside; it counts only for the kit it was made
// for.
void Mending::mend(const QString& id) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || busy_) return;
    busy_ = true;
    stop_ = std::stop_source();
    const QString title = QString::fromStdString(mendTitle(id.toStdString(), *brief, piece->frame));
    constexpr int quick = 300;  // ms; a shorter mend needs no word while it works
    QTimer::singleShot(quick, this, [this, title, mine = stop_] {
        if (busy_ && mine == stop_) Q_EMIT told(tr("%1 … Close this to cancel.").arg(title), true);
    });
    AsideEdit edit{.what = title};
    edit.stop = stop_.get_token();
    edit.meanwhile = tr("The piece was edited meanwhile; ask for the mend again.");
    edit.make = [pieceId = piece->id, demand = *brief, inks = session_.inks(),
                 mendId = id.toStdString()](const Kit& kit, const std::stop_token& stop) {
        return mended(mendId, kit, pieceId, demand, *inks, stop);
    };
    edit.ended = [this] {
        busy_ = false;
        Q_EMIT ended();
    };
    edit.answered = [this] { Q_EMIT answered(session_.kit()); };
    edit.refused = [this, mendId = id.toStdString()](const Error& why) { tellWhyNot(mendId, why); };
    edit.applied = [this, title] {
        Q_EMIT told(tr("%1: done. Ctrl+Z brings it back.").arg(title), false);
    };
    session_.applyAside(std::move(edit));
}

// Why a mend cannot help, and what else its reading offers.
void Mending::tellWhyNot(const std::string& mendId, const Error& why) {
    QStringList others;
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    for (const Reading& reading : state ? state->readings : std::vector<Reading>{})
        if (std::find(reading.mends.begin(), reading.mends.end(), mendId) != reading.mends.end())
            for (const std::string& other : reading.mends)
                if (other != mendId && session_.brief())
                    others << QString::fromStdString(
                        mendTitle(other, *session_.brief(), piece->frame, &reading));
    const QString sentence = QString::fromStdString(why.sentence());
    Q_EMIT told(others.empty()
                    ? sentence
                    : tr("%1 It offers as well: %2.").arg(sentence, others.join(tr(", "))),
                true);
}

}  // namespace zl::app
