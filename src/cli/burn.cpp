// SPDX-License-Identifier: GPL-3.0-or-later
// burn VIDEO --mark PNG --out VIDEO: a mark on every frame of a video, or on a part of it.
#include "video/burn.h"

#include <fmt/core.h>
#include <fmt/ranges.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "film/clip_frames.h"
#include "measure/videos.h"
#include "placing.h"
#include "release/course.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct BurnAsked {
    std::string video, mark, piece, out, format, quality, limit, to;
    PlacingWords placing;
    MarkTime time;
};

Result<int> qualityOf(const std::string& word) {
    if (word.empty()) return usualQuality;
    if (word == "lossless") return losslessQuality;
    const auto number = parseNumbers(word, 1, "--quality");
    if (!number) return passOn(number.error());
    const int whole = static_cast<int>(number->front());
    if (whole != number->front() || whole < 1 || whole > 100)
        return fail(Code::badUsage, "--quality is 1 to 100, or lossless.");
    return whole;
}

Result<VideoContainer> containerOf(const BurnAsked& asked) {
    const std::string ending = asked.format.empty() ? endingOf(asked.out) : "." + asked.format;
    if (const auto found = videoContainerBy(ending)) return *found;
    return fail(Code::badUsage, fmt::format("\"{}\" is no kind of video that is written.", ending),
                "Use .mp4, .mkv or .webm.");
}

// All that is asked but the mark itself.
Result<BurnPlan> planOf(const BurnAsked& asked) {
    const auto container = containerOf(asked);
    const auto quality = container ? qualityOf(asked.quality) : usualQuality;
    if (!container || !quality) return passOn(!container ? container.error() : quality.error());
    BurnPlan plan;
    plan.video = asked.video;
    plan.container = *container;
    plan.quality = *quality;
    plan.time = asked.time;
    if (!asked.limit.empty()) {
        const auto limit = parseBytes(asked.limit);
        if (!limit) return passOn(limit.error());
        plan.limit = *limit;
    }
    if (!asked.to.empty()) {
        const auto to = parseNumbers(asked.to, 1, "--to");
        if (!to) return passOn(to.error());
        plan.time.to = to->front();
    }
    return plan;
}

struct Placed {
    RealRect place;   // px of the video as it is shown
    PixelSize shown;  // of the video
};

// A picture file, or a piece of a kit; where that moves, what it is at each moment, too.
struct Mark {
    std::shared_ptr<const Straight8> pixels;
    PictureAt moving{};
};

Result<Mark> markOf(const BurnAsked& asked) {
    if (asked.piece.empty()) {
        auto mark = readPicture(asked.mark);
        if (!mark) return passOn(mark.error());
        return Mark{mark->picture.pixels};
    }
    const auto kit = openKit(asked.mark);
    if (!kit) return passOn(kit.error());
    const Piece* piece = kit->piece(asked.piece);
    if (!piece)
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in {}.", asked.piece, asked.mark));
    Mark mark;
    if (moves(*piece)) {
        if (auto good = checkClips(*piece, Path(asked.mark)); !good) return passOn(good.error());
        const auto briefs = shippedBriefs();
        if (!briefs) return passOn(briefs.error());
        const Brief* brief = briefs->find(piece->brief);
        mark.moving = pictureAt(*piece, *kit, Path(asked.mark), brief && brief->moving.loops);
    }
    InkStore store;
    knowVideosOf(store, asked.mark);
    auto frame = releaseFrame({*piece, *kit}, store);
    if (!frame) return passOn(frame.error());
    mark.pixels = std::make_shared<const Straight8>(std::move(*frame));
    return mark;
}

Result<Placed> placeMark(const BurnAsked& asked, BurnPlan& plan) {
    auto mark = markOf(asked);
    if (!mark) return passOn(mark.error());
    const auto video = Video::open(asked.video);
    if (!video) return passOn(video.error());
    const VideoFacts& facts = video->facts();
    plan.length = facts.duration;
    const auto placing = placingOf(asked.placing, facts.shown);
    if (!placing) return passOn(placing.error());
    const RealRect place = placeOf(*placing, mark->pixels->size(), facts.shown);
    if (auto good = checkPlace(place, facts.shown); !good) return passOn(good.error());
    const CodedMark coded = codedMark(mark->pixels, place, facts);
    plan.mark = coded.pixels;
    plan.left = coded.left;
    plan.top = coded.top;
    if (mark->moving)
        plan.moving = madeInto(mark->moving, [place, facts = facts](const auto& picture) {
            return Result<std::shared_ptr<const Straight8>>(
                codedMark(picture, place, facts).pixels);
        });
    return Placed{place, facts.shown};
}

void tell(const BurnAsked& asked, const BurnPlan& plan, const Burnt& burnt, const Placed& placed,
          const Common& common) {
    for (const std::string& track : burnt.left)
        fmt::print(stderr, "zledge: {} does not go into that kind of file and is left out.\n",
                   track);
    if (!common.json) {
        const std::string copied =
            burnt.copied.empty()
                ? std::string()
                : fmt::format("; copied as it was: {}", fmt::join(burnt.copied, ", "));
        return fmt::print("{}: {}, {} bytes; the mark stands on {} of {} frames{}\n", asked.out,
                          burnt.codec, grouped(burnt.bytes), grouped(burnt.marked),
                          grouped(burnt.frames), copied);
    }
    const RealRect& place = placed.place;
    print({{"out", asked.out},
           {"codec", burnt.codec},
           {"width", placed.shown.width},
           {"height", placed.shown.height},
           {"duration", plan.length},
           {"frames", burnt.frames},
           {"frames_marked", burnt.marked},
           {"mark_rect", {place.x, place.y, place.width, place.height}},
           {"bytes", burnt.bytes},
           {"limit", plan.limit > 0 ? OrderedJson(plan.limit) : OrderedJson(nullptr)},
           {"passes", burnt.passes},
           {"copied", burnt.copied},
           {"left_out", burnt.left}});
}

Result<int> runBurn(const BurnAsked& asked, const Common& common) {
    auto plan = planOf(asked);
    if (!plan) return passOn(plan.error());
    if (auto may = mayWrite(asked.out, {asked.video, asked.mark}, common); !may)
        return passOn(may.error());
    const auto placed = placeMark(asked, *plan);
    if (!placed) return passOn(placed.error());
    const auto burnt = burn(*plan, asked.out, common.replacing(),
                            [](double part) { showProgress("burning the mark in", part); });
    endProgress();
    if (!burnt) return passOn(burnt.error());
    tell(asked, *plan, *burnt, *placed, common);
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareBurn(Options& options, const Common& common) {
    const auto asked = std::make_shared<BurnAsked>();
    options.value("video", asked->video, "The video; it is only read").required();
    options.value("--mark", asked->mark, "The picture that is laid on it, or a kit").required();
    options.value(
        "--piece", asked->piece,
        "Of a kit: the piece that is laid on it, by its id; one that moves goes on moving");
    declarePlacing(options, asked->placing);
    options.value("--opacity", asked->time.opacity, "0 to 1 (default 1)").between(0.0, 1.0);
    options.value("--from", asked->time.from, "The second at which it comes (default 0)")
        .between(0.0, 1e6);
    options.value("--to", asked->to, "The second at which it goes (default: the video's end)");
    options
        .value(
            "--fade", asked->time.fade,
            "Seconds over which it comes, and over which it goes where --to is given (default 0)")
        .between(0.0, 1e6);
    options.value("--quality", asked->quality,
                  "1 to 100 (default 75), or lossless: every sample as it was blended");
    options.value("--limit", asked->limit,
                  "The most bytes that the file may have, such as 8MB; where the first run is too "
                  "large, a second one meets it");
    options.value("--format", asked->format,
                  "mp4 (H.264), mkv (H.264; lossless: FFV1) or webm (VP9); default: what the "
                  "ending says");
    options.value("--out", asked->out, "The video to write; its ending tells the format")
        .required();
    return [asked, &common] { return runBurn(*asked, common); };
}

}  // namespace zl::cli
