// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/wheel_guard.h"

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QEvent>
#include <QScrollBar>

namespace zl::app {

WheelGuard::WheelGuard(QObject* parent) : QObject(parent) {
    if (parent->property("wheelGuarded").toBool()) return;
    parent->setProperty("wheelGuarded", true);
    parent->installEventFilter(this);
}

bool WheelGuard::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::Wheel) return false;
    auto* widget = qobject_cast<QWidget*>(watched);
    const bool ofValue =
        qobject_cast<QComboBox*>(watched) || qobject_cast<QAbstractSpinBox*>(watched) ||
        (qobject_cast<QAbstractSlider*>(watched) && !qobject_cast<QScrollBar*>(watched));
    if (!widget || !ofValue) return false;
    // Passed on to the widget round it, as an event that this one had no use for.
    event->ignore();
    if (QWidget* round = widget->parentWidget()) QCoreApplication::sendEvent(round, event);
    return true;
}

}  // namespace zl::app
