// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/moving_list.h"

#include <QLabel>
#include <QRadioButton>
#include <QVBoxLayout>

#include "kit/moving.h"
#include "widgets/form.h"
#include "widgets/moment_field.h"
#include "words/words.h"
#include "work/film_desk.h"

namespace zl::app {
namespace {

// What the brief takes; else the two that are met everywhere, and the lasting one.
std::vector<VideoKind> kindsFor(const Piece& piece, const Brief* brief) {
    std::vector<VideoKind> kinds;
    const auto add = [&](VideoKind kind) {
        if (std::find(kinds.begin(), kinds.end(), kind) == kinds.end()) kinds.push_back(kind);
    };
    if (brief)
        for (const std::string& id : brief->moving.formats)
            if (const auto kind = movingKindBy(id)) add(*kind);
    const bool any = kinds.empty();
    if (any)
        for (const MovingFacts& facts : allMovingKinds())
            if (facts.longest == 0 || lengthOf(piece) <= facts.longest) add(facts.kind);
    if (const auto own = movingKindBy(piece.release.moving)) add(*own);
    return kinds;
}

}  // namespace

MovingList::MovingList(QWidget* parent) : QWidget(parent) {
    setObjectName("movingList");
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(24, 20, 24, 20);
    column_->setSpacing(16);
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    poster_ = named(new QLabel, "poster");
    poster_->setFixedSize(304, 172);
    poster_->setAlignment(Qt::AlignCenter);
    row->addWidget(poster_);
    posterWords_ = named(softLabel({}), "posterWords");
    posterWords_->setWordWrap(true);
    row->addWidget(posterWords_, 1, Qt::AlignTop);
    column_->addLayout(row);
    column_->addStretch();
}

void MovingList::build(const std::vector<VideoKind>& kinds) {
    delete list_;
    rows_.clear();
    list_ = new QWidget;
    auto* column = new QVBoxLayout(list_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    for (const VideoKind kind : kinds) {
        const MovingFacts& facts = factsOf(kind);
        const QString id = QString::fromUtf8(facts.id.data());
        auto* button = new QRadioButton(QString::fromUtf8(facts.title.data()));
        button->setObjectName("moving-" + id);
        auto* about = softLabel({});
        about->setContentsMargins(22, 0, 0, 10);
        column->addWidget(button);
        column->addWidget(about);
        connect(button, &QRadioButton::clicked, this, [this, id] { Q_EMIT kindAsked(id); });
        rows_.push_back({kind, button, about});
    }
    column_->insertWidget(0, list_);
}

void MovingList::show(const Piece& piece, const Brief* brief, const PieceState* state,
                      std::optional<double> moment) {
    const std::vector<VideoKind> kinds = kindsFor(piece, brief);
    const bool same = kinds.size() == rows_.size() &&
                      std::equal(kinds.begin(), kinds.end(), rows_.begin(),
                                 [](VideoKind kind, const Row& row) { return kind == row.kind; });
    if (!same) build(kinds);
    chosen_ = movingKindOf(piece, brief);
    const bool through = state && state->frame && !state->opaque;
    const long long limit = brief ? brief->moving.limit.value_or(0) : 0;
    for (const Row& row : rows_) {
        const MovingFacts& facts = factsOf(row.kind);
        row.button->setChecked(row.kind == chosen_);
        QStringList words;
        if (through)
            words << (facts.alpha ? tr("keeps what is see-through")
                                  : tr("what is see-through is laid on the matte"));
        words << (facts.sound ? tr("with sound") : tr("without sound"));
        const bool solves = row.kind == VideoKind::mp4 || row.kind == VideoKind::webm;
        if (row.kind == VideoKind::matroska)
            words << tr("every pixel exactly; large");
        else if (limit > 0 && solves)
            words << tr("kept under %1: where one run is too large, a second one meets it")
                         .arg(QString::fromStdString(weightWords(limit)));
        row.about->setText(words.join(tr(" · ")));
    }
    if (state && !state->card.isNull())
        poster_->setPixmap(
            QPixmap::fromImage(state->card)
                .scaled(poster_->size(), Qt::KeepAspectRatio, Qt::SmoothTransformation));
    posterWords_->setText(
        tr("The poster is the moment on the clock in Make, %1. It is written beside the video.\n\n"
           "%2 long, %3 frames, %4 a second.")
            .arg(momentWords(moment.value_or(0)), momentWords(lengthOf(piece)))
            .arg(frameCountOf(piece))
            .arg(rateOf(piece).perSecond(), 0, 'g', 4));
}

}  // namespace zl::app
