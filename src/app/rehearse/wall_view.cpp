// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse/wall_view.h"

#include <QLabel>
#include <QPainter>
#include <QToolButton>

#include "look/theme.h"
#include "rehearsal/wall.h"
#include "widgets/surface_picture.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr PixelSize tileSize{248, 140};
constexpr int gap = 12, side = 20, headHeight = 20;

// A surface, small, with its name under it.
class TileButton : public QToolButton {
  public:
    explicit TileButton(QWidget* parent) : QToolButton(parent) {
        setCursor(Qt::PointingHandCursor);
    }
    void show(const QImage& image, const QString& title) {
        if (image_.cacheKey() == image.cacheKey() && title_ == title) return;
        image_ = image;
        title_ = title;
        setAccessibleName(title);
        setToolTip(title);
        setFixedSize(std::max(image.width(), 96) + 2, tileSize.height + 24);
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        const Theme& theme = Theme::now();
        painter.drawImage(1, 1, image_);
        painter.setPen(
            QPen(hasFocus() || underMouse() ? theme["accent"] : theme["seam-strong"], 1));
        painter.drawRect(0, 0, image_.width() + 1, image_.height() + 1);
        painter.setFont(interfaceFont(11));
        painter.setPen(theme["ink-soft"]);
        painter.drawText(QRect(0, image_.height() + 4, width(), 18),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(title_, Qt::ElideRight, width()));
    }

  private:
    QImage image_;
    QString title_;
};

// A piece's verdict and title.
class HeadButton : public QToolButton {
  public:
    explicit HeadButton(QWidget* parent) : QToolButton(parent) {
        setCursor(Qt::PointingHandCursor);
    }
    void show(const QString& words, Verdict verdict) {
        verdict_ = verdict;
        words_ = words;
        setText(literally(words));
        resize(QFontMetrics(interfaceFont(13, 600)).horizontalAdvance(words) + 4, headHeight);
        update();
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        QFont font = interfaceFont(13, 600);
        font.setUnderline(hasFocus() || underMouse());
        painter.setFont(font);
        painter.setPen(verdictColour(verdict_, false));
        painter.drawText(rect(), Qt::AlignLeft | Qt::AlignVCenter, words_);
    }

  private:
    QString words_;
    Verdict verdict_ = Verdict::notMeasured;
};

}  // namespace

// One piece on the wall: its head, and its tiles in rows under it. It keeps its buttons, so that
// the focus stays where it is while tiles arrive, and lays them out by hand: many small widgets in
// nested layouts would hold the interface thread.
class WallSection : public QWidget {
  public:
    WallSection(const QString& id, QWidget* parent, const std::function<void()>& chosen)
        : QWidget(parent), id_(id), chosen_(chosen) {
        head_ = new HeadButton(this);
        head_->setObjectName("wallPiece-" + id);
        connect(head_, &QToolButton::clicked, this, chosen_);
        none_ = new QLabel(this);
        none_->setProperty("soft", true);
        none_->move(0, headHeight + between);
    }

    void setHead(Verdict verdict, const QString& word, const QString& title) {
        const QString shape = verdict == Verdict::fail    ? "◆"
                              : verdict == Verdict::watch ? "◧"
                              : verdict == Verdict::pass  ? "▬"
                                                          : "–";
        head_->show(QString("%1  %2   ·   %3").arg(shape, word, title), verdict);
        head_->setAccessibleName(tr("%1: %2").arg(title, word));
    }

    // The height it takes. Images that are not there yet are left out; `none` is said where there
    // is none to come. No more than `newOnes` buttons are made, of which those that are made are
    // taken off.
    int lay(const std::vector<QImage>& images, const std::vector<QString>& titles,
            const QString& none, int room, int& newOnes) {
        none_->setVisible(images.empty());
        if (images.empty() && none_->text() != none) {
            none_->setText(none);
            none_->adjustSize();
        }
        tiles_.resize(std::max(tiles_.size(), images.size()));
        int x = 0, y = headHeight + between, bottom = images.empty() ? y + none_->height() : y;
        for (std::size_t i = 0; i < tiles_.size(); ++i) {
            TileButton*& tile = tiles_[i];
            const bool there = i < images.size() && !images[i].isNull();
            if (tile) tile->setVisible(there);
            if (!there) continue;
            const bool isNew = !tile;
            if (isNew && --newOnes < 0) continue;
            if (isNew) {
                tile = new TileButton(this);
                tile->setObjectName(QString("tile-%1-%2").arg(id_).arg(i));
                connect(tile, &QToolButton::clicked, this, chosen_);
            }
            tile->show(images[i], titles[i]);
            if (x > 0 && x + tile->width() > room) {
                x = 0;
                y = bottom + between;
            }
            tile->move(x, y);
            if (isNew) tile->setVisible(true);
            x += tile->width() + gap;
            bottom = std::max(bottom, y + tile->height());
        }
        return bottom;
    }

    // In the order they stand; `last` is what comes before the first, and the last one is given
    // back.
    QWidget* chain(QWidget* last) {
        const auto follow = [&](QWidget* next) {
            if (last) setTabOrder(last, next);
            last = next;
        };
        follow(head_);
        for (TileButton* tile : tiles_)
            if (tile && !tile->isHidden()) follow(tile);
        return last;
    }

  private:
    static constexpr int between = 8;

    QString id_;
    std::function<void()> chosen_;
    HeadButton* head_;
    QLabel* none_;
    std::vector<TileButton*> tiles_;  // null: not drawn yet
};

WallView::WallView(Session& session, ReadingsDesk& desk, QWidget* parent)
    : QScrollArea(parent), session_(session), desk_(desk) {
    setObjectName("wall");
    setAccessibleName(tr("Every surface of every piece"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    board_ = new QWidget;
    empty_ = new QLabel(tr("The kit is empty. Start a piece; its surfaces stand here."), board_);
    empty_->setAlignment(Qt::AlignCenter);
    empty_->setFont(interfaceFont(15, 500));
    setWidget(board_);
    connect(&desk_, &ReadingsDesk::changed, this, [this] {
        if (isVisible()) draw();
    });
    connect(&session_, &Session::opened, this, [this] {
        job_.cancel();
        shown_.clear();
        if (isVisible()) draw();
    });
    connect(&session_, &Session::kitChanged, this, [this] {
        if (isVisible()) refresh();
    });
    layTurn_.setSingleShot(true);
    connect(&layTurn_, &QTimer::timeout, this, [this] {
        if (isVisible()) lay();
    });
}

int WallView::tiles() const {
    int n = 0;
    for (const auto& [id, shown] : shown_)
        n += static_cast<int>(std::count_if(shown.tiles.begin(), shown.tiles.end(),
                                            [](const QImage& tile) { return !tile.isNull(); }));
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
        if (session_.briefs().find(piece.brief) &&
            (!state || (state->refusal.isEmpty() && !shown_.contains(piece.id))))
            return false;
    }
    return tiles() == tilesDue();
}

void WallView::forget() {
    job_.cancel();
    shown_.clear();
}

void WallView::refresh() {
    draw();
    laySoon();
}

// In a turn of its own; what was put off until a burst of tiles is there is done now.
void WallView::laySoon() {
    layTurn_.start(0);
}

void WallView::showEvent(QShowEvent* event) {
    QScrollArea::showEvent(event);
    refresh();
}

// What changed since it was drawn, aside.
void WallView::draw() {
    // Every surface names its channel.
    if (std::exchange(channel_, session_.kit().title) != session_.kit().title) forget();
    std::vector<std::vector<WallPiece>> due;  // a piece and its slices each
    for (const Piece& piece : session_.kit().pieces) {
        const PieceState* state = desk_.state(piece.id);
        if (state && !state->refusal.isEmpty()) shown_.erase(piece.id);  // it is said there instead
        if (!state || !state->frame || !session_.briefs().find(piece.brief)) continue;
        const auto known = shown_.find(piece.id);
        const bool whole = known != shown_.end() && known->second.frame == state->frame &&
                           known->second.slices == piece.slices &&
                           std::none_of(known->second.tiles.begin(), known->second.tiles.end(),
                                        [](const QImage& t) { return t.isNull(); });
        if (whole) continue;
        due.push_back(wallPiecesOf(piece, session_.briefs(), state->frame));
        Row& fresh = shown_[piece.id];
        const std::size_t count = tilesOf(due.back());
        if (fresh.frame != state->frame || fresh.slices != piece.slices)
            fresh = {state->frame, piece.slices, std::vector<QImage>(count),
                     std::vector<QString>(count), count};
    }
    if (due.empty()) return layTurn_.isActive() ? void() : laySoon();
    job_.post(
        [this, due = std::move(due), channel = session_.kit().title](const std::stop_token& stop) {
            for (const std::vector<WallPiece>& piece : due) {
                // A failure leaves the tile empty; the piece itself says what is wrong with it.
                static_cast<void>(drawWall(
                    piece, channel, tileSize, stop,
                    [&, id = piece.front().id](std::size_t at, const Tile& tile) {
                        QMetaObject::invokeMethod(
                            this,
                            [this, id, at, title = QString::fromStdString(tile.title),
                             image = imageOf(tile.picture)] { take(id, at, title, image); },
                            Qt::QueuedConnection);
                    }));
                if (stop.stop_requested()) return;
            }
        });
}

void WallView::take(const std::string& piece, std::size_t at, const QString& title,
                    const QImage& image) {
    const auto found = shown_.find(piece);
    if (found == shown_.end() || at >= found->second.tiles.size()) return;
    found->second.tiles[at] = image;
    found->second.titles[at] = title;
    Q_EMIT changed();
    // Tiles come in bursts; they are laid out together.
    constexpr int together = 60;  // ms
    if (!layTurn_.isActive()) layTurn_.start(together);
}

void WallView::lay() {
    constexpr int above = 14, below = 18, apart = 18;
    const int room = viewport()->width() - 2 * side;
    std::map<std::string, WallSection*> kept;
    int y = above;
    QWidget* last = nullptr;
    constexpr int atOnce = 16;  // in one turn; the others follow
    int newOnes = atOnce;
    for (const Piece& piece : session_.kit().pieces) {
        const PieceState* state = desk_.state(piece.id);
        const QString id = QString::fromStdString(piece.id);
        WallSection*& section = sections_[piece.id];
        const bool isNew = !section;
        if (isNew) section = new WallSection(id, board_, [this, id] { Q_EMIT pieceAsked(id); });
        const Verdict verdict = state ? state->verdict : Verdict::notMeasured;
        section->setHead(
            verdict,
            state ? QString::fromStdString(english({"verdict." + std::string(nameOf(verdict)), {}}))
                  : tr("measuring …"),
            QString::fromStdString(piece.title));
        const auto known = shown_.find(piece.id);
        static const Row nothing;
        const Row& shown = known == shown_.end() ? nothing : known->second;
        const QString none = !state ? tr("It is being measured; its surfaces follow.")
                             : !state->refusal.isEmpty() ? state->refusal
                             : session_.briefs().find(piece.brief)
                                 ? tr("Its brief has no surface; it is not met anywhere by itself.")
                                 : tr("Its brief is not here.");
        const int height = section->lay(shown.tiles, shown.titles, none, room, newOnes);
        section->setGeometry(side, y, room, height);
        if (isNew) section->show();
        last = section->chain(last);
        y += height + apart;
        kept[piece.id] = section;
    }
    for (const auto& [id, section] : sections_)
        if (!kept.contains(id)) section->deleteLater();
    sections_ = std::move(kept);
    empty_->setVisible(sections_.empty());
    empty_->setGeometry(0, 0, viewport()->width(), viewport()->height());
    board_->setMinimumHeight(sections_.empty() ? 0 : y - apart + below);
    if (newOnes < 0) laySoon();
    Q_EMIT changed();
}

void WallView::resizeEvent(QResizeEvent* event) {
    QScrollArea::resizeEvent(event);
    if (isVisible() && event->oldSize().width() != event->size().width()) laySoon();
}

}  // namespace zl::app
