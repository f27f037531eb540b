// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/time_strip.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <algorithm>

#include "kit/moving.h"
#include "look/theme.h"
#include "widgets/form.h"
#include "widgets/moment_field.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

constexpr int rowHeight = 12, rowGap = 2, rim = 6, mostRows = 6;  // px

}  // namespace

TimeLine::TimeLine(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("timeLine");
    setAccessibleName(tr("The piece's length"));
    setToolTip(
        tr("Drag along it. Each bar is the time in which a layer is seen; Left and Right "
           "step by a frame, Space plays."));
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::StrongFocus);
}

std::vector<const Layer*> TimeLine::timed() const {
    std::vector<const Layer*> all;
    const Piece* piece = session_.piece();
    if (!piece) return all;
    for (auto layer = piece->layers.rbegin(); layer != piece->layers.rend(); ++layer)
        if (!layer->hidden && (layer->shows || (layer->picture() && layer->picture()->clip)))
            all.push_back(&*layer);
    return all;
}

std::vector<const Layer*> TimeLine::rows() const {
    std::vector<const Layer*> all = timed();
    if (all.size() <= mostRows) return all;
    const Layer* chosen = session_.layer();
    const auto at = std::find_if(all.begin(), all.end(),
                                 [&](const Layer* one) { return chosen && one->id == chosen->id; });
    const auto before = at == all.end() ? 0 : at - all.begin() - std::ptrdiff_t{mostRows / 2};
    const auto first = all.begin() + std::clamp<std::ptrdiff_t>(
                                         before, 0, std::ssize(all) - std::ptrdiff_t{mostRows});
    return {first, first + mostRows};
}

QString TimeLine::leftOut() const {
    const auto all = timed().size();
    return all <= mostRows
               ? QString()
               : tr("%1 of %2 layers shown, those round the chosen one").arg(mostRows).arg(all);
}

QSize TimeLine::sizeHint() const {
    const int count = std::max(1, static_cast<int>(rows().size()));
    return {400, 2 * rim + count * (rowHeight + rowGap)};
}

void TimeLine::refresh() {
    setFixedHeight(sizeHint().height());
    update();
}

double TimeLine::xOf(double seconds) const {
    const double length = session_.clock().length();
    return length > 0 ? rim + seconds / length * (width() - 2 * rim) : rim;
}

void TimeLine::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() == Qt::NoButton) return;
    const double part = (event->position().x() - rim) / std::max(1, width() - 2 * rim);
    Q_EMIT asked(std::clamp(part, 0.0, 1.0) * session_.clock().length());
}

void TimeLine::keyPressEvent(QKeyEvent* event) {
    PieceClock& clock = session_.clock();
    const bool shift = event->modifiers().testFlag(Qt::ShiftModifier);
    switch (event->key()) {
        case Qt::Key_Left:
            return shift ? clock.goTo(*clock.moment() - 1) : clock.stepBy(-1);
        case Qt::Key_Right:
            return shift ? clock.goTo(*clock.moment() + 1) : clock.stepBy(1);
        case Qt::Key_Home:
            return clock.goTo(0);
        case Qt::Key_End:
            return clock.goTo(clock.length());
        case Qt::Key_Space:
            return clock.playing() ? clock.pause() : clock.play();
        default:
            QWidget::keyPressEvent(event);
    }
}

// From where it comes to where it goes, slanted where it fades.
void TimeLine::paintRow(QPainter& painter, const Layer& layer, double top) const {
    const Theme& theme = Theme::now();
    const double length = session_.clock().length();
    double from = 0, to = length, fade = 0, goes = 0;
    if (layer.shows) {
        from = layer.shows->from;
        to = std::min(length, layer.shows->to.value_or(length));
        fade = std::min(layer.shows->fade, (to - from) / 2);
        goes = layer.shows->to ? fade : 0;
    }
    const PictureLayer* picture = layer.picture();
    const bool clip = picture && picture->clip;
    if (clip) {
        from = std::max(from, picture->clip->begins);
        if (!picture->clip->loops && !picture->clip->holds)
            to = std::min(to, picture->clip->begins + picture->clip->shown());
    }
    if (to <= from) return;
    const double bottom = top + rowHeight;
    const QPolygonF shape(
        {{xOf(from), bottom}, {xOf(from + fade), top}, {xOf(to - goes), top}, {xOf(to), bottom}});
    const bool chosen = session_.layer() && session_.layer()->id == layer.id;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme[chosen ? "accent" : clip ? "surround" : "seam"]);
    painter.drawPolygon(shape);
    painter.setPen(theme[chosen ? "on-accent" : "ink"]);
    const QRectF words(xOf(from + fade) + 6, top, xOf(to - goes) - xOf(from + fade) - 12,
                       rowHeight);
    if (words.width() > 24)
        painter.drawText(
            words, Qt::AlignVCenter | Qt::AlignLeft,
            painter.fontMetrics().elidedText(QString::fromStdString(layer.name), Qt::ElideRight,
                                             static_cast<int>(words.width())));
}

void TimeLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& theme = Theme::now();
    painter.fillRect(rect(), theme["sheet-raised"]);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont small = font();
    small.setPixelSize(10);
    painter.setFont(small);
    double top = rim;
    for (const Layer* layer : rows()) {
        paintRow(painter, *layer, top);
        top += rowHeight + rowGap;
    }
    if (const auto moment = session_.clock().moment()) {
        const double x = xOf(*moment);
        painter.setPen(QPen(theme["sheet-raised"], 4));
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
        painter.setPen(QPen(theme["ink"], 2));
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme[hasFocus() ? "accent" : "seam"], hasFocus() ? 2 : 1));
    painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

TimeStrip::TimeStrip(Session& session, Canvas& canvas, QWidget* parent)
    : QWidget(parent), session_(session) {
    setObjectName("timeStrip");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 8, 14, 8);
    column->setSpacing(6);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto word = [&](const QString& words, const char* id, const QString& tip) {
        QToolButton* button = wordButton(words, id, tip);
        row->addWidget(button);
        return button;
    };
    PieceClock& clock = session_.clock();
    connect(word(tr("−1"), "pieceFrameBack", tr("A frame back")), &QToolButton::clicked, this,
            [&clock] { clock.stepBy(-1); });
    play_ = word(tr("Play"), "piecePlay", tr("Plays the piece with its sound"));
    play_->setMinimumWidth(56);
    connect(play_, &QToolButton::clicked, this,
            [&clock] { clock.playing() ? clock.pause() : clock.play(); });
    connect(word(tr("+1"), "pieceFrameOn", tr("A frame on")), &QToolButton::clicked, this,
            [&clock] { clock.stepBy(1); });
    loop_ = word(tr("Again and again"), "pieceLoop", tr("Begins again when it ends"));
    loop_->setCheckable(true);
    connect(loop_, &QToolButton::toggled, this, [&clock](bool on) { clock.setLoops(on); });
    row->addWidget(clock_ = new MomentField("pieceClock", tr("The moment that is seen"), 84));
    row->addWidget(length_ = named(softLabel({}), "pieceLength"));
    row->addStretch();
    row->addWidget(told_ = named(softLabel({}), "pieceTold"));
    column->addLayout(row);
    column->addWidget(line_ = new TimeLine(session_));
    connect(line_, &TimeLine::asked, this, [&clock](double at) { clock.goTo(at); });
    connect(clock_, &QLineEdit::returnPressed, this, &TimeStrip::takeTyped);
    for (const auto signal : {&Session::kitChanged, &Session::chosen, &Session::opened})
        connect(&session_, signal, this, &TimeStrip::refresh);
    for (const auto signal : {&PieceClock::moved, &PieceClock::changed})
        connect(&clock, signal, this, &TimeStrip::refresh);
    connect(&canvas, &Canvas::stepPainted, this, [&clock] { clock.painted(); });
    refresh();
}

void TimeStrip::refresh() {
    PieceClock& clock = session_.clock();
    setVisible(clock.runs());
    if (!clock.runs()) return;
    play_->setText(clock.playing() ? tr("Pause") : tr("Play"));
    clock_->showMoment(*clock.moment());
    const FrameRate rate = rateOf(*session_.piece());
    length_->setText(tr("of %1 · %2 frames a second")
                         .arg(momentWords(clock.length()))
                         .arg(rate.perSecond(), 0, 'g', 4));
    QString told;
    if (clock.dropped() > 0)
        told = clock.dropped() == 1 ? tr("1 frame came too late")
                                    : tr("%1 frames came too late").arg(clock.dropped());
    if (told.isEmpty()) told = line_->leftOut();
    told_->setText(told);
    line_->refresh();
}

void TimeStrip::takeTyped() {
    const QString typed = clock_->taken();
    const auto seconds = secondsTyped(typed);
    if (!seconds || *seconds > session_.clock().length() + 1e-3) {
        session_.tell(tr("“%1” is no moment of this piece, which lasts %2.")
                          .arg(typed, momentWords(session_.clock().length())),
                      true);
        return refresh();
    }
    session_.clock().goTo(*seconds);
    line_->setFocus();
}

}  // namespace zl::app
