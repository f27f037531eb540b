// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/readings_foot.h"

#include <algorithm>

namespace zl::app {

ReadingsFoot::ReadingsFoot(Session& session, ReadingsDesk& desk, QWidget* whole)
    : QObject(whole),
      session_(session),
      desk_(desk),
      ledge_(new Ledge),
      findings_(new Findings(session, whole)) {
    turn_.setSingleShot(true);
    connect(&turn_, &QTimer::timeout, this, &ReadingsFoot::refresh);
    connect(&desk_, &ReadingsDesk::changed, &turn_, qOverload<>(&QTimer::start));
    connect(ledge_, &Ledge::asked, this, &ReadingsFoot::open);
    connect(findings_, &Findings::closed, this, [this] {
        openReading_.clear();
        all_ = false;
        findings_->hide();
        ledge_->setOpened("");
        Q_EMIT closed();
    });
}

QString ReadingsFoot::wordsFor(const PieceState* state) const {
    const Piece* piece = session_.piece();
    if (!piece) return tr("The readings stand here as soon as there is a piece.");
    if (!session_.brief())
        return tr("The brief “%1” is not here; nothing can be measured.")
            .arg(QString::fromStdString(piece->brief));
    return state && !state->refusal.isEmpty() ? state->refusal : tr("Measuring …");
}

void ReadingsFoot::refresh() {
    const Piece* piece = session_.piece();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    ledge_->show(state ? state->readings : std::vector<Reading>{},
                 piece && desk_.isCurrent(piece->id), wordsFor(state));
    if (openReading_.empty() && !all_) return;
    // The open findings follow the numbers.
    std::vector<Reading> open;
    if (state)
        std::copy_if(state->readings.begin(), state->readings.end(), std::back_inserter(open),
                     [this](const Reading& r) { return all_ || r.id == openReading_; });
    // The focus stays in the panel as long as there is one.
    const bool focused = findings_->isAncestorOf(findings_->window()->focusWidget());
    if (open.empty()) {
        if (focused) Q_EMIT emptied();
        return findings_->hide();
    }
    findings_->show(open);
    if (focused && !findings_->isAncestorOf(findings_->window()->focusWidget()))
        findings_->focusFirst();
    place();
}

void ReadingsFoot::open(const QString& readingId) {
    const bool same =
        !readingId.isEmpty() && openReading_ == readingId.toStdString() && findings_->isVisible();
    openReading_ = same ? "" : readingId.toStdString();
    all_ = readingId.isEmpty() && !(all_ && findings_->isVisible());
    ledge_->setOpened(openReading_);
    if (openReading_.empty() && !all_) return findings_->hide();
    refresh();
    Q_EMIT opened(onlyPlace());
    findings_->focusFirst();
}

std::optional<PixelRect> ReadingsFoot::onlyPlace() const {
    const PieceState* state = session_.piece() ? desk_.state(session_.piece()->id) : nullptr;
    for (const Reading& reading : state ? state->readings : std::vector<Reading>{})
        if (reading.id == openReading_ && reading.findings.size() == 1)
            return reading.findings.front().rect;
    return {};
}

void ReadingsFoot::place() {
    if (findings_->isHidden()) return;
    const LedgeCell* cell = ledge_->cell(openReading_);
    const int wish = cell ? cell->x() : ledge_->width(),
              room = findings_->parentWidget()->width() - findings_->width();
    findings_->move(std::clamp(wish, 0, std::max(0, room)), ledge_->y() - findings_->height() + 1);
    Q_EMIT placed();
}

}  // namespace zl::app
