// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/rail.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "look/theme.h"
#include "words/words.h"

namespace zl::app {

PieceCard::PieceCard(const Piece& piece, QWidget* parent) : QAbstractButton(parent), id_(piece.id) {
    setObjectName("piece-" + QString::fromStdString(piece.id));
    setCheckable(true);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedHeight(sizeHint().height());
}

void PieceCard::show(const Piece& piece, const PieceState* state, bool chosen) {
    Face face = face_;
    face.title = QString::fromStdString(piece.title);
    face.facts = QString("%1 × %2").arg(piece.frame.width).arg(piece.frame.height);
    if (state) {
        face.picture = state->card;
        face.refusal = state->refusal;
        if (state->exact) face.verdict = state->verdict;
        if (state->bytes > 0 && state->exact)
            face.facts += "  ·  " + QString::fromStdString(weightWords(state->bytes));
    }
    setChecked(chosen);
    if (face == face_) return;
    face_ = std::move(face);
    const QString word =
        QString::fromStdString(english({"verdict." + std::string(nameOf(face_.verdict)), {}}));
    setAccessibleName(QString("%1, %2, %3").arg(face_.title, face_.facts, word));
    setToolTip(face_.title + " · " + (face_.refusal.isEmpty() ? word : face_.refusal));
    update();
}

// A rail that is scrolled paints all of its cards: each is drawn once for what it shows.
void PieceCard::paintEvent(QPaintEvent*) {
    const Drawn look{isChecked(), hasFocus(), size(), Theme::name(), face_};
    if (!(drawn_ && look_ == look)) {
        look_ = look;
        drawn_ = QPixmap(size() * devicePixelRatioF());
        drawn_->setDevicePixelRatio(devicePixelRatioF());
        drawn_->fill(Qt::transparent);
        QPainter into(&*drawn_);
        draw(into);
    }
    QPainter(this).drawPixmap(0, 0, *drawn_);
}

void PieceCard::draw(QPainter& painter) const {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const Theme& theme = Theme::now();
    const QRectF card = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    painter.setPen(QPen(isChecked()  ? theme["accent"]
                        : hasFocus() ? theme["ink"]
                                     : theme["seam"],
                        isChecked() || hasFocus() ? 2 : 1));
    painter.setBrush(theme["sheet-raised"]);
    painter.drawRoundedRect(isChecked() ? card.adjusted(0.5, 0.5, -0.5, -0.5) : card, 4, 4);
    const QRectF well(7, 7, width() - 14, std::round((width() - 14) * 9.0 / 16));
    painter.fillRect(well, theme["surround"]);
    if (!face_.picture.isNull()) {
        const QSizeF size = QSizeF(face_.picture.size()).scaled(well.size(), Qt::KeepAspectRatio);
        painter.drawImage(
            QRectF(well.center() - QPointF(size.width() / 2, size.height() / 2), size),
            face_.picture);
    } else if (!face_.refusal.isEmpty()) {
        painter.setPen(theme["ink"]);
        painter.setFont(interfaceFont(12));
        painter.drawText(well, Qt::AlignCenter, tr("cannot be drawn"));
    }
    painter.setPen(theme["ink"]);
    painter.setFont(interfaceFont(12, isChecked() ? 600 : 500));
    const QRectF title(8, 95, width() - 34, 18);
    painter.drawText(title, Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(face_.title, Qt::ElideRight,
                                                      static_cast<int>(title.width())));
    painter.setPen(theme["ink-soft"]);
    painter.setFont(interfaceFont(11));
    painter.drawText(QRectF(8, 112, width() - 16, 16), Qt::AlignLeft | Qt::AlignVCenter,
                     face_.facts);
    drawVerdict(painter, QRectF(width() - 20, 99, 10, 10), face_.verdict, false);
}

Rail::Rail(Session& session, ReadingsDesk& desk, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk) {
    setObjectName("rail");
    setAttribute(Qt::WA_StyledBackground);
    setFixedWidth(railWidth);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(12, 0, 1, 12);
    outer->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 0, 13, 0);
    auto* title = new QLabel(tr("Pieces"));
    title->setFont(interfaceFont(12, 600));
    title->setFixedHeight(36);
    count_ = new QLabel;
    count_->setProperty("soft", true);
    head->addWidget(title);
    head->addStretch();
    head->addWidget(count_);
    outer->addLayout(head);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    auto* content = new QWidget;
    column_ = new QVBoxLayout(content);
    column_->setContentsMargins(0, 1, 10, 8);
    column_->setSpacing(10);
    column_->addStretch();
    scroll_->setWidget(content);
    outer->addWidget(scroll_, 1);
    auto* add = new QPushButton(tr("+ Piece"));
    add->setObjectName("newPiece");
    add->setToolTip(tr("Start a piece (Ctrl+Shift+N)"));
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(0, 8, 11, 0);
    foot->addWidget(add);
    outer->addLayout(foot);
    connect(add, &QPushButton::clicked, this, &Rail::newPieceAsked);
    connect(&session_, &Session::kitChanged, this, &Rail::refresh);
    connect(&session_, &Session::chosen, this, &Rail::refresh);
    // The chosen card comes into view, whoever chose it; those that were just made are laid out
    // first. In a turn of its own, after what was chosen is painted.
    bringIn_.setSingleShot(true);
    connect(&session_, &Session::chosen, &bringIn_, qOverload<>(&QTimer::start));
    connect(&bringIn_, &QTimer::timeout, this, [this] {
        const std::string now = session_.piece() ? session_.piece()->id : "";
        if (std::exchange(broughtIn_, now) == now) return;
        column_->activate();
        scroll_->widget()->adjustSize();
        for (PieceCard* card : cards_)
            if (card->pieceId() == now) scroll_->ensureWidgetVisible(card, 0, 10);
    });
    connect(&desk_, &ReadingsDesk::changed, this, &Rail::refresh);
    refresh();
}

void Rail::rebuild() {
    for (PieceCard* card : cards_) card->deleteLater();
    cards_.clear();
    for (const Piece& piece : session_.kit().pieces) {
        auto* card = new PieceCard(piece, this);
        column_->insertWidget(static_cast<int>(cards_.size()), card);
        connect(card, &QAbstractButton::clicked, this, [this, card] {
            session_.choice().choosePiece(card->pieceId());
            refresh();
        });
        cards_.push_back(card);
    }
}

void Rail::refresh() {
    const auto& pieces = session_.kit().pieces;
    const bool same = std::equal(
        pieces.begin(), pieces.end(), cards_.begin(), cards_.end(),
        [](const Piece& piece, const PieceCard* card) { return piece.id == card->pieceId(); });
    if (!same) rebuild();
    count_->setText(QString::number(pieces.size()));
    for (std::size_t i = 0; i < pieces.size(); ++i)
        cards_[i]->show(pieces[i], desk_.state(pieces[i].id),
                        session_.piece() && session_.piece()->id == pieces[i].id);
}

}  // namespace zl::app
