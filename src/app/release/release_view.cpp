// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/release_view.h"

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
#include <QStackedWidget>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

#include <fmt/core.h>

#include <cmath>

#include "edit/edits.h"
#include "film/take_still.h"
#include "kit/moving.h"
#include "look/theme.h"
#include "release/moving.h"
#include "widgets/form.h"
#include "widgets/panel.h"
#include "words/words.h"
#include "work/jobs.h"

namespace zl::app {
namespace {

QString folderAtFirst() {
    const QString pictures = QStandardPaths::writableLocation(QStandardPaths::PicturesLocation);
    return QDir(pictures).exists() ? pictures : QDir::homePath();
}

// "1:05", whole seconds.
std::string clockLeft(double seconds) {
    const auto whole = static_cast<long long>(std::ceil(seconds));
    return fmt::format("{}:{:02}", whole / 60, whole % 60);
}

}  // namespace

ReleaseView::ReleaseView(Session& session, ReadingsDesk& desk, QWidget* bench, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk) {
    setObjectName("releaseView");
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = viewHeadline(column);
    stopTable_ = new QPushButton(tr("Stop"));
    stopTable_->setObjectName("stopTable");
    stopTable_->setAccessibleName(tr("Stop encoding the table"));
    stopTable_->setFixedHeight(24);
    static_cast<QHBoxLayout*>(headline_->parentWidget()->layout())->addWidget(stopTable_);
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(table_ = new ReleaseTable);
    pages_ = new QStackedWidget;
    pages_->addWidget(scroll);
    pages_->addWidget(kinds_ = new MovingList);
    column->addWidget(pages_, 1);

    buildBench(bench);
    listen();
    setRunning(false);
    refresh();
}

void ReleaseView::buildBench(QWidget* bench) {
    Panel panel(bench);
    panel.title(tr("Release"));
    name_ = panel.row(tr("Name"), new QLineEdit, "releaseName");
    nameNote_ = panel.note();
    folder_ =
        new PathField(wholePath(QSettings().value("releaseFolder", folderAtFirst()).toString()));
    folder_->setObjectName("releaseFolder");
    folder_->setAccessibleName(tr("Folder"));
    auto* browse = new QPushButton("…");
    browse->setObjectName("chooseFolder");
    browse->setAccessibleName(tr("Choose the folder"));
    browse->setFixedWidth(34);
    connect(browse, &QPushButton::clicked, this, &ReleaseView::folderAsked);
    panel.pair(tr("Folder"), folder_, browse);
    format_ = panel.row(tr("Format"), new QComboBox, "releaseFormat");
    offer<FormatChoice>(format_, {{tr("Best under the limit"), FormatChoice::best},
                                  {tr("PNG"), FormatChoice::png},
                                  {tr("JPEG"), FormatChoice::jpeg},
                                  {tr("PNG, palette"), FormatChoice::palette},
                                  {tr("GIF"), FormatChoice::gif},
                                  {tr("WebP"), FormatChoice::webp}});
    quality_ =
        panel.row(tr("Quality"), new NumberField(tr("Quality"), tr("of 100")), "releaseQuality");
    quality_->setRange(0, 100, 0);
    quality_->setWordsForZero(tr("best"));
    quality_->setToolTip(tr("JPEG and WebP, 1 to 100; “best” finds the highest under the limit"));
    matte_ = new ColourField(tr("Matte"));
    matte_->setObjectName("releaseMatte");
    matte_->allowNone(tr("none"));
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
    panel.seam();
    panel.title(tr("All pieces of the kit"));
    readyWords_ = panel.text("readyWords");
    releaseReady_ = panel.button(tr("Release the ready ones"), "releaseReady", false);
    panel.end();
}

void ReleaseView::listen() {
    connect(stopTable_, &QPushButton::clicked, table_, &ReleaseTable::stop);
    connect(releaseReady_, &QPushButton::clicked, this, &ReleaseView::releaseReady);
    connect(table_, &ReleaseTable::rowAsked, this, &ReleaseView::chooseRow);
    connect(table_, &ReleaseTable::progressed, this, &ReleaseView::refresh);
    connect(kinds_, &MovingList::kindAsked, this, [this](const QString& id) {
        changeChoice(tr("Format"), [id](ReleaseChoice& c) { c.moving = id.toStdString(); });
    });
    connect(&session_.clock(), &PieceClock::settled, this, &ReleaseView::refresh);
    listenToChoices();
    connect(release_, &QPushButton::clicked, this, &ReleaseView::release);
    connect(cancel_, &QPushButton::clicked, this, [this] { stop_.request_stop(); });
    connect(handOver_, &QPushButton::clicked, this, &ReleaseView::handOverAsked);
    connect(&session_, &Session::kitChanged, this, [this] {
        replaceAsked_ = false;
        refresh();
    });
    connect(&session_, &Session::chosen, this, [this] {
        // Both were said of another piece's file.
        replaceAsked_ = false;
        refusal_->hide();
        refresh();
    });
    // Another kit may have pieces of the same names.
    connect(&session_, &Session::opened, this, [this] {
        releases_.clear();
        ++kit_;
        refresh();
    });
    connect(&desk_, &ReadingsDesk::changed, this, &ReleaseView::refresh);
}

void ReleaseView::listenToChoices() {
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        changeChoice(tr("File name"),
                     [this](ReleaseChoice& c) { c.name = name_->text().trimmed().toStdString(); });
    });
    connect(folder_, &QLineEdit::editingFinished, this, [this] { setFolder(folder_->text()); });
    connect(format_, &QComboBox::activated, this, [this] {
        changeChoice(tr("Format"), [format = chosenIn<FormatChoice>(format_)](ReleaseChoice& c) {
            c.format = format;
        });
    });
    connect(quality_, &NumberField::committed, this, [this](double v) {
        changeChoice(tr("Quality"), [v](ReleaseChoice& c) { c.quality = static_cast<int>(v); });
    });
    const auto refuse = [this](const QString& s) {
        refusal_->setText(s);
        refusal_->setVisible(!s.isEmpty());
    };
    connect(quality_, &NumberField::refused, refusal_, refuse);
    connect(matte_, &ColourField::refused, refusal_, refuse);
    connect(matte_, &ColourField::committed, this, [this](Colour colour) {
        changeChoice(tr("Matte"), [colour](ReleaseChoice& c) { c.matte = colour; });
    });
    connect(matte_, &ColourField::cleared, this,
            [this] { changeChoice(tr("Matte"), [](ReleaseChoice& c) { c.matte.reset(); }); });
}

void ReleaseView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

bool ReleaseView::moving() const {
    return session_.clock().runs();
}

void ReleaseView::fillTable() {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    const PieceState* state = piece ? desk_.state(piece->id) : nullptr;
    if (!piece || !brief)
        return table_->clear(tr("Start a piece first; then its formats are measured here."));
    if (moving()) return;
    const bool known = state && desk_.isCurrent(piece->id);
    if (known && !state->refusal.isEmpty()) return table_->clear(state->refusal);
    if (!known || !state->frame) {
        // Of this piece, what stands there stays until its new frame is known.
        if (tableOf_ != piece->id) table_->clear(tr("The piece is being measured."));
        return;
    }
    tableOf_ = piece->id;
    table_->ask(state->frame, *brief, piece->release.matte);
}

int ReleaseView::rowOfChoice(const ReleaseChoice& choice) const {
    if (choice.format == FormatChoice::best) return table_->bestRow();
    for (int i = 0; i < table_->rowCount(); ++i) {
        const TableRow* row = table_->row(i);
        if (!row) continue;
        const Encoding& e = row->encoding;
        const bool same =
            choice.format == FormatChoice::png ? e.format == Content::png && !e.palette
            : choice.format == FormatChoice::palette
                ? e.format == Content::png && e.palette && e.dither == choice.dither
            : choice.format == FormatChoice::gif ? e.format == Content::gif
            : choice.format == FormatChoice::webp
                ? e.format == Content::webp && e.quality == choice.quality
                : e.format == Content::jpeg && e.quality == choice.quality &&
                      (e.chroma == Chroma::half) == (choice.chroma == ChromaChoice::half);
        if (same) return i;
    }
    return -1;
}

// The row becomes the piece's own choice; the best one stands for "best".
void ReleaseView::chooseRow(int index) {
    const TableRow* row = table_->row(index);
    if (!row) return;
    changeChoice(tr("Format"), [row](ReleaseChoice& c) {
        const Encoding& e = row->encoding;
        const ReleaseChoice before = c;
        c = ReleaseChoice{};
        c.name = before.name;
        c.matte = before.matte;
        if (row->best) return;
        c.format = e.format == Content::jpeg   ? FormatChoice::jpeg
                   : e.format == Content::gif  ? FormatChoice::gif
                   : e.format == Content::webp ? FormatChoice::webp
                   : e.palette                 ? FormatChoice::palette
                                               : FormatChoice::png;
        c.dither = e.dither;
        c.quality = e.format == Content::jpeg || e.format == Content::webp ? e.quality : 0;
        if (e.format == Content::jpeg)
            c.chroma = e.chroma == Chroma::half ? ChromaChoice::half : ChromaChoice::full;
    });
}

// Every piece without a failing reading, one after the other, aside.
void ReleaseView::releaseReady() {
    if (running_) return;
    ReleaseOrder order{{}, folder_->text().toStdString()};
    order.kitFile = session_.files().path();
    for (const Piece& one : session_.kit().pieces) {
        if (!one.variantOf.empty()) continue;  // a try beside its piece goes out by itself
        const PieceState* known = desk_.state(one.id);
        if (known && desk_.isCurrent(one.id) && known->verdict != Verdict::fail &&
            (known->outcome || moves(one)))
            order.pieces.push_back(one.id);
    }
    refusal_->hide();
    stop_ = std::stop_source();
    setRunning(true);
    aside(
        session_.jobs(), this,
        [this, kit = session_.kit(), order = std::move(order), inks = session_.inks(),
         stop = stop_.get_token(), briefs = session_.briefs()] {
            const auto told = [this, n = 0, all = order.pieces.size()](const auto&) mutable {
                QMetaObject::invokeMethod(
                    this,
                    [this, part = 100 * ++n / static_cast<int>(all)] { progress_->setValue(part); },
                    Qt::QueuedConnection);
            };
            return releaseAll(order, kit, briefs, *inks, stop, {}, told);
        },
        [this, asked = session_.kit(), number = kit_](std::vector<ReleaseOutcome> all) {
            setRunning(false);
            std::pair<int, std::vector<std::string>> outcome;
            for (ReleaseOutcome& one : all) {
                if (!one.released) {
                    outcome.second.push_back(one.released.error().sentence());
                    continue;
                }
                ++outcome.first;
                if (number == kit_)
                    releases_[one.piece] = {std::move(*one.released), *asked.piece(one.piece)};
            }
            if (!outcome.second.empty()) {
                refusal_->setText(QString::fromStdString(outcome.second.front()) +
                                  (outcome.second.size() > 1
                                       ? tr(" And %1 more.").arg(outcome.second.size() - 1)
                                       : QString()));
                refusal_->show();
            }
            session_.tell(tr("%1 released, %2 left as they were.")
                              .arg(outcome.first)
                              .arg(outcome.second.size()),
                          false);
            refresh();
        });
}

void ReleaseView::setFolder(const QString& folder) {
    const QString whole = wholePath(folder.trimmed().isEmpty() ? folderAtFirst() : folder);
    folder_->setText(whole);
    QSettings().setValue("releaseFolder", whole);
    replaceAsked_ = false;
    refresh();
}

void ReleaseView::changeChoice(const QString& what,
                               const std::function<void(ReleaseChoice&)>& change) {
    if (!session_.piece() || filling_) return;
    Piece next = *session_.piece();
    change(next.release);
    session_.apply(withChangedPiece(session_.kit(), next), what);
    refresh();
}

std::optional<Path> ReleaseView::released(const std::string& pieceId) const {
    const auto found = releases_.find(pieceId);
    return found == releases_.end() ? std::nullopt : std::optional(found->second.released.file);
}

void ReleaseView::setRunning(bool running) {
    running_ = running;
    progress_->setValue(0);
    progress_->setFormat(tr("%p %"));
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
    if (isVisible()) fillTable();
    tellTable(current);
    tellReady();
    for (QWidget* widget : std::initializer_list<QWidget*>{name_, folder_, format_, release_})
        widget->setEnabled(piece);
    pages_->setCurrentIndex(moving() ? 1 : 0);
    format_->setEnabled(piece && !moving());
    format_->setToolTip(moving() ? tr("The piece moves: its format is chosen on the left.")
                                 : QString());
    quality_->setEnabled(piece && (moving() || piece->release.format == FormatChoice::jpeg ||
                                   piece->release.format == FormatChoice::webp));
    handOver_->setEnabled(piece && releases_.contains(piece->id));
    handOver_->setToolTip(handOver_->isEnabled()
                              ? QString()
                              : tr("Release the piece first; its file is what is handed over."));
    if (!piece) {
        receipt_->setText(tr("Start a piece first."));
        return;
    }
    const bool seeThrough = state && state->frame && !state->opaque;
    matteRow_->setVisible(seeThrough || piece->release.matte);
    if (!name_->hasFocus() || !name_->isModified())
        name_->setText(QString::fromStdString(piece->release.name));
    fillChoices(*piece, state);
    if (moving()) refreshMoving(*piece, state);
    table_->choose(rowOfChoice(piece->release));
    const bool fits = current && state->outcome &&
                      (state->outcome->tried.empty() || !brief || !brief->limit ||
                       static_cast<long long>(state->outcome->bytes.size()) <= *brief->limit);
    release_->setText(
        replaceAsked_ ? tr("Replace the file that is there")
        : moving()    ? tr("Release the video")
        : fits        ? tr("Release %1, %2")
                     .arg(QString::fromUtf8(factsOf(state->outcome->encoding.format).title.data()),
                          QString::fromStdString(
                              weightWords(static_cast<long long>(state->outcome->bytes.size()))))
               : tr("Release"));
    const auto done = releases_.find(piece->id);
    if (done == releases_.end())
        return receipt_->setText(
            tr("Nothing released in this sitting. The receipt is written beside the file: size, "
               "bytes, hash, readings."));
    tellReceipt(done->second);
}

// What a video weighs is known when it was encoded.
void ReleaseView::refreshMoving(const Piece& piece, const PieceState* state) {
    kinds_->show(piece, session_.brief(), state, session_.clock().moment());
    nameNote_->setText(
        tr("is written as %1")
            .arg(QDir(folder_->text())
                     .filePath(QString::fromStdString(movingFileName(piece, kinds_->chosen())))
                     .replace("/", "/\u200B")));
}

void ReleaseView::tellProgress(double part) {
    progress_->setValue(static_cast<int>(part * 100));
    const double gone = static_cast<double>(since_.elapsed()) / 1000;
    constexpr double telling = 0.04;  // of the work: before that nobody knows
    progress_->setFormat(
        part < telling || gone < 1
            ? tr("%p %")
            : tr("%p % · %1 left")
                  .arg(QString::fromStdString(clockLeft(gone / part * (1 - part)))));
}

void ReleaseView::tellTable(bool current) {
    if (session_.piece() && moving()) {
        stopTable_->hide();
        headline_->setText(heavy(tr("What the moving piece becomes")) + "&nbsp;&nbsp; " +
                           tr("every frame as it is seen in Make"));
        return;
    }
    stopTable_->setVisible(table_->running());
    headline_->setText(
        !session_.piece()
            ? heavy(tr("Nothing to release yet"))
            : heavy(tr("What each format would give")) + "&nbsp;&nbsp; " +
                  (table_->running()
                       ? tr("%1 of %2 measured …").arg(table_->ready()).arg(table_->rowCount())
                   : !current                             ? tr("measuring …")
                   : table_->rowCount() == 0              ? tr("this piece cannot be drawn")
                   : table_->ready() < table_->rowCount() ? tr("stopped")
                                                          : tr("only what the brief accepts")));
}

void ReleaseView::tellReady() {
    int ready = 0, waiting = 0;
    for (const Piece& one : session_.kit().pieces) {
        if (!one.variantOf.empty()) continue;
        const PieceState* known = desk_.state(one.id);
        ++(known && desk_.isCurrent(one.id) && known->verdict != Verdict::fail &&
                   (known->outcome || moves(one))
               ? ready
               : waiting);
    }
    readyWords_->setText(tr("%1 ready, %2 need a look").arg(ready).arg(waiting));
    releaseReady_->setEnabled(ready > 0 && !running_);
    releaseReady_->setToolTip(
        ready > 0
            ? tr("Each in its best format, into the folder above; files that stand there stay")
            : tr("No piece is without a failing reading yet."));
}

void ReleaseView::fillChoices(const Piece& piece, const PieceState* state) {
    const Content content = state && state->outcome ? state->outcome->encoding.format
                            : piece.release.format == FormatChoice::jpeg ? Content::jpeg
                                                                         : Content::png;
    nameNote_->setText(
        tr("is written as %1")
            .arg(QDir(folder_->text())
                     .filePath(QString::fromStdString(releaseFileName(piece, content)))
                     .replace("/", "/\u200B")));
    choose(format_, piece.release.format);
    quality_->show(piece.release.quality);
    piece.release.matte ? matte_->show(*piece.release.matte) : matte_->showNone();
}

void ReleaseView::tellReceipt(const Sent& sent) {
    const Released& r = sent.released;
    // The file's name may hold a "%1" of its own, so it is put in front, not filled in.
    const QString head =
        (sent.piece == *session_.piece() ? QString()
                                         : tr("The piece was edited since this was released.\n")) +
        QString::fromStdString(r.file.filename().string()) + '\n';
    if (r.moved) {
        const Moved& m = *r.moved;
        return receipt_->setText(
            head + tr("%1 × %2 px, %3\n%4 s, %5 frames a second\n%6 bytes%7\n%8\nSHA-256 %9 …")
                       .arg(r.size.width)
                       .arg(r.size.height)
                       .arg(QString::fromStdString(
                           m.pictureCodec + (m.soundCodec.empty() ? "" : " and " + m.soundCodec)))
                       .arg(m.length, 0, 'f', 2)
                       .arg(m.rate.perSecond(), 0, 'g', 4)
                       .arg(QString::fromStdString(grouped(r.bytes)),
                            r.limit ? tr(" of %1").arg(QString::fromStdString(grouped(*r.limit)))
                                    : QString(),
                            m.loudness ? tr("%1 LUFS loud").arg(*m.loudness, 0, 'f', 1)
                                       : tr("silent or without sound"),
                            QString::fromStdString(r.sha256.substr(0, 16))));
    }
    // What could not be measured is none of the three.
    const auto count = [&](Verdict verdict) {
        return std::count_if(r.readings.begin(), r.readings.end(),
                             [&](const Reading& one) { return one.verdict == verdict; });
    };
    receipt_->setText(
        head +
        tr("%1 × %2 px, %3\n%4 bytes%5\nsRGB, 8 bit%6\n%7 pass, %8 watch, %9 fail\nSHA-256 %10 …")
            .arg(r.size.width)
            .arg(r.size.height)
            .arg(QString::fromStdString(nameOf(r.encoding)),
                 QString::fromStdString(grouped(r.bytes)),
                 r.limit ? tr(" of %1").arg(QString::fromStdString(grouped(*r.limit))) : QString(),
                 r.alphaKept ? QString() : tr(", laid on the matte"))
            .arg(count(Verdict::pass))
            .arg(count(Verdict::watch))
            .arg(count(Verdict::fail))
            .arg(QString::fromStdString(r.sha256.substr(0, 16))));
}

void ReleaseView::release() {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || running_) return;
    refusal_->hide();
    stop_ = std::stop_source();
    setRunning(true);
    const Path folder = folder_->text().toStdString();
    const Replace replace = replaceAsked_ ? Replace::yes : Replace::no;
    const auto tell = [this](double part) {
        QMetaObject::invokeMethod(
            this, [this, part] { tellProgress(part); }, Qt::QueuedConnection);
    };
    since_.start();
    aside(
        session_.jobs(), this,
        [kit = session_.kit(), id = piece->id, demand = *brief, inks = session_.inks(), folder,
         replace, stop = stop_.get_token(), tell, briefs = session_.briefs(),
         kitFile = session_.files().path(), poster = session_.clock().moment()] {
            if (moves(*kit.piece(id)))
                return releaseMoving(*kit.piece(id), kit, demand, *inks, kitFile, folder, replace,
                                     poster, stop, tell);
            return releasePiece(*kit.piece(id), kit, demand, *inks, folder, replace, stop, tell,
                                &briefs);
        },
        [this, released = *piece, number = kit_](Result<Released> result) {
            finish(released, number, std::move(result));
        });
}

void ReleaseView::finish(const Piece& piece, int kit, Result<Released> result) {
    setRunning(false);
    if (result) {
        replaceAsked_ = false;
        const Released& out = *result;
        if (kit == kit_) releases_[piece.id] = {out, piece};
        const QString file = QString::fromStdString(out.file.string());
        if (!out.pageRefused.empty())
            session_.tell(tr("Released %1. Its page of links was not written: %2")
                              .arg(file, QString::fromStdString(out.pageRefused)),
                          true);
        else
            session_.tell(out.beside.empty() ? tr("Released %1.").arg(file)
                                             : tr("Released %1, and %2 beside it.")
                                                   .arg(file, QString::number(out.beside.size())),
                          false);
    } else {
        std::error_code none;
        // The second click replaces, and its button says so.
        const PieceState* state = desk_.state(piece.id);
        const Content content =
            state && state->outcome ? state->outcome->encoding.format : Content::png;
        const std::string file = moves(piece) ? movingFileName(piece, kinds_->chosen())
                                              : releaseFileName(piece, content);
        const bool shown = kit == kit_ && session_.piece() && session_.piece()->id == piece.id;
        const Path whole = Path(folder_->text().toStdString()) / file;
        replaceAsked_ = shown && result.error().code == Code::unwritable &&
                        std::filesystem::exists(whole, none) &&
                        !isVideoOf(session_.kit(), session_.files().path(), whole);
        const bool cancelled = result.error().code == Code::cancelled;
        refusal_->setText(cancelled ? tr("Cancelled; nothing was written.")
                                    : QString::fromStdString(result.error().sentence()));
        refusal_->show();
    }
    refresh();
}

}  // namespace zl::app
