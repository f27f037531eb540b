// SPDX-License-Identifier: GPL-3.0-or-later
// A reading: one measured check. A pure function of a subject: no clock, no file, no environment.
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <variant>
#include <vector>

#include "base/message.h"
#include "base/verdict.h"
#include "brief/brief.h"
#include "kit/kit.h"
#include "picture/content.h"
#include "picture/moments.h"
#include "picture/svg_pictures.h"
#include "raster/over.h"
#include "raster/raster.h"

namespace zl {

std::string_view nameOf(Verdict verdict);  // "n/a", "pass", "watch", "fail"

// A number, or width and height.
using Value = std::variant<std::monostate, double, std::array<double, 2>>;

struct Finding {
    std::optional<PixelRect> rect;  // where, in frame px
    std::optional<int> layer;       // which
    Message says;
    bool operator==(const Finding&) const = default;
};

// How the ledge draws it: linear from 0 to `end`, filled to `value`, a notch at `notch`.
struct Rule {
    double value = 0, notch = 0, end = 1;
    bool operator==(const Rule&) const = default;
};

struct Reading {
    std::string id;
    Verdict verdict = Verdict::notMeasured;
    Value value, limit;
    std::string unit;
    Message says;
    std::vector<Finding> findings;
    std::vector<std::string> mends;
    Message mendWords;  // what the first mend is called here, where its usual title would not do;
                        // an empty id: it does
    std::optional<Rule> rule;
    std::string shown,
        shownBeside;  // the value as the ledge writes it, and the small words beside it
    bool operator==(const Reading&) const = default;
};

// What the bytes are, or would be: of a file, or of what a piece's release would write.
struct FileFacts {
    std::string name;
    long long bytes = 0;
    bool exact = true;  // false: `bytes` is an upper bound
    Content content = Content::unknown;
    bool alphaChannel = false;
    int bitsPerChannel = 8;
    bool srgb = true, cmyk = false;  // no profile counts as sRGB
    int pages = 1;                   // pictures in it
    std::string missing;             // of an SVG: a picture that it shows and does not hold
    std::string cannotFit;           // why no encoding meets the limit; empty: one does
};

struct EdgeFacts;  // readings/edge_facts.h
class AlphaSum;    // readings/alpha_sum.h

struct LayerFacts {
    int layer = 0;
    std::string originalName;  // the file name a picture came with
    bool inked = true;
    PixelRect box;           // frame px it touches; may lie outside the frame
    std::optional<Ink> ink;  // what it draws, before its opacity; nothing when it is hidden
    std::shared_ptr<const EdgeFacts>
        edges;              // of a picture with alpha, after its cuts and before its finishes
    int timesDrawn = 1;     // of an SVG: how many times as large as its own size it is drawn
    SvgPictures held{};     // of an SVG: the pictures of pixels in it
    bool rimMeant = false;  // the person said that its dark rim is its design
    RealPoint edgesAt;      // frame px of its corner
    std::shared_ptr<const AlphaSum>
        sum;  // of `ink`, when it is essential; measured again only when its pixels change
    // Of lettering.
    std::optional<Ink> fill;      // the letters without any finish
    std::optional<Ink> outlined;  // the letters with their outlines, without shadows and glows
    double capHeight = 0;         // frame px
};

// Where the main picture of a piece comes from, when the video is known that the piece goes with.
struct FilmFacts {
    enum class Origin {
        videoGone,
        notLookedThrough,
        noPicture,
        taken,  // the picture is a still of it
        found,  // the same picture is in it
        notFound
    } origin = Origin::videoGone;
    std::string video;  // its file name
    double time = 0;    // s, where it is taken or found
    int layer = 0;      // of the main picture
};

struct Subject {
    const Brief* brief = nullptr;
    const Straight8* pixels = nullptr;  // what the release writes, or the decoded file
    bool opaque = false;
    FileFacts file;
    const Piece* piece = nullptr;                   // nothing for a file
    std::span<const LayerFacts> layers;             // of the piece, in its order
    std::shared_ptr<const EdgeFacts> edges;         // of a file with alpha
    std::optional<FilmFacts> film;                  // nothing: no video is known
    std::shared_ptr<const VideoMoments> moments{};  // of the video it is laid over; nothing:
                                                    // made-up footage stands for it
};

// The ids of readings that other rooms look for.
namespace reading_id {
inline constexpr std::string_view frame = "frame", weight = "weight", format = "format",
                                  standingOut = "standing-out";
}

// The briefs that a reading is for. alpha: those that want it, and whatever has it; edges: so has a
// layer; links: those that take them, and pieces that have some; ofVideos: those that
// show a video's length beside the piece, and pieces that go with one.
// moving: pieces that move.
enum class ForBriefs { all, opaque, overFootage, clearRim, alpha, edges, links, ofVideos, moving };

struct ReadingRow {
    std::string_view id;  // its title is the phrase "reading.ID"
    bool needsLayers;     // pieces only
    ForBriefs briefs;
    bool ofFile;  // of a piece: looks at Subject::file, which takes the longest to know
    Reading (*measure)(const Subject&);
};

// The one registry, in the order in which readings are shown.
std::span<const ReadingRow> allReadings();

// Every reading that applies; ids are filled in. `weighed` is called once, when all readings but
// those of the file are there: Subject::file may be filled in as late as then.
std::vector<Reading> measureAll(const Subject& subject, const std::function<void()>& weighed = {});
// Of them, those of edges and of alpha.
std::vector<Reading> measureEdges(const Subject& subject);
Verdict worstOf(std::span<const Reading> readings);

// Thresholds that are common practice or ours (READINGS.md names which), in one place.
namespace thresholds {
inline constexpr double shapeError = 0.005;  // of the frame's shape
inline constexpr double nearlySize = 0.99;   // of the brief's side
inline constexpr double stretchPass = 0.005, stretchWatch = 0.02;
inline constexpr double enlargementPass = 1.0, enlargementWatch = 1.5;
inline constexpr double zonesPass = 0.999, zonesWatch = 0.98;
inline constexpr double detailCovered = 0.05;          // of a clear zone, over a known video (ours)
inline constexpr double capsPass = 10, capsWatch = 7;  // px
inline constexpr double lettersHidden = 0.3;  // of the letters: more, and a word is guessed (ours)
inline constexpr double lettersShare = 0.45;  // of the frame: more, and nothing else is seen (ours)
inline constexpr double contrastPass = 4.5, contrastWatch = 3;  // to 1
inline constexpr double standingOut = 0.45;                     // share of the mark's edges
// CIEDE2000 that is enough for a mark with a drawing of its own, and that a mark of one ink has to
// have in its hue. The share of its edges that lie between its own inks.
inline constexpr double standingColour = 10, standingHue = 20, drawnShare = 0.05;
inline constexpr double lostPass = 0.02,
                        lostWatch = 0.10;  // of a video's moments: too little stands out (ours)
inline constexpr double leastSeeThrough = 0.02;  // share of the pixels with alpha <= 127
inline constexpr double stepsPass = 0.10, stepsWatch = 0.40;  // share of the slanted contour
inline constexpr long long stepsLeast = 40;                   // px of it that tell
inline constexpr double fringePass = 4, fringeWatch = 10;     // CIEDE2000
inline constexpr std::size_t mostSpecks = 50;
inline constexpr double mostHaze = 0.01, mostHidden = 0.05;  // shares of the pixels
inline constexpr int marginAlpha = 24;       // fainter tails of shadows and glows take no room
inline constexpr double marginWatch = 0.25;  // share of the side
inline constexpr double offCentre = 2,
                        offCentreShare = 0.025;  // px, and of the longer side: the larger counts
inline constexpr double barLuma = 20, barSpread = 4, barShare = 0.01, barStep = 16,
                        barStepShare = 0.60;
inline constexpr int barRinging = 8;  // px before the step that a JPEG's blocks may disturb
inline constexpr double barDisturbed =
    0.10;  // share of a line that grain of a JPEG may take out of the bar
}  // namespace thresholds

// One file each.
Reading measureFrame(const Subject&);
Reading measureWeight(const Subject&);
Reading measureFormat(const Subject&);
Reading measureLength(const Subject&);
Reading measureStretch(const Subject&);
Reading measureEnlargement(const Subject&);
Reading measureBlackBars(const Subject&);
Reading measureFromVideo(const Subject&);
Reading measureNaming(const Subject&);
Reading measureZones(const Subject&);
Reading measureLettering(const Subject&);
Reading measureProfile(const Subject&);
Reading measureCutOff(const Subject&);
Reading measureMargins(const Subject&);
Reading measureStandingOut(const Subject&);
Reading measureColours(const Subject&);
Reading measureCoverage(const Subject&);
Reading measureFringe(const Subject&);
Reading measureSteps(const Subject&);
Reading measureSpecks(const Subject&);
Reading measureHiddenColour(const Subject&);
Reading measureLinks(const Subject&);

}  // namespace zl
