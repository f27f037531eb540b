// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/fields.h"

#include <QColorDialog>
#include <QDir>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QPointer>
#include <QStyle>
#include <QStyleOptionFrame>
#include <QToolButton>
#include <QToolTip>
#include <cmath>

#include "base/arithmetic.h"
#include "look/theme.h"
#include "widgets/colour_offer.h"

namespace zl::app {
namespace {

void setBad(QWidget* field, bool bad) {
    if (field->property("bad").toBool() == bad) return;
    field->setProperty("bad", bad);
    field->update();
}

QLineEdit* typedIn(const QWidget& window) {
    auto* line = qobject_cast<QLineEdit*>(window.focusWidget());
    return line && line->isModified() ? line : nullptr;
}

}  // namespace

void sendTyped(const QWidget& window) {
    QLineEdit* line = typedIn(window);
    if (!line) return;
    line->clearFocus();
    line->setFocus();
}

void leaveTyped(const QWidget& window) {
    sendTyped(window);
    if (QLineEdit* line = typedIn(window)) line->setModified(false);
}

NumberField::NumberField(const QString& name, const QString& unit, QWidget* parent)
    : QLineEdit(parent), unit_(unit) {
    setAccessibleName(name);
    const int unitWidth =
        unit.isEmpty() ? 0 : QFontMetrics(interfaceFont(11)).horizontalAdvance(unit) + 6;
    setTextMargins(0, 0, unitWidth, 0);
    setMinimumWidth(72);
    connect(this, &QLineEdit::returnPressed, this, &NumberField::commit);
}

void NumberField::setRange(double low, double high, int decimals) {
    low_ = low;
    high_ = high;
    decimals_ = decimals;
}

void NumberField::setWordsForZero(const QString& words) {
    wordsForZero_ = words;
}

QString NumberField::textOf(double value) const {
    if (value == 0 && !wordsForZero_.isEmpty()) return wordsForZero_;
    QString text = QString::number(value, 'f', decimals_);
    if (text.contains('.')) {
        while (text.endsWith('0')) text.chop(1);
        if (text.endsWith('.')) text.chop(1);
    }
    return text == "-0" ? QString("0") : text;
}

void NumberField::show(double value) {
    shown_ = value;
    if (hasFocus() && isModified()) return;
    setText(textOf(value));
    mark({});
}

void NumberField::mark(const QString& sentence) {
    if (sentence == refusal_) return;  // a good field that stays good has nothing to say
    refusal_ = sentence;
    setBad(this, !sentence.isEmpty());
    Q_EMIT refused(sentence);
}

void NumberField::refuse(double typed, const QString& sentence) {
    setText(textOf(typed));
    setModified(true);
    mark(sentence);
}

void NumberField::commit() {
    if (!isModified()) return;
    const bool zero = !wordsForZero_.isEmpty() &&
                      text().trimmed().compare(wordsForZero_, Qt::CaseInsensitive) == 0;
    const auto value = zero ? Result<double>(0) : evaluate(text().toStdString());
    if (!value) return mark(QString::fromStdString(value.error().sentence()));
    if (*value < low_ || *value > high_)
        return mark(
            tr("%1 goes from %2 to %3.").arg(accessibleName(), textOf(low_), textOf(high_)));
    setModified(false);
    mark({});
    setText(textOf(*value));
    if (textOf(*value) != textOf(shown_)) Q_EMIT committed(*value);
}

// While it is refused, its tool tip says why.
bool NumberField::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || refusal_.isEmpty()) return QLineEdit::event(event);
    QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), refusal_, this);
    return true;
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    if (key == Qt::Key_Up || key == Qt::Key_Down) {
        commit();
        if (property("bad").toBool()) return;
        const double step = (decimals_ >= 2 && high_ <= 10 ? 0.05 : 1) *
                            (event->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1);
        const double next = std::clamp(shown_ + (key == Qt::Key_Up ? step : -step), low_, high_);
        if (next != shown_) Q_EMIT committed(next);
        return;
    }
    if (key == Qt::Key_Escape) {
        setModified(false);
        setText(textOf(shown_));
        mark({});
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void NumberField::focusOutEvent(QFocusEvent* event) {
    commit();
    QLineEdit::focusOutEvent(event);
}

void NumberField::paintEvent(QPaintEvent* event) {
    QLineEdit::paintEvent(event);
    if (unit_.isEmpty() || text() == wordsForZero_) return;
    QPainter painter(this);
    painter.setFont(interfaceFont(11));
    painter.setPen(Theme::now()["ink-soft"]);
    painter.drawText(rect().adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, unit_);
}

void PathField::paintEvent(QPaintEvent* event) {
    const int room = width() - 20;
    if (hasFocus() || fontMetrics().horizontalAdvance(text()) <= room)
        return QLineEdit::paintEvent(event);
    QStyleOptionFrame frame;
    initStyleOption(&frame);
    QPainter painter(this);
    style()->drawPrimitive(QStyle::PE_PanelLineEdit, &frame, &painter, this);
    painter.setPen(
        palette().color(isEnabled() ? QPalette::Active : QPalette::Disabled, QPalette::Text));
    painter.drawText(rect().adjusted(10, 0, -10, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     fontMetrics().elidedText(text(), Qt::ElideLeft, room));
}

QString wholePath(const QString& typed) {
    QString path = typed.trimmed();
    if (path.isEmpty()) return path;
    if (path == "~" || path.startsWith("~/")) path.replace(0, 1, QDir::homePath());
    return QDir::cleanPath(QDir::home().absoluteFilePath(path));
}

ColourField::ColourField(const QString& name, QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    text_ = new QLineEdit;
    text_->setAccessibleName(name);
    text_->setMinimumWidth(84);
    swatch_ = new QToolButton;
    swatch_->setAccessibleName(tr("%1: choose").arg(name));
    swatch_->setFixedSize(28, 28);
    row->addWidget(text_, 1);
    row->addWidget(swatch_);
    connect(text_, &QLineEdit::editingFinished, this, &ColourField::commit);
    connect(swatch_, &QToolButton::clicked, this, &ColourField::offer);
}

void ColourField::show(Colour colour) {
    fill(colour);
}

void ColourField::showNone() {
    fill({});
}

void ColourField::fill(std::optional<Colour> colour) {
    shown_ = colour;
    if (!(text_->hasFocus() && text_->isModified()))
        text_->setText(colour ? QString::fromStdString(nameOf(*colour)) : QString());
    QPixmap pixmap(20, 20);
    pixmap.fill(colour ? QColor(colour->red, colour->green, colour->blue) : Qt::transparent);
    QPainter painter(&pixmap);
    painter.setPen(Theme::now()["seam-strong"]);
    painter.drawRect(0, 0, 19, 19);
    if (!colour) painter.drawLine(1, 18, 18, 1);
    painter.end();
    swatch_->setIcon(pixmap);
    swatch_->setIconSize({20, 20});
}

void ColourField::commit() {
    if (!text_->isModified()) return;
    QString typed = text_->text().trimmed();
    if (typed.isEmpty() && !text_->placeholderText().isEmpty()) {
        setBad(text_, false);
        Q_EMIT refused(QString());
        text_->setModified(false);
        if (shown_) Q_EMIT cleared();
        return;
    }
    if (!typed.startsWith('#')) typed.prepend('#');
    const auto colour = parseColour(typed.toStdString());
    // See-through colours only where the owner says that they mean something.
    const bool takesAlpha = property("takesAlpha").toBool(),
               good = colour && (colour->alpha == 255 || takesAlpha);
    setBad(text_, !good);
    const QString how = takesAlpha ? tr("Write #RRGGBB, such as #FFC653, or #RRGGBBAA.")
                                   : tr("Write #RRGGBB, such as #FFC653.");
    Q_EMIT refused(good ? QString()
                        : tr("“%1” is not a colour this field takes. %2").arg(text_->text(), how));
    if (!good) return;
    text_->setModified(false);
    if (shown_ != *colour) Q_EMIT committed(*colour);
}

// The kit's own colours first, then one from the piece, then all there are.
void ColourField::offer() {
    auto* offer = window()->findChild<ColourOffer*>();
    if (!offer) return choose();
    auto* menu = new QMenu(this);
    menu->setObjectName("colours");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const std::vector<Colour> kept = offer->colours();
    for (const Colour& own : kept) {
        if (own.alpha != 255 && !property("takesAlpha").toBool()) continue;
        QPixmap pixmap(16, 16);
        pixmap.fill(QColor(own.red, own.green, own.blue));
        QAction* action = menu->addAction(QIcon(pixmap), QString::fromStdString(nameOf(own)), this,
                                          [this, own] { Q_EMIT committed(own); });
        action->setObjectName("own-" + QString::fromStdString(nameOf(own)).mid(1));
    }
    if (!kept.empty()) menu->addSeparator();
    if (shown_) {
        const Colour colour = *shown_;
        const QString name = QString::fromStdString(nameOf(colour));
        if (std::find(kept.begin(), kept.end(), colour) != kept.end())
            menu->addAction(tr("Take %1 out of the kit's colours").arg(name), this,
                            [offer, colour] { offer->drop(colour); })
                ->setObjectName("dropColour");
        else
            menu->addAction(tr("Keep %1 in the kit").arg(name), this,
                            [offer, colour] { offer->keep(colour); })
                ->setObjectName("keepColour");
    }
    menu->addAction(tr("Pick from the piece"), this,
                    [this, offer] {
                        offer->pickFromPiece([self = QPointer(this)](Colour colour) {
                            if (self) Q_EMIT self->committed(colour);
                        });
                    })
        ->setObjectName("pickColour");
    menu->addAction(tr("All colours …"), this, &ColourField::choose)->setObjectName("allColours");
    menu->popup(swatch_->mapToGlobal(QPoint(0, swatch_->height())));
}

void ColourField::choose() {
    const Colour begin = shown_.value_or(Colour{255, 255, 255, 255});
    auto* dialog = new QColorDialog(QColor(begin.red, begin.green, begin.blue), this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setOption(QColorDialog::DontUseNativeDialog);
    connect(dialog, &QColorDialog::colorSelected, this, [this](const QColor& c) {
        Q_EMIT committed({static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                          static_cast<std::uint8_t>(c.blue()), 255});
    });
    dialog->open();
}

}  // namespace zl::app
