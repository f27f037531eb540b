// SPDX-License-Identifier: GPL-3.0-or-later
// release KIT [--piece NAME]... --out DIR: every piece in its best format under its limit, with a
// receipt beside it.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "kit/kit_file.h"
#include "release/release.h"

namespace zl::cli {
namespace {

struct Asked {
    std::string kit, out;
    std::vector<std::string> pieces;
};

OrderedJson besideJson(const std::vector<Path>& paths) {
    OrderedJson all = OrderedJson::array();
    for (const Path& path : paths) all.push_back(path.string());
    return all;
}

OrderedJson jsonOf(const Released& r) {
    const bool ofQuality =
        r.content == Content::jpeg || (r.content == Content::webp && r.encoding.quality > 0);
    return {{"piece", r.piece},
            {"out", r.file.string()},
            {"receipt", r.receipt.string()},
            {"content", factsOf(r.content).type},
            {"bytes", r.bytes},
            {"limit", r.limit ? OrderedJson(*r.limit) : OrderedJson(nullptr)},
            {"quality", ofQuality ? OrderedJson(r.encoding.quality) : OrderedJson(nullptr)},
            {"alpha_kept", r.alphaKept},
            {"difference", {{"ssim", r.difference.ssim}, {"de00_p99", r.difference.de00P99}}},
            {"tried", triedJson(r.tried)},
            {"beside", besideJson(r.beside)},
            {"verdict", nameOf(worstOf(r.readings))}};
}

// As the piece was told to be released; when that does not meet the limit, in the best format that
// does.
Result<Released> released(Piece piece, const Kit& kit, const Brief& brief, const Briefs& briefs,
                          InkStore& store, const Path& folder, Replace replace) {
    const auto progress = [&](double part) { showProgress(piece.title, part); };
    auto done = releasePiece(piece, kit, brief, store, folder, replace, {}, progress, &briefs);
    if (done || done.error().code != Code::limitNotMet ||
        piece.release.format == FormatChoice::best)
        return done;
    endProgress();
    fmt::print(stderr,
               "zledge: {} does not meet its limit in the format it is set to; the best one that "
               "does is taken.\n",
               piece.title);
    piece.release.format = FormatChoice::best;
    piece.release.quality = 0;
    return releasePiece(piece, kit, brief, store, folder, replace, {}, progress, &briefs);
}

Result<int> run(const Asked& asked, const Common& common) {
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    for (const std::string& id : asked.pieces)
        if (!kit->piece(id))
            return fail(Code::badUsage,
                        fmt::format("There is no piece \"{}\" in {}.", id, asked.kit));
    std::error_code error;
    std::filesystem::create_directories(asked.out, error);
    if (!std::filesystem::is_directory(asked.out, error))
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", asked.out),
                    "Choose another folder.");
    InkStore store;
    OrderedJson files = OrderedJson::array(), refused = OrderedJson::array();
    Verdict worst = Verdict::pass;
    for (const Piece& piece : kit->pieces) {
        // A variant is a try that is kept beside its piece: it goes out when it is asked for.
        if (asked.pieces.empty() ? !piece.variantOf.empty()
                                 : std::find(asked.pieces.begin(), asked.pieces.end(), piece.id) ==
                                       asked.pieces.end())
            continue;
        const Brief* brief = briefs->find(piece.brief);
        if (!brief)
            return fail(Code::unreadable,
                        fmt::format("Piece {} wants the brief \"{}\", which is not here.", piece.id,
                                    piece.brief));
        const auto done =
            released(piece, *kit, *brief, *briefs, store, asked.out, common.replacing());
        endProgress();
        if (!done) {
            if (done.error().code != Code::limitNotMet) return passOn(done.error());
            worst = Verdict::fail;
            refused.push_back({{"piece", piece.id}, {"says", done.error().sentence()}});
            fmt::print(stderr, "zledge: {}\n", done.error().sentence());
            continue;
        }
        worst = std::max(worst, worstOf(done->readings));
        if (!done->pageRefused.empty())
            fmt::print(stderr, "zledge: {} The page of link regions was not written.\n",
                       done->pageRefused);
        files.push_back(jsonOf(*done));
        if (!common.json)
            fmt::print("{}: {}, {} bytes, {}\n", done->file.string(), nameOf(done->encoding),
                       grouped(done->bytes), nameOf(worstOf(done->readings)));
        if (!common.json)
            for (const Path& path : done->beside) fmt::print("{}\n", path.string());
    }
    if (common.json) {
        OrderedJson json = files.size() == 1
                               ? files.front()
                               : OrderedJson::object();  // one file's facts stand at the top, too
        json["files"] = files;
        json["refused"] = refused;
        print(json);
    }
    return worst == Verdict::fail ? Exit::readingFailed : Exit::done;
}

}  // namespace

std::function<Result<int>()> declareRelease(Options& options, const Common& common) {
    const auto asked = std::make_shared<Asked>();
    options.value("kit", asked->kit, "A kit (.zlkit)").required();
    options.value("--piece", asked->pieces,
                  "A piece, by its id; may be given several times (default: all but variants)");
    options.value("--out", asked->out, "The folder to write into; it is made when it is missing")
        .required();
    return [asked, &common] { return run(*asked, common); };
}

}  // namespace zl::cli
