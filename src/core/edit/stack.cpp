// SPDX-License-Identifier: GPL-3.0-or-later
#include "edit/stack.h"

#include "edit/edit_parts.h"
#include "kit/layer_kinds.h"

namespace zl {

Result<Kit> withLayerMoved(const Kit& kit, std::string_view pieceId, int layerId, int to) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto at = edit_parts::find(piece, layerId);
        if (at == piece.layers.end()) return edit_parts::noLayer();
        const Layer layer = *at;
        piece.layers.erase(at);
        piece.layers.insert(
            piece.layers.begin() + std::clamp(to, 0, static_cast<int>(piece.layers.size())), layer);
        return {};
    });
}

Result<Kit> withLayersMoved(const Kit& kit, std::string_view pieceId, const std::set<int>& layerIds,
                            int under) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        const auto moving =
            std::stable_partition(piece.layers.begin(), piece.layers.end(),
                                  [&](const Layer& layer) { return !layerIds.contains(layer.id); });
        const auto others = static_cast<int>(moving - piece.layers.begin());
        std::rotate(piece.layers.begin() + std::clamp(under, 0, others), moving,
                    piece.layers.end());
        return {};
    });
}

Result<Kit> withLayersRaised(const Kit& kit, std::string_view pieceId,
                             const std::set<int>& layerIds, int by) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        auto& layers = piece.layers;
        const auto step = [&](auto first, auto last) {
            if (first == last) return;
            for (auto before = first++; first != last; before = first++)
                if (layerIds.contains(first->id) && !layerIds.contains(before->id))
                    std::iter_swap(first, before);
        };
        by > 0 ? step(layers.rbegin(), layers.rend()) : step(layers.begin(), layers.end());
        return {};
    });
}

Result<Kit> withLayersDoubled(const Kit& kit, std::string_view pieceId,
                              const std::set<int>& layerIds) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        int free = 1;
        for (const Layer& layer : piece.layers) free = std::max(free, layer.group + 1);
        std::map<int, int> groups;  // of the copies, where all of a group are doubled
        for (const Layer& layer : piece.layers)
            if (layer.group != 0 && !groups.contains(layer.group)) groups[layer.group] = free++;
        for (const Layer& layer : piece.layers)
            if (!layerIds.contains(layer.id)) groups[layer.group] = layer.group;
        std::vector<Layer> layers;
        int id = edit_parts::nextId(piece);
        for (const Layer& layer : piece.layers) {
            layers.push_back(layer);
            if (!layerIds.contains(layer.id)) continue;
            constexpr double aside = 24;
            Layer copy = moved(layer, aside, aside);
            copy.id = id++;
            copy.name = cutToFit(copy.name, longestName - 5) + " copy";
            if (copy.group != 0) copy.group = groups[copy.group];
            layers.push_back(std::move(copy));
        }
        if (layers.size() == piece.layers.size()) return edit_parts::noLayer();
        piece.layers = std::move(layers);
        return {};
    });
}

Result<Kit> withGroup(const Kit& kit, std::string_view pieceId, const std::set<int>& ids) {
    if (ids.size() < 2)
        return fail(Code::badUsage, "A group takes two layers or more.",
                    "Choose them with Ctrl in the list.");
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        int highest = 0;
        for (const Layer& layer : piece.layers) highest = std::max(highest, layer.group);
        for (Layer& layer : piece.layers)
            if (ids.contains(layer.id)) layer.group = highest + 1;
        edit_parts::dissolveLoners(piece);
        return {};
    });
}

Result<Kit> withoutGroup(const Kit& kit, std::string_view pieceId, const std::set<int>& ids) {
    return edit_parts::changed(kit, pieceId, [&](Piece& piece) -> Result<void> {
        for (Layer& layer : piece.layers)
            if (ids.contains(layer.id)) layer.group = 0;
        edit_parts::dissolveLoners(piece);
        return {};
    });
}

std::set<int> withGroupMates(const Piece& piece, const std::set<int>& ids) {
    std::set<int> groups, all = ids;
    for (const Layer& layer : piece.layers)
        if (layer.group != 0 && ids.contains(layer.id)) groups.insert(layer.group);
    for (const Layer& layer : piece.layers)
        if (groups.contains(layer.group)) all.insert(layer.id);
    return all;
}

}  // namespace zl
