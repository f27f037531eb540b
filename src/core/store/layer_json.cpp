// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/layer_json.h"

#include <fmt/core.h>

#include <array>

#include "base/json.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"

namespace zl {
namespace {

constexpr const char* reference = "reference";  // the word for a picture that is never released

template <class Value>
using Words = std::pair<Value, const char*>;

constexpr std::array<Words<Align>, 3> aligns{
    {{Align::left, "left"}, {Align::centre, "centre"}, {Align::right, "right"}}};
constexpr std::array<Words<Blend>, 5> blends{{{Blend::normal, "normal"},
                                              {Blend::multiply, "multiply"},
                                              {Blend::screen, "screen"},
                                              {Blend::overlay, "overlay"},
                                              {Blend::softLight, "soft-light"}}};
constexpr std::array<Words<BarShape>, 6> shapes{{{BarShape::rectangle, "rectangle"},
                                                 {BarShape::rounded, "rounded"},
                                                 {BarShape::ellipse, "ellipse"},
                                                 {BarShape::ring, "ring"},
                                                 {BarShape::line, "line"},
                                                 {BarShape::arrow, "arrow"}}};
constexpr std::array<Words<double Tone::*>, 6> tones{{{&Tone::brightness, "brightness"},
                                                      {&Tone::contrast, "contrast"},
                                                      {&Tone::saturation, "saturation"},
                                                      {&Tone::warmth, "warmth"},
                                                      {&Tone::tint, "tint"},
                                                      {&Tone::clarity, "clarity"}}};

constexpr std::array<Words<CutShape>, 3> cutShapes{{{CutShape::ellipse, "ellipse"},
                                                    {CutShape::rounded, "rounded"},
                                                    {CutShape::polygon, "polygon"}}};
constexpr std::array<Words<Cleaning>, 6> cleanings{{{Cleaning::fringe, "fringe"},
                                                    {Cleaning::steps, "steps"},
                                                    {Cleaning::specks, "specks"},
                                                    {Cleaning::pinholes, "pinholes"},
                                                    {Cleaning::haze, "haze"},
                                                    {Cleaning::premultiplied, "premultiplied"}}};
constexpr std::array<Words<SubjectEdge>, 3> subjectEdges{{{SubjectEdge::asFound, "as-found"},
                                                          {SubjectEdge::tighter, "tighter"},
                                                          {SubjectEdge::fuller, "fuller"}}};
constexpr std::array<Words<SubjectPart>, 3> subjectParts{{{SubjectPart::subject, "subject"},
                                                          {SubjectPart::ground, "ground"},
                                                          {SubjectPart::filled, "filled-ground"}}};

template <class Table, class Value>
const char* wordOf(const Table& table, const Value& value) {
    for (const auto& [v, word] : table)
        if (v == value) return word;
    return table.front().second;
}
template <class Table>
auto valueOf(const Table& table, const std::string& word) {
    for (const auto& [v, w] : table)
        if (word == w) return v;
    return table.front().first;
}

OrderedJson jsonOf(const RealRect& r) {
    return OrderedJson::array({r.x, r.y, r.width, r.height});
}
RealRect rectFrom(const Json& json) {
    const auto v = json.get<std::array<double, 4>>();
    return {v[0], v[1], v[2], v[3]};
}
Colour colourFrom(const Json& json) {
    return parseColour(json.get<std::string>()).value_or(Colour{});
}

OrderedJson jsonOf(const Finish& finish) {
    OrderedJson json{{"kind", finish.kind}, {"colour", nameOf(finish.colour)}};
    if (const FinishKind* kind = finishKind(finish.kind))
        for (std::size_t i = 0; i < kind->fields.size(); ++i)
            json[std::string(kind->fields[i].id)] = finish.values[i];
    if (finish.off) json["off"] = true;
    return json;
}

Result<std::vector<Finish>> finishesFrom(const Json& owner, const std::string& name) {
    std::vector<Finish> finishes;
    // Until format 2 lettering had one outline of its own.
    if (owner.contains("outline"))
        finishes.push_back(
            outlineOf(owner["outline"]["px"], colourFrom(owner["outline"]["colour"])));
    if (!owner.contains("finishes")) return finishes;
    for (const Json& json : owner["finishes"]) {
        Finish finish = makeFinish(json["kind"].get<std::string>());
        finish.off = json.value("off", false);
        if (json.contains("colour")) finish.colour = colourFrom(json["colour"]);
        if (const FinishKind* kind = finishKind(finish.kind))
            for (const auto& [field, value] : json.items()) {
                if (field == "kind" || field == "colour" || field == "off") continue;
                if (kind->fieldAt(field) < 0)
                    return fail(Code::unreadable,
                                fmt::format("{} is refused: {} has no \"{}\".", name, finish.kind,
                                            field.substr(0, 40)));
                finish.set(field, value);
            }
        if (const auto good = checkFinish(finish); !good)
            return fail(Code::unreadable,
                        fmt::format("{} is refused: {}", name, good.error().what));
        finishes.push_back(std::move(finish));
    }
    return finishes;
}

OrderedJson jsonOf(const std::vector<Finish>& finishes) {
    OrderedJson all = OrderedJson::array();
    for (const Finish& finish : finishes) all.push_back(jsonOf(finish));
    return all;
}

OrderedJson jsonOf(const std::vector<RealPoint>& points) {
    OrderedJson all = OrderedJson::array();
    for (const RealPoint& p : points) all.push_back({p.x, p.y});
    return all;
}
std::vector<RealPoint> pointsFrom(const Json& json) {
    std::vector<RealPoint> points;
    for (const Json& p : json) points.push_back({p[0], p[1]});
    return points;
}

void addStrokes(OrderedJson& json, const std::vector<Stroke>& strokes) {
    for (const Stroke& s : strokes)
        json["strokes"].push_back(OrderedJson{
            {"restores", s.restores}, {"radius", s.radius}, {"points", jsonOf(s.points)}});
}
std::vector<Stroke> strokesFrom(const Json& json) {
    std::vector<Stroke> strokes;
    if (json.contains("strokes"))
        for (const Json& s : json["strokes"])
            strokes.push_back({s["restores"], s["radius"], pointsFrom(s["points"])});
    return strokes;
}

OrderedJson jsonOf(const KeyCut& key) {
    OrderedJson json{{"kind", "key"}};
    if (key.colour) json["colour"] = nameOf(*key.colour);
    if (key.tolerance) json["tolerance"] = *key.tolerance;
    if (key.everywhere) json["everywhere"] = true;
    if (key.from) json["from"] = {key.from->x, key.from->y};
    if (key.shadow == KeyShadow::drop) json["dropsShadow"] = true;
    if (key.shadow == KeyShadow::off) json["shadowIsInk"] = true;
    addStrokes(json, key.strokes);
    return json;
}
OrderedJson jsonOf(const SubjectCut& subject) {
    OrderedJson json{{"kind", "subject"}};
    if (subject.box) json["box"] = jsonOf(*subject.box);
    if (subject.guess != 0) json["guess"] = subject.guess;
    if (subject.edge != SubjectEdge::asFound) json["edge"] = wordOf(subjectEdges, subject.edge);
    if (subject.part != SubjectPart::subject) json["part"] = wordOf(subjectParts, subject.part);
    if (subject.keepsShadow) json["keepsShadow"] = true;
    addStrokes(json, subject.strokes);
    return json;
}
OrderedJson jsonOf(const ShapeCut& shape) {
    OrderedJson json{{"kind", wordOf(cutShapes, shape.shape)}};
    if (shape.shape == CutShape::polygon)
        json["points"] = jsonOf(shape.points);
    else
        json["box"] = jsonOf(shape.box);
    if (shape.shape == CutShape::rounded)
        json[shape.radiiAreShares ? "radiusShares" : "radii"] = shape.radii;
    if (shape.feather != 0) json["feather"] = shape.feather;
    if (shape.inverted) json["inverted"] = true;
    return json;
}
OrderedJson jsonOf(const CleanCut& clean) {
    OrderedJson json{{"kind", wordOf(cleanings, clean.what)}};
    if (clean.scale != 1) json["scale"] = clean.scale;
    return json;
}

KeyCut keyFrom(const Json& json) {
    KeyCut key;
    if (json.contains("colour")) key.colour = colourFrom(json["colour"]);
    if (json.contains("tolerance")) key.tolerance = json["tolerance"].get<double>();
    key.everywhere = json.value("everywhere", false);
    if (json.contains("from")) key.from = RealPoint{json["from"][0], json["from"][1]};
    key.shadow = json.value("shadowIsInk", false)   ? KeyShadow::off
                 : json.value("dropsShadow", false) ? KeyShadow::drop
                                                    : KeyShadow::keep;
    key.strokes = strokesFrom(json);
    return key;
}

SubjectCut subjectFrom(const Json& json) {
    SubjectCut subject;
    if (json.contains("box")) subject.box = rectFrom(json["box"]);
    subject.guess = json.value("guess", 0);
    subject.edge = valueOf(subjectEdges, json.value("edge", std::string()));
    subject.part = valueOf(subjectParts, json.value("part", std::string()));
    subject.keepsShadow = json.value("keepsShadow", false);
    subject.strokes = strokesFrom(json);
    return subject;
}

Result<std::vector<Cut>> cutsFrom(const Json& owner, const std::string& name) {
    std::vector<Cut> cuts;
    if (!owner.contains("cuts")) return cuts;
    for (const Json& json : owner["cuts"]) {
        const std::string kind = json["kind"];
        Cut cut;
        cut.off = json.value("off", false);
        const auto named = [&](const auto& table) {
            return std::any_of(table.begin(), table.end(),
                               [&](const auto& row) { return kind == row.second; });
        };
        if (kind == "key") {
            cut.what = keyFrom(json);
        } else if (kind == "subject") {
            cut.what = subjectFrom(json);
        } else if (named(cutShapes)) {
            ShapeCut shape;
            shape.shape = valueOf(cutShapes, kind);
            const char* needs = shape.shape == CutShape::polygon ? "points" : "box";
            if (!json.contains(needs))
                return fail(Code::unreadable,
                            fmt::format("{} is refused: a cut of kind {} needs \"{}\".", name, kind,
                                        needs));
            if (shape.shape == CutShape::polygon)
                shape.points = pointsFrom(json["points"]);
            else
                shape.box = rectFrom(json["box"]);
            shape.radiiAreShares = json.contains("radiusShares");
            for (const char* field : {"radii", "radiusShares"})
                if (json.contains(field)) shape.radii = json[field].get<std::array<double, 4>>();
            shape.feather = json.value("feather", 0.0);
            shape.inverted = json.value("inverted", false);
            cut.what = shape;
        } else {
            cut.what = CleanCut{valueOf(cleanings, kind), json.value("scale", 1.0)};
        }
        if (const auto good = checkCut(cut); !good)
            return fail(Code::unreadable,
                        fmt::format("{} is refused: {}", name, good.error().what));
        cuts.push_back(std::move(cut));
    }
    return cuts;
}

OrderedJson jsonOf(const Clip& clip) {
    OrderedJson json{{"file", clip.file},
                     {"identity", clip.identity},
                     {"length", clip.length},
                     {"fps", clip.fps}};
    if (clip.sounds) json["sounds"] = true;
    if (clip.in != 0) json["in"] = clip.in;
    if (clip.out != 0) json["out"] = clip.out;
    if (clip.begins != 0) json["begins"] = clip.begins;
    if (clip.loops) json["loops"] = true;
    if (!clip.holds) json["holds"] = false;
    if (clip.muted) json["muted"] = true;
    if (clip.loudness != 1) json["loudness"] = clip.loudness;
    return json;
}

Clip clipFrom(const Json& json) {
    Clip clip;
    clip.file = json["file"];
    clip.identity = json["identity"];
    clip.length = json["length"];
    clip.fps = json["fps"];
    clip.sounds = json.value("sounds", false);
    clip.in = json.value("in", 0.0);
    clip.out = json.value("out", 0.0);
    clip.begins = json.value("begins", 0.0);
    clip.loops = json.value("loops", false);
    clip.holds = json.value("holds", true);
    clip.muted = json.value("muted", false);
    clip.loudness = json.value("loudness", 1.0);
    return clip;
}

void write(OrderedJson& json, const PictureLayer& p) {
    json["source"] = p.source;
    json["crop"] = jsonOf(p.crop);
    json["place"] = jsonOf(p.place);
    if (!p.tone.neutral())
        for (const auto& [member, word] : tones)
            if (p.tone.*member != 0) json["tone"][word] = p.tone.*member;
    for (const Veil& veil : p.veils)
        json["veils"].push_back(
            OrderedJson{{"kind", veil.kind == Veil::Kind::blur ? "blur" : "coarse"},
                        {"region", jsonOf(veil.region)},
                        {"px", veil.px}});
    if (!p.cuts.empty()) json["cuts"] = zl::jsonOf(p.cuts);
    if (p.still)
        json["still"] = {{"file", p.still->file},
                         {"time", p.still->time},
                         {"frame", p.still->frame},
                         {"size", {p.still->size.width, p.still->size.height}}};
    if (p.clip) json["clip"] = jsonOf(*p.clip);
}

void writeStyle(OrderedJson& json, const LetteringLayer& l) {
    json["family"] = l.family;
    json["style"] = l.style;
    json["size"] = l.size;
    json["leading"] = l.leading;
    if (l.tracking != 0) json["tracking"] = l.tracking;
    if (l.caps) json["caps"] = true;
    json["colour"] = nameOf(l.colour);
}

void write(OrderedJson& json, const LetteringLayer& l) {
    json["at"] = {l.at.x, l.at.y};
    json["text"] = l.text;
    writeStyle(json, l);
    json["align"] = wordOf(aligns, l.align);
    if (l.vertical) json["vertical"] = true;
}

void write(OrderedJson& json, const BarLayer& b) {
    json["shape"] = wordOf(shapes, b.shape);
    json["place"] = jsonOf(b.place);
    json["colour"] = nameOf(b.colour);
    json["radius"] = b.radius;
    json["thickness"] = b.thickness;
    if (!b.fade) return;
    json["fade"] = nameOf(*b.fade);
    json["fadeDegrees"] = b.fadeDegrees;
}

PictureLayer pictureFrom(const Json& json) {
    PictureLayer p{json["source"], rectFrom(json["crop"]), rectFrom(json["place"]),
                   json["kind"] == reference};
    if (json.contains("tone"))
        for (const auto& [member, word] : tones) p.tone.*member = json["tone"].value(word, 0.0);
    if (json.contains("veils"))
        for (const Json& veil : json["veils"])
            p.veils.push_back({veil["kind"] == "blur" ? Veil::Kind::blur : Veil::Kind::coarse,
                               rectFrom(veil["region"]), veil["px"]});
    if (json.contains("still")) {
        const Json& still = json["still"];
        p.still = StillFrom{
            still["file"], still["time"], still["frame"], {still["size"][0], still["size"][1]}};
    }
    if (json.contains("clip")) p.clip = clipFrom(json["clip"]);
    return p;
}

void readStyle(const Json& json, LetteringLayer& l) {
    l.family = json["family"];
    l.style = json["style"];
    l.size = json["size"];
    l.leading = json.value("leading", 1.0);
    l.tracking = json.value("tracking", 0.0);
    l.caps = json.value("caps", false);
    l.colour = colourFrom(json["colour"]);
}

LetteringLayer letteringFrom(const Json& json) {
    LetteringLayer l;
    l.at = {json["at"][0], json["at"][1]};
    l.text = json["text"];
    readStyle(json, l);
    l.align = valueOf(aligns, json["align"]);
    l.vertical = json.value("vertical", false);
    return l;
}

BarLayer barFrom(const Json& json) {
    BarLayer b;
    b.shape = valueOf(shapes, json["shape"]);
    b.place = rectFrom(json["place"]);
    b.colour = colourFrom(json["colour"]);
    b.radius = json.value("radius", b.radius);
    b.thickness = json.value("thickness", b.thickness);
    if (json.contains("fade")) b.fade = colourFrom(json["fade"]);
    b.fadeDegrees = json.value("fadeDegrees", 0.0);
    return b;
}

// How each kind is read, in the order of the kinds.
struct Reader {
    std::vector<const char*> needed;
    Result<LayerWhat> (*read)(const Json& json, const std::string& name);
};
const std::array<Reader, std::variant_size_v<LayerWhat>>& readers() {
    static const std::array<Reader, std::variant_size_v<LayerWhat>> all{{
        {{"source", "crop", "place"},
         [](const Json& json, const std::string& name) -> Result<LayerWhat> {
             PictureLayer picture = pictureFrom(json);
             auto cuts = cutsFrom(json, name);
             if (!cuts) return passOn(cuts.error());
             picture.cuts = std::move(*cuts);
             if (picture.clip)
                 if (const auto good = checkClip(*picture.clip); !good)
                     return fail(Code::unreadable,
                                 fmt::format("{} is refused: {}", name, good.error().what));
             return picture;
         }},
        {{"at", "text", "family", "style", "size", "align", "colour"},
         [](const Json& json, const std::string&) -> Result<LayerWhat> {
             return letteringFrom(json);
         }},
        {{"shape", "place", "colour"},
         [](const Json& json, const std::string&) -> Result<LayerWhat> { return barFrom(json); }},
    }};
    return all;
}

const Reader* readerOf(const std::string& kind) {
    for (std::size_t i = 0; i < layerKinds().size(); ++i)
        if (layerKinds()[i].id == kind) return &readers()[i];
    return kind == reference ? &readers()[0] : nullptr;
}

}  // namespace

OrderedJson jsonOf(const Layer& layer) {
    OrderedJson json{{"id", layer.id},
                     {"kind", layer.isReference() ? reference : kindOf(layer).id},
                     {"name", layer.name},
                     {"hidden", layer.hidden},
                     {"opacity", layer.opacity}};
    if (layer.essential) json["essential"] = *layer.essential;
    if (layer.rimMeant) json["rimMeant"] = true;
    if (layer.blend != Blend::normal) json["blend"] = wordOf(blends, layer.blend);
    if (layer.group != 0) json["group"] = layer.group;
    if (layer.twin != 0) json["twin"] = layer.twin;
    if (layer.shows) {
        json["shows"] = {{"from", layer.shows->from}};
        if (layer.shows->to) json["shows"]["to"] = *layer.shows->to;
        if (layer.shows->fade != 0) json["shows"]["fade"] = layer.shows->fade;
    }
    if (!layer.turn.none()) {
        json["turn"] = layer.turn.degrees;
        if (layer.turn.flipX) json["flipX"] = true;
        if (layer.turn.flipY) json["flipY"] = true;
    }
    std::visit([&](const auto& what) { write(json, what); }, layer.what);
    if (!layer.finishes.empty()) json["finishes"] = jsonOf(layer.finishes);
    return json;
}

Result<Layer> layerFrom(const Json& json, const std::string& name) {
    const std::string kind = json["kind"];
    const Reader* reader = readerOf(kind);
    if (!reader)
        return fail(Code::unreadable,
                    fmt::format("{} is refused: nobody knows a layer of kind \"{}\".", name,
                                kind.substr(0, 40)));
    for (const char* field : reader->needed)
        if (!json.contains(field))
            return fail(
                Code::unreadable,
                fmt::format("{} is refused: a layer of kind {} needs \"{}\".", name, kind, field));
    Layer layer;
    layer.id = json["id"];
    layer.name = json["name"];
    layer.hidden = json["hidden"];
    layer.opacity = json["opacity"];
    if (json.contains("essential")) layer.essential = json["essential"].get<bool>();
    layer.rimMeant = json.value("rimMeant", false);
    layer.blend = valueOf(blends, json.value("blend", "normal"));
    layer.group = json.value("group", 0);
    layer.twin = json.value("twin", 0);
    layer.turn = {json.value("turn", 0.0), json.value("flipX", false), json.value("flipY", false)};
    if (json.contains("shows")) {
        const Json& shows = json["shows"];
        layer.shows = ShowTime{shows["from"], {}, shows.value("fade", 0.0)};
        if (shows.contains("to")) layer.shows->to = shows["to"].get<double>();
        if (const auto good = checkShowTime(*layer.shows); !good)
            return fail(Code::unreadable,
                        fmt::format("{} is refused: {}", name, good.error().what));
    }
    auto finishes = finishesFrom(json, name);
    if (!finishes) return passOn(finishes.error());
    layer.finishes = std::move(*finishes);
    auto what = reader->read(json, name);
    if (!what) return passOn(what.error());
    layer.what = std::move(*what);
    return layer;
}

OrderedJson jsonOf(const std::vector<Cut>& cuts) {
    OrderedJson all = OrderedJson::array();
    for (const Cut& cut : cuts) {
        all.push_back(std::visit([](const auto& what) { return jsonOf(what); }, cut.what));
        if (cut.off) all.back()["off"] = true;
    }
    return all;
}

OrderedJson jsonOf(const Look& look) {
    OrderedJson json{{"name", look.name}};
    writeStyle(json, look.letters);
    json["finishes"] = jsonOf(look.finishes);
    return json;
}

Result<Look> lookFrom(const Json& json, const std::string& name) {
    Look look;
    look.name = json["name"];
    readStyle(json, look.letters);
    auto finishes = finishesFrom(json, name);
    if (!finishes) return passOn(finishes.error());
    look.finishes = std::move(*finishes);
    return look;
}

}  // namespace zl
