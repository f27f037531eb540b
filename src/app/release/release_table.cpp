// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/release_table.h"

#include <QMouseEvent>
#include <QPainter>

#include "encode/difference.h"
#include "look/theme.h"
#include "picture/decode.h"
#include "picture/shrink.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr int rowHeight = 34, headHeight = 34, captionHeight = 30, lookWidth = 252,
              lookHeight = 150, lookGap = 8, side = 20, zoom = 2;

QImage part(const Straight8& frame, const PixelRect& r) {
    QImage image(lookWidth, lookHeight, QImage::Format_RGB32);
    Backdrop checks;
    checks.checks = true;
    showOnScreen(
        frame, {zoom, -r.left * static_cast<double>(zoom), -r.top * static_cast<double>(zoom)},
        checks, {143, 148, 151, 255}, {0, 0, lookWidth, lookHeight},
        reinterpret_cast<std::uint32_t*>(image.bits()), static_cast<int>(image.bytesPerLine() / 4));
    return image;
}

QString alphaWords(AlphaOutcome alpha) {
    return alpha == AlphaOutcome::kept   ? ReleaseTable::tr("kept")
           : alpha == AlphaOutcome::lost ? ReleaseTable::tr("lost: solid")
                                         : ReleaseTable::tr("–");
}

}  // namespace

ReleaseTable::ReleaseTable(QWidget* parent) : QWidget(parent) {
    setObjectName("releaseTable");
    setAccessibleName(tr("What each format would give"));
    setFocusPolicy(Qt::StrongFocus);
}

int ReleaseTable::ready() const {
    return static_cast<int>(
        std::count_if(rows_.begin(), rows_.end(), [](const auto& row) { return row.has_value(); }));
}

int ReleaseTable::bestRow() const {
    for (int i = 0; i < rowCount(); ++i)
        if (row(i) && row(i)->best) return i;
    return -1;
}

void ReleaseTable::clear(const QString& words) {
    stop();
    frame_.reset();
    asked_.clear();
    rows_.clear();
    look_.reset();
    words_ = words;
    updateGeometry();
    update();
}

void ReleaseTable::stop() {
    ++serial_;
    job_.cancel();
    // Told only where it ends something: whoever is told may empty the table again.
    if (std::exchange(running_, false)) Q_EMIT progressed();
}

void ReleaseTable::ask(std::shared_ptr<const Straight8> frame, const Brief& brief,
                       const std::optional<Colour>& matte) {
    // The same pixels need no second look: a row that was chosen changes the choice, not the frame.
    const bool same =
        frame_ && (frame_ == frame || (frame_->size() == frame->size() &&
                                       std::memcmp(frame_->bytes(), frame->bytes(),
                                                   frame->pixels().size_bytes()) == 0));
    if (same && matte_ == matte && briefId_ == brief.id) return;
    // What stood here is let go aside: giving back a frame and a table of files takes some ms.
    auto old =
        std::make_shared<std::tuple<std::shared_ptr<const Straight8>,
                                    std::vector<std::optional<TableRow>>, std::optional<Previews>>>(
            std::exchange(frame_, frame), std::move(rows_), std::exchange(look_, std::nullopt));
    matte_ = matte;
    briefId_ = brief.id;
    limit_ = brief.limit;
    asked_ = tableOf(brief);
    rows_.assign(asked_.size(), std::nullopt);
    words_.clear();
    running_ = true;
    const int serial = ++serial_;
    job_.post([this, frame, demand = brief, matte, serial,
               old = std::move(old)](const std::stop_token& stop) mutable {
        old.reset();
        const auto take = [this, serial](const std::function<void()>& change) {
            QMetaObject::invokeMethod(
                this,
                [this, serial, change] {
                    if (serial != serial_) return;  // of an older frame
                    change();
                    Q_EMIT progressed();
                    update();
                },
                Qt::QueuedConnection);
        };
        auto rows =
            releaseTable(*frame, demand, matte, stop, [&](std::size_t index, const TableRow& row) {
                take([this, index, row] { rows_[index] = row; });
            });
        if (!rows) return;
        take([this, rows = std::move(*rows)] {
            for (std::size_t i = 0; i < rows.size(); ++i) rows_[i] = rows[i];
            running_ = false;
            look();
        });
    });
    updateGeometry();
    update();
}

void ReleaseTable::choose(int row) {
    if (row == chosen_) return;
    chosen_ = row;
    look();
    update();
}

// The chosen row beside the piece, made aside.
void ReleaseTable::look() {
    look_.reset();
    const TableRow* chosen = row(chosen_);
    if (!chosen || !chosen->file || !frame_) return update();
    lookJob_.post(
        [this, frame = frame_, file = chosen->file, serial = serial_](const std::stop_token&) {
            const auto back = decode(*file, "the encoded picture");
            if (!back || back->pixels->size() != frame->size()) return;
            const PixelRect where =
                mostDifferent(*frame, *back->pixels, {lookWidth / zoom, lookHeight / zoom});
            auto made = std::make_shared<Previews>(
                Previews{part(*frame, where), part(*back->pixels, where),
                         part(differenceTimes(8, *frame, *back->pixels), where)});
            QMetaObject::invokeMethod(
                this,
                [this, made, serial] {
                    if (serial != serial_) return;
                    look_ = *made;
                    updateGeometry();
                    update();
                },
                Qt::QueuedConnection);
        });
}

QSize ReleaseTable::sizeHint() const {
    return {700, headHeight + rowHeight * std::max(1, rowCount()) + captionHeight + lookHeight +
                     captionHeight};
}

QRect ReleaseTable::rowRect(int index) const {
    return {0, headHeight + index * rowHeight, width(), rowHeight};
}

void ReleaseTable::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < rowCount(); ++i)
        if (rowRect(i).contains(event->pos()) && row(i) && row(i)->file) Q_EMIT rowAsked(i);
}

void ReleaseTable::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (by == 0) return QWidget::keyPressEvent(event);
    for (int i = chosen_ + by; i >= 0 && i < rowCount(); i += by)
        if (row(i) && row(i)->file) return Q_EMIT rowAsked(i);
}

void ReleaseTable::paintRow(QPainter& painter, int index) const {
    const Theme& theme = Theme::now();
    const int y = rowRect(index).y(), bytesRight = 288, bar = 300,
              barWidth = std::clamp(width() / 8, 70, 130), alpha = bar + barWidth + 14,
              ssimRight = alpha + 118, deRight = ssimRight + 60, words = deRight + 14;
    const auto text = [&](const QRect& r, const QString& s, Qt::Alignment a = Qt::AlignLeft) {
        painter.drawText(r, Qt::AlignVCenter | a, s);
    };
    if (index == chosen_) {
        painter.fillRect(0, y, width(), rowHeight, theme["accent-pale"]);
        painter.fillRect(0, y, 3, rowHeight, theme["accent"]);
        if (hasFocus()) {
            painter.setPen(QPen(theme["accent"], 1, Qt::DotLine));
            painter.drawRect(6, y + 2, width() - 9, rowHeight - 5);
        }
    }
    const TableRow* r = row(index);
    painter.setPen(theme["ink"]);
    painter.setFont(interfaceFont(13, index == chosen_ ? 600 : 400));
    text({38, y, 170, rowHeight},
         QString::fromStdString(nameOf(r ? r->encoding : asked_[static_cast<std::size_t>(index)])));
    if (!r) {
        painter.setPen(theme["ink-soft"]);
        painter.setFont(interfaceFont(12));
        return text({bar, y, 200, rowHeight}, running_ ? tr("on its way …") : tr("stopped"));
    }
    drawVerdict(painter, QRectF(16, y + rowHeight / 2.0 - 5, 10, 10),
                !r->file || !r->fits             ? Verdict::fail
                : r->alpha == AlphaOutcome::lost ? Verdict::watch
                                                 : Verdict::pass,
                false);
    if (r->file) {
        text({bytesRight - 90, y, 90, rowHeight}, QString::fromStdString(grouped(r->bytes)),
             Qt::AlignRight);
        if (limit_) paintBar(painter, *r, {bar, y, barWidth, rowHeight});
        painter.setFont(interfaceFont(12));
        painter.setPen(theme[r->alpha == AlphaOutcome::nothingSeeThrough ? "ink-soft" : "ink"]);
        text({alpha, y, 74, rowHeight}, alphaWords(r->alpha));
        painter.setPen(theme["ink"]);
        text({ssimRight - 50, y, 50, rowHeight},
             r->measured ? QString::number(r->difference.ssim, 'f', 4) : QString("…"),
             Qt::AlignRight);
        text({deRight - 40, y, 40, rowHeight},
             r->measured ? QString::number(r->difference.de00P99, 'f', 1) : QString("…"),
             Qt::AlignRight);
    }
    const QRect wordRect(r->file ? words : bar, y, width() - (r->file ? words : bar) - 10,
                         rowHeight);
    painter.setFont(interfaceFont(12, r->best ? 600 : 400));
    painter.setPen(theme[r->best ? "accent" : "ink-soft"]);
    text(wordRect, painter.fontMetrics().elidedText(QString::fromStdString(english(r->why)),
                                                    Qt::ElideRight, wordRect.width()));
}

// Linear from 0; the limit's notch stands at four fifths, so that what is over it is seen to be.
void ReleaseTable::paintBar(QPainter& painter, const TableRow& r, const QRect& at) const {
    constexpr double limitAt = 0.8;
    const double share = static_cast<double>(r.bytes) / static_cast<double>(*limit_),
                 fill = std::min(share * limitAt, 1.0) * at.width(),
                 middle = at.y() + at.height() / 2.0;
    painter.fillRect(QRectF(at.x(), middle - 2, fill, 4),
                     verdictColour(r.fits ? Verdict::pass : Verdict::fail, false));
    painter.fillRect(QRectF(at.x() + limitAt * at.width() - 0.75, middle - 7, 1.5, 14),
                     Theme::now()["ink"]);
}

void ReleaseTable::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& theme = Theme::now();
    const int bar = 300, barWidth = std::clamp(width() / 8, 70, 130), alpha = bar + barWidth + 14,
              ssimRight = alpha + 118, deRight = ssimRight + 60;
    painter.setFont(interfaceFont(12, 500));
    painter.setPen(theme["ink-soft"]);
    const auto head = [&](const QRect& r, const QString& s, Qt::Alignment a) {
        painter.drawText(r, Qt::AlignVCenter | a, s);
    };
    head({38, 0, 150, headHeight}, tr("Format"), Qt::AlignLeft);
    head({198, 0, 90, headHeight}, tr("Bytes"), Qt::AlignRight);
    head({bar, 0, barWidth + 14, headHeight},
         limit_ ? tr("of %1").arg(QString::fromStdString(grouped(*limit_))) : tr("no limit"),
         Qt::AlignLeft);
    head({alpha, 0, 74, headHeight}, tr("Alpha"), Qt::AlignLeft);
    head({ssimRight - 50, 0, 50, headHeight}, tr("SSIM"), Qt::AlignRight);
    head({deRight - 46, 0, 46, headHeight}, tr("ΔE p99"), Qt::AlignRight);
    painter.fillRect(0, headHeight - 1, width(), 1, theme["seam"]);
    if (asked_.empty()) {
        painter.setFont(interfaceFont(13));
        painter.drawText(QRect(38, headHeight, width() - 50, 2 * rowHeight),
                         Qt::AlignVCenter | Qt::TextWordWrap, words_);
        return;
    }
    for (int i = 0; i < rowCount(); ++i) {
        paintRow(painter, i);
        painter.fillRect(0, rowRect(i).bottom(), width(), 1, theme["seam"]);
    }
    if (!look_) return;
    const int top = headHeight + rowCount() * rowHeight + 14;
    const std::pair<const QImage*, QString> looks[] = {
        {&look_->piece, tr("the piece, 200 %")},
        {&look_->file,
         row(chosen_) ? QString::fromStdString(nameOf(row(chosen_)->encoding)) : QString()},
        {&look_->difference, row(chosen_) && row(chosen_)->encoding.exact()
                                 ? tr("no difference")
                                 : tr("their difference × 8")}};
    int x = side;
    for (const auto& [image, caption] : looks) {
        painter.drawImage(x, top, *image);
        painter.setFont(interfaceFont(12));
        painter.setPen(theme["ink-soft"]);
        painter.drawText(QRect(x, top + lookHeight, lookWidth, captionHeight),
                         Qt::AlignVCenter | Qt::AlignLeft, caption);
        x += lookWidth + lookGap;
    }
}

}  // namespace zl::app
