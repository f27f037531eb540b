// SPDX-License-Identifier: GPL-3.0-or-later
// render KIT --piece NAME --out FILE: exactly what a release would write, in the format asked for.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "film/clip_frames.h"
#include "measure/measure.h"
#include "measure/videos.h"
#include "release/moving.h"
#include "store/kit_file.h"
#include "video/burn.h"

namespace zl::cli {
namespace {

struct RenderAsked {
    std::string kit, piece, out, format, at;
    int quality = 0;
};

// The whole of a moving piece, as a release would write it.
Result<int> moving(const RenderAsked& asked, const Kit& kit, const Piece& piece, VideoKind kind,
                   const Brief* brief, const Common& common) {
    MovingPlan plan{kind, asked.quality > 0 ? asked.quality : usualQuality,
                    brief && asked.quality == 0 ? brief->moving.limit.value_or(0) : 0};
    if (kind == VideoKind::matroska) plan.quality = losslessQuality;
    const auto moved = writeMoving(piece, kit, asked.kit, plan, asked.out, common.replacing(),
                                   [](double part) { showProgress("encoding", part); });
    endProgress();
    if (!moved) return passOn(moved.error());
    if (common.json) {
        OrderedJson json{{"out", asked.out},
                         {"piece", piece.id},
                         {"content", factsOf(kind).type},
                         {"width", piece.frame.width},
                         {"height", piece.frame.height},
                         {"bytes", moved->bytes},
                         {"alpha_kept", !moved->alphaLost}};
        json.update(jsonOf(*moved));
        print(json);
    } else {
        fmt::print("{}: {} x {}, {}, {:.2f} s, {} bytes\n", asked.out, piece.frame.width,
                   piece.frame.height, factsOf(kind).title, moved->length, grouped(moved->bytes));
    }
    return Exit::done;
}

// What is asked for: a picture of that content, or of the moment, or all of a moving piece.
struct What {
    std::optional<VideoKind> kind{};     // that the ending or the format names
    bool pictureToo = false;             // it names a picture as well: WebP, GIF
    std::optional<double> moment{};      // s
    Content content = Content::unknown;  // of a picture
};

Result<What> whatOf(const RenderAsked& asked) {
    What what;
    what.kind = movingKindBy(asked.format.empty() ? endingOf(asked.out) : asked.format);
    what.pictureToo = what.kind == VideoKind::webp || what.kind == VideoKind::gif;
    if (!asked.at.empty()) {
        const auto at = parseNumbers(asked.at, 1, "--at");
        if (!at) return passOn(at.error());
        what.moment = at->front();
    }
    if (what.kind && !what.pictureToo) {
        if (!what.moment) return what;
        return fail(Code::badUsage, "--at gives one picture of a moving piece.",
                    "Name a .png, or leave --at out.");
    }
    if (asked.format.empty()) {
        const auto format = formatFor(endingOf(asked.out));
        if (!format) return passOn(format.error());
        what.content = *format;
        return what;
    }
    const auto named = contentById(asked.format);
    if (!named || !factsOf(*named).written)
        return fail(Code::badUsage,
                    fmt::format("The format \"{}\" cannot be written.", asked.format),
                    "Use png, jpeg, gif or webp.");
    what.content = *named;
    return what;
}

Result<Straight8> frameOf(const RenderAsked& asked, const Kit& kit, const Piece& piece,
                          const std::optional<double>& moment) {
    const double length = lengthOf(piece);
    if (moment && (*moment < 0 || *moment > length))
        return fail(Code::badUsage,
                    length > 0 ? fmt::format("The piece lasts {:.3f} s.", length)
                               : "The piece does not move.",
                    length > 0 ? "Name a time within it." : "Leave --at out.");
    InkStore store;
    knowVideosOf(store, asked.kit);
    if (moves(piece))
        if (auto good = checkClips(piece, Path(asked.kit)); !good) return passOn(good.error());
    return releaseFrame({piece, kit, moment}, store);
}

// A release keeps to its brief's limit; a format or quality that was asked for by name is written
// as asked.
FitOptions fittingOf(const RenderAsked& asked, const Piece& piece, const Brief* brief,
                     Content content) {
    FitOptions plan;
    plan.formats = {content};
    plan.matte = piece.release.matte;
    if (brief) plan.limit = brief->limit;
    if (content == Content::png || content == Content::gif || asked.quality > 0) {
        plan.exactly = Encoding{content, asked.quality, Chroma::full, Effort::release};
        plan.mayExceed = true;
    }
    return plan;
}

Result<int> runRender(const RenderAsked& asked, const Common& common) {
    const auto what = whatOf(asked);
    if (!what) return passOn(what.error());
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const Piece* piece = kit->piece(asked.piece);
    if (!piece)
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in {}.", asked.piece, asked.kit));
    if (auto may = mayWrite(asked.out, {asked.kit}, common); !may) return passOn(may.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const Brief* brief = briefs->find(piece->brief);
    if (what->kind && !what->moment && (moves(*piece) || !what->pictureToo))
        return moving(asked, *kit, *piece, *what->kind, brief, common);
    const auto frame = frameOf(asked, *kit, *piece, what->moment);
    if (!frame) return passOn(frame.error());
    const auto fitted = fitToLimit(*frame, fittingOf(asked, *piece, brief, what->content), {},
                                   [](double part) { showProgress("encoding", part); });
    endProgress();
    if (!fitted) return passOn(fitted.error());
    if (auto done = writeFile(asked.out, fitted->bytes, common.replacing()); !done)
        return passOn(done.error());
    if (common.json)
        print({{"out", asked.out},
               {"piece", piece->id},
               {"content", factsOf(what->content).type},
               {"width", frame->width()},
               {"height", frame->height()},
               {"bytes", fitted->bytes.size()},
               {"quality", what->content == Content::jpeg ? OrderedJson(fitted->encoding.quality)
                                                          : OrderedJson(nullptr)},
               {"alpha_kept", fitted->alphaKept}});
    else
        fmt::print("{}: {} x {}, {}, {} bytes\n", asked.out, frame->width(), frame->height(),
                   nameOf(fitted->encoding), grouped(static_cast<long long>(fitted->bytes.size())));
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareRender(Options& options, const Common& common) {
    const auto asked = std::make_shared<RenderAsked>();
    options.value("kit", asked->kit, "A kit (.zlkit)").required();
    options.value("--piece", asked->piece, "The piece, by its id").required();
    options
        .value(
            "--out", asked->out,
            "The file to write; its ending tells the format: a picture, or of a moving piece mp4, "
            "webm, webp, gif or mkv")
        .required();
    options.value(
        "--at", asked->at,
        "The second of a moving piece that is drawn (default: the first at which all is seen)");
    options.value("--format", asked->format,
                  "png, jpeg, gif, webp, mp4, webm or mkv, whatever the ending says");
    options
        .value("--quality", asked->quality,
               "JPEG quality (default: the best under the brief's limit)")
        .between(1, 100);
    return [asked, &common] { return runRender(*asked, common); };
}

}  // namespace zl::cli
