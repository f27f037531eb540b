// SPDX-License-Identifier: GPL-3.0-or-later
#include "brief/brief.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <numeric>

#include "base/data_files.h"
#include "base/json.h"

namespace zl {
namespace {

// The order in which briefs are offered.
constexpr std::array<std::string_view, 20> shipped{
    "video-thumbnail", "corner-mark",    "corner-mark-small", "button-mark",    "stream-overlay",
    "stream-card",     "channel-banner", "page-header",       "cut-out-object", "round-portrait",
    "moving-card",     "overlay-loop",   "upright-clip",      "upright-story",  "square-post",
    "post-5x4",        "post-4x5",       "photo-proof",       "photo-mark",     "free-frame"};

// The schema's words, in the order of the enums.
constexpr std::array<std::string_view, 3> countsForWords{"all", "letters", "pictures"};
constexpr std::array<std::string_view, 11> surfaceKinds{"card",    "row",       "embed", "player",
                                                        "hover",   "programme", "page",  "round",
                                                        "gallery", "story",     "prop"};
// The schema has let nothing else through.
template <class Enum, std::size_t n>
Enum valueOf(const std::array<std::string_view, n>& words, const std::string& word) {
    return static_cast<Enum>(std::find(words.begin(), words.end(), word) - words.begin());
}

std::vector<std::string> strings(const Json& object, const char* key) {
    return object.value(key, std::vector<std::string>{});
}

Zone zoneFrom(const Json& json) {
    Zone zone;
    zone.id = json["id"];
    zone.title = json["title"];
    const std::string role = json["role"];
    zone.role = role == "visible"       ? ZoneRole::visible
                : role == "keep-inside" ? ZoneRole::keepInside
                                        : ZoneRole::keepClear;
    // Briefs of a person's own from before the field existed have the shipped zones' ids.
    const char* before = zone.id == "safe-title"    ? "letters"
                         : zone.id == "safe-action" ? "pictures"
                                                    : "all";
    zone.countsFor = valueOf<CountsFor>(countsForWords, json.value("counts_for", before));
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
    surface.kind = valueOf<SurfaceKind>(surfaceKinds, json["kind"].get<std::string>());
    surface.width = json["width"];
    surface.themes = strings(json, "themes");
    surface.footage = strings(json, "footage");
    surface.zone = json.value("zone", "");
    surface.gapAbove = json.value("gap_above", 0);
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
                    fmt::format("{} is refused: id: it must be the file's own name, {}.",
                                path.filename().string(), path.stem().string()));
    return brief;
}

}  // namespace

bool Brief::accepts(std::string_view formatId) const {
    return std::find(formats.begin(), formats.end(), formatId) != formats.end();
}

const Zone* Brief::zone(std::string_view zoneId) const {
    const auto found = std::find_if(zones.begin(), zones.end(),
                                    [&](const Zone& zone) { return zone.id == zoneId; });
    return found == zones.end() ? nullptr : &*found;
}

bool Brief::liesOverFootage() const {
    return overFootage || std::any_of(surfaces.begin(), surfaces.end(), [](const SurfaceSpec& s) {
               return s.kind == SurfaceKind::programme;
           });
}

double Brief::scaleOn(const SurfaceSpec& surface, PixelSize of) const {
    const Zone* shown = zone(surface.zone);
    if (!surface.showsWhole() && surface.kind != SurfaceKind::page) return 0;
    return surface.width / (of.width * (shown ? shown->part.width : 1.0));
}

int markHeightOn(int playerWidth) {
    return std::max(24, playerWidth * 9 / 16 / 12);
}

std::vector<SizeShown> sizesShown(const Brief& brief, PixelSize frame) {
    std::vector<SizeShown> sizes;
    for (const SurfaceSpec& surface : brief.surfaces) {
        const bool mark = surface.kind == SurfaceKind::player && brief.overFootage;
        const double scale = mark ? static_cast<double>(markHeightOn(surface.width)) / frame.height
                                  : brief.scaleOn(surface, frame);
        const auto same = [&](const SizeShown& size) { return size.scale == scale; };
        if (scale > 0 && std::none_of(sizes.begin(), sizes.end(), same))
            sizes.push_back({scale, surface.width});
    }
    if (sizes.empty()) sizes.push_back({1, frame.width});
    std::sort(sizes.begin(), sizes.end(),
              [](const SizeShown& a, const SizeShown& b) { return a.scale < b.scale; });
    return sizes;
}

double outlineThatCounts(double scale) {
    constexpr double wide = 1.5;  // px of the surface
    return std::ceil(wide / std::min(1.0, scale));
}

OrderedJson wholeOf(const Brief& brief) {
    return OrderedJson::parse(brief.text);
}

std::string shapeName(PixelSize frame) {
    const int divisor = std::gcd(frame.width, frame.height);
    const int w = frame.width / divisor, h = frame.height / divisor;
    if (w <= 32 && h <= 32) return fmt::format("{}:{}", w, h);
    return frame.width >= frame.height
               ? fmt::format("{:.2f}:1", static_cast<double>(frame.width) / frame.height)
               : fmt::format("1:{:.2f}", static_cast<double>(frame.height) / frame.width);
}

Result<void> checkZones(const std::vector<Zone>& zones) {
    for (std::size_t i = 0; i < zones.size(); ++i) {
        const Zone& zone = zones[i];
        const RealRect& r = zone.part;
        const auto refuse = [&](const std::string& why) {
            return fail(Code::badUsage, fmt::format("the zone \"{}\" {}.", zone.title, why));
        };
        constexpr double slack = 1e-9;
        if (r.x < -slack || r.y < -slack || r.right() > 1 + slack || r.bottom() > 1 + slack)
            return refuse("reaches past the frame");
        if (!(r.width > 0 && r.height > 0)) return refuse("has no area");
        for (std::size_t j = 0; j < i; ++j) {
            const Zone& other = zones[j];
            if (other.id == zone.id) return refuse("has the id of another");
            if (zone.role != ZoneRole::keepClear || other.role != ZoneRole::keepClear) continue;
            const RealRect both = r.intersected(other.part);
            // What two of them cover would be counted twice.
            if (both.width > slack && both.height > slack && zone.surfaces == other.surfaces)
                return refuse(
                    fmt::format("overlaps \"{}\": what both cover would count twice", other.title));
        }
    }
    return {};
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
    brief.frameRule = rule == "exact"     ? FrameRule::exact
                      : rule == "minimum" ? FrameRule::minimum
                                          : FrameRule::any;
    brief.frame = {j["frame"]["width"], j["frame"]["height"]};
    brief.multiples = j["frame"].value("multiples", false);
    brief.formats = strings(j, "formats");
    if (!j["limit"].is_null()) brief.limit = j["limit"].get<long long>();
    const std::string alpha = j["alpha"];
    brief.alpha = alpha == "see-through"   ? AlphaDemand::seeThrough
                  : alpha == "none-needed" ? AlphaDemand::noneNeeded
                                           : AlphaDemand::any;
    const Json traits = j.value("traits", Json::object());
    // An own brief of an earlier version said both at once.
    const bool freeStanding = traits.value("free_standing", false);
    brief.overFootage = traits.value("over_footage", freeStanding);
    brief.clearRim = traits.value("clear_rim", freeStanding);
    const std::string fits = traits.value("fits", "inside");
    brief.fits = fits == "width" ? Fits::width : fits == "circle" ? Fits::circle : Fits::inside;
    brief.centred = traits.value("centred", false);
    brief.takesLinks = traits.value("links", false);
    brief.ownScreen = j["frame"].value("own_screen", false);
    if (traits.contains("colours")) brief.colours = traits["colours"].get<int>();
    if (j.contains("moving")) {
        const Json& moving = j["moving"];
        brief.moving.formats = strings(moving, "formats");
        if (!moving["limit"].is_null()) brief.moving.limit = moving["limit"].get<long long>();
        brief.moving.longest = moving.value("longest", 0.0);
        brief.moving.loops = moving.value("loops", false);
    }
    for (const auto& zone : j["zones"]) brief.zones.push_back(zoneFrom(zone));
    for (const auto& surface : j["surfaces"]) brief.surfaces.push_back(surfaceFrom(surface));
    if (const auto good = checkZones(brief.zones); !good)
        return fail(Code::unreadable,
                    fmt::format("{} is refused: zones: {}", name, good.error().what));
    for (const SurfaceSpec& surface : brief.surfaces)
        if (!surface.zone.empty() && !brief.zone(surface.zone))
            return fail(
                Code::unreadable,
                fmt::format("{} is refused: surfaces: \"{}\" shows a zone that is not there.", name,
                            surface.id));
    brief.text.assign(text.begin(), text.end());
    return brief;
}

std::string_view Briefs::nameNow(std::string_view id) {
    return id == "digital-prop" ? "cut-out-object" : id;  // its name in kits of format 5
}

const Brief* Briefs::find(std::string_view id) const {
    const std::string_view wanted = nameNow(id);
    const auto found = std::find_if(all.begin(), all.end(),
                                    [&](const Brief& brief) { return brief.id == wanted; });
    return found == all.end() ? nullptr : &*found;
}

Result<Briefs> loadBriefs(const Path& dataFolder, const Path& personal) {
    const auto schema = schemaNamed("brief.schema.json", dataFolder);
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
            briefs.refused.push_back({Code::unreadable,
                                      fmt::format("{} is refused: id: a brief of that name exists.",
                                                  path.filename().string()),
                                      ""});
        else if (brief)
            briefs.all.push_back(std::move(*brief));
        else
            briefs.refused.push_back(brief.error());
    }
    return briefs;
}

Result<std::string> saveOwnBrief(const OrderedJson& json, const Path& dataFolder,
                                 const Path& personal, Replace replace) {
    const auto schema = schemaNamed("brief.schema.json", dataFolder);
    if (!schema) return passOn(schema.error());
    const std::string text = zl::written(json);
    const ByteView bytes{reinterpret_cast<const std::uint8_t*>(text.data()), text.size()};
    const auto brief = parseBrief(bytes, *schema, "The brief");
    if (!brief) return fail(Code::badUsage, brief.error().what, brief.error().hint);
    if (std::find(shipped.begin(), shipped.end(), brief->id) != shipped.end())
        return fail(Code::badUsage, fmt::format("A shipped brief has the id {}.", brief->id),
                    "Choose another title.");
    std::error_code error;
    std::filesystem::create_directories(personal / "briefs", error);
    if (error)
        return fail(Code::unwritable,
                    fmt::format("The folder {} cannot be made.", (personal / "briefs").string()));
    const Path file = personal / "briefs" / (brief->id + ".json");
    if (replace == Replace::no && std::filesystem::exists(file, error))
        return fail(Code::badUsage,
                    fmt::format("Another brief of yours is called \"{}\".", brief->title),
                    "Choose another title.");
    if (auto done = writeFile(file, bytes, replace); !done) return passOn(done.error());
    return brief->id;
}

}  // namespace zl
