// SPDX-License-Identifier: GPL-3.0-or-later
// render KIT --piece NAME --out FILE: exactly what a release would write, in the format asked for.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "measure/measure.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct Asked {
    std::string kit, piece, out, format;
    int quality = 0;
};

Result<int> run(const Asked& asked, const Common& common) {
    const Path out = asked.out;
    if (!asked.format.empty() &&
        !(contentById(asked.format) && factsOf(*contentById(asked.format)).written))
        return fail(Code::badUsage,
                    fmt::format("The format \"{}\" cannot be written.", asked.format),
                    "Use png, jpeg, gif or webp.");
    const auto format = asked.format.empty() ? formatFor(endingOf(out))
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
    InkStore store;
    const auto frame = releaseFrame({*piece, *kit}, store);
    if (!frame) return passOn(frame.error());
    // A release keeps to its brief's limit; a format or quality that was asked for by name is
    // written as asked.
    FitOptions plan;
    plan.formats = {*format};
    plan.matte = piece->release.matte;
    const Brief* brief = briefs->find(piece->brief);
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
    options.value("--out", asked->out, "The file to write; its ending tells the format").required();
    options.value("--format", asked->format, "png, jpeg, gif or webp, whatever the ending says");
    options
        .value("--quality", asked->quality,
               "JPEG quality (default: the best under the brief's limit)")
        .between(1, 100);
    return [asked, &common] { return run(*asked, common); };
}

}  // namespace zl::cli
