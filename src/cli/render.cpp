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

struct Asked {
    std::string kit, piece, out, format, at;
    int quality = 0;
};

// The whole of a moving piece, as a release would write it.
Result<int> moving(const Asked& asked, const Kit& kit, const Piece& piece, VideoKind kind,
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

Result<int> run(const Asked& asked, const Common& common) {
    const Path out = asked.out;
    auto kind = movingKindBy(asked.format.empty() ? endingOf(out) : asked.format);
    std::optional<double> moment;
    if (!asked.at.empty()) {
        const auto at = parseNumbers(asked.at, 1, "--at");
        if (!at) return passOn(at.error());
        moment = at->front();
    }
    const bool both = kind && (*kind == VideoKind::webp || *kind == VideoKind::gif);
    if (kind && !both && moment)
        return fail(Code::badUsage, "--at gives one picture of a moving piece.",
                    "Name a .png, or leave --at out.");
    if ((!kind || both) && !asked.format.empty() &&
        !(contentById(asked.format) && factsOf(*contentById(asked.format)).written))
        return fail(Code::badUsage,
                    fmt::format("The format \"{}\" cannot be written.", asked.format),
                    "Use png, jpeg, gif or webp.");
    const auto format = kind && !both          ? Result<Content>(Content::unknown)
                        : asked.format.empty() ? formatFor(endingOf(out))
                                               : Result<Content>(*contentById(asked.format));
    if (!format) return passOn(format.error());
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const Piece* piece = kit->piece(asked.piece);
    if (!piece)
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in {}.", asked.piece, asked.kit));
    if (auto may = mayWrite(out, {asked.kit}, common); !may) return passOn(may.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const Brief* brief = briefs->find(piece->brief);
    if (kind && !moment && (moves(*piece) || !both))
        return moving(asked, *kit, *piece, *kind, brief, common);
    const double length = lengthOf(*piece);
    if (moment && (*moment < 0 || *moment > std::max(length, 0.0)))
        return fail(Code::badUsage,
                    length > 0 ? fmt::format("The piece lasts {:.3f} s.", length)
                               : "The piece does not move.",
                    length > 0 ? "Name a time within it." : "Leave --at out.");
    InkStore store;
    knowVideosOf(store, asked.kit);
    if (moves(*piece))
        if (auto good = checkClips(*piece, Path(asked.kit)); !good) return passOn(good.error());
    const auto frame = releaseFrame({*piece, *kit, moment}, store);
    if (!frame) return passOn(frame.error());
    // A release keeps to its brief's limit; a format or quality that was asked for by name is
    // written as asked.
    FitOptions plan;
    plan.formats = {*format};
    plan.matte = piece->release.matte;
    if (brief) plan.limit = brief->limit;
    const bool fixed = *format == Content::png || *format == Content::gif || asked.quality > 0;
    if (fixed) {
        plan.exactly = Encoding{*format, asked.quality, Chroma::full, Effort::release};
        plan.mayExceed = true;
    }
    const auto fitted =
        fitToLimit(*frame, plan, {}, [](double part) { showProgress("encoding", part); });
    endProgress();
    if (!fitted) return passOn(fitted.error());
    if (auto done = writeFile(out, fitted->bytes, common.replacing()); !done)
        return passOn(done.error());
    if (common.json)
        print({{"out", asked.out},
               {"piece", piece->id},
               {"content", factsOf(*format).type},
               {"width", frame->width()},
               {"height", frame->height()},
               {"bytes", fitted->bytes.size()},
               {"quality", *format == Content::jpeg ? OrderedJson(fitted->encoding.quality)
                                                    : OrderedJson(nullptr)},
               {"alpha_kept", fitted->alphaKept}});
    else
        fmt::print("{}: {} x {}, {}, {} bytes\n", asked.out, frame->width(), frame->height(),
                   nameOf(fitted->encoding), grouped(static_cast<long long>(fitted->bytes.size())));
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareRender(Options& options, const Common& common) {
    const auto asked = std::make_shared<Asked>();
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
    return [asked, &common] { return run(*asked, common); };
}

}  // namespace zl::cli
