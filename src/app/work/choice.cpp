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

void Choice::choosePiece(const std::string& id) {
    if (id == pieceId_ || !document_.kit().piece(id)) return;
    clear();
    pieceId_ = id;
    Q_EMIT chosen();
}

void Choice::chooseLayer(int id) {
    chooseLayers(id == 0 ? std::set<int>{} : std::set{id}, id);
}

void Choice::chooseLayers(const std::set<int>& ids, int primary) {
    std::set<int> there;
    for (const int id : ids)
        if (piece() && piece()->layer(id)) there.insert(id);
    if (!there.contains(primary)) primary = there.empty() ? 0 : *there.rbegin();
    if (there == layerIds_ && primary == layerId_) return;
    layerIds_ = std::move(there);
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
