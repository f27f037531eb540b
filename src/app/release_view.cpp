// SPDX-License-Identifier: GPL-3.0-or-later
#include "release_view.h"

#include <QComboBox>
#include <QDir>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QScopedValueRollback>
#include <QScrollArea>
#include <QSettings>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

#include "jobs.h"
#include "kit/edits.h"
#include "panel.h"
#include "theme.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr int rowHeight = 38, headHeight = 34, captionHeight = 40;

QString folderKept() {
    const QString fallback = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation);
    return QSettings().value("releaseFolder", fallback.isEmpty() ? QDir::homePath() : fallback).toString();
}

}  // namespace

TriedTable::TriedTable(QWidget* parent) : QWidget(parent) {
    setObjectName("tried");
    setAccessibleName(tr("What was tried"));
}

QSize TriedTable::sizeHint() const {
    return {700, headHeight + rowHeight * std::max(1, rowCount()) + (written_.isNull() ? 16 : captionHeight + written_.height() + 32)};
}

void TriedTable::show(const PieceState* state, const Brief* brief, bool current) {
    rows_.clear();
    measuring_ = !current;
    written_ = state && current ? state->written : QImage();
    if (state && state->frame)
        caption_ = tr("The file as it is written, opened again · %1 %").arg(qRound(100.0 * written_.width() / state->frame->width()));
    limit_ = brief && brief->limit ? tr("against %1").arg(QString::fromStdString(grouped(*brief->limit))) : tr("no limit");
    if (state && state->outcome && current) {
        const Fitted& fitted = *state->outcome;
        for (const Tried& tried : fitted.tried) {
            Row row;
            row.name = QString::fromStdString(nameOf(tried.encoding));
            row.bytes = QString::fromStdString(grouped(tried.bytes));
            row.share = brief && brief->limit ? static_cast<double>(tried.bytes) / static_cast<double>(*brief->limit) : 0;
            row.fits = tried.fits;
            row.chosen = tried.encoding == fitted.encoding;
            const bool exact = factsOf(tried.encoding.format).alpha;
            if (row.chosen)
                row.words = exact ? (tried.fits ? tr("exact and within the limit") : tr("exact, as asked, but over the limit"))
                                  : tr("nearest under the limit: SSIM %1, ΔE %2")
                                        .arg(fitted.difference.ssim, 0, 'f', 4)
                                        .arg(fitted.difference.de00P99, 0, 'f', 1);
            else
                row.words = tried.fits ? tr("fits, but farther from the piece") : tr("over the limit");
            rows_.push_back(row);
        }
        std::stable_sort(rows_.begin(), rows_.end(), [](const Row& a, const Row& b) { return a.chosen > b.chosen; });
    }
    setMinimumHeight(sizeHint().height());
    updateGeometry();
    update();
}

void TriedTable::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& theme = Theme::now();
    const int right = width() - 20, name = 44, bytes = 300, bar = 324, barWidth = std::clamp(width() / 5, 90, 200),
              words = bar + barWidth + 28;
    painter.setFont(interfaceFont(12, 500));
    painter.setPen(theme["ink-soft"]);
    painter.drawText(QRect(name, 0, 180, headHeight), Qt::AlignVCenter, tr("Format"));
    painter.drawText(QRect(bytes - 90, 0, 90, headHeight), Qt::AlignVCenter | Qt::AlignRight, tr("Bytes"));
    painter.drawText(QRect(bar, 0, barWidth + 40, headHeight), Qt::AlignVCenter, limit_);
    painter.fillRect(0, headHeight - 1, width(), 1, theme["seam"]);
    if (rows_.empty()) {
        painter.setFont(interfaceFont(13));
        painter.drawText(QRect(name, headHeight, width(), rowHeight), Qt::AlignVCenter,
                         measuring_ ? tr("Measuring …") : tr("Nothing can be written yet; the reading says why."));
        return;
    }
    // Linear from 0; the limit's notch stands at four fifths, so that what is over it is seen to be.
    constexpr double limitAt = 0.8;
    int y = headHeight;
    for (const Row& row : rows_) {
        if (row.chosen) {
            painter.fillRect(0, y, width(), rowHeight, theme["accent-pale"]);
            painter.fillRect(0, y, 3, rowHeight, theme["accent"]);
        }
        drawVerdict(painter, QRectF(20, y + rowHeight / 2.0 - 5, 10, 10), row.fits ? Verdict::pass : Verdict::fail, false);
        painter.setPen(theme["ink"]);
        painter.setFont(interfaceFont(13, row.chosen ? 600 : 400));
        painter.drawText(QRect(name, y, 180, rowHeight), Qt::AlignVCenter, row.name);
        painter.drawText(QRect(bytes - 100, y, 100, rowHeight), Qt::AlignVCenter | Qt::AlignRight, row.bytes);
        const double fill = std::min(row.share * limitAt, 1.0) * barWidth;
        if (row.share > 0) {
            painter.fillRect(QRectF(bar, y + rowHeight / 2.0 - 2, fill, 4), verdictColour(row.fits ? Verdict::pass : Verdict::fail, false));
            painter.fillRect(QRectF(bar + limitAt * barWidth - 0.75, y + rowHeight / 2.0 - 7, 1.5, 14), theme["ink"]);
        }
        painter.setPen(theme["ink-soft"]);
        painter.setFont(interfaceFont(12));
        const QRect wordRect(words, y, right - words, rowHeight);
        painter.drawText(wordRect, Qt::AlignVCenter, painter.fontMetrics().elidedText(row.words, Qt::ElideRight, wordRect.width()));
        y += rowHeight;
        painter.fillRect(0, y - 1, width(), 1, theme["seam"]);
    }
    if (written_.isNull()) return;
    painter.setPen(theme["ink-soft"]);
    painter.drawText(QRect(20, y, width() - 40, captionHeight), Qt::AlignVCenter, caption_);
    painter.drawImage(20, y + captionHeight, written_);
}

ReleaseView::ReleaseView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk) {
    setObjectName("releaseView");
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = viewHeadline(column);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(table_ = new TriedTable);
    column->addWidget(scroll, 1);

    Panel panel(bench);
    panel.title(tr("Release"));
    name_ = panel.row(tr("Name"), new QLineEdit, "releaseName");
    nameNote_ = panel.note();
    folder_ = new PathField(folderKept());
    folder_->setObjectName("releaseFolder");
    folder_->setAccessibleName(tr("Folder"));
    auto* browse = new QPushButton("…");
    browse->setObjectName("chooseFolder");
    browse->setAccessibleName(tr("Choose the folder"));
    browse->setFixedWidth(34);
    browse->setStyleSheet("padding-left: 2px; padding-right: 2px;");
    panel.pair(tr("Folder"), folder_, browse);
    format_ = panel.row(tr("Format"), new QComboBox, "releaseFormat");
    format_->addItems({tr("Best under the limit"), tr("PNG"), tr("JPEG")});
    quality_ = panel.row(tr("Quality"), new NumberField(tr("Quality"), tr("of 100")), "releaseQuality");
    quality_->setRange(0, 100, 0);
    quality_->setWordsForZero(tr("best"));
    quality_->setToolTip(tr("JPEG, 1 to 100; “best” finds the highest under the limit"));
    matte_ = new ColourField(tr("Matte"));
    matte_->setObjectName("releaseMatte");
    matteRow_ = panel.whole(tr("Matte"), matte_);
    refusal_ = panel.refusal();
    release_ = panel.button(tr("Release"), "releaseNow", true);
    progress_ = new QProgressBar;
    progress_->setObjectName("releaseProgress");
    cancel_ = new QPushButton(tr("Cancel"));
    cancel_->setObjectName("releaseCancel");
    panel.pair(QString(), progress_, cancel_);
    panel.seam();
    panel.title(tr("Receipt"));
    receipt_ = panel.text("receipt");
    handOver_ = panel.button(tr("Hand over to the stand-in host"), "handOverNext", false);
    panel.end();

    connect(browse, &QPushButton::clicked, this, &ReleaseView::folderAsked);
    connect(name_, &QLineEdit::editingFinished, this,
            [this] { changeChoice(tr("File name"), [this](ReleaseChoice& c) { c.name = name_->text().trimmed().toStdString(); }); });
    connect(folder_, &QLineEdit::editingFinished, this, [this] { setFolder(folder_->text()); });
    connect(format_, &QComboBox::activated, this,
            [this](int index) { changeChoice(tr("Format"), [index](ReleaseChoice& c) { c.format = static_cast<FormatChoice>(index); }); });
    connect(quality_, &NumberField::committed, this,
            [this](double v) { changeChoice(tr("Quality"), [v](ReleaseChoice& c) { c.quality = static_cast<int>(v); }); });
    connect(quality_, &NumberField::refused, refusal_, [this](const QString& s) {
        refusal_->setText(s);
        refusal_->setVisible(!s.isEmpty());
    });
    connect(matte_, &ColourField::committed, this,
            [this](Colour colour) { changeChoice(tr("Matte"), [colour](ReleaseChoice& c) { c.matte = colour; }); });
    connect(release_, &QPushButton::clicked, this, &ReleaseView::release);
    connect(cancel_, &QPushButton::clicked, this, [this] { stop_.request_stop(); });
    connect(handOver_, &QPushButton::clicked, this, &ReleaseView::handOverAsked);
    connect(&session_, &Session::kitChanged, this, [this] {
        replaceAsked_ = false;
        refresh();
    });
    connect(&session_, &Session::chosen, this, &ReleaseView::refresh);
    connect(&desk_, &ReadingsDesk::changed, this, &ReleaseView::refresh);
    setRunning(false);
    refresh();
}

void ReleaseView::setFolder(const QString& folder) {
    folder_->setText(folder);
    QSettings().setValue("releaseFolder", folder);
    replaceAsked_ = false;
    refresh();
}

void ReleaseView::changeChoice(const QString& what, const std::function<void(ReleaseChoice&)>& change) {
    if (!session_.piece() || filling_) return;
    Piece next = *session_.piece();
    change(next.release);
    session_.apply(withChangedPiece(session_.kit(), next), what);
    refresh();
}

std::optional<Path> ReleaseView::released(const std::string& pieceId) const {
    const auto found = releases_.find(pieceId);
    return found == releases_.end() ? std::nullopt : std::optional(found->second.file);
}

void ReleaseView::setRunning(bool running) {
    running_ = running;
    progress_->setVisible(running);
    cancel_->setVisible(running);
    release_->setVisible(!running);
}

void ReleaseView::refresh() {
    const QScopedValueRollback<bool> guard(filling_, true);
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    const bool current = piece && desk_.isCurrent(piece->id);
    table_->show(state, brief, current);
    headline_->setText(!piece ? heavy(tr("Nothing to release yet"))
                              : heavy(tr("How the file is found")) + "&nbsp;&nbsp; " +
                                    (current ? tr("counted on the exact pixels") : tr("measuring …")));
    for (QWidget* widget : std::initializer_list<QWidget*>{name_, folder_, format_, release_}) widget->setEnabled(piece);
    quality_->setEnabled(piece && piece->release.format == FormatChoice::jpeg);
    handOver_->setEnabled(piece && releases_.contains(piece->id));
    handOver_->setToolTip(handOver_->isEnabled() ? QString() : tr("Release the piece first; its file is what is handed over."));
    if (!piece) {
        receipt_->setText(tr("Start a piece first."));
        return;
    }
    const bool seeThrough = state && state->frame && !state->opaque;
    matteRow_->setVisible(seeThrough || piece->release.matte);
    if (!name_->hasFocus() || !name_->isModified()) name_->setText(QString::fromStdString(piece->release.name));
    const Content content = state && state->outcome                       ? state->outcome->encoding.format
                            : piece->release.format == FormatChoice::jpeg ? Content::jpeg
                                                                          : Content::png;
    nameNote_->setText(
        tr("is written as %1")
            .arg(QDir(folder_->text()).filePath(QString::fromStdString(releaseFileName(*piece, content))).replace("/", "/\u200B")));
    format_->setCurrentIndex(static_cast<int>(piece->release.format));
    quality_->show(piece->release.quality);
    if (piece->release.matte) matte_->show(*piece->release.matte);
    const bool fits =
        current && state->outcome &&
        (state->outcome->tried.empty() || !brief || !brief->limit || static_cast<long long>(state->outcome->bytes.size()) <= *brief->limit);
    release_->setText(replaceAsked_ ? tr("Replace the file that is there")
                      : fits        ? tr("Release %1, %2")
                                   .arg(QString::fromStdString(nameOf(state->outcome->encoding)),
                                        QString::fromStdString(weightWords(static_cast<long long>(state->outcome->bytes.size()))))
                             : tr("Release"));
    const auto done = releases_.find(piece->id);
    if (done == releases_.end())
        return receipt_->setText(
            tr("Nothing released in this sitting. The receipt is written beside the file: size, bytes, hash, readings."));
    const Released& r = done->second;
    int pass = 0, watch = 0, fail = 0;
    for (const Reading& reading : r.readings)
        ++(reading.verdict == Verdict::pass ? pass : reading.verdict == Verdict::watch ? watch : fail);
    receipt_->setText(tr("%1\n%2 × %3 px, %4\n%5 bytes%6\nsRGB, 8 bit%7\n%8 pass, %9 watch, %10 fail\nSHA-256 %11 …")
                          .arg(QString::fromStdString(r.file.filename().string()))
                          .arg(r.size.width)
                          .arg(r.size.height)
                          .arg(QString::fromStdString(nameOf(r.encoding)), QString::fromStdString(grouped(r.bytes)),
                               r.limit ? tr(" of %1").arg(QString::fromStdString(grouped(*r.limit))) : QString(),
                               r.alphaKept ? QString() : tr(", laid on the matte"))
                          .arg(pass)
                          .arg(watch)
                          .arg(fail)
                          .arg(QString::fromStdString(r.sha256.substr(0, 16))));
}

void ReleaseView::release() {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || running_) return;
    refusal_->hide();
    stop_ = std::stop_source();
    progress_->setValue(0);
    setRunning(true);
    const Path folder = folder_->text().toStdString();
    const Replace replace = replaceAsked_ ? Replace::yes : Replace::no;
    const auto tell = [this](double part) {
        QMetaObject::invokeMethod(
            this, [this, part] { progress_->setValue(static_cast<int>(part * 100)); }, Qt::QueuedConnection);
    };
    aside(
        session_.pool(), this,
        [kit = session_.kit(), id = piece->id, demand = *brief, inks = session_.inks(), folder, replace, stop = stop_.get_token(), tell] {
            return releasePiece(*kit.piece(id), kit, demand, *inks, folder, replace, stop, tell);
        },
        [this, released = *piece](Result<Released> result) { finish(released, std::move(result)); });
}

void ReleaseView::finish(const Piece& piece, Result<Released> result) {
    setRunning(false);
    if (result) {
        replaceAsked_ = false;
        releases_[piece.id] = std::move(*result);
        session_.tell(tr("Released %1.").arg(QString::fromStdString(releases_[piece.id].file.string())), false);
    } else {
        std::error_code none;
        // The second click replaces, and its button says so.
        const PieceState* state = desk_.state(piece.id);
        const Content content = state && state->outcome ? state->outcome->encoding.format : Content::png;
        replaceAsked_ = result.error().code == Code::unwritable &&
                        std::filesystem::exists(Path(folder_->text().toStdString()) / releaseFileName(piece, content), none);
        const bool cancelled = result.error().code == Code::cancelled;
        refusal_->setText(cancelled ? tr("Cancelled; nothing was written.") : QString::fromStdString(result.error().sentence()));
        refusal_->show();
    }
    refresh();
}

}  // namespace zl::app
