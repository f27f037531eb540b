// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/kit_json.h"

#include <fmt/core.h>

#include <array>
#include <set>

#include "base/json.h"
#include "brief/brief.h"
#include "store/kit_file.h"
#include "store/layer_json.h"
#include "store/stamp_json.h"

namespace zl {
namespace {

Colour colourFrom(const Json& json) {
    return parseColour(json.get<std::string>()).value_or(Colour{});
}

constexpr std::array<std::pair<FormatChoice, const char*>, 6> choices{
    {{FormatChoice::best, "best"},
     {FormatChoice::png, "png"},
     {FormatChoice::jpeg, "jpeg"},
     {FormatChoice::palette, "palette"},
     {FormatChoice::gif, "gif"},
     {FormatChoice::webp, "webp"}}};

OrderedJson jsonOf(const PixelRect& r) {
    return OrderedJson::array({r.left, r.top, r.width(), r.height()});
}
PixelRect pixelsFrom(const Json& json) {
    const auto v = json.get<std::array<int, 4>>();
    return {v[0], v[1], v[0] + v[2], v[1] + v[3]};
}

OrderedJson jsonOf(const Piece& piece) {
    OrderedJson release{{"name", piece.release.name},
                        {"format", choices[static_cast<std::size_t>(piece.release.format)].second}};
    if (piece.release.quality > 0) release["quality"] = piece.release.quality;
    if (piece.release.chroma != ChromaChoice::best)
        release["chroma"] = piece.release.chroma == ChromaChoice::full ? "full" : "half";
    if (!piece.release.dither) release["dither"] = false;
    if (!piece.release.moving.empty()) release["moving"] = piece.release.moving;
    if (piece.release.matte) release["matte"] = nameOf(*piece.release.matte);
    OrderedJson layers = OrderedJson::array();
    for (const Layer& layer : piece.layers) layers.push_back(jsonOf(layer));
    OrderedJson json{{"id", piece.id},       {"title", piece.title},
                     {"brief", piece.brief}, {"frame", {piece.frame.width, piece.frame.height}},
                     {"release", release},   {"layers", layers}};
    for (const Guide& guide : piece.guides)
        json["guides"].push_back(
            OrderedJson{{"upright", guide.upright}, {guide.isShare ? "share" : "px", guide.at}});
    if (!piece.variantOf.empty()) json["variantOf"] = piece.variantOf;
    if (!piece.laidFrom.empty()) json["laidFrom"] = piece.laidFrom;
    if (piece.ownScreen) json["ownScreen"] = true;
    if (piece.length > 0) json["length"] = piece.length;
    if (piece.video) json["video"] = {{"file", piece.video->file}, {"length", piece.video->length}};
    for (const LinkRegion& link : piece.links)
        json["links"].push_back(OrderedJson{
            {"place", jsonOf(link.place)}, {"address", link.address}, {"says", link.says}});
    for (const Slice& slice : piece.slices) {
        json["slices"].push_back(OrderedJson{{"name", slice.name}, {"place", jsonOf(slice.place)}});
        if (!slice.brief.empty()) json["slices"].back()["brief"] = slice.brief;
    }
    return json;
}

Result<Piece> pieceFrom(const Json& json, const std::string& name) {
    Piece piece;
    piece.id = json["id"];
    piece.title = json["title"];
    piece.brief = Briefs::nameNow(json["brief"].get_ref<const std::string&>());
    piece.frame = {json["frame"][0], json["frame"][1]};
    const Json& release = json["release"];
    piece.release.name = release["name"];
    for (const auto& [choice, word] : choices)
        if (release["format"] == word) piece.release.format = choice;
    piece.release.quality = release.value("quality", 0);
    const std::string chroma = release.value("chroma", "best");
    piece.release.chroma = chroma == "full"   ? ChromaChoice::full
                           : chroma == "half" ? ChromaChoice::half
                                              : ChromaChoice::best;
    piece.release.dither = release.value("dither", true);
    piece.release.moving = release.value("moving", std::string());
    if (release.contains("matte")) piece.release.matte = colourFrom(release["matte"]);
    if (json.contains("guides"))
        for (const Json& guide : json["guides"])
            piece.guides.push_back({guide["upright"], guide.value("share", guide.value("px", 0.0)),
                                    guide.contains("share")});
    piece.variantOf = json.value("variantOf", "");
    piece.laidFrom = json.value("laidFrom", "");
    piece.ownScreen = json.value("ownScreen", false);
    piece.length = json.value("length", 0.0);
    if (json.contains("video"))
        piece.video = PieceVideo{json["video"]["file"], json["video"]["length"]};
    if (json.contains("links"))
        for (const Json& link : json["links"])
            piece.links.push_back(
                {pixelsFrom(link["place"]), link["address"], link.value("says", "")});
    if (json.contains("slices"))
        for (const Json& slice : json["slices"])
            piece.slices.push_back({slice["name"], pixelsFrom(slice["place"]),
                                    std::string(Briefs::nameNow(slice.value("brief", "")))});
    std::set<int> ids;
    for (const auto& one : json["layers"]) {
        auto layer = layerFrom(one, name);
        if (!layer) return passOn(layer.error());
        if (!ids.insert(layer->id).second)
            return fail(Code::unreadable,
                        fmt::format("{} is refused: two layers of piece {} have the id {}.", name,
                                    piece.id, layer->id));
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
    OrderedJson json{{"format", "zinc-ledge-kit"}, {"version", kitFormatVersion},
                     {"title", kit.title},         {"pieces", pieces},
                     {"assets", assets},           {"fonts", kit.fonts}};
    for (const Colour& colour : kit.colours) json["colours"].push_back(nameOf(colour));
    for (const Look& look : kit.looks) json["looks"].push_back(jsonOf(look));
    for (const Stamp& stamp : kit.stamps) json["stamps"].push_back(jsonOf(stamp));
    return json;
}

Result<Kit> kitFrom(const Json& json, const std::string& name) {
    Kit kit;
    kit.title = json["title"];
    for (const auto& one : json["assets"]) {
        Asset asset{one["sha256"], one["name"], nullptr};
        kit.assets.emplace(asset.sha256, std::move(asset));
    }
    for (const std::string& font : json.value("fonts", std::vector<std::string>{})) {
        if (!kit.asset(font))
            return fail(Code::unreadable,
                        fmt::format("{} is refused: a font of it is missing.", name));
        kit.fonts.push_back(font);
    }
    if (json.contains("colours"))
        for (const Json& colour : json["colours"]) kit.colours.push_back(colourFrom(colour));
    if (json.contains("stamps"))
        for (const Json& one : json["stamps"]) {
            auto stamp = stampFrom(one, name);
            if (!stamp) return passOn(stamp.error());
            if (kit.stamp(stamp->name))
                return fail(Code::unreadable,
                            fmt::format("{} is refused: two of its stamps have one name.", name));
            kit.stamps.push_back(std::move(*stamp));
        }
    if (json.contains("looks"))
        for (const Json& one : json["looks"]) {
            auto look = lookFrom(one, name);
            if (!look) return passOn(look.error());
            kit.looks.push_back(std::move(*look));
        }
    for (const auto& one : json["pieces"]) {
        auto piece = pieceFrom(one, name);
        if (!piece) return passOn(piece.error());
        if (kit.piece(piece->id))
            return fail(Code::unreadable,
                        fmt::format("{} is refused: two pieces have the id {}.", name, piece->id));
        kit.pieces.push_back(std::move(*piece));
    }
    return kit;
}

}  // namespace zl
