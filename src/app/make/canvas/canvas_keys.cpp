// SPDX-License-Identifier: GPL-3.0-or-later
// What keys do on the canvas.
#include <QKeyEvent>

#include "make/canvas/canvas.h"

namespace zl::app {

void Canvas::nudge(double dx, double dy) {
    if (tool_.active()) {
        tool_.nudge(dx, dy);
        return update();
    }
    const Layer* layer = session_.layer();
    if (!layer) return;
    if (crop_) {
        RealRect box = session_.picture()->crop;
        box.x = std::clamp(box.x + dx, 0.0, std::max(0.0, crop_->original.width - box.width));
        box.y = std::clamp(box.y + dy, 0.0, std::max(0.0, crop_->original.height - box.height));
        return applyCrop(box, QString("nudge crop %1").arg(layer->id));
    }
    session_.moveChosen(dx, dy, tr("Nudge"), QString("nudge %1").arg(layer->id));
}

void Canvas::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    const Piece* piece = session_.piece();
    switch (event->key()) {
        case Qt::Key_Left:
            return nudge(-step, 0);
        case Qt::Key_Right:
            return nudge(step, 0);
        case Qt::Key_Up:
            return nudge(0, -step);
        case Qt::Key_Down:
            return nudge(0, step);
        case Qt::Key_Space:  // what a press of the mouse does to a tool, where the arrows brought
                             // it
            if (!tool_.active()) return QWidget::keyPressEvent(event);
            if (!event->isAutoRepeat()) tool_.tap();
            return update();
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (tool_.active()) return endTool();
            if (!crop_) return QWidget::keyPressEvent(event);
            return endCrop();
        case Qt::Key_Escape:
            if (tool_.active() || regions_.active()) return endTool();
            if (crop_) return endCrop();
            if (picked_) {
                picked_ = nullptr;
                return unsetCursor();
            }
            pointed_.reset();
            session_.choice().chooseLayer(0);
            return update();
        case Qt::Key_PageUp:
        case Qt::Key_PageDown: {  // the layer above, or below, without the mouse
            if (!piece || piece->layers.empty() || crop_) return;
            const int n = static_cast<int>(piece->layers.size()),
                      by = event->key() == Qt::Key_PageUp ? 1 : n - 1;
            int at = event->key() == Qt::Key_PageUp ? n - 1 : 0;
            for (int i = 0; i < n; ++i)
                if (session_.layer() &&
                    piece->layers[static_cast<std::size_t>(i)].id == session_.layer()->id)
                    at = i;
            return session_.choice().chooseLayer(piece->layers[static_cast<std::size_t>((at + by) % n)].id);
        }
        default:
            QWidget::keyPressEvent(event);
    }
}

}  // namespace zl::app
