// SPDX-License-Identifier: GPL-3.0-or-later
#include "shell/notice.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QTimer>
#include <QToolButton>

#include "look/theme.h"

namespace zl::app {

Notice::Notice(QWidget* whole) : QWidget(whole), text_(new QLabel) {
    setObjectName("notice");
    setAttribute(Qt::WA_StyledBackground);
    setProperty("onLedge", true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(14, 8, 8, 8);
    text_->setObjectName("noticeText");
    text_->setWordWrap(true);
    auto* dismiss = new QToolButton;
    dismiss->setIcon(lineIcon("close", "on-ledge"));
    dismiss->setObjectName("closeNotice");
    dismiss->setAccessibleName(tr("Close the message"));
    connect(dismiss, &QToolButton::clicked, this, [this] {
        Q_EMIT closed();
        hide();
    });
    row->addWidget(text_, 1);
    row->addWidget(dismiss, 0, Qt::AlignTop);
    hide();
}

void Notice::tell(const QString& sentence, bool bad) {
    bad_ = bad;
    text_->setText(sentence);
    text_->setAccessibleDescription(bad ? tr("refused") : tr("done"));
    Q_EMIT filled();
    show();
    raise();
    if (!bad)
        QTimer::singleShot(4000, this, [this, sentence] {
            if (text_->text() == sentence) hide();
        });
}

void Notice::placeOver(int foot, std::optional<QRect> panel) {
    constexpr int apart = 12, widest = 560, narrowest = 300;
    const int all = parentWidget()->width();
    int width = std::min(widest, all - 80), left = (all - width) / 2, bottom = foot - apart;
    if (panel) {
        const int before = panel->left() - 2 * apart, after = all - panel->right() - 1 - 2 * apart;
        if (std::max(before, after) >= narrowest) {
            width = std::min(width, std::max(before, after));
            left = after >= before ? panel->right() + 1 + apart : panel->left() - apart - width;
        } else {
            bottom = panel->top() - apart;
        }
    }
    setFixedWidth(width);
    const int wrapped = layout()->heightForWidth(width);
    setFixedHeight(wrapped > 0 ? wrapped : sizeHint().height());
    move(left, bottom - height());
}

}  // namespace zl::app
