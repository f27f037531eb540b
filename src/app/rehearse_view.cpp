// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "jobs.h"
#include "panel.h"
#include "raster/decode.h"
#include "words/words.h"

namespace zl::app {
namespace {

QImage imageOf(const Straight8& raster) {
    return QImage(raster.bytes(), raster.width(), raster.height(), raster.width() * 4, QImage::Format_RGBA8888).copy();
}

// One surface at true pixels: a device px of the surface is a device px of the screen. Under it what it does to the piece.
class SurfacePicture : public QWidget {
  public:
    SurfacePicture(const Surface& surface, const SurfaceNote* note, QWidget* parent) : QWidget(parent), image_(imageOf(surface.picture)) {
        setObjectName("surface-" + QString::fromStdString(surface.id));
        title_ = tr("%1 · true pixels").arg(QString::fromStdString(surface.title));
        if (note) {
            verdict_ = note->verdict;
            note_ = QString::fromStdString(english(note->covered)) + " · " + QString::fromStdString(english(note->letters));
        }
        setAccessibleName(QString::fromStdString(surface.title));
        setAccessibleDescription(note_);
        setToolTip(note_);
    }
    QSize sizeHint() const override { return (QSizeF(image_.size()) / devicePixelRatioF()).toSize() + QSize(2, note_.isEmpty() ? 26 : 44); }
    QSize minimumSizeHint() const override { return sizeHint(); }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        image_.setDevicePixelRatio(devicePixelRatioF());
        painter.drawImage(QPointF(1, 1), image_);
        const QSizeF size = QSizeF(image_.size()) / devicePixelRatioF();
        painter.setPen(Theme::now()["seam-strong"]);
        painter.drawRect(QRectF(0.5, 0.5, size.width() + 1, size.height() + 1));
        painter.setPen(Theme::now()["ink"]);
        painter.setFont(interfaceFont(12));
        painter.drawText(QRectF(0, size.height() + 4, width(), 20), Qt::AlignLeft | Qt::AlignVCenter, title_);
        if (note_.isEmpty()) return;
        drawVerdict(painter, QRectF(0, size.height() + 27, 10, 10), verdict_, false);
        painter.setPen(Theme::now()["ink-soft"]);
        const QRectF line(16, size.height() + 22, width() - 16, 20);
        painter.drawText(line, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(note_, Qt::ElideRight, static_cast<int>(line.width())));
    }

  private:
    QImage image_;
    QString title_, note_;
    Verdict verdict_ = Verdict::pass;
};

QString stateWords(HostState state) {
    switch (state) {
        case HostState::draft:
            return RehearseView::tr("▬ Accepted, a draft");
        case HostState::published:
            return RehearseView::tr("▬ Accepted, published");
        case HostState::draftOverPublished:
            return RehearseView::tr("▬ Accepted, a draft over what is published");
        case HostState::nothing:
            break;
    }
    return RehearseView::tr("–");
}

}  // namespace

RehearseView::RehearseView(Session& session, ReadingsDesk& desk, Path hostFolder, QWidget* bench, QWidget* parent)
    : QWidget(parent), session_(session), desk_(desk), hostFolder_(std::move(hostFolder)) {
    setObjectName("rehearseView");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = viewHeadline(column);
    headline_->setObjectName("hostHeadline");
    auto* bar = static_cast<QHBoxLayout*>(headline_->parentWidget()->layout());
    const auto themeButton = [&](const QString& words, const char* objectName, bool on) {
        auto* button = new QToolButton;
        button->setObjectName(objectName);
        button->setText(words);
        button->setCheckable(true);
        button->setAutoExclusive(true);
        button->setChecked(on);
        button->setAccessibleName(tr("Surfaces: %1").arg(words));
        bar->addWidget(button);
        connect(button, &QToolButton::clicked, this, &RehearseView::fill);
        return button;
    };
    light_ = themeButton(tr("Light"), "surfacesLight", true);
    dark_ = themeButton(tr("Dark"), "surfacesDark", false);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setFocusPolicy(Qt::StrongFocus);
    scroll_->setAccessibleName(tr("The surfaces"));
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    board_ = new QWidget;
    surfaces_ = new QVBoxLayout(board_);
    surfaces_->setContentsMargins(16, 14, 8, 16);
    surfaces_->setSpacing(14);
    empty_ = new QLabel;
    empty_->setObjectName("rehearseEmpty");
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setWordWrap(true);
    empty_->setFont(interfaceFont(15, 500));
    surfaces_->addWidget(empty_, 1);
    toRelease_ = new QPushButton(tr("Go to Release"));
    toRelease_->setObjectName("goToRelease");
    surfaces_->addWidget(toRelease_, 0, Qt::AlignHCenter);
    surfaces_->addStretch(1);
    scroll_->setWidget(board_);
    column->addWidget(scroll_, 1);

    Panel panel(bench);
    panel.title(tr("Hand over"));
    file_ = new QLabel;
    file_->setWordWrap(true);
    file_->setObjectName("handedFile");
    panel.whole(tr("File"), file_);
    state_ = new QLabel;
    state_->setObjectName("hostState");
    state_->setFont(interfaceFont(13, 600));
    state_->setWordWrap(true);
    panel.whole(tr("State"), state_);
    handOver_ = panel.button(tr("Hand over"), "handOver", true);
    publish_ = panel.button(tr("Publish the draft"), "publishDraft", false);
    other_ = panel.button(tr("Hand over another file …"), "handOverOther", false);
    panel.seam();
    panel.title(tr("What the host said"));
    said_ = panel.text("hostSaid");
    said_->setProperty("soft", false);
    panel.end();

    connect(handOver_, &QPushButton::clicked, this, [this] {
        if (session_.piece() && releasedFile)
            if (const auto file = releasedFile(session_.piece()->id)) handOver(*file);
    });
    connect(publish_, &QPushButton::clicked, this, &RehearseView::publish);
    connect(other_, &QPushButton::clicked, this, &RehearseView::fileAsked);
    connect(toRelease_, &QPushButton::clicked, this, &RehearseView::releaseAsked);
    connect(&session_, &Session::chosen, this, &RehearseView::refresh);
    connect(&desk_, &ReadingsDesk::changed, this, [this](const QString& id) {
        if (isVisible() && session_.piece() && session_.piece()->id == id.toStdString()) fill();
    });
    connect(&session_, &Session::opened, this, [this] {
        shown_.clear();
        refresh();
    });
}

Path RehearseView::hostOfKit() const {
    return hostFolder_ / fileNameFromTitle(session_.kit().title);
}

const RehearseView::Shown* RehearseView::shown() const {
    const auto found = session_.piece() ? shown_.find(session_.piece()->id) : shown_.end();
    return found == shown_.end() ? nullptr : &found->second;
}

Result<RehearseView::Shown> RehearseView::run(const Errand& errand) {
    StandInHost host(errand.host);
    Shown out;
    out.answer.accepted = true;
    if (errand.handOver) {
        const auto bytes = readFile(*errand.handOver);
        if (!bytes) return passOn(bytes.error());
        auto answer = host.handOver(*bytes, errand.handOver->filename().string(), errand.pieceId, errand.brief);
        if (!answer) return passOn(answer.error());
        out.answer = std::move(*answer);
        out.file = QString::fromStdString(errand.handOver->filename().string());
    }
    if (errand.publish)
        if (auto done = host.publish(errand.pieceId, errand.brief); !done) return passOn(done.error());
    out.state = host.state(errand.pieceId);
    const auto kept = host.accepted(errand.pieceId);
    if (!out.answer.accepted || !kept) return out;
    // What is shown is the file that the host keeps, as the host shows it: its own copy of each width.
    const auto bytes = readFile(*kept);
    if (!bytes) return passOn(bytes.error());
    const auto picture = decode(*bytes, kept->filename().string());
    if (!picture) return passOn(picture.error());
    std::map<int, std::shared_ptr<const Straight8>> copies;
    auto surfaces = drawSurfaces(
        errand.brief,
        [&](int width) {
            auto& copy = copies[width];
            if (!copy)
                if (const auto made = displayCopy(*picture->pixels, width))
                    if (const auto back = decode(*made, "the host's copy")) copy = back->pixels;
            return copy;
        },
        errand.posted);
    if (!surfaces) return passOn(surfaces.error());
    out.surfaces = std::move(*surfaces);
    return out;
}

void RehearseView::send(std::optional<Path> file, bool publish) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || busy_) return;
    busy_ = true;
    handOver_->setEnabled(false);
    publish_->setEnabled(false);
    headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " + tr("looking at the file …"));
    Errand errand{hostOfKit(), piece->id, *brief, {}, std::move(file), publish};
    errand.posted.title = piece->title;
    errand.posted.channel = session_.kit().title;
    const bool keepsSaying = !errand.handOver;
    aside(
        session_.pool(), this, [errand] { return run(errand); },
        [this, id = piece->id, keepsSaying](Result<Shown> outcome) {
            busy_ = false;
            if (outcome) {
                const auto before = shown_.find(id);
                if (keepsSaying && before != shown_.end()) {
                    outcome->answer = before->second.answer;
                    outcome->file = before->second.file;
                }
                shown_[id] = std::move(*outcome);
            } else {
                session_.tell(QString::fromStdString(outcome.error().sentence()), true);
            }
            refresh();
        });
}

void RehearseView::handOver(const Path& file) {
    send(file, false);
}

void RehearseView::publish() {
    send({}, true);
}

void RehearseView::refresh() {
    const Piece* piece = session_.piece();
    // A file accepted in an earlier sitting is shown as it lies with the host.
    if (isVisible() && piece && !busy_ && !shown() && StandInHost(hostOfKit()).accepted(piece->id)) send({}, false);
    const Shown* now = shown();
    const auto file = piece && releasedFile ? releasedFile(piece->id) : std::nullopt;
    handOver_->setEnabled(file && !busy_);
    handOver_->setToolTip(file ? QString() : tr("Release the piece first; its file is what is handed over."));
    handOver_->setText(now && now->answer.accepted && now->state != HostState::nothing ? tr("Hand over again") : tr("Hand over"));
    const bool draft = now && (now->state == HostState::draft || now->state == HostState::draftOverPublished);
    publish_->setEnabled(draft && !busy_);
    publish_->setToolTip(draft ? tr("The audience sees it only then") : tr("There is no draft: hand a file over first."));
    other_->setEnabled(piece && !busy_);
    toRelease_->setVisible(!now && !file);
    if (!now) {
        file_->setText(file ? QString::fromStdString(file->filename().string()) : tr("nothing released yet"));
        empty_->setText(!piece ? tr("Start a piece first; then it can be rehearsed.")
                        : file ? tr("The file is released. Hand it over, and see how the audience meets it.")
                               : tr("Nothing to rehearse yet.\nRelease the piece; its file is handed to the stand-in host and shown as the "
                                    "audience meets it."));
    }
    fill();
}

void RehearseView::fill() {
    for (QWidget* picture : pictures_) {
        picture->hide();
        picture->deleteLater();
    }
    pictures_.clear();
    const Shown* now = shown();
    const bool accepted = now && now->answer.accepted && now->state != HostState::nothing;
    if (!busy_)
        headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " +
                           (!now                                 ? tr("nothing handed over yet")
                            : !accepted                          ? tr("refused %1").arg(now->file.toHtmlEscaped())
                            : now->state == HostState::published ? tr("published; recompressed to its own sizes")
                                                                 : tr("a draft, as it would be shown; not published yet")));
    state_->setText(!now ? tr("–") : accepted ? stateWords(now->state) : tr("◆ Refused"));
    state_->setStyleSheet(now ? QString("color: %1").arg(verdictColour(accepted ? Verdict::pass : Verdict::fail, false).name())
                              : QString());
    empty_->setVisible(!now || now->surfaces.empty());
    said_->setText(now ? QString() : tr("Nothing yet."));
    for (QToolButton* button : {light_, dark_}) button->setVisible(now && !now->surfaces.empty());
    if (!now) return;
    if (!now->file.isEmpty()) file_->setText(now->file);
    QString said = "<table width='100%' cellspacing='0'>";
    for (const HostSaid& one : now->answer.said) {
        const QString shape = one.verdict == Verdict::fail ? "◆" : one.verdict == Verdict::watch ? "◧" : "▬";
        said += QString(
                    "<tr><td style='color:%1; padding:0 8px 6px 0'>%2</td><td style='padding:0 8px 6px 0'>%3<br><span "
                    "style='color:%4'>%5</span></td></tr>")
                    .arg(verdictColour(one.verdict, false).name(), shape, QString::fromStdString(one.what).toHtmlEscaped(),
                         Theme::now()["ink-soft"].name(), QString::fromStdString(one.beside).toHtmlEscaped());
    }
    said += "</table>";
    static const QRegularExpression aroundTimes("([0-9]) (×) ([0-9])");  // a size stays on one line
    said.replace(aroundTimes, "\\1&nbsp;\\2&nbsp;\\3");
    said_->setText(now->answer.said.empty() ? tr("It was accepted in an earlier sitting.") : said);
    if (now->surfaces.empty())
        return empty_->setText(accepted ? tr("The host took it. This brief has no surface to look at yet.")
                                        : tr("Refused. What the host keeps is unchanged; the reasons stand on the right."));
    flow();
}

// As many in a row as the view is wide.
void RehearseView::flow() {
    const Shown* now = shown();
    const char* theme = dark_->isChecked() ? "dark" : "light";
    const PieceState* state = desk_.state(session_.piece()->id);
    const int room = scroll_->width() - 44;
    QWidget* row = nullptr;
    int used = 0;
    for (const Surface& surface : now->surfaces) {
        const bool onlyOne = std::none_of(now->surfaces.begin(), now->surfaces.end(),
                                          [&](const Surface& s) { return s.spec == surface.spec && s.theme == theme; });
        if (surface.theme != theme && !onlyOne) continue;
        const SurfaceNote* note = nullptr;
        if (state && desk_.isCurrent(session_.piece()->id))
            for (const SurfaceNote& one : state->notes)
                if (one.surface == surface.spec) note = &one;
        auto* picture = new SurfacePicture(surface, note, nullptr);
        const int wide = picture->sizeHint().width();
        if (!row || used + wide > room) {
            row = new QWidget;
            auto* line = new QHBoxLayout(row);
            line->setContentsMargins(0, 0, 0, 0);
            line->setSpacing(14);
            line->addStretch();
            surfaces_->insertWidget(surfaces_->count() - 1, row);
            pictures_.push_back(row);
            used = 0;
        }
        auto* line = static_cast<QHBoxLayout*>(row->layout());
        line->insertWidget(line->count() - 1, picture, 0, Qt::AlignTop | Qt::AlignLeft);
        used += wide + 14;
    }
}

void RehearseView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (event->oldSize().width() != event->size().width()) fill();
}

}  // namespace zl::app
