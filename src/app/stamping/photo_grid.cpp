// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamping/photo_grid.h"

#include <QAbstractListModel>
#include <QFontMetrics>
#include <QPainter>
#include <QScopedValueRollback>
#include <QStyledItemDelegate>

#include "look/theme.h"
#include "words/words.h"

namespace zl::app {
namespace {

constexpr QSize cell(154, 138), picture(142, 100);

QString nameOfFile(const StampPhoto& photo) {
    return QString::fromStdString(photo.file.filename().string());
}

QString verdictOf(const StampPhoto& photo) {
    if (photo.choice.leftOut) return PhotoGrid::tr("left out");
    if (!photo.measured) return PhotoGrid::tr("being measured");
    if (photo.bad) return PhotoGrid::tr("cannot be marked");
    return QString::fromStdString(english({"verdict." + std::string(nameOf(photo.verdict)), {}}));
}

}  // namespace

class PhotoGrid::Model : public QAbstractListModel {
  public:
    Model(StampDesk& desk, QObject* parent) : QAbstractListModel(parent), desk_(desk) {
        connect(&desk, &StampDesk::photosChanged, this, [this] {
            beginResetModel();
            endResetModel();
        });
        connect(&desk, &StampDesk::photoChanged, this,
                [this](int row) { Q_EMIT dataChanged(index(row), index(row)); });
    }
    int rowCount(const QModelIndex& parent) const override {
        return parent.isValid() ? 0 : static_cast<int>(desk_.photos().size());
    }
    QVariant data(const QModelIndex& at, int role) const override {
        if (!at.isValid()) return {};
        const StampPhoto& photo = desk_.photos()[static_cast<std::size_t>(at.row())];
        if (role == Qt::DisplayRole) return nameOfFile(photo);
        if (role == Qt::AccessibleTextRole) return nameOfFile(photo) + ", " + verdictOf(photo);
        if (role == Qt::ToolTipRole)
            return QString::fromStdString(photo.file.string()) +
                   (photo.says.isEmpty() ? QString() : "\n" + photo.says);
        return {};
    }

  private:
    StampDesk& desk_;
};

class PhotoGrid::Drawing : public QStyledItemDelegate {
  public:
    Drawing(StampDesk& desk, QObject* parent) : QStyledItemDelegate(parent), desk_(desk) {}
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return cell; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& at) const override {
        const StampPhoto& photo = desk_.photos()[static_cast<std::size_t>(at.row())];
        const Theme& theme = Theme::now();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        painter->setRenderHint(QPainter::SmoothPixmapTransform);
        const QRect whole = option.rect.adjusted(3, 3, -3, -3);
        const bool chosen = at.row() == desk_.now();
        const auto raised = theme["sheet-raised"];
        if (chosen) {
            painter->setPen(QPen(theme["accent"], 2));
            painter->setBrush(raised);
            painter->drawRoundedRect(QRectF(whole).adjusted(1, 1, -1, -1), 4, 4);
        }
        const QRect room(QPoint(whole.center().x() - picture.width() / 2 + 1, whole.top() + 4),
                         picture);
        const QImage small = desk_.small(at.row());
        if (small.isNull()) {
            const QRect empty = room.adjusted(10, 10, -10, -10);
            painter->fillRect(empty, theme["seam"]);
            painter->setFont(interfaceFont(11));
            painter->setPen(theme["ink"]);
            painter->drawText(empty, Qt::AlignCenter | Qt::TextWordWrap, verdictOf(photo));
        } else {
            QRect seen(QPoint(), small.size().scaled(room.size(), Qt::KeepAspectRatio));
            seen.moveCenter(room.center());
            painter->setOpacity(photo.choice.leftOut ? 0.35 : 1);
            painter->drawImage(seen, small);
            painter->setOpacity(1);
        }
        const QRect words(whole.left() + 6, room.bottom() + 5, whole.width() - 12, 20);
        if (photo.measured && !photo.choice.leftOut)
            drawVerdict(*painter, QRectF(words.left(), words.top() + 4, 11, 11), photo.verdict,
                        false);
        painter->setFont(interfaceFont(11));
        painter->setPen(theme[photo.choice.leftOut ? "ink-soft" : "ink"]);
        const QRect name = words.adjusted(17, 0, 0, 0);
        painter->drawText(
            name, Qt::AlignVCenter | Qt::AlignLeft,
            painter->fontMetrics().elidedText(nameOfFile(photo), Qt::ElideMiddle, name.width()));
        painter->restore();
    }

  private:
    StampDesk& desk_;
};

PhotoGrid::PhotoGrid(StampDesk& desk, QWidget* parent) : QListView(parent), desk_(desk) {
    setObjectName("photoGrid");
    setAccessibleName(tr("Photographs"));
    setViewMode(QListView::IconMode);
    setResizeMode(QListView::Adjust);
    setMovement(QListView::Static);
    setUniformItemSizes(true);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    setFrameShape(QFrame::NoFrame);
    setGridSize(cell);
    setModel(new Model(desk, this));
    setItemDelegate(new Drawing(desk, this));
    connect(&desk, &StampDesk::chosen, this, [this](int photo) {
        const QScopedValueRollback rollback(following_, true);
        setCurrentIndex(model()->index(photo, 0));
        viewport()->update();
    });
}

void PhotoGrid::currentChanged(const QModelIndex& now, const QModelIndex& before) {
    QListView::currentChanged(now, before);
    if (!following_ && now.isValid()) desk_.choose(now.row());
}

}  // namespace zl::app
