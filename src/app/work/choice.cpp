// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/choice.h"

namespace zl::app {

Choice::Choice(Document& document, QObject* parent) : QObject(parent), document_(document) {
    // Before whoever shows the kit: what is made first hears first.
    connect(&document, &Document::kitChanged, this, &Choice::follow);
}

void Choice::follow() {
    const auto& pieces = document_.kit().pieces;
    if (!piece()) pieceId_ = pieces.empty() ? "" : pieces.front().id;
    std::erase_if(layerIds_, [this](int id) { return !piece() || !piece()->layer(id); });
    if (!layer()) layerId_ = layerIds_.empty() ? 0 : *layerIds_.rbegin();
}

void Choice::clear() {
    pieceId_.clear();
    layerId_ = 0;
    layerIds_.clear();
}

void Choice::choosePiece(std::string id) {
    if (id == pieceId_ || !document_.kit().piece(id)) return;
    Q_EMIT leaving();
    clear();
    pieceId_ = std::move(id);
    Q_EMIT chosen();
}

void Choice::chooseLayer(int id) {
    chooseLayers(id == 0 ? std::set<int>{} : std::set{id}, id);
}

void Choice::chooseLayers(std::set<int> ids, int primary) {
    if (ids == layerIds_ && primary == layerId_) return;
    Q_EMIT leaving();
    std::erase_if(ids, [this](int id) { return !piece() || !piece()->layer(id); });
    if (!ids.contains(primary)) primary = ids.empty() ? 0 : *ids.rbegin();
    if (ids == layerIds_ && primary == layerId_) return;
    layerIds_ = std::move(ids);
    layerId_ = primary;
    Q_EMIT chosen();
}

void Choice::toggleLayer(int id) {
    std::set<int> ids = layerIds_;
    const bool out = ids.erase(id) > 0;
    if (!out) ids.insert(id);
    chooseLayers(ids, out ? layerId_ : id);
}

}  // namespace zl::app
