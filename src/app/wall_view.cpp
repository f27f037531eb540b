// SPDX-License-Identifier: GPL-3.0-or-later
#include "wall_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "rehearsal/wall.h"
#include "surface_picture.h"
#include "theme.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr PixelSize tileSize{248, 140};
constexpr int gap = 12, side = 20;

// A surface, small, with its name under it.
class TileButton : public QToolButton {
  public:
    TileButton(const QImage& image, const QString& title) : image_(image), title_(title) {
        setAccessibleName(title);
        setToolTip(title);
        setCursor(Qt::PointingHandCursor);
        setFixedSize(std::max(image.width(), 96) + 2, tileSize.height + 24);
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const Theme& theme = Theme::now();
        painter.drawImage(1, 1, image_);
        painter.setPen(QPen(hasFocus() || underMouse() ? theme["accent"] : theme["seam-strong"], 1));
        painter.drawRect(0, 0, image_.width() + 1, image_.height() + 1);
        painter.setFont(interfaceFont(11));
        painter.setPen(theme["ink-soft"]);
        painter.drawText(QRect(0, image_.height() + 4, width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(title_, Qt::ElideRight, width()));
    }

  private:
    QImage image_;
    QString title_;
};

}  // namespace

WallView::WallView(Session& session, ReadingsDesk& desk, QWidget* parent) : QScrollArea(parent), session_(session), desk_(desk) {
    setObjectName("wall");
    setAccessibleName(tr("Every surface of every piece"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(&desk_, &ReadingsDesk::changed, this, [this] {
        if (isVisible()) draw();
    });
    connect(&session_, &Session::opened, this, [this] {
        job_.cancel();
        shown_.clear();
        if (isVisible()) draw();
    });
    connect(&session_, &Session::kitChanged, this, [this] {
        if (isVisible()) lay();
    });
}

int WallView::tiles() const {
    int n = 0;
    for (const auto& [id, shown] : shown_)
        n += static_cast<int>(std::count_if(shown.tiles.begin(), shown.tiles.end(), [](const QImage& tile) { return !tile.isNull(); }));
    return n;
}

int WallView::tilesDue() const {
    std::size_t n = 0;
    for (const auto& [id, shown] : shown_) n += shown.due;
    return static_cast<int>(n);
}

bool WallView::complete() const {
    for (const Piece& piece : session_.kit().pieces) {
        const PieceState* state = desk_.state(piece.id);
        if (session_.briefs().find(piece.brief) && (!state || !state->frame || !shown_.contains(piece.id))) return false;
    }
    return tiles() == tilesDue();
}

void WallView::forget() {
    job_.cancel();
    shown_.clear();
}

void WallView::refresh() {
    draw();
    lay();
}

void WallView::showEvent(QShowEvent* event) {
    QScrollArea::showEvent(event);
    refresh();
}

// What changed since it was drawn, aside.
void WallView::draw() {
    std::vector<std::pair<WallPiece, Brief>> due;
    for (const Piece& piece : session_.kit().pieces) {
        const PieceState* state = desk_.state(piece.id);
        const Brief* brief = session_.briefs().find(piece.brief);
        if (!state || !state->frame || !brief) continue;
        const auto known = shown_.find(piece.id);
        const bool whole = known != shown_.end() && known->second.frame == state->frame &&
                           std::none_of(known->second.tiles.begin(), known->second.tiles.end(), [](const QImage& t) { return t.isNull(); });
        if (whole) continue;
        due.push_back({{piece.id, piece.title, nullptr, state->frame}, *brief});
        WallPiece counted = due.back().first;
        counted.brief = brief;
        Shown& fresh = shown_[piece.id];
        const std::size_t count = tilesOf({counted});
        if (fresh.frame != state->frame) fresh = {state->frame, std::vector<QImage>(count), std::vector<QString>(count), count};
    }
    if (due.empty()) return layAsked_ ? void() : lay();
    job_.post([this, due = std::move(due), channel = session_.kit().title](const std::stop_token& stop) {
        for (const auto& [piece, brief] : due) {
            WallPiece one = piece;
            one.brief = &brief;
            // A failure leaves the tile empty; the piece itself says what is wrong with it.
            static_cast<void>(drawWall({one}, channel, tileSize, stop, [&, id = one.id](std::size_t at, const Tile& tile) {
                QMetaObject::invokeMethod(
                    this,
                    [this, id, at, title = QString::fromStdString(tile.title), image = imageOf(tile.picture)] {
                        take(id, at, title, image);
                    },
                    Qt::QueuedConnection);
            }));
            if (stop.stop_requested()) return;
        }
    });
}

void WallView::take(const std::string& piece, std::size_t at, const QString& title, const QImage& image) {
    const auto found = shown_.find(piece);
    if (found == shown_.end() || at >= found->second.tiles.size()) return;
    found->second.tiles[at] = image;
    found->second.titles[at] = title;
    Q_EMIT changed();
    // Tiles come in bursts; they are laid out together.
    if (layAsked_) return;
    layAsked_ = true;
    constexpr int together = 60;  // ms
    QTimer::singleShot(together, this, [this] {
        layAsked_ = false;
        if (isVisible()) lay();
    });
}

void WallView::lay() {
    const int scrolled = verticalScrollBar() ? verticalScrollBar()->value() : 0;
    auto* board = new QWidget;
    auto* column = new QVBoxLayout(board);
    column->setContentsMargins(side, 14, side, 18);
    column->setSpacing(8);
    const int room = viewport()->width() - 2 * side;
    for (const Piece& piece : session_.kit().pieces) {
        const PieceState* state = desk_.state(piece.id);
        auto* head = new QToolButton;
        head->setObjectName("wallPiece-" + QString::fromStdString(piece.id));
        head->setProperty("words", true);
        const Verdict verdict = state ? state->verdict : Verdict::notMeasured;
        const QString shape = verdict == Verdict::fail ? "◆" : verdict == Verdict::watch ? "◧" : verdict == Verdict::pass ? "▬" : "–";
        const QString word = state ? QString::fromStdString(english({"verdict." + std::string(nameOf(verdict)), {}})) : tr("measuring …");
        head->setText(QString("%1  %2   ·   %3").arg(shape, word, QString::fromStdString(piece.title)));
        head->setStyleSheet(QString("color: %1; font-weight: 600; border: 0; text-align: left;").arg(verdictColour(verdict, false).name()));
        head->setAccessibleName(tr("%1: %2").arg(QString::fromStdString(piece.title), word));
        connect(head, &QToolButton::clicked, this, [this, id = QString::fromStdString(piece.id)] { Q_EMIT pieceAsked(id); });
        column->addWidget(head, 0, Qt::AlignLeft);
        const auto known = shown_.find(piece.id);
        if (known == shown_.end() || known->second.due == 0) {
            auto* none =
                new QLabel(!state                                ? tr("It is being measured; its surfaces follow.")
                           : session_.briefs().find(piece.brief) ? tr("Its brief has no surface; it is not met anywhere by itself.")
                                                                 : tr("Its brief is not here."));
            none->setProperty("soft", true);
            column->addWidget(none);
            column->addSpacing(10);
            continue;
        }
        QHBoxLayout* row = nullptr;
        int used = 0;
        for (std::size_t i = 0; i < known->second.tiles.size(); ++i) {
            const QImage& image = known->second.tiles[i];
            if (image.isNull()) continue;
            auto* tile = new TileButton(image, known->second.titles[i]);
            tile->setObjectName(QString("tile-%1-%2").arg(QString::fromStdString(piece.id)).arg(i));
            connect(tile, &QToolButton::clicked, this, [this, id = QString::fromStdString(piece.id)] { Q_EMIT pieceAsked(id); });
            if (!row || used + tile->width() > room) {
                row = new QHBoxLayout;
                row->setSpacing(gap);
                row->addStretch();
                column->addLayout(row);
                used = 0;
            }
            row->insertWidget(row->count() - 1, tile, 0, Qt::AlignTop);
            used += tile->width() + gap;
        }
        column->addSpacing(10);
    }
    if (session_.kit().pieces.empty()) {
        auto* empty = new QLabel(tr("The kit is empty. Start a piece; its surfaces stand here."));
        empty->setAlignment(Qt::AlignCenter);
        empty->setFont(interfaceFont(15, 500));
        column->addWidget(empty, 1);
    }
    column->addStretch();
    setWidget(board);  // the old one goes
    if (verticalScrollBar()) verticalScrollBar()->setValue(scrolled);
    Q_EMIT changed();
}

void WallView::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    if (isVisible() && event->oldSize().width() != event->size().width()) lay();
}

}  // namespace zl::app
