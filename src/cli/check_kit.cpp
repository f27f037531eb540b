// SPDX-License-Identifier: GPL-3.0-or-later
// check KIT [--piece NAME] [--mend ID --out KIT]
#include <fmt/core.h>

#include "base/json.h"
#include "check_words.h"
#include "film/known_films.h"
#include "measure/videos.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

// The kit as it is, or mended and saved where it was asked for.
Result<Kit> kitToCheck(const CheckWords& asked, const Common& common, const Briefs& briefs,
                       InkStore& store) {
    auto kit = openKit(asked.file);
    if (!kit || asked.mend.empty()) return kit;
    if (!asked.piece.empty() && !kit->piece(asked.piece))
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in the kit.", asked.piece));
    if (auto may = mayWrite(asked.out, {asked.file}, common); !may) return passOn(may.error());
    auto mended = mendAllOfKit(
        asked.mend, std::move(*kit), asked.piece, briefs, store,
        [&](const std::string& piece, const MendLog& log) { tellLog(piece, asked.mend, log); });
    if (!mended) return mended;
    if (auto saved = saveKit(*mended, asked.out, common.replacing()); !saved)
        return passOn(saved.error());
    return mended;
}

}  // namespace

Result<int> checkKit(const CheckWords& asked, const Common& common) {
    if (!asked.brief.empty())
        return fail(Code::badUsage, "A kit's pieces carry their own briefs.", "Leave --brief out.");
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    InkStore store;
    knowVideosOf(store, asked.file);
    const auto films = filmsOf(asked.file);
    if (asked.moments) films->holdAllAgainst(asked.moments);
    store.knowFilms(films);
    const auto kit = kitToCheck(asked, common, *briefs, store);
    if (!kit) return passOn(kit.error());
    OrderedJson pieces = OrderedJson::array();
    const auto told = [&](const CheckedPiece& one) {
        endProgress();
        const Verdict verdict = worstOf(one.read.readings);
        if (common.json) {
            pieces.push_back({{"piece", one.piece.id},
                              {"title", one.piece.title},
                              {"brief", one.piece.brief},
                              {"verdict", nameOf(verdict)},
                              {"readings", jsonOf(one.read.readings)}});
            return;
        }
        fmt::print("{} ({}): {} against {}\n", one.piece.title, one.piece.id, nameOf(verdict),
                   one.brief.title);
        printReadings(one.read.readings);
    };
    const auto worst = checkPieces(
        *kit, asked.piece, *briefs, store,
        [](const Piece& piece, double part) { showProgress(piece.title, part); }, told);
    endProgress();
    if (!worst) return passOn(worst.error());
    const std::string& file = asked.mend.empty() ? asked.file : asked.out;
    if (common.json) print({{"kit", file}, {"pieces", pieces}});
    return exitFor(*worst);
}

}  // namespace zl::cli
