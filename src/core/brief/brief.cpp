// SPDX-License-Identifier: GPL-3.0-or-later
#include "brief/brief.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <numeric>

namespace zl {
namespace {

// The order in which briefs are offered.
constexpr std::array<std::string_view, 16> shipped{"video-thumbnail", "corner-mark",    "corner-mark-small", "button-mark",
                                                   "stream-overlay",  "stream-card",    "channel-banner",    "page-header",
                                                   "digital-prop",    "round-portrait", "upright-story",     "square-post",
                                                   "post-5x4",        "post-4x5",       "photo-proof",       "free-frame"};

std::vector<std::string> strings(const Json& object, const char* key) {
    return object.value(key, std::vector<std::string>{});
}

Zone zoneFrom(const Json& json) {
    Zone zone;
    zone.id = json["id"];
    zone.title = json["title"];
    const std::string role = json["role"];
    zone.role = role == "visible" ? ZoneRole::visible : role == "keep-inside" ? ZoneRole::keepInside : ZoneRole::keepClear;
    const auto r = json["rect"].get<std::array<double, 4>>();
    zone.part = {r[0], r[1], r[2] - r[0], r[3] - r[1]};
    zone.atMostWatch = json.value("worst", "fail") == "watch";
    if (json.contains("allowance")) zone.allowance = json["allowance"].get<double>();
    zone.surfaces = strings(json, "surfaces");
    return zone;
}

SurfaceSpec surfaceFrom(const Json& json) {
    SurfaceSpec surface;
    surface.id = json["id"];
    surface.title = json["title"];
    surface.kind = json["kind"];
    surface.width = json["width"];
    surface.themes = strings(json, "themes");
    surface.badge = json.value("badge", false);
    surface.progress = json.value("progress", false);
    surface.play = json.value("play", false);
    return surface;
}

Result<Brief> briefFromFile(const Path& path, const Json& schema) {
    auto bytes = readFile(path, 1'000'000);
    if (!bytes) return passOn(bytes.error());
    auto brief = parseBrief(*bytes, schema, path.filename().string());
    if (brief && brief->id != path.stem().string())
        return fail(Code::unreadable,
                    fmt::format("{} is refused: id: it must be the file's own name, {}.", path.filename().string(), path.stem().string()));
    return brief;
}

}  // namespace

bool Brief::accepts(std::string_view formatId) const {
    return std::find(formats.begin(), formats.end(), formatId) != formats.end();
}

std::string shapeName(PixelSize frame) {
    const int divisor = std::gcd(frame.width, frame.height);
    const int w = frame.width / divisor, h = frame.height / divisor;
    if (w <= 32 && h <= 32) return fmt::format("{}:{}", w, h);
    return frame.width >= frame.height ? fmt::format("{:.2f}:1", static_cast<double>(frame.width) / frame.height)
                                       : fmt::format("1:{:.2f}", static_cast<double>(frame.height) / frame.width);
}

Result<Brief> parseBrief(ByteView text, const Json& schema, const std::string& name) {
    const auto json = parseJson(text, name);
    if (!json) return passOn(json.error());
    if (const auto good = checkAgainst(schema, *json, name); !good) return passOn(good.error());
    const Json& j = *json;
    Brief brief;
    brief.id = j["id"];
    brief.title = j["title"];
    brief.about = j.value("about", "");
    const std::string rule = j["frame"]["rule"];
    brief.frameRule = rule == "exact" ? FrameRule::exact : rule == "minimum" ? FrameRule::minimum : FrameRule::any;
    brief.frame = {j["frame"]["width"], j["frame"]["height"]};
    brief.multiples = j["frame"].value("multiples", false);
    brief.formats = strings(j, "formats");
    if (!j["limit"].is_null()) brief.limit = j["limit"].get<long long>();
    const std::string alpha = j["alpha"];
    brief.alpha = alpha == "see-through" ? AlphaDemand::seeThrough : alpha == "none-needed" ? AlphaDemand::noneNeeded : AlphaDemand::any;
    const Json traits = j.value("traits", Json::object());
    brief.freeStanding = traits.value("free_standing", false);
    brief.centred = traits.value("centred", false);
    if (traits.contains("colours")) brief.colours = traits["colours"].get<int>();
    for (const auto& zone : j["zones"]) {
        brief.zones.push_back(zoneFrom(zone));
        const Zone& z = brief.zones.back();
        if (!(z.part.width > 0 && z.part.height > 0))
            return fail(Code::unreadable, fmt::format("{} is refused: zones: \"{}\" has no area.", name, z.id));
    }
    for (const auto& surface : j["surfaces"]) brief.surfaces.push_back(surfaceFrom(surface));
    brief.whole = OrderedJson::parse(text.begin(), text.end());
    return brief;
}

const Brief* Briefs::find(std::string_view id) const {
    const auto found = std::find_if(all.begin(), all.end(), [&](const Brief& brief) { return brief.id == id; });
    return found == all.end() ? nullptr : &*found;
}

Result<Briefs> loadBriefs(const Path& dataFolder, const Path& personal) {
    auto schemaBytes = readFile(dataFolder / "schema/brief.schema.json", 1'000'000);
    if (!schemaBytes) return passOn(schemaBytes.error());
    const auto schema = parseJson(*schemaBytes, "brief.schema.json");
    if (!schema) return passOn(schema.error());
    Briefs briefs;
    for (const auto id : shipped) {
        auto brief = briefFromFile(dataFolder / "briefs" / fmt::format("{}.json", id), *schema);
        if (!brief) return passOn(brief.error());
        briefs.all.push_back(std::move(*brief));
    }
    std::error_code none;
    std::vector<Path> own;
    for (const auto& entry : std::filesystem::directory_iterator(personal / "briefs", none))
        if (entry.path().extension() == ".json") own.push_back(entry.path());
    std::sort(own.begin(), own.end());
    for (const auto& path : own) {
        auto brief = briefFromFile(path, *schema);
        if (brief && briefs.find(brief->id))
            briefs.refused.push_back(
                {Code::unreadable, fmt::format("{} is refused: id: a brief of that name exists.", path.filename().string()), ""});
        else if (brief)
            briefs.all.push_back(std::move(*brief));
        else
            briefs.refused.push_back(brief.error());
    }
    return briefs;
}

}  // namespace zl
