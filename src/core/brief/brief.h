// SPDX-License-Identifier: GPL-3.0-or-later
// A brief: what one destination demands. Briefs are data (data/briefs/*.json, checked against
// data/schema/brief.schema.json); a person's own stand in their data folder, under briefs/.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/file.h"
#include "base/geometry.h"
#include "base/json_fwd.h"
#include "base/result.h"
#include "base/shared.h"

namespace zl {

enum class FrameRule { exact, minimum, any };
enum class AlphaDemand { noneNeeded, seeThrough, any };
// How ink that stands free fills its frame: with a rim, as wide as it, or as its largest circle.
enum class Fits { inside, width, circle };
enum class ZoneRole { visible, keepInside, keepClear };
// What a zone asks: lettering stays in a safe title area, all else in a safe action area.
enum class CountsFor { all, letters, pictures };
// What a surface looks like.
enum class SurfaceKind {
    card,
    row,
    embed,
    player,
    hover,
    programme,
    page,
    round,
    gallery,
    story,
    prop
};

struct Zone {
    std::string id, title;
    ZoneRole role = ZoneRole::visible;
    CountsFor countsFor = CountsFor::all;
    RealRect part;                      // as shares of the frame, 0..1
    bool atMostWatch = false;           // a break of it is never worse than a watch
    std::optional<double> allowance;    // share of its pixels that may be covered, 0..1
    std::vector<std::string> surfaces;  // it exists on these surfaces only; empty: on all
    bool operator==(const Zone&) const = default;
};

struct SurfaceSpec {
    std::string id, title;
    SurfaceKind kind = SurfaceKind::card;
    int width = 0;  // device px
    std::vector<std::string> themes, footage;
    bool badge = false, progress = false, play = false;
    std::string zone;  // of a page: the zone that it shows
    int gapAbove = 0;  // of a page: px of the page above the piece
    // The piece stands on it as a whole, `width` px wide: not a mark in a player, nor a part of a
    // page.
    bool showsWhole() const {
        using enum SurfaceKind;
        return kind == card || kind == row || kind == embed || kind == gallery || kind == story ||
               kind == programme;
    }
    // Whether what it shows changes while it plays.
    bool plays() const { return kind == SurfaceKind::player || kind == SurfaceKind::programme; }
    bool operator==(const SurfaceSpec&) const = default;
};

// What a brief takes of pieces that move.
struct MovingBrief {
    std::vector<std::string> formats{};  // ids of moving kinds, the brief's own order
    std::optional<long long> limit{};    // bytes
    double longest = 0;                  // s; 0: any
    bool loops = false;                  // it is seen again and again without a pause
    bool operator==(const MovingBrief&) const = default;
};

struct Brief {
    std::string id, title, about;
    FrameRule frameRule = FrameRule::any;
    PixelSize frame;                   // px
    bool multiples = false;            // whole multiples of the frame are welcome
    std::vector<std::string> formats;  // ids of contents, the brief's own order
    std::optional<long long> limit;    // bytes
    AlphaDemand alpha = AlphaDemand::any;
    bool overFootage = false;  // laid over footage, as a mark on a player
    bool clearRim = false;     // it stands free: nothing is cut by its frame
    Fits fits = Fits::inside;
    bool centred = false;
    bool takesLinks = false;  // regions of it lead somewhere
    bool ownScreen = false;   // the person's own screen is a frame, too
    std::optional<int> colours;
    MovingBrief moving;
    std::vector<Zone> zones;
    std::vector<SurfaceSpec> surfaces;
    std::string text;  // the file itself, provenance and all, as JSON

    bool accepts(std::string_view formatId) const;
    const Zone* zone(std::string_view zoneId) const;  // nothing when there is none
    // As a mark, or as an overlay on a programme.
    bool liesOverFootage() const;
    // px of the surface for a px of the frame; 0 where the piece stands as a mark, or is no picture
    // to read.
    double scaleOn(const SurfaceSpec& surface, PixelSize of) const;
    bool operator==(const Brief&) const = default;
};

// The brief's own file as JSON.
OrderedJson wholeOf(const Brief& brief);

// How high a mark stands on a player of that width, px: 1/12 of the player's height at 16:9, at
// least 24 (from memory).
int markHeightOn(int playerWidth);

// A size at which the brief's surfaces show a piece: as the picture, or as a mark on a player.
// Smallest first; the frame's own size where no surface shows it.
struct SizeShown {
    double scale = 1;  // px of the surface for a px of the frame
    int width = 0;     // of the surface, px
    bool operator==(const SizeShown&) const = default;
};
std::vector<SizeShown> sizesShown(const Brief& brief, PixelSize frame);

// px of the frame: how wide an outline has to be to be a line of its own at that scale. One pixel
// of the surface falls on two of them more often than not, and a half of each: one and a half is
// what still carries letters of the ground's own colour (measured).
double outlineThatCounts(double scale);

// "16:9"; the ratio in lowest terms when that is short, else with a decimal: "1.91:1".
std::string shapeName(PixelSize frame);

// Inside the frame, with an area and an id of their own; keep-clear zones do not overlap.
// Code::badUsage says which.
[[nodiscard]] Result<void> checkZones(const std::vector<Zone>& zones);

[[nodiscard]] Result<Brief> parseBrief(ByteView json, const Json& schema,
                                       const std::string& fileName);

// The shipped briefs in the order of their table, then the person's own. A person's own brief that
// is bad does not hide the others: it is told in `refused`. A shipped brief that is bad or missing
// is an error.
struct Briefs {
    SharedList<Brief> all;  // copies of all briefs share them
    std::vector<Error> refused;
    const Brief* find(std::string_view id) const;  // nothing when there is none
    // The name of today for one that older kits use; else the same.
    static std::string_view nameNow(std::string_view id);
};
[[nodiscard]] Result<Briefs> loadBriefs(const Path& dataFolder, const Path& personalFolder);

// Checks a person's own brief and keeps it as personalFolder/briefs/ID.json. Code::badUsage says
// what is wrong with it, field by field, or that one of that id is there and is not to be replaced;
// nothing is written then. Its id.
[[nodiscard]] Result<std::string> saveOwnBrief(const OrderedJson& brief, const Path& dataFolder,
                                               const Path& personalFolder, Replace replace);

}  // namespace zl
