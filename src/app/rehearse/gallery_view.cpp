// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearse/gallery_view.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "look/theme.h"
#include "widgets/form.h"

namespace zl::app {
namespace {

constexpr QSize large(600, 800), small(160, 213);
constexpr int gap = 14;           // px
constexpr std::size_t most = 60;  // small ones that are shown

}  // namespace

// The large one on the left, the small ones beside it and below.
class GalleryView::Board : public QWidget {
  public:
    explicit Board(GalleryView& view) : view_(view) { setObjectName("galleryBoard"); }
    QImage picture;  // of 600 x 800 px at most

    void place() {
        cells_.clear();
        const QSize size = picture.isNull() ? QSize(large.width(), 400) : picture.size();
        large_ = QRect(QPoint(gap, gap), size);
        int x = large_.right() + 1 + gap, y = gap, bottom = large_.bottom();
        int left = x;
        for (const int photo : view_.shown()) {
            if (x + small.width() + gap > width()) {
                y += small.height() + gap;
                if (y > large_.bottom()) left = gap;
                x = left;
            }
            cells_.push_back({photo, QRect(QPoint(x, y), small)});
            bottom = std::max(bottom, y + small.height());
            x += small.width() + gap;
        }
        setMinimumHeight(bottom + gap);
        update();
    }

  protected:
    void resizeEvent(QResizeEvent*) override { place(); }
    void paintEvent(QPaintEvent* event) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.fillRect(event->rect(), Theme::now()["sheet-raised"]);
        if (!picture.isNull()) painter.drawImage(large_.topLeft(), picture);
        for (const auto& [photo, cell] : cells_) {
            if (!cell.intersects(event->rect())) continue;
            painter.fillRect(cell, Theme::now()["sheet"]);
            const QImage image = view_.desk_->small(photo);
            QRect seen(QPoint(), image.size().scaled(small, Qt::KeepAspectRatio));
            seen.moveCenter(cell.center());
            painter.drawImage(seen, image);
        }
    }
    void mousePressEvent(QMouseEvent* event) override {
        for (const auto& [photo, cell] : cells_)
            if (cell.contains(event->pos())) return view_.desk_->choose(photo);
    }

  private:
    GalleryView& view_;
    QRect large_;
    std::vector<std::pair<int, QRect>> cells_;  // which photograph, and where
};

GalleryView::GalleryView(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("galleryView");
    setAutoFillBackground(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(16, 8, 16, 8);
    row->setSpacing(10);
    row->addWidget(softLabel(tr("Stamp")));
    stamp_ = named(new QComboBox, "galleryStamp");
    stamp_->setAccessibleName(tr("Stamp of the gallery"));
    stamp_->setMinimumWidth(150);
    row->addWidget(stamp_);
    note_ = named(softLabel({}), "galleryNote");
    note_->setWordWrap(true);
    row->addWidget(note_, 1);
    column->addLayout(row);
    empty_ = named(new QLabel(tr("No photographs yet. They are brought in under Stamping.")),
                   "galleryEmpty");
    empty_->setAlignment(Qt::AlignCenter);
    column->addWidget(empty_, 1);
    auto* go = named(new QPushButton(tr("Go to Stamping")), "galleryGo");
    go_ = go;
    column->addWidget(go, 0, Qt::AlignHCenter);
    scroll_ = new QScrollArea;
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setWidget(board_ = new Board(*this));
    column->addWidget(scroll_, 20);
    connect(go, &QPushButton::clicked, this, &GalleryView::stampingAsked);
    connect(stamp_, &QComboBox::activated, this, [this](int at) {
        const auto& stamps = session_.kit().stamps;
        const int kept = stamp_->itemData(at).toInt();
        if (desk_ && kept >= 0) desk_->setStamp(stamps[static_cast<std::size_t>(kept)]);
    });
    connect(&session_, &Session::kitChanged, this, &GalleryView::refresh);
    refresh();
}

void GalleryView::setDesk(StampDesk* desk) {
    desk_ = desk;
    for (const auto signal : {&StampDesk::photosChanged, &StampDesk::stampChanged})
        connect(desk, signal, this, &GalleryView::refresh);
    connect(desk, &StampDesk::photoChanged, this, [this] { board_->update(); });
    connect(desk, &StampDesk::chosen, this, &GalleryView::drawLarge);
    refresh();
}

std::vector<int> GalleryView::shown() const {
    std::vector<int> all;
    for (int i = 0; desk_ && i < static_cast<int>(desk_->photos().size()); ++i) {
        const StampPhoto& photo = desk_->photos()[static_cast<std::size_t>(i)];
        if (!photo.bad && !photo.choice.leftOut && all.size() < most) all.push_back(i);
    }
    return all;
}

void GalleryView::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void GalleryView::refresh() {
    const bool some = !shown().empty();
    empty_->setVisible(!some);
    go_->setVisible(!some);
    scroll_->setVisible(some);
    stamp_->setEnabled(some);
    const QSignalBlocker block(stamp_);
    stamp_->clear();
    if (desk_ && !session_.kit().stamp(desk_->stamp().name))
        stamp_->addItem(QString::fromStdString(desk_->stamp().name), -1);
    for (std::size_t i = 0; i < session_.kit().stamps.size(); ++i) {
        stamp_->addItem(QString::fromStdString(session_.kit().stamps[i].name), static_cast<int>(i));
        if (desk_ && session_.kit().stamps[i].name == desk_->stamp().name)
            stamp_->setCurrentIndex(stamp_->count() - 1);
    }
    const std::size_t all = desk_ ? desk_->photos().size() : 0;
    note_->setText(
        tr("Marked ones are for looking; prints and downloads are clean.") +
        (all > most ? tr(" The first %1 of %2 are shown.").arg(most).arg(all) : QString()));
    board_->place();
    if (isVisible()) drawLarge();
}

void GalleryView::drawLarge() {
    if (!desk_ || !isVisible() || desk_->now() < 0) return;
    StampAsked asked{desk_->photos()[static_cast<std::size_t>(desk_->now())],
                     desk_->now(),
                     desk_->stamp(),
                     desk_->home(),
                     large,
                     false};
    job_.post([this, asked = std::move(asked), kit = session_.kit(), opened = opened_,
               store = store_](const std::stop_token& stop) mutable {
        asked.home.kit = &kit;
        const StampShown seen = shownWith(*opened, asked, *store);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, seen] {
                board_->picture = seen.picture;
                board_->place();
            },
            Qt::QueuedConnection);
    });
}

}  // namespace zl::app
