// SPDX-License-Identifier: GPL-3.0-or-later
// A view's name in the header, with its key beside it and a bar under the chosen one.
#pragma once

#include <QAbstractButton>
#include <QPainter>

#include "look/theme.h"

namespace zl::app {

class ViewTab : public QAbstractButton {
    Q_OBJECT
  public:
    ViewTab(const QString& name, const QString& key) : key_(key) {
        setText(name);
        setCheckable(true);
        setAccessibleName(tr("View: %1").arg(name));
        setToolTip(QString("%1 (%2)").arg(name, key));
        setCursor(Qt::PointingHandCursor);
        setFixedSize(QFontMetrics(interfaceFont(13, 600)).horizontalAdvance(name) +
                         QFontMetrics(interfaceFont(11)).horizontalAdvance(key) + 34,
                     headerHeight - 1);
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const Theme& theme = Theme::now();
        if (underMouse() && !isChecked()) painter.fillRect(rect(), theme["sheet-raised"]);
        const QFont font = interfaceFont(13, isChecked() ? 600 : 500);
        painter.setFont(font);
        painter.setPen(theme[isChecked() ? "accent" : "ink"]);
        const int wide = QFontMetrics(interfaceFont(13, 600)).horizontalAdvance(text());
        painter.drawText(QRect(14, 0, wide + 2, height()), Qt::AlignLeft | Qt::AlignVCenter,
                         text());
        painter.setFont(interfaceFont(11));
        painter.setPen(theme["ink-soft"]);
        painter.drawText(QRect(14 + wide + 7, 1, width(), height()),
                         Qt::AlignLeft | Qt::AlignVCenter, key_);
        if (isChecked()) painter.fillRect(QRect(6, height() - 3, width() - 12, 3), theme["accent"]);
        if (hasFocus()) {
            painter.setPen(QPen(theme["accent"], 1, Qt::DotLine));
            painter.drawRect(rect().adjusted(4, 6, -5, -7));
        }
    }
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }

  private:
    QString key_;
};

}  // namespace zl::app
