// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/proposal_row.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollBar>
#include <QToolButton>
#include <QWheelEvent>

#include "look/theme.h"
#include "widgets/form.h"
#include "widgets/moment_field.h"

namespace zl::app {
namespace {

constexpr int suggestionWidth = 168, suggestionHeight = 96;  // px

}  // namespace

ProposalRow::ProposalRow(QWidget* parent) : QScrollArea(parent) {
    setObjectName("filmProposals");
    setWidgetResizable(true);
    setFixedHeight(182);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    auto* content = new QWidget;
    row_ = new QHBoxLayout(content);
    row_->setContentsMargins(14, 10, 14, 6);
    row_->setSpacing(12);
    words_ = named(softLabel({}), "filmSearching");
    row_->addWidget(words_);
    row_->addStretch();
    setWidget(content);
}

void ProposalRow::clear() {
    cover_ = asItIs_ = {};
    show({}, {});
}

void ProposalRow::setPiece(const QImage& cover, const QImage& asItIs) {
    cover_ = cover;
    asItIs_ = asItIs;
    fill();
}

void ProposalRow::show(std::vector<FilmFrame> frames, std::vector<Candidate> reasons) {
    frames_ = std::move(frames);
    reasons_ = std::move(reasons);
    fill();
}

void ProposalRow::say(const QString& words) {
    words_->setText(words);
    words_->setVisible(frames_.empty());
}

std::vector<double> ProposalRow::times() const {
    std::vector<double> all;
    for (const FilmFrame& frame : frames_) all.push_back(frame.time);
    return all;
}

void ProposalRow::wheelEvent(QWheelEvent* event) {
    const QPoint by = event->angleDelta();
    horizontalScrollBar()->setValue(horizontalScrollBar()->value() - by.x() - by.y());
    event->accept();
}

bool ProposalRow::choose(int nth) {
    if (nth < 0 || nth >= static_cast<int>(frames_.size())) return false;
    Q_EMIT chosen(frames_[static_cast<std::size_t>(nth)].number);
    return true;
}

void ProposalRow::fill() {
    while (row_->count() > 2) {
        QLayoutItem* item = row_->takeAt(1);
        item->widget()->setObjectName({});
        item->widget()->hide();
        item->widget()->deleteLater();
        delete item;
    }
    words_->setVisible(frames_.empty());
    const auto card = [this](const QString& id, const QImage& seen, const QString& words) {
        auto* made = named(new QToolButton, id.toUtf8().constData());
        QPixmap pixmap = QPixmap::fromImage(seen);
        pixmap.setDevicePixelRatio(seen.width() > suggestionWidth ? 2 : 1);
        made->setIcon(pixmap);
        made->setIconSize({suggestionWidth, suggestionHeight});
        made->setFont(interfaceFont(11));
        made->setText(words);
        made->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        made->setFocusPolicy(Qt::TabFocus);
        row_->insertWidget(row_->count() - 1, made, 0, Qt::AlignTop);
        made->show();
        return made;
    };
    if (!frames_.empty() && !asItIs_.isNull()) {
        auto* before = card("pieceAsItIs", asItIs_, tr("The piece as it is") + "\n\n");
        before->setFocusPolicy(Qt::NoFocus);
        before->setAttribute(Qt::WA_TransparentForMouseEvents);
        before->setAccessibleName(tr("The piece as it is"));
    }
    for (std::size_t i = 0; i < frames_.size(); ++i) {
        QStringList words;
        for (const std::string& reason : reasons_[i].reasons)
            words << QString::fromStdString(reason);
        const QString moment = momentWords(frames_[i].time);
        QToolButton* made =
            card(QString("proposal-%1").arg(i), covered(frames_[i].image),
                 moment + (frames_[i].nearness == Nearness::exact ? QString() : tr("  near")) +
                     "\n" + words.mid(0, 2).join("\n"));
        made->setToolTip(tr("%1 (key %2)").arg(words.join(", ")).arg(i + 1));
        made->setAccessibleName(moment + ": " + words.join(", "));
        connect(made, &QToolButton::clicked, this,
                [this, number = frames_[i].number] { Q_EMIT chosen(number); });
    }
}

// The frame cropped to the piece's shape, with the piece over it.
QImage ProposalRow::covered(const QImage& frame) const {
    const QSize room(2 * suggestionWidth, 2 * suggestionHeight);
    const QSize size = (cover_.isNull() ? frame : cover_).size().scaled(room, Qt::KeepAspectRatio);
    QImage out(size, QImage::Format_RGB32);
    out.fill(Theme::now()["surround"]);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const QSize whole = frame.size().scaled(size, Qt::KeepAspectRatioByExpanding);
    painter.drawImage(
        QRect(QPoint((size.width() - whole.width()) / 2, (size.height() - whole.height()) / 2),
              whole),
        frame);
    if (!cover_.isNull()) painter.drawImage(QRect(QPoint(0, 0), size), cover_);
    return out;
}

}  // namespace zl::app
