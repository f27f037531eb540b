// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/layer_list.h"

#include <QDropEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScopedValueRollback>
#include <QStyledItemDelegate>

#include "edit/edits.h"
#include "edit/stack.h"
#include "kit/layer_kinds.h"
#include "look/theme.h"

namespace zl::app {
namespace {

constexpr int rowHeight = 32;
enum Role { layerRole = Qt::UserRole, kindRole, hiddenRole, referenceRole, groupRole };

class LayerDelegate : public QStyledItemDelegate {
  public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override {
        const Theme& theme = Theme::now();
        const auto* list = static_cast<const LayerList*>(option.widget);
        const bool chosen = option.state & QStyle::State_Selected,
                   hidden = index.data(hiddenRole).toBool();
        if (chosen) {
            painter->fillRect(option.rect, theme["accent-pale"]);
            painter->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()),
                              theme["accent"]);
        }
        if ((option.state & QStyle::State_HasFocus) && list->hasFocus()) {
            painter->setPen(QPen(theme["accent"], 1, Qt::DotLine));
            painter->drawRect(option.rect.adjusted(4, 1, -2, -2));
        }
        const QColor ink = theme[hidden ? "ink-soft" : "ink"];
        if (const int group = index.data(groupRole).toInt();
            group > 0) {  // a rail beside the rows of one group
            const auto same = [&](int row) {
                return index.siblingAtRow(row).data(groupRole).toInt() == group;
            };
            const int top = same(index.row() - 1) ? option.rect.top() : option.rect.top() + 6;
            const int bottom =
                same(index.row() + 1) ? option.rect.bottom() + 1 : option.rect.bottom() - 5;
            painter->fillRect(QRect(option.rect.left() + 5, top, 2, bottom - top),
                              theme["ink-soft"]);
        }
        drawIcon(*painter, index.data(kindRole).toString(),
                 QRectF(option.rect.left() + 12, option.rect.center().y() - 7, 16, 16), ink);
        drawIcon(*painter, hidden ? "eye-closed" : "eye", QRectF(list->eyeRect(index)),
                 theme[hidden ? "ink" : "ink-soft"]);
        painter->setPen(ink);
        painter->setFont(interfaceFont(13, chosen ? 600 : 400));
        QRect words = option.rect.adjusted(36, 0, -38, 0);
        if (index.data(referenceRole).toBool()) {
            const QString said = LayerList::tr("not released");
            painter->setFont(interfaceFont(11));
            painter->setPen(theme["ink-soft"]);
            painter->drawText(words, Qt::AlignRight | Qt::AlignVCenter, said);
            words.adjust(0, 0, -painter->fontMetrics().horizontalAdvance(said) - 8, 0);
            painter->setPen(ink);
            painter->setFont(interfaceFont(13, chosen ? 600 : 400));
        }
        const QString name = index.data(Qt::DisplayRole).toString();
        painter->drawText(
            words, Qt::AlignLeft | Qt::AlignVCenter,
            painter->fontMetrics().elidedText(name.isEmpty() ? LayerList::tr("(no name)") : name,
                                              Qt::ElideRight, words.width()));
    }
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
        return {100, rowHeight};
    }
    void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option,
                              const QModelIndex&) const override {
        editor->setGeometry(option.rect.adjusted(30, 1, -36, -1));
    }
};

}  // namespace

LayerList::LayerList(Session& session, QWidget* parent) : QListWidget(parent), session_(session) {
    setObjectName("layers");
    setAccessibleName(tr("Layers, top first"));
    setItemDelegate(new LayerDelegate(this));
    setDragDropMode(InternalMove);
    setEditTriggers(DoubleClicked | EditKeyPressed);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(&session_, &Session::kitChanged, this, &LayerList::rebuild);
    connect(&session_, &Session::chosen, this, &LayerList::rebuild);
    setSelectionMode(ExtendedSelection);
    connect(this, &QListWidget::itemSelectionChanged, this, [this] {
        if (filling_) return;
        std::set<int> ids;
        for (const QListWidgetItem* item : selectedItems()) ids.insert(layerOf(item));
        session_.choice().chooseLayers(ids, layerOf(currentItem()));
    });
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (filling_) return;
        rename(layerOf(item), item->text().trimmed());
        // Once the editor is closed: the list is filled anew from the kit.
        QMetaObject::invokeMethod(this, &LayerList::rebuild, Qt::QueuedConnection);
    });
    // A name that is being typed is this piece's, and the list is about to show another's.
    connect(&session_.choice(), &Choice::leaving, this, [this] {
        if (state() == EditingState) setFocus();
    });
}

int LayerList::layerOf(const QListWidgetItem* item) const {
    return item ? item->data(layerRole).toInt() : 0;
}

QSize LayerList::sizeHint() const {
    return {200, std::clamp(count(), 2, 7) * rowHeight + 4};
}

QRect LayerList::eyeRect(const QModelIndex& index) const {
    const QRect row = visualRect(index);
    return {row.right() - 30, row.center().y() - 8, 18, 18};
}

void LayerList::rebuild() {
    if (state() == EditingState) return;
    const QScopedValueRollback<bool> guard(filling_, true);
    const Piece* piece = session_.piece();
    if (isShown(piece)) return chooseRow();
    clear();
    if (piece)
        for (auto layer = piece->layers.rbegin(); layer != piece->layers.rend(); ++layer) {
            auto* item = new QListWidgetItem(QString::fromStdString(layer->name), this);
            item->setFlags(item->flags() | Qt::ItemIsEditable);
            item->setData(layerRole, layer->id);
            const bool clip = layer->picture() && layer->picture()->clip;
            const std::string_view icon = layer->isReference() ? "reference"
                                          : clip               ? "clip"
                                                               : kindOf(*layer).icon;
            item->setData(kindRole, QString::fromLatin1(icon.data(), qsizetype(icon.size())));
            item->setData(groupRole, layer->group);
            item->setData(referenceRole, layer->isReference());
            item->setData(hiddenRole, layer->hidden);
            item->setData(Qt::AccessibleDescriptionRole,
                          layer->isReference() ? tr("reference, not released")
                          : layer->hidden      ? tr("hidden")
                          : layer->group > 0   ? tr("in group %1").arg(layer->group)
                                               : QString());
        }
    chooseRow();
    updateGeometry();
}

// Whether the list shows these layers already; then only the choice is brought up to date.
bool LayerList::isShown(const Piece* piece) const {
    if (!piece || static_cast<int>(piece->layers.size()) != count()) return false;
    for (int row = 0; row < count(); ++row) {
        const Layer& layer = piece->layers[static_cast<std::size_t>(count() - 1 - row)];
        const QListWidgetItem* shown = item(row);
        if (layerOf(shown) != layer.id || shown->text().toStdString() != layer.name ||
            shown->data(hiddenRole).toBool() != layer.hidden ||
            shown->data(referenceRole).toBool() != layer.isReference() ||
            shown->data(groupRole).toInt() != layer.group)
            return false;
    }
    return true;
}

void LayerList::chooseRow() {
    clearSelection();
    QListWidgetItem* primary = nullptr;
    for (int row = 0; row < count(); ++row) {
        if (session_.layer() && layerOf(item(row)) == session_.layer()->id) primary = item(row);
        if (session_.chosenIds().contains(layerOf(item(row)))) item(row)->setSelected(true);
    }
    setCurrentItem(primary, QItemSelectionModel::NoUpdate);
}

void LayerList::rename(int id, const QString& name) {
    const Piece* piece = session_.piece();
    const Layer* layer = piece ? piece->layer(id) : nullptr;
    if (!layer) return;
    Layer named = *layer;
    named.name = name.toStdString();
    session_.apply(withChangedLayer(session_.kit(), piece->id, named), tr("Rename layer"));
}

void LayerList::toggleHidden(int id) {
    const Piece* piece = session_.piece();
    if (const Layer* layer = piece ? piece->layer(id) : nullptr) setHidden({id}, !layer->hidden);
}

void LayerList::mousePressEvent(QMouseEvent* event) {
    const QModelIndex index = indexAt(event->pos());
    if (index.isValid() && eyeRect(index).adjusted(-5, -7, 5, 7).contains(event->pos()))
        return toggleHidden(index.data(layerRole).toInt());
    QListWidget::mousePressEvent(event);
}

void LayerList::dropEvent(QDropEvent* event) {
    const Piece* piece = session_.piece();
    if (!piece || event->source() != this || !currentItem()) return event->ignore();
    // What is dropped before a row lies over all others from that row on.
    const QModelIndex target = indexAt(event->position().toPoint());
    int row = target.isValid() ? target.row() : count();
    if (target.isValid() && event->position().y() > visualRect(target).center().y()) ++row;
    const std::set<int>& moving = session_.chosenIds();
    int under = 0;
    for (int i = row; i < count(); ++i) under += moving.contains(layerOf(item(i))) ? 0 : 1;
    event->setDropAction(Qt::IgnoreAction);  // the list is filled anew from the kit
    event->accept();
    session_.apply(withLayersMoved(session_.kit(), piece->id, moving, under), tr("Reorder layers"));
}

void LayerList::raise(int by) {
    if (!session_.layer()) return;
    session_.apply(withLayersRaised(session_.kit(), session_.piece()->id, session_.chosenIds(), by),
                   by > 0 ? tr("Raise layer") : tr("Lower layer"));
}

void LayerList::removeChosen() {
    if (session_.layer())
        session_.apply(withoutLayers(session_.kit(), session_.piece()->id, session_.chosenIds()),
                       tr("Delete layer"));
}

void LayerList::doubleChosen() {
    const Layer* layer = session_.layer();
    if (!layer) return;
    std::set<int> before;
    for (const Layer& one : session_.piece()->layers) before.insert(one.id);
    const int primary = layer->id;
    if (!session_.apply(
            withLayersDoubled(session_.kit(), session_.piece()->id, session_.chosenIds()),
            tr("Duplicate layer")))
        return;
    // The copies are chosen, each of which lies on what it is a copy of.
    const std::vector<Layer>& layers = session_.piece()->layers;
    std::set<int> copies;
    int first = 0;
    for (std::size_t i = 1; i < layers.size(); ++i)
        if (!before.contains(layers[i].id)) {
            copies.insert(layers[i].id);
            if (layers[i - 1].id == primary) first = layers[i].id;
        }
    session_.choice().chooseLayers(copies, first);
}

void LayerList::hideChosen() {
    if (session_.layer()) setHidden(session_.chosenIds(), !session_.layer()->hidden);
}

void LayerList::setHidden(const std::set<int>& ids, bool hide) {
    session_.editLayers(withGroupMates(*session_.piece(), ids),
                        hide ? tr("Hide layer") : tr("Show layer"), {},
                        [hide](Layer& one) { one.hidden = hide; });
}

void LayerList::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete) return removeChosen();
    if (event->key() == Qt::Key_Space) return hideChosen();
    QListWidget::keyPressEvent(event);
}

}  // namespace zl::app
