// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/stamp_json.h"

#include <fmt/core.h>

#include <charconv>
#include <cmath>

#include "base/data_files.h"
#include "base/json.h"
#include "base/overloads.h"
#include "store/layer_json.h"

namespace zl {
namespace {

// A whole number is written as one.
OrderedJson numberOf(double value) {
    if (value == std::floor(value) && std::abs(value) < 1e15) return static_cast<long long>(value);
    return value;
}

OrderedJson jsonOf(const Length& length) {
    if (!length.percent) return numberOf(length.value);
    return fmt::format("{}%", length.value);
}

OrderedJson jsonOf(const StampWhat& what) {
    return std::visit(
        Overloads{
            [](const StampText& text) {
                OrderedJson json{{"text", text.letters.text}};
                const OrderedJson look = zl::jsonOf(Look{"a stamp", text.letters, text.finishes});
                for (const auto& [key, value] : look.items())
                    if (key != "name") json[key] = value;
                if (text.letters.align != Align::left)
                    json["align"] = text.letters.align == Align::right ? "right" : "centre";
                return json;
            },
            [](const StampPicture& picture) {
                return OrderedJson{{"picture", picture.file}};
            },
            [](const StampPiece& piece) {
                OrderedJson json = OrderedJson::object();
                if (!piece.kit.empty()) json["kit"] = piece.kit;
                json["piece"] = piece.piece;
                return json;
            }},
        what);
}

void write(const StampPlacing& placing, OrderedJson& json) {
    if (placing.centre)
        json["at"] = {placing.centre->x, placing.centre->y};
    else
        json["at"] = wordOf(placing.at);
    json["inset"] = {jsonOf(placing.insetX), jsonOf(placing.insetY)};
    json["width"] = placing.size == StampSize::inside   ? OrderedJson("inside")
                    : placing.size == StampSize::covers ? OrderedJson("covers")
                                                        : jsonOf(placing.width);
    json["of"] = placing.of == StampOf::width ? "width"
                 : placing.of == StampOf::px  ? "px"
                                              : "short";
}

tl::unexpected<Error> refusedStamp(const std::string& name, const std::string& why) {
    return fail(Code::unreadable, fmt::format("{} is refused: {}", name, why));
}

Result<Length> lengthFrom(const Json& json, const char* field, const std::string& name) {
    if (json.is_number()) return Length{json.get<double>(), false};
    const std::string text = json.get<std::string>();
    Length length;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), length.value);
    const std::string_view unit(end, static_cast<std::size_t>(text.data() + text.size() - end));
    length.percent = unit == "%";
    if (error == std::errc() && std::isfinite(length.value) && (length.percent || unit == "px"))
        return length;
    return refusedStamp(name,
                        fmt::format("\"{}\" is a number of px or a percentage such as \"30%\"; "
                                    "\"{}\" stands there.",
                                    field, cutToFit(text, 40)));
}

Result<StampWhat> textFrom(const Json& json, const std::string& name) {
    StampText text;
    Json look = json;
    look["name"] = "stamp";
    look.erase("text");
    look.erase("align");
    if (look.contains("font")) {
        if (look.contains("family"))
            return refusedStamp(name, "\"font\" and \"family\" are the same; one is enough.");
        look["family"] = look["font"];
        look.erase("font");
    }
    const LetteringLayer usual;
    const std::pair<const char*, Json> usuals[]{{"family", usual.family},
                                                {"style", usual.style},
                                                {"size", usual.size},
                                                {"colour", "#FFFFFF"},
                                                {"finishes", Json::array()}};
    for (const auto& [key, value] : usuals)
        if (!look.contains(key)) look[key] = value;
    const auto read = lookFrom(look, name);
    if (!read) return passOn(read.error());
    text.letters = read->letters;
    text.finishes = read->finishes;
    text.letters.text = json["text"].get<std::string>();
    const std::string align = json.value("align", "left");
    text.letters.align = align == "right"    ? Align::right
                         : align == "centre" ? Align::centre
                                             : Align::left;
    return text;
}

Result<StampWhat> whatFrom(const Json& json, const std::string& name) {
    const bool text = json.contains("text"), picture = json.contains("picture"),
               piece = json.contains("piece");
    if (text + picture + piece != 1)
        return refusedStamp(name,
                            "It shows one of three things: \"text\", \"picture\", or \"kit\" and "
                            "\"piece\".");
    for (const auto& [key, value] : json.items())
        if (!text && key != "picture" && key != "piece" && (key != "kit" || !piece))
            return refusedStamp(name, fmt::format("\"{}\" is for a text alone.", key));
    if (text && json.contains("kit")) return refusedStamp(name, "A text needs no kit.");
    if (text) return textFrom(json, name);
    if (picture) return StampPicture{json["picture"].get<std::string>()};
    return StampPiece{json.value("kit", ""), json["piece"].get<std::string>()};
}

Result<void> readAt(const Json& json, StampPlacing& placing, const std::string& name) {
    if (json.is_array()) {
        placing.centre = RealPoint{json[0].get<double>(), json[1].get<double>()};
        return {};
    }
    const auto at = stampAtNamed(json.get<std::string>());
    if (!at)
        return refusedStamp(name, fmt::format("There is no place \"{}\"; there are top-left, top, "
                                              "top-right, left, centre, right, bottom-left, bottom "
                                              "and bottom-right.",
                                              cutToFit(json.get<std::string>(), 40)));
    placing.at = *at;
    placing.centre.reset();
    return {};
}

// What is not said stays as it is in `placing`.
Result<void> readPlacing(const Json& json, StampPlacing& placing, const std::string& name) {
    if (json.contains("at"))
        if (auto good = readAt(json["at"], placing, name); !good) return good;
    if (json.contains("inset")) {
        const auto x = lengthFrom(json["inset"][0], "inset", name),
                   y = lengthFrom(json["inset"][1], "inset", name);
        if (!x || !y) return passOn(!x ? x.error() : y.error());
        placing.insetX = *x;
        placing.insetY = *y;
    }
    if (json.contains("of")) {
        const std::string of = json["of"].get<std::string>();
        placing.of = of == "width" ? StampOf::width : of == "px" ? StampOf::px : StampOf::shortSide;
    }
    if (!json.contains("width")) return {};
    placing.size = json["width"] == "inside"   ? StampSize::inside
                   : json["width"] == "covers" ? StampSize::covers
                                               : StampSize::width;
    if (placing.size != StampSize::width) return {};
    const auto width = lengthFrom(json["width"], "width", name);
    if (!width) return passOn(width.error());
    placing.width = *width;
    return {};
}

Result<void> readCorners(const Json& json, Stamp& stamp, const std::string& name) {
    for (const Json& word : json) {
        StampPlacing corner;
        if (auto good = readAt(word, corner, name); !good) return good;
        stamp.corners.push_back(corner.at);
    }
    return {};
}

Result<void> readRest(const Json& json, Stamp& stamp, const std::string& name) {
    if (json.contains("corners"))
        if (auto good = readCorners(json["corners"], stamp, name); !good) return good;
    if (json.contains("tiled")) {
        const auto gap = lengthFrom(json["tiled"], "tiled", name);
        if (!gap) return passOn(gap.error());
        stamp.tiled = *gap;
    }
    stamp.least = json.value("least", 0.0);
    stamp.most = json.value("most", 0.0);
    stamp.leastCapitals = json.value("capitals", 0.0);
    stamp.opacity = json.value("opacity", 1.0);
    stamp.turn = json.value("turn", 0.0);
    stamp.author = json.value("author", "");
    stamp.rights = json.value("rights", "");
    stamp.address = json.value("address", "");
    return {};
}

}  // namespace

OrderedJson jsonOf(const Stamp& stamp) {
    OrderedJson json{
        {"format", stampFormatVersion}, {"name", stamp.name}, {"what", jsonOf(stamp.what)}};
    if (stamp.twin) json["twin"] = jsonOf(*stamp.twin);
    write(stamp.placing, json);
    if (!stamp.corners.empty()) {
        json["corners"] = OrderedJson::array();
        for (const StampAt at : stamp.corners) json["corners"].push_back(wordOf(at));
    }
    const auto unlessZero = [&](const char* key, double value) {
        if (value > 0) json[key] = numberOf(value);
    };
    unlessZero("least", stamp.least);
    unlessZero("most", stamp.most);
    unlessZero("capitals", stamp.leastCapitals);
    json["opacity"] = numberOf(stamp.opacity);
    json["turn"] = numberOf(stamp.turn);
    if (stamp.tiled) json["tiled"] = jsonOf(*stamp.tiled);
    if (stamp.upright) {
        json["upright"] = OrderedJson::object();
        write(*stamp.upright, json["upright"]);
    }
    for (const auto& [key, value] : {std::pair{"author", &stamp.author},
                                     {"rights", &stamp.rights},
                                     {"address", &stamp.address}})
        if (!value->empty()) json[key] = *value;
    return json;
}

Result<Stamp> stampFrom(const Json& json, const std::string& name) {
    if (json.is_object() && json.contains("format") && json["format"].is_number_integer() &&
        json["format"].get<long long>() > stampFormatVersion)
        return fail(Code::unreadable,
                    fmt::format("{} is of a newer format than this program knows.", name),
                    "Update the program.");
    const auto schema = schemaNamed("stamp.schema.json");
    if (!schema) return passOn(schema.error());
    if (auto good = checkAgainst(*schema, json, name); !good) return passOn(good.error());
    Stamp stamp;
    stamp.name = json.value("name", stamp.name);
    auto what = whatFrom(json["what"], name);
    if (!what) return passOn(what.error());
    stamp.what = std::move(*what);
    if (json.contains("twin")) {
        auto twin = whatFrom(json["twin"], name);
        if (!twin) return passOn(twin.error());
        stamp.twin = std::move(*twin);
    }
    if (auto good = readPlacing(json, stamp.placing, name); !good) return passOn(good.error());
    if (json.contains("upright")) {
        stamp.upright = stamp.placing;
        if (auto good = readPlacing(json["upright"], *stamp.upright, name); !good)
            return passOn(good.error());
    }
    if (auto good = readRest(json, stamp, name); !good) return passOn(good.error());
    if (auto good = checkStamp(stamp); !good) return refusedStamp(name, good.error().sentence());
    return stamp;
}

Result<Stamp> parseStamp(ByteView text, const std::string& name) {
    const auto json = parseJson(text, name);
    if (!json) return passOn(json.error());
    return stampFrom(*json, name);
}

Result<Stamp> readStamp(const Path& file) {
    constexpr std::size_t largest = 1'000'000;
    const auto bytes = readFile(file, largest);
    if (!bytes) return passOn(bytes.error());
    return parseStamp(*bytes, file.string());
}

Stamp exampleStamp() {
    Stamp stamp;
    stamp.name = "Corner line";
    StampText light, dark;
    light.letters.text = "© {year} Your channel";
    light.letters.colour = {255, 255, 255, 255};
    light.finishes = {outlineOf(5, {20, 24, 28, 255})};
    dark = light;
    dark.letters.colour = {20, 24, 28, 255};
    dark.finishes = {outlineOf(5, {255, 255, 255, 255})};
    stamp.what = light;
    stamp.twin = dark;
    stamp.corners = {StampAt::bottomRight, StampAt::bottomLeft};
    constexpr double readable = 12, strong = 0.85, wide = 36;
    stamp.placing.width = {wide, true};
    stamp.leastCapitals = readable;
    stamp.opacity = strong;
    stamp.author = "Your name";
    stamp.rights = "© Your name. All rights reserved.";
    stamp.address = "https://example.org/";
    return stamp;
}

}  // namespace zl
