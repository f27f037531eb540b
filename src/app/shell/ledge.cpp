// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/ledge.h"

#include <QPainter>
#include <algorithm>

#include "look/theme.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr int leastCellWidth = 172, leastMoreWidth = 126, inset = 14;

QString titleOf(const std::string& id) {
    return QString::fromStdString(english({"reading." + id, {}}));
}
QString wordOf(Verdict verdict) {
    return QString::fromStdString(english({"verdict." + std::string(nameOf(verdict)), {}}));
}

}  // namespace

LedgeCell::LedgeCell(QWidget* parent) : QAbstractButton(parent) {
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
    setCheckable(true);
}

void LedgeCell::wear(Face face) {
    if (face == face_) return;
    face_ = std::move(face);
    update();
}

void LedgeCell::show(const Reading& reading, bool fresh) {
    id_ = reading.id;
    wear({titleOf(reading.id), QString::fromStdString(reading.shown.empty() ? "–" : reading.shown),
          QString::fromStdString(reading.shownBeside), reading.verdict, reading.rule, fresh});
    setObjectName(QString("reading-") + QString::fromStdString(id_));
    const QString says = QString::fromStdString(english(reading.says));
    setAccessibleName(QString("%1: %2, %3 %4")
                          .arg(face_.title, wordOf(face_.verdict), face_.value, face_.beside));
    setAccessibleDescription(says);
    setToolTip(says);
}

void LedgeCell::showMore(int count, Verdict worst) {
    id_.clear();
    wear({tr("more"),
          QString("+ %1").arg(count),
          count == 1 ? tr("reading") : tr("readings"),
          worst,
          {},
          true});
    setObjectName("reading-more");
    setAccessibleName(tr("%1 more readings, the worst: %2").arg(count).arg(wordOf(worst)));
    setToolTip(tr("Show all readings"));
}

void LedgeCell::drawRule(QPainter& painter, const QRectF& line) const {
    const Theme& theme = Theme::now();
    const double end = face_.rule->end, value = std::clamp(face_.rule->value, 0.0, end);
    const auto at = [&](double v) { return line.left() + v / end * line.width(); };
    painter.fillRect(QRectF(line.left(), line.bottom() - 1, line.width(), 1),
                     theme["on-ledge-soft"]);
    constexpr int ticks = 20;
    painter.setPen(QPen(theme["ledge-seam"], 1));
    for (int i = 0; i <= ticks; ++i) {
        const double x = line.left() + i * line.width() / ticks;
        painter.drawLine(QPointF(x, line.bottom() - (i % 5 == 0 ? 8 : 5)),
                         QPointF(x, line.bottom() - 2));
    }
    const bool beyond = face_.rule->value > end;
    const double stop = beyond ? line.right() - 10 : at(value);
    painter.fillRect(QRectF(line.left(), line.bottom() - 3,
                            std::max(stop - line.left(), value > 0 ? 1.0 : 0.0), 3),
                     verdictColour(face_.verdict, true));
    if (beyond) {  // a broken end: the value runs off the scale
        painter.setPen(QPen(verdictColour(face_.verdict, true), 2));
        for (const double x : {line.right() - 6, line.right() - 1})
            painter.drawLine(QPointF(x - 2, line.bottom() + 2), QPointF(x + 1, line.bottom() - 6));
    }
    const double notch = at(face_.rule->notch);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme["on-ledge"]);
    painter.drawPolygon(QPolygonF({{notch - 3.5, line.bottom() - 12},
                                   {notch + 3.5, line.bottom() - 12},
                                   {notch, line.bottom() - 7}}));
    painter.fillRect(QRectF(notch - 0.75, line.bottom() - 8, 1.5, 8), theme["on-ledge"]);
}

void LedgeCell::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& theme = Theme::now();
    if (underMouse() || isChecked()) painter.fillRect(rect(), theme["ledge-raised"]);
    if (isChecked()) painter.fillRect(QRect(0, 0, width(), 3), theme["on-ledge"]);
    painter.fillRect(QRect(width() - 1, 0, 1, height()), theme["ledge-seam"]);
    if (hasFocus()) {
        painter.setPen(QPen(theme["on-ledge"], 1.5, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(rect()).adjusted(3.5, 5.5, -4.5, -3.5));
    }
    const QRectF inner = QRectF(rect()).adjusted(inset, 12, -inset, 0);
    drawVerdict(painter, QRectF(inner.left(), inner.top() + 3, 10, 10), face_.verdict, true);
    painter.setFont(interfaceFont(12, 500));
    painter.setPen(theme["on-ledge-soft"]);
    const QString head =
        face_.title + (face_.verdict > Verdict::pass ? "  ·  " + wordOf(face_.verdict) : QString());
    painter.drawText(QRectF(inner.left() + 18, inner.top() - 1, inner.width() - 18, 18),
                     Qt::AlignLeft | Qt::AlignVCenter, head);
    painter.setOpacity(face_.fresh ? 1 : 0.6);
    painter.setFont(interfaceFont(17, 600));
    painter.setPen(theme["on-ledge"]);
    const double width17 = painter.fontMetrics().horizontalAdvance(face_.value);
    painter.drawText(QRectF(inner.left(), inner.top() + 18, inner.width(), 24),
                     Qt::AlignLeft | Qt::AlignVCenter, face_.value);
    painter.setFont(interfaceFont(11));
    // Where there is no room for all the small words, the last part of them is what counts.
    QString beside = face_.beside;
    const auto fits = [&] {
        return painter.fontMetrics().horizontalAdvance(beside) + width17 <= inner.width();
    };
    if (!fits()) beside = face_.beside.section(" · ", -1);
    if (fits()) {
        painter.setPen(theme["on-ledge-soft"]);
        painter.drawText(
            QRectF(inner.left() + width17 + 6, inner.top() + 20, inner.width() - width17, 22),
            Qt::AlignLeft | Qt::AlignVCenter, beside);
    }
    painter.setOpacity(1);
    if (face_.rule) drawRule(painter, QRectF(inner.left(), inner.top() + 44, inner.width(), 16));
}

Ledge::Ledge(QWidget* parent) : QWidget(parent) {
    setObjectName("ledge");
    setAccessibleName(tr("Readings"));
    setFixedHeight(ledgeHeight);
    emptyWords_ = tr("The readings stand here as soon as there is a piece.");
}

void Ledge::show(const std::vector<Reading>& readings, bool fresh, const QString& emptyWords) {
    readings_ = readings;
    std::stable_sort(readings_.begin(), readings_.end(),
                     [](const Reading& a, const Reading& b) { return a.verdict > b.verdict; });
    fresh_ = fresh;
    emptyWords_ = emptyWords;
    lay();
}

LedgeCell* Ledge::cell(const std::string& id) const {
    for (LedgeCell* cell : cells_)
        if (cell->isVisibleTo(this) && cell->readingId() == id) return cell;
    return nullptr;
}

void Ledge::setOpened(const std::string& id) {
    opened_ = id;
    for (LedgeCell* cell : cells_) cell->setChecked(!id.empty() && cell->readingId() == id);
}

void Ledge::lay() {
    const int count = static_cast<int>(readings_.size());
    int shown = std::min(count, std::max(1, width() / leastCellWidth));
    if (shown < count) shown = std::max(1, (width() - leastMoreWidth) / leastCellWidth);
    const bool more = shown < count;
    const int needed = shown + (more ? 1 : 0);
    while (static_cast<int>(cells_.size()) < needed) {
        auto* cell = new LedgeCell(this);
        connect(cell, &QAbstractButton::clicked, this, [this, cell] {
            setOpened(opened_);  // the panel says what is open, not the click
            Q_EMIT asked(QString::fromStdString(cell->readingId()));
        });
        cells_.push_back(cell);
    }
    const int room = width() - (more ? leastMoreWidth : 0);
    for (int i = 0; i < static_cast<int>(cells_.size()); ++i) {
        LedgeCell* cell = cells_[static_cast<std::size_t>(i)];
        cell->setVisible(i < needed);
        if (i < shown) {
            const int left = room * i / shown, right = room * (i + 1) / shown;
            cell->setGeometry(left, 3, right - left, height() - 3);
            cell->show(readings_[static_cast<std::size_t>(i)], fresh_);
        } else if (i < needed) {
            Verdict worst = Verdict::notMeasured;
            for (int k = shown; k < count; ++k)
                worst = std::max(worst, readings_[static_cast<std::size_t>(k)].verdict);
            cell->setGeometry(room, 3, leastMoreWidth, height() - 3);
            cell->showMore(count - shown, worst);
        }
    }
    setOpened(opened_);
    if (needed == 0 || needed != cellsShown_) update();
    cellsShown_ = needed;
}

void Ledge::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["ledge"]);
    painter.fillRect(QRect(0, 0, width(), 3), theme["ledge-seam"]);
    if (!readings_.empty()) return;
    painter.setPen(theme["on-ledge-soft"]);
    painter.setFont(interfaceFont(13));
    painter.drawText(rect().adjusted(inset, 0, -inset, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     emptyWords_);
}

}  // namespace zl::app
