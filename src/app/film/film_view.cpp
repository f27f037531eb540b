// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/film_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "film/take_still.h"
#include "look/theme.h"
#include "widgets/form.h"
#include "widgets/panel.h"

namespace zl::app {
namespace {

constexpr int proposalWidth = 168, proposalHeight = 96;  // px: a suggestion beside a video

// A picture as large as the room, in its shape.
class Large : public QLabel {
  public:
    using QLabel::QLabel;
    void show(const QImage& image) {
        image_ = image;
        fit();
    }

  protected:
    void resizeEvent(QResizeEvent*) override { fit(); }

  private:
    void fit() {
        if (image_.isNull() || width() < 8 || height() < 8) return;
        const double ratio = devicePixelRatioF();
        QPixmap fitted = QPixmap::fromImage(
            image_.scaled(size() * ratio, Qt::KeepAspectRatio, Qt::SmoothTransformation));
        fitted.setDevicePixelRatio(ratio);
        setPixmap(fitted);
    }
    QImage image_;
};

QString factsOf(const VideoFacts& f) {
    QStringList words;
    words << QString("%1 × %2").arg(f.shown.width).arg(f.shown.height)
          << QString::fromStdString(shapeName(f.shown)) << clockWords(f.duration)
          << FilmView::tr("%1 a second").arg(QString::number(f.fps, 'g', 4));
    if (f.variableRate) words << FilmView::tr("at a rate that varies");
    if (f.alpha) words << FilmView::tr("see-through");
    if (f.depth > 8) words << FilmView::tr("%1 bit").arg(f.depth);
    if (f.interlaced) words << FilmView::tr("interlaced");
    if (!f.colour.matrix.told) words << FilmView::tr("colours guessed");
    return words.join("  ·  ");
}

}  // namespace

FilmView::FilmView(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("filmView");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("A still from a video"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(buildBar());
    picture_ = named(new Large, "filmPicture");
    picture_->setAlignment(Qt::AlignCenter);
    picture_->setMinimumSize(1, 1);
    picture_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    column->addWidget(picture_, 1);
    column->addWidget(buildClock());
    column->addWidget(strip_ = new FilmStrip(desk_));
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFixedHeight(168);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* row = new QWidget;
    proposals_ = new QHBoxLayout(row);
    proposals_->setContentsMargins(14, 10, 14, 6);
    proposals_->setSpacing(12);
    searching_ = named(softLabel({}), "filmSearching");
    proposals_->addWidget(searching_);
    proposals_->addStretch();
    scroll->setWidget(row);
    column->addWidget(scroll);
    connect(strip_, &FilmStrip::asked, this, &FilmView::goTo);
    connect(&desk_, &FilmDesk::opened, this, &FilmView::tellFacts);
    connect(&desk_, &FilmDesk::arrived, this,
            [this](const FilmFrame& frame) { show(frame, true); });
    connect(&desk_, &FilmDesk::proposed, this,
            [this](const std::vector<FilmFrame>& frames, const std::vector<Candidate>& reasons) {
                proposed_ = frames;
                reasons_ = reasons;
                fillProposals(proposed_, reasons_);
            });
    connect(&desk_, &FilmDesk::progressed, this, [this](double part) {
        searching_->setText(tr("Looking for good frames … %1 %").arg(qRound(100 * part)));
    });
    connect(&desk_, &FilmDesk::refused, this, [this](const QString& sentence) {
        session_.tell(sentence, true);
        if (!desk_.facts()) Q_EMIT closed();
    });
}

QWidget* FilmView::buildBar() {
    const auto [bar, row] = viewBar(14, 14);
    facts_ = named(softLabel({}), "filmFacts");
    facts_->setWordWrap(true);
    facts_->setFont(interfaceFont(11));
    row->addWidget(facts_, 1);
    auto* back = named(new QPushButton(tr("Back to the piece")), "filmBack");
    back->setFixedHeight(26);
    take_ = named(new QPushButton(tr("Take this frame")), "takeStill");
    take_->setProperty("primary", true);
    take_->setFixedHeight(26);
    take_->setToolTip(tr("Makes it the piece's picture (Enter)"));
    row->addWidget(back);
    row->addWidget(take_);
    connect(back, &QPushButton::clicked, this, &FilmView::closed);
    connect(take_, &QPushButton::clicked, this, &FilmView::take);
    return bar;
}

QWidget* FilmView::buildClock() {
    const auto [bar, row] = viewBar(14, 14);
    row->setSpacing(6);
    const std::tuple<QString, const char*, QString, long long> steps[] = {
        {"−1 s", "filmSecondBack", tr("A second back (Shift+Left)"), 0},
        {"−1", "filmFrameBack", tr("A frame back (Left)"), -1},
        {"+1", "filmFrameOn", tr("A frame on (Right)"), 1},
        {"+1 s", "filmSecondOn", tr("A second on (Shift+Right)"), 0}};
    for (const auto& [words, id, tip, frames] : steps) {
        auto* button = named(new QToolButton, id);
        button->setText(words);
        button->setProperty("words", true);
        button->setAccessibleName(tip);
        button->setToolTip(tip);
        const double seconds = words.startsWith(QChar(0x2212)) ? -1 : 1;
        connect(button, &QToolButton::clicked, this, [this, n = frames, seconds] {
            n != 0 ? step(n) : goTo((now_ ? now_->time : 0) + seconds);
        });
        row->addWidget(button);
    }
    clock_ = named(new QLineEdit, "filmClock");
    clock_->setFixedWidth(110);
    clock_->setAccessibleName(tr("The moment: a time, or # and a frame's number"));
    clock_->setToolTip(clock_->accessibleName());
    row->addWidget(clock_);
    count_ = named(softLabel({}), "filmCount");
    row->addWidget(count_);
    row->addStretch();
    which_ = named(softLabel({}), "filmWhich");
    row->addWidget(which_);
    connect(clock_, &QLineEdit::returnPressed, this, &FilmView::goTyped);
    return bar;
}

void FilmView::open(const Path& file, std::optional<double> at) {
    now_.reset();
    first_ = at;
    take_->setEnabled(false);
    facts_->setText(tr("Opening %1 …").arg(QString::fromStdString(file.filename().string())));
    picture_->clear();
    strip_->mark({});
    strip_->showTime(0);
    cover_ = {};
    proposed_.clear();
    reasons_.clear();
    fillProposals({}, {});
    prepareCover();
    searching_->setText(tr("Looking for good frames …"));
    searching_->show();
    desk_.open(file);
    setFocus();
}

void FilmView::tellFacts() {
    const VideoFacts& facts = *desk_.facts();
    QString words =
        QString::fromStdString(desk_.file().filename().string()) + "  ·  " + factsOf(facts);
    if (const Piece* piece = session_.piece()) {
        const double times =
            std::min(static_cast<double>(facts.shown.width) / piece->frame.width,
                     static_cast<double>(facts.shown.height) / piece->frame.height);
        words += "  ·  " + tr("%1 × the frame").arg(times, 0, 'f', 2);
    }
    facts_->setText(words);
    facts_->setToolTip(tr("%1; the matrix is taken for %2")
                           .arg(words, QString::fromStdString(facts.colour.matrix.name)));
    desk_.askAt(first_.value_or(facts.duration / 3));
}

void FilmView::show(const FilmFrame& frame, bool exact) {
    static_cast<Large*>(picture_)->show(frame.image);
    if (exact) now_ = frame;
    take_->setEnabled(now_ && exact && session_.piece());
    which_->setText(exact ? frame.toned ? tr("exact, its light brought down to a display's")
                                        : tr("exact")
                          : tr("near, the exact one comes"));
    clock_->setText(clockWords(frame.time));
    count_->setText(tr("frame %1 of %2").arg(frame.number).arg(desk_.facts()->frames));
    strip_->showTime(frame.time);
}

// The strip's picture at once, then the exact one.
void FilmView::goTo(double seconds) {
    if (!desk_.facts()) return;
    const double last = desk_.facts()->duration;
    seconds = std::clamp(seconds, 0.0, last);
    if (const FilmFrame* near = desk_.nearest(seconds)) {
        FilmFrame there = *near;
        there.time = seconds;
        show(there, false);
    }
    desk_.askAt(seconds);
}

void FilmView::step(long long frames) {
    if (!now_ || !desk_.facts()) return;
    const long long to = std::clamp(now_->number + frames, 0ll, desk_.facts()->frames - 1);
    if (to != now_->number) desk_.ask(to);
}

// "12.5", "1:02.5", or "#300".
void FilmView::goTyped() {
    const QString typed = clock_->text().trimmed();
    bool good = false;
    if (typed.startsWith('#')) {
        const long long number = typed.mid(1).toLongLong(&good);
        if (good && desk_.facts() && number >= 0 && number < desk_.facts()->frames) {
            QTimer::singleShot(0, this, qOverload<>(&QWidget::setFocus));
            return desk_.ask(number);
        }
    }
    double seconds = 0;
    for (const QString& part : typed.split(':')) seconds = 60 * seconds + part.toDouble(&good);
    if (!good || !desk_.facts() || seconds < 0 || seconds > desk_.facts()->duration)
        return session_.tell(tr("“%1” is no moment of this video.").arg(typed), true);
    QTimer::singleShot(0, this, qOverload<>(&QWidget::setFocus));  // the arrows step again
    goTo(seconds);
}

void FilmView::keyPressEvent(QKeyEvent* event) {
    const bool shift = event->modifiers().testFlag(Qt::ShiftModifier);
    const int by = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (by != 0) return shift ? goTo((now_ ? now_->time : 0) + by) : step(by);
    switch (event->key()) {
        case Qt::Key_Home:
            return goTo(0);
        case Qt::Key_End:
            return desk_.facts() ? desk_.ask(desk_.facts()->frames - 1) : void();
        case Qt::Key_Return:
        case Qt::Key_Enter:
            // The clock passes its own Enter on.
            return take_->isEnabled() && hasFocus() ? take() : void();
        case Qt::Key_Escape:
            Q_EMIT closed();
            return;
        default:
            QWidget::keyPressEvent(event);
    }
}

void FilmView::fillProposals(const std::vector<FilmFrame>& frames,
                             const std::vector<Candidate>& reasons) {
    while (proposals_->count() > 2) {
        QLayoutItem* item = proposals_->takeAt(1);
        item->widget()->setObjectName({});
        item->widget()->deleteLater();
        delete item;
    }
    searching_->setVisible(frames.empty());
    std::vector<double> times;
    for (std::size_t i = 0; i < frames.size(); ++i) {
        times.push_back(frames[i].time);
        auto* card = named(new QToolButton, QString("proposal-%1").arg(i).toUtf8().constData());
        const QImage seen = covered(frames[i].image);
        card->setIcon(QPixmap::fromImage(seen));
        card->setIconSize(seen.size());
        QStringList words;
        for (const std::string& reason : reasons[i].reasons)
            words << QString::fromStdString(reason);
        card->setText(clockWords(frames[i].time) + "\n" + words.value(0));
        card->setToolTip(words.join(", "));
        card->setAccessibleName(clockWords(frames[i].time) + ": " + words.join(", "));
        card->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        connect(card, &QToolButton::clicked, this,
                [this, number = frames[i].number] { desk_.ask(number); });
        proposals_->insertWidget(static_cast<int>(i) + 1, card, 0, Qt::AlignTop);
    }
    strip_->mark(std::move(times));
}

// The piece's lettering and all else over its picture, so that proposals are seen as they would be
// met.
void FilmView::prepareCover() {
    const Piece* piece = session_.piece();
    if (!piece) return;
    aside(
        session_.jobs(), this,
        [kit = session_.kit(), over = *piece, inks = session_.inks(),
         id = layerForStill(*piece, session_.layer() ? session_.layer()->id : 0)](
            const std::stop_token& stop) mutable {
            for (Layer& layer : over.layers)
                if (layer.id == id) layer.hidden = true;
            const auto frame = zl::render({over, kit}, *inks, stop);
            if (!frame) return QImage();
            return QImage(frame->bytes(), frame->width(), frame->height(), frame->width() * 4,
                          QImage::Format_RGBA8888)
                .scaledToWidth(proposalWidth, Qt::SmoothTransformation);
        },
        [this](const QImage& cover) {
            cover_ = cover;
            if (!proposed_.empty()) fillProposals(proposed_, reasons_);
        });
}

// The frame cropped to the piece's shape, with the piece over it.
QImage FilmView::covered(const QImage& frame) const {
    const QSize size =
        cover_.isNull() ? frame.size().scaled(proposalWidth, proposalHeight, Qt::KeepAspectRatio)
                        : cover_.size().scaled(proposalWidth, proposalHeight, Qt::KeepAspectRatio);
    QImage out(size, QImage::Format_RGB32);
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

// The exact frame is encoded and put in aside; the piece may be edited meanwhile, and then it is
// asked for again.
void FilmView::take() {
    if (!now_ || !session_.piece()) return;
    AsideEdit edit{.what = tr("Take a still")};
    edit.make = [frame = *now_, file = desk_.file(), id = session_.piece()->id,
                 chosen = session_.layer() ? session_.layer()->id : 0](const Kit& kit,
                                                                       const std::stop_token&) {
        const Piece* piece = kit.piece(id);
        const PixelSize size{frame.image.width(), frame.image.height()};
        Straight8 pixels(size);
        for (int y = 0; y < size.height; ++y)
            std::memcpy(pixels.row(y), frame.image.constScanLine(y),
                        static_cast<std::size_t>(size.width) * 4);
        auto still = stillOf({std::move(pixels), frame.number, frame.time, frame.toned, false},
                             file.filename().string());
        if (!still) return Result<Kit>(passOn(still.error()));
        return withStill(kit, id, piece ? layerForStill(*piece, chosen) : 0, std::move(*still),
                         size, {file.string(), frame.time, frame.number, size});
    };
    edit.applied = [this] {
        session_.tell(tr("The frame at %1 is the piece's picture. Ctrl+Z brings the old one back.")
                          .arg(clockWords(now_ ? now_->time : 0)),
                      false);
        Q_EMIT taken();
    };
    session_.applyAside(std::move(edit));
}

}  // namespace zl::app
