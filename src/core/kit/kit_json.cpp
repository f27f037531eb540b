// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/kit_json.h"

#include <fmt/core.h>

#include <array>
#include <set>

#include "kit/kit_file.h"

namespace zl {
namespace {

OrderedJson jsonOf(const RealRect& r) {
    return OrderedJson::array({r.x, r.y, r.width, r.height});
}

RealRect rectFrom(const Json& json) {
    const auto v = json.get<std::array<double, 4>>();
    return {v[0], v[1], v[2], v[3]};
}

const char* nameOfAlign(Align align) {
    return align == Align::left ? "left" : align == Align::centre ? "centre" : "right";
}

OrderedJson jsonOf(const Layer& layer) {
    OrderedJson json{{"id", layer.id},
                     {"kind", layer.isReference() ? "reference"
                              : layer.picture()   ? "picture"
                                                  : "lettering"},
                     {"name", layer.name},
                     {"hidden", layer.hidden},
                     {"opacity", layer.opacity}};
    if (layer.essential) json["essential"] = *layer.essential;
    if (const auto* p = layer.picture()) {
        json["source"] = p->source;
        json["crop"] = jsonOf(p->crop);
        json["place"] = jsonOf(p->place);
    } else if (const auto* l = layer.lettering()) {
        json["at"] = {l->at.x, l->at.y};
        json["text"] = l->text;
        json["family"] = l->family;
        json["style"] = l->style;
        json["size"] = l->size;
        json["leading"] = l->leading;
        json["align"] = nameOfAlign(l->align);
        json["colour"] = nameOf(l->colour);
        if (l->outline.px > 0) json["outline"] = {{"px", l->outline.px}, {"colour", nameOf(l->outline.colour)}};
    }
    return json;
}

Colour colourFrom(const Json& json) {
    return parseColour(json.get<std::string>()).value_or(Colour{});
}

Result<Layer> layerFrom(const Json& json, const std::string& name) {
    const auto lacks = [&](const char* field) {
        return fail(Code::unreadable,
                    fmt::format("{} is refused: a layer of kind {} needs \"{}\".", name, json["kind"].get<std::string>(), field));
    };
    Layer layer;
    layer.id = json["id"];
    layer.name = json["name"];
    layer.hidden = json["hidden"];
    layer.opacity = json["opacity"];
    if (json.contains("essential")) layer.essential = json["essential"].get<bool>();
    if (json["kind"] != "lettering") {
        for (const char* field : {"source", "crop", "place"})
            if (!json.contains(field)) return lacks(field);
        layer.what = PictureLayer{json["source"], rectFrom(json["crop"]), rectFrom(json["place"]), json["kind"] == "reference"};
        return layer;
    }
    for (const char* field : {"at", "text", "family", "style", "size", "align", "colour"})
        if (!json.contains(field)) return lacks(field);
    LetteringLayer l;
    l.at = {json["at"][0], json["at"][1]};
    l.text = json["text"];
    l.family = json["family"];
    l.style = json["style"];
    l.size = json["size"];
    l.leading = json.value("leading", 1.0);
    l.align = json["align"] == "left" ? Align::left : json["align"] == "centre" ? Align::centre : Align::right;
    l.colour = colourFrom(json["colour"]);
    if (json.contains("outline")) l.outline = {json["outline"]["px"], colourFrom(json["outline"]["colour"])};
    layer.what = std::move(l);
    return layer;
}

constexpr std::array<std::pair<FormatChoice, const char*>, 6> choices{{{FormatChoice::best, "best"},
                                                                       {FormatChoice::png, "png"},
                                                                       {FormatChoice::jpeg, "jpeg"},
                                                                       {FormatChoice::palette, "palette"},
                                                                       {FormatChoice::gif, "gif"},
                                                                       {FormatChoice::webp, "webp"}}};

OrderedJson jsonOf(const Piece& piece) {
    OrderedJson release{{"name", piece.release.name}, {"format", choices[static_cast<std::size_t>(piece.release.format)].second}};
    if (piece.release.quality > 0) release["quality"] = piece.release.quality;
    if (piece.release.chroma != ChromaChoice::best) release["chroma"] = piece.release.chroma == ChromaChoice::full ? "full" : "half";
    if (!piece.release.dither) release["dither"] = false;
    if (piece.release.matte) release["matte"] = nameOf(*piece.release.matte);
    OrderedJson layers = OrderedJson::array();
    for (const Layer& layer : piece.layers) layers.push_back(jsonOf(layer));
    return {{"id", piece.id},     {"title", piece.title}, {"brief", piece.brief}, {"frame", {piece.frame.width, piece.frame.height}},
            {"release", release}, {"layers", layers}};
}

Result<Piece> pieceFrom(const Json& json, const std::string& name) {
    Piece piece;
    piece.id = json["id"];
    piece.title = json["title"];
    piece.brief = json["brief"];
    piece.frame = {json["frame"][0], json["frame"][1]};
    const Json& release = json["release"];
    piece.release.name = release["name"];
    for (const auto& [choice, word] : choices)
        if (release["format"] == word) piece.release.format = choice;
    piece.release.quality = release.value("quality", 0);
    const std::string chroma = release.value("chroma", "best");
    piece.release.chroma = chroma == "full" ? ChromaChoice::full : chroma == "half" ? ChromaChoice::half : ChromaChoice::best;
    piece.release.dither = release.value("dither", true);
    if (release.contains("matte")) piece.release.matte = colourFrom(release["matte"]);
    std::set<int> ids;
    for (const auto& one : json["layers"]) {
        auto layer = layerFrom(one, name);
        if (!layer) return passOn(layer.error());
        if (!ids.insert(layer->id).second)
            return fail(Code::unreadable, fmt::format("{} is refused: two layers of piece {} have the id {}.", name, piece.id, layer->id));
        piece.layers.push_back(std::move(*layer));
    }
    return piece;
}

}  // namespace

OrderedJson jsonOf(const Kit& kit) {
    OrderedJson pieces = OrderedJson::array(), assets = OrderedJson::array();
    for (const Piece& piece : kit.pieces) pieces.push_back(jsonOf(piece));
    const auto used = kit.assetsInUse();
    for (const auto& [hash, asset] : kit.assets)
        if (used.contains(hash)) assets.push_back({{"sha256", hash}, {"name", asset.name}});
    return {{"format", "zinc-ledge-kit"}, {"version", kitFormatVersion}, {"title", kit.title}, {"pieces", pieces},
            {"assets", assets},           {"fonts", kit.fonts}};
}

Result<Kit> kitFrom(const Json& json, const std::string& name) {
    Kit kit;
    kit.title = json["title"];
    for (const auto& one : json["assets"]) {
        Asset asset{one["sha256"], one["name"], nullptr};
        kit.assets.emplace(asset.sha256, std::move(asset));
    }
    for (const std::string& font : json.value("fonts", std::vector<std::string>{})) {
        if (!kit.asset(font)) return fail(Code::unreadable, fmt::format("{} is refused: a font of it is missing.", name));
        kit.fonts.push_back(font);
    }
    for (const auto& one : json["pieces"]) {
        auto piece = pieceFrom(one, name);
        if (!piece) return passOn(piece.error());
        if (kit.piece(piece->id)) return fail(Code::unreadable, fmt::format("{} is refused: two pieces have the id {}.", name, piece->id));
        kit.pieces.push_back(std::move(*piece));
    }
    return kit;
}

}  // namespace zl
