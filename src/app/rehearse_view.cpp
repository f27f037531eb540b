// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
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

// One surface at true pixels: a device px of the surface is a device px of the screen.
class SurfacePicture : public QWidget {
  public:
    SurfacePicture(const Surface& surface, QWidget* parent) : QWidget(parent), image_(imageOf(surface.picture)) {
        setObjectName("surface-" + QString::fromStdString(surface.id));
        setAccessibleName(QString::fromStdString(surface.title));
        caption_ = tr("%1 · true pixels").arg(QString::fromStdString(surface.title));
    }
    QSize sizeHint() const override { return (QSizeF(image_.size()) / devicePixelRatioF()).toSize() + QSize(2, 26); }
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
        painter.drawText(QRectF(0, size.height() + 4, width(), 20), Qt::AlignLeft | Qt::AlignVCenter, caption_);
    }

  private:
    QImage image_;
    QString caption_;
};

}  // namespace

RehearseView::RehearseView(Session& session, Path hostFolder, QWidget* bench, QWidget* parent)
    : QWidget(parent), session_(session), hostFolder_(std::move(hostFolder)) {
    setObjectName("rehearseView");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    headline_ = viewHeadline(column);
    headline_->setObjectName("hostHeadline");
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
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
    scroll->setWidget(board_);
    column->addWidget(scroll, 1);

    Panel panel(bench);
    panel.title(tr("Hand over"));
    file_ = new QLabel;
    file_->setWordWrap(true);
    file_->setObjectName("handedFile");
    panel.whole(tr("File"), file_);
    state_ = new QLabel;
    state_->setObjectName("hostState");
    state_->setFont(interfaceFont(13, 600));
    panel.whole(tr("State"), state_);
    handOver_ = panel.button(tr("Hand over"), "handOver", true);
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
    connect(other_, &QPushButton::clicked, this, &RehearseView::fileAsked);
    connect(toRelease_, &QPushButton::clicked, this, &RehearseView::releaseAsked);
    connect(&session_, &Session::chosen, this, &RehearseView::refresh);
    connect(&session_, &Session::opened, this, [this] {
        shown_.clear();
        refresh();
    });
}

RehearseView::Outcome RehearseView::rehearse(const Path& file, const Path& hostFolder, const Piece& piece, const Brief& brief,
                                             const Posted& posted) {
    Outcome outcome{fail(Code::unreadable, ""), {}};
    const auto bytes = readFile(file);
    if (!bytes) {
        outcome.answer = passOn(bytes.error());
        return outcome;
    }
    outcome.answer = StandInHost(hostFolder).handOver(*bytes, file.filename().string(), piece.id, brief);
    if (!outcome.answer || !outcome.answer->accepted) return outcome;
    // What is shown is the file that the host keeps, not the piece.
    const auto kept = readFile(outcome.answer->kept);
    const auto picture = kept ? decode(*kept, file.filename().string()) : Result<Picture>(passOn(kept.error()));
    auto surfaces = picture ? drawSurfaces(brief, picture->pixels, posted) : Result<std::vector<Surface>>(passOn(picture.error()));
    if (surfaces)
        outcome.surfaces = std::move(*surfaces);
    else
        outcome.answer = passOn(surfaces.error());
    return outcome;
}

void RehearseView::handOver(const Path& file) {
    const Piece* piece = session_.piece();
    const Brief* brief = session_.brief();
    if (!piece || !brief || busy_) return;
    busy_ = true;
    handOver_->setEnabled(false);
    headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " + tr("looking at the file …"));
    const Path folder = hostFolder_ / fileNameFromTitle(session_.kit().title);
    Posted posted;
    posted.title = piece->title;
    posted.channel = session_.kit().title;
    aside(
        session_.pool(), this, [=, demand = *brief, handed = *piece] { return rehearse(file, folder, handed, demand, posted); },
        [this, id = piece->id, name = QString::fromStdString(file.filename().string())](Outcome outcome) {
            busy_ = false;
            if (outcome.answer)
                shown_[id] = {std::move(*outcome.answer), name, std::move(outcome.surfaces)};
            else
                session_.tell(QString::fromStdString(outcome.answer.error().sentence()), true);
            refresh();
        });
}

void RehearseView::lookBack() {
    // A file accepted in an earlier sitting is shown again as it lies with the host.
    const Piece* piece = session_.piece();
    if (!piece || busy_ || shown_.contains(piece->id)) return;
    const StandInHost host(hostFolder_ / fileNameFromTitle(session_.kit().title));
    if (const auto kept = host.accepted(piece->id)) handOver(*kept);
}

void RehearseView::refresh() {
    const Piece* piece = session_.piece();
    if (isVisible()) lookBack();
    const auto found = piece ? shown_.find(piece->id) : shown_.end();
    fill(found == shown_.end() ? nullptr : &found->second);
    const auto file = piece && releasedFile ? releasedFile(piece->id) : std::nullopt;
    handOver_->setEnabled(file && !busy_);
    handOver_->setToolTip(file ? QString() : tr("Release the piece first; its file is what is handed over."));
    other_->setEnabled(piece && !busy_);
    handOver_->setText(found != shown_.end() && found->second.answer.accepted ? tr("Hand over again") : tr("Hand over"));
    if (found == shown_.end()) file_->setText(file ? QString::fromStdString(file->filename().string()) : tr("nothing released yet"));
    toRelease_->setVisible(found == shown_.end() && !file);
    if (found == shown_.end())
        empty_->setText(!piece ? tr("Start a piece first; then it can be rehearsed.")
                        : file ? tr("The file is released. Hand it over, and see how the audience meets it.")
                               : tr("Nothing to rehearse yet.\nRelease the piece; its file is handed to the stand-in host and shown as the "
                                    "audience meets it."));
}

void RehearseView::fill(const Shown* shown) {
    for (QWidget* picture : pictures_) picture->deleteLater();
    pictures_.clear();
    headline_->setText(heavy(tr("Stand-in host")) + "&nbsp;&nbsp; " +
                       (!shown ? tr("nothing handed over yet")
                               : (shown->answer.accepted ? tr("accepted %1") : tr("refused %1")).arg(shown->file.toHtmlEscaped())));
    state_->setText(!shown ? tr("–") : shown->answer.accepted ? tr("▬ Accepted") : tr("◆ Refused"));
    state_->setStyleSheet(
        shown ? QString("color: %1").arg(verdictColour(shown->answer.accepted ? Verdict::pass : Verdict::fail, false).name()) : QString());
    empty_->setVisible(!shown || shown->surfaces.empty());
    said_->setText(shown ? QString() : tr("Nothing yet."));
    if (!shown) return;
    file_->setText(shown->file);
    QString said = "<table width='100%' cellspacing='0'>";
    for (const HostSaid& one : shown->answer.said) {
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
    said_->setText(said);
    if (shown->surfaces.empty()) {
        empty_->setText(shown->answer.accepted ? tr("The host took it. This brief has no feed surface to look at.")
                                               : tr("Refused. What the host keeps is unchanged; the reasons stand on the right."));
        return;
    }
    // Two side by side, in one theme; the surfaces come in that order.
    QWidget* row = nullptr;
    for (std::size_t i = 0; i < shown->surfaces.size(); ++i) {
        if (i % 2 == 0) {
            row = new QWidget;
            auto* pair = new QHBoxLayout(row);
            pair->setContentsMargins(0, 0, 0, 0);
            pair->setSpacing(14);
            surfaces_->insertWidget(surfaces_->count() - 1, row);
            pictures_.push_back(row);
            pair->addWidget(new SurfacePicture(shown->surfaces[i], row), 0, Qt::AlignTop | Qt::AlignLeft);
            pair->addStretch();
        } else {
            static_cast<QHBoxLayout*>(row->layout())
                ->insertWidget(1, new SurfacePicture(shown->surfaces[i], row), 0, Qt::AlignTop | Qt::AlignLeft);
        }
    }
}

}  // namespace zl::app
