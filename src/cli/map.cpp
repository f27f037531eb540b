// SPDX-License-Identifier: GPL-3.0-or-later
// map KIT --piece NAME --out HTML: link regions as an HTML image map, with the picture beside it.
#include <fmt/core.h>

#include <memory>

#include "command.h"
#include "links/links.h"
#include "measure/measure.h"
#include "release/release.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct MapAsked {
    std::string kit, piece, slice, out;
};

Result<int> runMap(const MapAsked& asked, const Common& common) {
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const Piece* piece = kit->piece(asked.piece);
    if (!piece)
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in {}.", asked.piece, asked.kit));
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const Brief* brief = briefs->find(piece->brief);
    if (!brief)
        return fail(Code::unreadable,
                    fmt::format("Piece {} wants the brief \"{}\", which is not here.", piece->id,
                                piece->brief));
    const Path out = asked.out;
    if (auto may = mayWrite(out, {asked.kit}, common); !may) return passOn(may.error());
    InkStore store;
    const auto mapped = mapPiece(*piece, *kit, *briefs, asked.slice, stemOf(out), store);
    if (!mapped) return passOn(mapped.error());
    const Path picture = out.parent_path() / mapped->pictureName;
    if (picture == out)
        return fail(Code::badUsage,
                    fmt::format("{} would be both the page and the picture.", asked.out),
                    "End the page's name with .html.");
    if (auto may = mayWrite(picture, {asked.kit}, common); !may) return passOn(may.error());
    if (auto done = writeFile(picture, mapped->picture, common.replacing()); !done)
        return passOn(done.error());
    const std::string& html = mapped->html;
    if (auto done =
            writeFile(out, {reinterpret_cast<const std::uint8_t*>(html.data()), html.size()},
                      common.replacing());
        !done)
        return passOn(done.error());
    if (common.json)
        print({{"out", asked.out}, {"picture", picture.string()}, {"regions", mapped->regions}});
    else
        fmt::print("{}: {} link regions over {}\n", asked.out, mapped->regions, picture.string());
    return Exit::done;
}

}  // namespace

std::function<Result<int>()> declareMap(Options& options, const Common& common) {
    const auto asked = std::make_shared<MapAsked>();
    options.value("kit", asked->kit, "A kit (.zlkit)").required();
    options.value("--piece", asked->piece, "The piece, by its id").required();
    options.value("--slice", asked->slice, "A slice of it, by its name (default: the whole frame)");
    options.value("--out", asked->out, "The page to write; the picture is written beside it")
        .required();
    return [asked, &common] { return runMap(*asked, common); };
}

}  // namespace zl::cli
