// SPDX-License-Identifier: GPL-3.0-or-later
#include "make/sections/section.h"

#include <QScopedValueRollback>

#include "edit/edits.h"

namespace zl::app {

Section::Section(Session& session, const QString& title, QWidget* parent)
    : QWidget(parent), session_(session), body_(new QWidget) {
    dressAsSection(this, title, body_);
    hide();
}

void Section::refresh() {
    const QScopedValueRollback<bool> guard(filling_, true);
    const Piece* piece = session_.piece();
    const bool mine = piece && isFor(*piece, session_.layer());
    if (mine) fill(*piece, session_.layer());
    setVisible(mine);
}

void Section::edit(const QString& what, const QString& mergeKey,
                   const std::function<void(Layer&)>& change) {
    const Layer* layer = session_.layer();
    if (!layer || filling_) return;
    Layer next = *layer;
    change(next);
    session_.apply(withChangedLayer(session_.kit(), session_.piece()->id, next), what,
                   mergeKey.isEmpty() ? mergeKey : QString("%1 %2").arg(mergeKey).arg(layer->id));
}

void Section::editAll(const QString& what, const QString& mergeKey,
                      const std::function<void(Layer&)>& change) {
    if (!session_.layer() || filling_) return;
    session_.editLayers(
        session_.chosenIds(), what,
        mergeKey.isEmpty() ? mergeKey : QString("%1 %2").arg(mergeKey).arg(session_.layer()->id),
        change);
}

}  // namespace zl::app
