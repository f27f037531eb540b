// SPDX-License-Identifier: GPL-3.0-or-later
#include "look/style.h"

#include <QAbstractScrollArea>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>
#include <QStyleFactory>
#include <QStyleOption>
#include <QToolButton>

#include "look/theme.h"

namespace zl::app {
namespace {

constexpr double corner = 4;
constexpr int buttonRoom = 12, fieldRoom = 7, arrowRoom = 20, leastText = 20, around = 4;  // px
constexpr int barWidth = 10, leastHandle = 24;

bool is(const QWidget* widget, const char* property) {
    return widget && widget->property(property).toBool();
}

// A list to choose from, in a dialog or under a field.
bool isOfRows(const QWidget* widget) {
    return widget && (is(widget, "field") || widget->inherits("QComboBoxListView"));
}

// A box with a line of `width` inside its edge; colours without alpha are left out.
void drawBox(QPainter& painter, const QRectF& box, const QColor& fill, const QColor& line,
             double width = 1, double radius = corner) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(fill.alpha() ? QBrush(fill) : QBrush(Qt::NoBrush));
    painter.setPen(line.alpha() ? QPen(line, width) : QPen(Qt::NoPen));
    const double in = line.alpha() ? width / 2 : 0;
    painter.drawRoundedRect(box.adjusted(in, in, -in, -in), radius - in, radius - in);
    painter.restore();
}

struct Dress {
    QColor fill, line, words;
    int width = 1;      // of the line
    bool ring = false;  // what is filled strongly says its focus by a ring inside
};

// A button by what it is for and what is done with it.
Dress dressOf(const QStyleOption& option, const QWidget* widget) {
    const QPalette& p = option.palette;
    const bool enabled = option.state & QStyle::State_Enabled,
               focus = enabled && option.state & QStyle::State_HasFocus;
    const bool over = enabled && option.state & QStyle::State_MouseOver,
               down = option.state & QStyle::State_Sunken;
    const bool on = option.state & QStyle::State_On;
    const QColor none(0, 0, 0, 0), accent = p.color(QPalette::Highlight),
                                   pale = p.color(QPalette::AlternateBase);
    const QColor raised = p.color(QPalette::Active, QPalette::Button),
                 words = p.color(QPalette::ButtonText);
    const QColor soft = p.color(QPalette::Active, QPalette::PlaceholderText),
                 line = p.color(QPalette::Mid), seam = p.color(QPalette::Midlight);
    const bool isPush = qobject_cast<const QPushButton*>(widget);
    if (!enabled && on && !isPush && !is(widget, "words") && !is(widget, "cell"))
        return {none, seam, soft};
    if (!enabled && (isPush || is(widget, "words") || is(widget, "cell")))
        return {on ? seam : p.color(QPalette::Active, QPalette::Window), seam, soft};
    if (is(widget, "primary") || is(widget, "mend")) {
        const QColor strong = is(widget, "mend") ? words : accent,
                     inner = is(widget, "mend") ? p.color(QPalette::Window)
                                                : p.color(QPalette::HighlightedText);
        const QColor fill = down ? strong.darker(118) : over ? strong.lighter(112) : strong;
        return {fill, fill, inner, 1, focus};
    }
    if (is(widget, "place"))
        return {over || focus ? raised : none, over || focus ? line : seam, words};
    if (is(widget, "cell"))
        return {on ? accent : raised, focus || on ? accent : line, words, focus ? 2 : 1};
    if (isPush || is(widget, "words"))
        return {down         ? seam
                : over || on ? pale
                             : raised,
                focus || on ? accent : line, words, focus ? 2 : 1};
    return {over || on || down ? pale : none, on || focus ? accent : none, enabled ? words : soft};
}

void drawDress(QPainter& painter, const QRectF& box, const Dress& dress) {
    drawBox(painter, box, dress.fill, dress.line, dress.width);
    constexpr double inside = 3, ringWidth = 1.5;
    if (dress.ring)
        drawBox(painter, box.adjusted(inside, inside, -inside, -inside), Qt::transparent,
                dress.words, ringWidth, 2);
}

QColor lineOfField(const QStyleOption& option, const QWidget* widget, double& width) {
    const bool enabled = option.state & QStyle::State_Enabled,
               focus = enabled && option.state & QStyle::State_HasFocus;
    const bool bad = is(widget, "bad");
    width = focus || bad ? 2 : 1;
    return option.palette.color(bad       ? QPalette::BrightText
                                : focus   ? QPalette::Highlight
                                : enabled ? QPalette::Mid
                                          : QPalette::Midlight);
}

void drawField(QPainter& painter, const QStyleOption& option, const QWidget* widget) {
    double width = 1;
    const QColor line = lineOfField(option, widget, width);
    const bool enabled = option.state & QStyle::State_Enabled;
    drawBox(painter, option.rect,
            option.palette.color(QPalette::Active, enabled ? QPalette::Base : QPalette::Window),
            line, width);
}

// The box of a check box, or the ring of one of several.
void drawTick(QPainter& painter, const QStyleOption& option, bool ofSeveral) {
    const bool enabled = option.state & QStyle::State_Enabled,
               focus = option.state & QStyle::State_HasFocus;
    const bool on = option.state & QStyle::State_On, partly = option.state & QStyle::State_NoChange;
    const QPalette& p = option.palette;
    const QColor accent = p.color(enabled ? QPalette::Highlight : QPalette::Midlight);
    const QColor line = on || partly || (focus && enabled)
                            ? accent
                            : p.color(enabled ? QPalette::Mid : QPalette::Midlight);
    const QRectF box = option.rect;
    const double side = std::min(box.width(), box.height());
    drawBox(painter, {box.left(), box.top(), side, side},
            on || partly ? accent : p.color(QPalette::Base), line, 1, ofSeveral ? side / 2 : 3);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const auto at = [&](double x, double y) { return box.topLeft() + QPointF(x, y) * side; };
    painter.setPen(
        QPen(p.color(QPalette::HighlightedText), 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    if (on && ofSeveral) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(p.color(QPalette::HighlightedText));
        painter.drawEllipse(at(0.5, 0.5), side * 0.2, side * 0.2);
    } else if (on) {
        painter.drawPolyline(QPolygonF({at(0.24, 0.52), at(0.43, 0.71), at(0.77, 0.31)}));
    } else if (partly) {
        painter.drawLine(at(0.28, 0.5), at(0.72, 0.5));
    }
    painter.restore();
}

// A panel of the window: its ground, and the seams towards its neighbours.
void drawPanel(QPainter& painter, const QStyleOption& option, const QString& name) {
    const QRect r = option.rect;
    const QColor ground = option.palette.color(QPalette::Window),
                 seam = option.palette.color(QPalette::Midlight);
    static const QStringList panels{"header",   "canvasBar", "rail", "bench",
                                    "findings", "notice",    "seam"};
    if (!panels.contains(name)) return;
    if (name == "notice") return drawBox(painter, r, ground, Qt::transparent);
    if (name == "seam") return painter.fillRect(r, seam);
    painter.fillRect(r, ground);
    if (name == "header" || name == "canvasBar")
        painter.fillRect(r.left(), r.bottom(), r.width(), 1, seam);
    if (name == "rail") painter.fillRect(r.right(), r.top(), 1, r.height(), seam);
    if (name == "bench") painter.fillRect(r.left(), r.top(), 1, r.height(), seam);
    if (name == "findings") {
        painter.fillRect(r.left(), r.top(), r.width(), 1, seam);
        painter.fillRect(r.left(), r.top(), 1, r.height(), seam);
        painter.fillRect(r.right(), r.top(), 1, r.height(), seam);
    }
}

// Where the handle of a scroll bar lies along it.
QRect handleOf(const QStyleOptionSlider& bar) {
    const bool across = bar.orientation == Qt::Horizontal;
    const int room = across ? bar.rect.width() : bar.rect.height();
    const int range = bar.maximum - bar.minimum;
    int length = room;
    if (range > 0)
        length = std::min(
            room, std::max(leastHandle, static_cast<int>(static_cast<qint64>(bar.pageStep) * room /
                                                         (range + bar.pageStep))));
    const int at = QStyle::sliderPositionFromValue(bar.minimum, bar.maximum, bar.sliderPosition,
                                                   room - length, bar.upsideDown);
    return across ? QRect(bar.rect.left() + at, bar.rect.top(), length, bar.rect.height())
                  : QRect(bar.rect.left(), bar.rect.top() + at, bar.rect.width(), length);
}

void drawScrollBar(QPainter& painter, const QStyleOptionSlider& bar) {
    if (bar.maximum <= bar.minimum) return;
    const bool over = bar.state & QStyle::State_MouseOver || bar.state & QStyle::State_Sunken;
    drawBox(painter, QRectF(handleOf(bar)).adjusted(2, 2, -2, -2),
            bar.palette.color(over ? QPalette::Mid : QPalette::Midlight), Qt::transparent, 1, 3);
}

void drawSlider(QPainter& painter, const QStyleOptionSlider& slider, const QStyle& style,
                const QWidget* widget) {
    const QRectF groove =
        style.subControlRect(QStyle::CC_Slider, &slider, QStyle::SC_SliderGroove, widget);
    const QRectF handle =
        style.subControlRect(QStyle::CC_Slider, &slider, QStyle::SC_SliderHandle, widget);
    const bool enabled = slider.state & QStyle::State_Enabled,
               focus = slider.state & QStyle::State_HasFocus;
    const QColor line = slider.palette.color(enabled ? QPalette::Highlight : QPalette::Midlight);
    drawBox(painter, {groove.left(), groove.center().y() - 1.5, groove.width(), 3},
            slider.palette.color(enabled ? QPalette::Mid : QPalette::Midlight), Qt::transparent, 1,
            1);
    constexpr double across = 14;
    drawBox(painter,
            {handle.center().x() - across / 2, handle.center().y() - across / 2, across, across},
            focus && enabled ? line : slider.palette.color(QPalette::Base), line, 1.5, across / 2);
}

}  // namespace

Style::Style() : QProxyStyle(QStyleFactory::create("Fusion")) {}

void Style::polish(QWidget* widget) {
    QProxyStyle::polish(widget);
    if (is(widget, "onLedge")) widget->setPalette(ledgePalette());
    if (is(widget, "primary") || is(widget, "mend")) {
        QFont font = widget->font();
        font.setWeight(QFont::DemiBold);
        widget->setFont(font);
    }
    if (auto* label = qobject_cast<QLabel*>(widget)) {
        // Names that people give are no markup; who writes some says so.
        if (label->textFormat() == Qt::AutoText) label->setTextFormat(Qt::PlainText);
        if (is(label, "soft")) label->setForegroundRole(QPalette::PlaceholderText);
        if (label->objectName() == "refusal") label->setForegroundRole(QPalette::BrightText);
    }
    if (auto* area = qobject_cast<QScrollArea*>(widget)) area->setFrameShape(QFrame::NoFrame);
    if (auto* text = qobject_cast<QPlainTextEdit*>(widget))
        text->document()->setDocumentMargin(fieldRoom);
    if (widget->objectName() == "seam") {
        widget->setAttribute(Qt::WA_StyledBackground);
        widget->setFixedHeight(1);
    }
    if (widget->inherits("QComboBoxListView")) return;
    if (auto* list = qobject_cast<QListWidget*>(widget); list && !is(list, "field")) {
        list->setFrameShape(QFrame::NoFrame);
        list->viewport()->setAutoFillBackground(false);
    }
}

void Style::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                          const QWidget* widget) const {
    switch (element) {
        case PE_Widget:
            if (widget) return drawPanel(*painter, *option, widget->objectName());
            break;
        case PE_PanelButtonCommand:
        case PE_PanelButtonTool:
            return drawDress(*painter, option->rect, dressOf(*option, widget));
        case PE_IndicatorCheckBox:
        case PE_IndicatorRadioButton:
            return drawTick(*painter, *option, element == PE_IndicatorRadioButton);
        case PE_PanelLineEdit:
            return drawField(*painter, *option, widget);
        case PE_Frame:
            if (qobject_cast<const QAbstractScrollArea*>(widget))
                return drawField(*painter, *option, widget);
            if (widget && widget->inherits("QComboBoxPrivateContainer"))
                return drawPrimitive(PE_FrameMenu, option, painter, widget);
            break;
        case PE_FrameFocusRect:
            // A button and a field say it by their line.
            if (qobject_cast<const QPushButton*>(widget) ||
                qobject_cast<const QToolButton*>(widget) || qobject_cast<const QComboBox*>(widget))
                return;
            return drawBox(*painter, option->rect, Qt::transparent,
                           option->palette.color(QPalette::Highlight), 1, 3);
        case PE_PanelMenu:
            return painter->fillRect(option->rect, option->palette.color(QPalette::Base));
        case PE_FrameMenu:
            painter->setPen(option->palette.color(QPalette::Mid));
            painter->setBrush(Qt::NoBrush);
            return painter->drawRect(option->rect.adjusted(0, 0, -1, -1));
        case PE_PanelTipLabel:
            return painter->fillRect(option->rect, option->palette.color(QPalette::ToolTipBase));
        default:
            break;
    }
    QProxyStyle::drawPrimitive(element, option, painter, widget);
}

// A row that is chosen is pale, not in the colour of what is to be done.
template <class Row>
void Style::drawQuietly(ControlElement element, const Row& row, QPainter* painter,
                        const QWidget* widget) const {
    Row quiet = row;
    quiet.palette.setColor(QPalette::Highlight, row.palette.color(QPalette::AlternateBase));
    quiet.palette.setColor(QPalette::HighlightedText, row.palette.color(QPalette::Text));
    QProxyStyle::drawControl(element, &quiet, painter, widget);
}

void Style::drawControl(ControlElement element, const QStyleOption* option, QPainter* painter,
                        const QWidget* widget) const {
    switch (element) {
        case CE_PushButtonBevel:
            return drawPrimitive(PE_PanelButtonCommand, option, painter, widget);
        case CE_PushButtonLabel:
            if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option)) {
                QStyleOptionButton plain = *button;
                plain.features &= ~QStyleOptionButton::HasMenu;  // its words say that more follows
                const Dress dress = dressOf(*option, widget);
                for (const auto group : {QPalette::Active, QPalette::Inactive, QPalette::Disabled})
                    plain.palette.setColor(group, QPalette::ButtonText, dress.words);
                return QProxyStyle::drawControl(element, &plain, painter, widget);
            }
            break;
        case CE_ComboBoxLabel:
            if (const auto* box = qstyleoption_cast<const QStyleOptionComboBox*>(option)) {
                const QRect words = subControlRect(CC_ComboBox, box, SC_ComboBoxEditField, widget);
                return drawItemText(
                    painter, words, Qt::AlignLeft | Qt::AlignVCenter, box->palette,
                    box->state & State_Enabled,
                    box->fontMetrics.elidedText(box->currentText, Qt::ElideRight, words.width()),
                    QPalette::Text);
            }
            break;
        case CE_ItemViewItem:
            if (const auto* item = qstyleoption_cast<const QStyleOptionViewItem*>(option))
                return drawQuietly(element, *item, painter, widget);
            break;
        case CE_MenuItem:
            if (const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(option))
                return drawQuietly(element, *item, painter, widget);
            break;
        case CE_MenuBarItem:
            if (const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(option)) {
                if (item->state & State_Selected && item->state & State_Enabled)
                    drawBox(*painter, QRectF(item->rect).adjusted(0, 1, 0, -2),
                            item->palette.color(QPalette::AlternateBase), Qt::transparent);
                const int keys = styleHint(SH_UnderlineShortcut, item, widget, nullptr)
                                     ? Qt::TextShowMnemonic
                                     : Qt::TextHideMnemonic;
                return drawItemText(painter, item->rect,
                                    Qt::AlignCenter | keys | Qt::TextDontClip | Qt::TextSingleLine,
                                    item->palette, item->state & State_Enabled, item->text,
                                    QPalette::ButtonText);
            }
            break;
        case CE_MenuBarEmptyArea:
            painter->fillRect(option->rect, option->palette.color(QPalette::Window));
            return painter->fillRect(option->rect.left(), option->rect.bottom(),
                                     option->rect.width(), 1,
                                     option->palette.color(QPalette::Midlight));
        case CE_ProgressBarGroove:
            return drawBox(*painter, option->rect, option->palette.color(QPalette::Window),
                           option->palette.color(QPalette::Mid));
        case CE_ProgressBarContents:
            if (const auto* bar = qstyleoption_cast<const QStyleOptionProgressBar*>(option)) {
                const double share = bar->maximum > bar->minimum
                                         ? (bar->progress - bar->minimum) /
                                               static_cast<double>(bar->maximum - bar->minimum)
                                         : 0;
                const QRectF inner = QRectF(bar->rect).adjusted(1, 1, -1, -1);
                if (share <= 0) return;
                return drawBox(*painter,
                               {inner.left(), inner.top(), inner.width() * std::min(1.0, share),
                                inner.height()},
                               bar->palette.color(QPalette::AlternateBase), Qt::transparent, 1, 3);
            }
            break;
        case CE_ProgressBarLabel:
            if (const auto* bar = qstyleoption_cast<const QStyleOptionProgressBar*>(option))
                return drawItemText(painter, bar->rect, Qt::AlignCenter, bar->palette, true,
                                    bar->text, QPalette::WindowText);
            break;
        default:
            break;
    }
    QProxyStyle::drawControl(element, option, painter, widget);
}

void Style::drawComplexControl(ComplexControl control, const QStyleOptionComplex* option,
                               QPainter* painter, const QWidget* widget) const {
    if (control == CC_ToolButton)
        if (const auto* button = qstyleoption_cast<const QStyleOptionToolButton*>(option)) {
            const Dress dress = dressOf(*option, widget);
            drawDress(*painter, option->rect, dress);
            QStyleOptionToolButton label = *button;
            label.features &= ~(QStyleOptionToolButton::HasMenu | QStyleOptionToolButton::Arrow);
            for (const auto group : {QPalette::Active, QPalette::Inactive, QPalette::Disabled})
                label.palette.setColor(group, QPalette::ButtonText, dress.words);
            const int side = is(widget, "words") ? buttonRoom - 1 : is(widget, "cell") ? 1 : around;
            label.rect.adjust(side, 1, -side, -1);
            return drawControl(CE_ToolButtonLabel, &label, painter, widget);
        }
    if (control == CC_ComboBox) {
        drawField(*painter, *option, widget);
        const QRectF arrow = subControlRect(control, option, SC_ComboBoxArrow, widget);
        constexpr double box = 16;
        return drawIcon(*painter, "open",
                        {arrow.center().x() - box / 2, arrow.center().y() - box / 2, box, box},
                        option->palette.color(QPalette::Mid));
    }
    if (const auto* slider = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
        if (control == CC_ScrollBar) return drawScrollBar(*painter, *slider);
        if (control == CC_Slider) return drawSlider(*painter, *slider, *this, widget);
    }
    QProxyStyle::drawComplexControl(control, option, painter, widget);
}

QRect Style::subElementRect(SubElement element, const QStyleOption* option,
                            const QWidget* widget) const {
    if (element == SE_LineEditContents)
        return option->rect.adjusted(fieldRoom, around, -fieldRoom, -around);
    if (element == SE_ProgressBarGroove || element == SE_ProgressBarContents ||
        element == SE_ProgressBarLabel)
        return option->rect;
    return QProxyStyle::subElementRect(element, option, widget);
}

QRect Style::subControlRect(ComplexControl control, const QStyleOptionComplex* option,
                            SubControl part, const QWidget* widget) const {
    const QRect r = option->rect;
    if (control == CC_ComboBox) {
        if (part == SC_ComboBoxEditField) return r.adjusted(fieldRoom + 2, 1, -arrowRoom - 1, -1);
        if (part == SC_ComboBoxArrow)
            return {r.right() - arrowRoom - 2, r.top(), arrowRoom, r.height()};
    }
    if (control == CC_ScrollBar)
        if (const auto* bar = qstyleoption_cast<const QStyleOptionSlider*>(option)) {
            const QRect handle = handleOf(*bar);
            const bool across = bar->orientation == Qt::Horizontal;
            switch (part) {
                case SC_ScrollBarSlider:
                    return handle;
                case SC_ScrollBarGroove:
                    return r;
                case SC_ScrollBarSubPage:
                    return across ? QRect(r.left(), r.top(), handle.left() - r.left(), r.height())
                                  : QRect(r.left(), r.top(), r.width(), handle.top() - r.top());
                case SC_ScrollBarAddPage:
                    return across ? QRect(handle.right() + 1, r.top(), r.right() - handle.right(),
                                          r.height())
                                  : QRect(r.left(), handle.bottom() + 1, r.width(),
                                          r.bottom() - handle.bottom());
                default:
                    return {};
            }
        }
    return QProxyStyle::subControlRect(control, option, part, widget);
}

QSize Style::sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& contents,
                              const QWidget* widget) const {
    const int high = std::max(contents.height(), leastText) + 2 * around;
    switch (type) {
        case CT_PushButton: {
            const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option);
            const bool wordless = button && button->text.isEmpty();
            return {contents.width() + 2 * (wordless ? around : buttonRoom) + 2, high};
        }
        case CT_ToolButton:
            if (is(widget, "words")) return {contents.width() + 2 * buttonRoom - 2, high};
            if (is(widget, "cell")) return contents + QSize(2, 2);
            return contents + QSize(11, 10);
        case CT_LineEdit:
            return {contents.width() + 2 * fieldRoom + 2, high};
        case CT_ComboBox:
            return {contents.width() + 2 * fieldRoom + 2 + arrowRoom, high};
        case CT_MenuBarItem:
            return contents + QSize(20, 8);
        case CT_MenuItem: {
            QSize size = QProxyStyle::sizeFromContents(type, option, contents, widget);
            if (const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(option);
                item && item->menuItemType != QStyleOptionMenuItem::Separator)
                size = {size.width() + 12, std::max(size.height(), 26)};
            return size;
        }
        case CT_ItemViewItem: {
            const QSize size = QProxyStyle::sizeFromContents(type, option, contents, widget);
            constexpr int row = 26;
            return isOfRows(widget) ? QSize(size.width(), std::max(size.height(), row)) : size;
        }
        case CT_ProgressBar:
            return {contents.width(), leastText};
        default:
            return QProxyStyle::sizeFromContents(type, option, contents, widget);
    }
}

int Style::pixelMetric(PixelMetric metric, const QStyleOption* option,
                       const QWidget* widget) const {
    switch (metric) {
        case PM_ScrollBarExtent:
            return barWidth;
        case PM_ScrollBarSliderMin:
            return leastHandle;
        case PM_DefaultFrameWidth:
            return qobject_cast<const QAbstractScrollArea*>(widget)
                       ? 2
                       : QProxyStyle::pixelMetric(metric, option, widget);
        case PM_FocusFrameHMargin:
            return isOfRows(widget) ? 6 : QProxyStyle::pixelMetric(metric, option, widget);
        case PM_CheckBoxLabelSpacing:
        case PM_RadioButtonLabelSpacing:
            return 8;
        case PM_ToolTipLabelFrameWidth:
            return 5;
        case PM_MenuBarHMargin:
            return 4;
        case PM_MenuBarVMargin:
            return 1;
        case PM_MenuPanelWidth:
        case PM_MenuBarPanelWidth:
            return metric == PM_MenuPanelWidth ? 1 : 0;
        case PM_MenuVMargin:
        case PM_MenuHMargin:
            return 4;
        case PM_MenuButtonIndicator:
        case PM_ButtonShiftHorizontal:
        case PM_ButtonShiftVertical:
            return 0;
        default:
            return QProxyStyle::pixelMetric(metric, option, widget);
    }
}

int Style::styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget,
                     QStyleHintReturn* more) const {
    switch (hint) {
        case SH_DialogButtonBox_ButtonsHaveIcons:
        case SH_ComboBox_Popup:
        case SH_ScrollBar_Transient:
            return 0;
        default:
            return QProxyStyle::styleHint(hint, option, widget, more);
    }
}

namespace {

QPalette paletteOf(const char* ground, const char* raised, const char* words, const char* soft,
                   const char* line, const char* seam, const char* over, const char* accent,
                   const char* onAccent, const char* pass, const char* watch, const char* fail) {
    const Theme& t = Theme::now();
    QPalette p;
    const std::pair<QPalette::ColorRole, const char*> roles[] = {
        {QPalette::Window, ground},
        {QPalette::WindowText, words},
        {QPalette::Base, raised},
        {QPalette::Text, words},
        {QPalette::Button, raised},
        {QPalette::ButtonText, words},
        {QPalette::PlaceholderText, soft},
        {QPalette::Mid, line},
        {QPalette::Midlight, seam},
        {QPalette::AlternateBase, over},
        {QPalette::Highlight, accent},
        {QPalette::HighlightedText, onAccent},
        {QPalette::BrightText, fail},
        {QPalette::ToolTipBase, "ledge"},
        {QPalette::ToolTipText, "on-ledge"},
        {QPalette::Light, raised},
        {QPalette::Dark, line},
        {QPalette::Link, pass},
        {QPalette::LinkVisited, watch}};
    for (const auto& [role, token] : roles) p.setColor(role, t[token]);
    for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText})
        p.setColor(QPalette::Disabled, role, t[soft]);
    return p;
}

}  // namespace

QPalette::ColorRole roleOf(Verdict verdict) {
    switch (verdict) {
        case Verdict::pass:
            return QPalette::Link;
        case Verdict::watch:
            return QPalette::LinkVisited;
        case Verdict::fail:
            return QPalette::BrightText;
        case Verdict::notMeasured:
            break;
    }
    return QPalette::PlaceholderText;
}

QPalette sheetPalette() {
    return paletteOf("sheet", "sheet-raised", "ink", "ink-soft", "seam-strong", "seam",
                     "accent-pale", "accent", "on-accent", "pass", "watch", "fail");
}

QPalette ledgePalette() {
    return paletteOf("ledge", "ledge-raised", "on-ledge", "on-ledge-soft", "on-ledge-soft",
                     "ledge-seam", "ledge-seam", "on-ledge", "ledge", "ledge-pass", "ledge-watch",
                     "ledge-fail");
}

}  // namespace zl::app
