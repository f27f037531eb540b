// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/surfaces.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "rehearsal/surface_parts.h"

namespace zl {
namespace {

using Draw = Surface (*)(const Sight&, const OnSurface&);
// By id where a kind has several looks, else by kind.
struct DrawnSurface {
    std::string_view id;
    std::optional<SurfaceKind> kind;
    Draw draw;
};
constexpr auto drawn = std::to_array<DrawnSurface>({{"suggestion", {}, suggestionRows},
                                                    {"search", {}, searchRows},
                                                    {"phone", SurfaceKind::card, phoneColumn},
                                                    {"television-row", {}, televisionRow},
                                                    {"gallery-small", {}, gallerySmall},
                                                    {"", SurfaceKind::card, feedCard},
                                                    {"", SurfaceKind::row, suggestionRows},
                                                    {"", SurfaceKind::embed, blogEmbed},
                                                    {"page", SurfaceKind::page, headedPage},
                                                    {"", SurfaceKind::page, channelPage},
                                                    {"", SurfaceKind::round, roundPortrait},
                                                    {"", SurfaceKind::gallery, galleryLarge},
                                                    {"", SurfaceKind::story, uprightStory},
                                                    {"", SurfaceKind::prop, standingProp},
                                                    {"", SurfaceKind::player, videoPlayer},
                                                    {"", SurfaceKind::hover, hoverCard},
                                                    {"", SurfaceKind::programme, programme}});

Draw drawingOf(const SurfaceSpec& spec) {
    for (const DrawnSurface& row : drawn)
        if ((row.id.empty() || row.id == spec.id) && (!row.kind || row.kind == spec.kind))
            return row.draw;
    return feedCard;
}

const SurfaceTheme& themeNamed(const std::string& id) {
    return id == "dark" ? themes[1] : themes[0];
}

// The moments at which a player tells most, with the ends of their ids and titles.
struct Moment {
    double at;
    const char *end, *words;
};
std::vector<Moment> momentsOf(const SurfaceSpec& spec, const Posted& posted) {
    constexpr double early = 12, running = 2;  // s
    if (spec.kind == SurfaceKind::programme) return {{posted.at.value_or(running), "", ""}};
    if (posted.at) return {{*posted.at, "", ""}};
    const double from = startOf(posted.showing, posted.length);
    if (posted.showing.when == Showing::When::throughout)
        return {{std::min(early, posted.length / 2), "", ""}};
    std::vector<Moment> all;
    if (from > 0) all.push_back({std::max(0.0, from - 1), "-before", ", before the mark"});
    all.push_back({std::min(from + 1, (from + posted.length) / 2), "-after", ", with the mark"});
    return all;
}

}  // namespace

std::vector<Sight> sightsOf(const Brief& brief, const Posted& posted) {
    std::vector<Sight> all;
    for (const SurfaceTheme& theme : themes)
        for (const SurfaceSpec& spec : brief.surfaces)
            if (std::find(spec.themes.begin(), spec.themes.end(), theme.id) != spec.themes.end())
                all.push_back({spec,
                               theme.id,
                               {},
                               0,
                               fmt::format("{}-{}", spec.id, theme.id),
                               fmt::format("{}, {} px, {}", spec.title, spec.width, theme.word)});
    for (const SurfaceSpec& spec : brief.surfaces) {
        if (!spec.themes.empty()) continue;
        if (!spec.plays()) {
            all.push_back(
                {spec, {}, {}, 0, spec.id, fmt::format("{}, {} px", spec.title, spec.width)});
            continue;
        }
        std::vector<std::string> footages = spec.footage;
        if (footages.empty()) footages = {spec.kind == SurfaceKind::programme ? "desktop" : "busy"};
        // What is known comes first; what others may show stays beside it.
        if (posted.film) footages.insert(footages.begin(), ownFootage);
        for (const std::string& footage : footages)
            for (const Moment& moment : momentsOf(spec, posted))
                all.push_back({spec,
                               {},
                               footage,
                               moment.at,
                               fmt::format("{}-{}{}", spec.id,
                                           footage == ownFootage ? "own" : footage, moment.end),
                               fmt::format("{}, {} px, {}{}", spec.title, spec.width, footage,
                                           moment.words)});
    }
    return all;
}

std::shared_ptr<const Straight8> asMet(std::shared_ptr<const Straight8> picture) {
    constexpr int highest = 8;  // times its width
    if (picture->height() <= highest * picture->width()) return picture;
    return std::make_shared<const Straight8>(
        partOf(*picture, {0, 0, picture->width(), highest * picture->width()}));
}

std::string placeOf(const SurfaceSpec& surface) {
    if (surface.kind == SurfaceKind::page || surface.kind == SurfaceKind::round)
        return "Channel page";
    if (surface.kind == SurfaceKind::programme || surface.kind == SurfaceKind::prop)
        return "Stream";
    if (surface.kind == SurfaceKind::gallery || surface.kind == SurfaceKind::story)
        return "Gallery";
    if (surface.kind == SurfaceKind::embed) return "Blog";
    return "Video page";
}

int copyWidth(const SurfaceSpec& surface, const Brief& brief, PixelSize picture) {
    if (surface.kind == SurfaceKind::player) return playerPlan(surface.width, picture).mark.width();
    constexpr int onHover = 96;  // twice what it is shown at
    if (surface.kind == SurfaceKind::hover) return std::min(picture.width, onHover);
    const Zone* zone = brief.zone(surface.zone);
    // The whole picture, so large that the part in the zone fills the surface; never larger than it
    // is.
    if (zone)
        return std::min(picture.width,
                        static_cast<int>(std::lround(surface.width / zone->part.width)));
    return surface.width;
}

Result<Surface> drawSurface(const Sight& sight, const Brief& brief, PixelSize picture,
                            const CopyOfWidth& shown, const Posted& posted) {
    const auto copy = shown(copyWidth(sight.spec, brief, picture));
    if (!copy || copy->empty()) return fail(Code::unreadable, "There is no picture to show.");
    return unlessTooLarge(sight.title, [&]() -> Result<Surface> {
        Surface surface =
            drawingOf(sight.spec)(sight, {brief, themeNamed(sight.theme), copy, posted});
        surface.spec = sight.spec.id;
        surface.theme = sight.theme;
        surface.id = sight.id;
        surface.title = sight.title;
        return surface;
    });
}

Result<std::vector<Surface>> drawSurfaces(const Brief& brief, PixelSize picture,
                                          const CopyOfWidth& shown, const Posted& posted) {
    if (auto good = checkShowing(posted.showing, posted.length); !good) return passOn(good.error());
    std::vector<Surface> all;
    for (const Sight& sight : sightsOf(brief, posted)) {
        auto surface = drawSurface(sight, brief, picture, shown, posted);
        if (!surface) return passOn(surface.error());
        all.push_back(std::move(*surface));
    }
    return all;
}

}  // namespace zl
