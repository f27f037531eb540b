// SPDX-License-Identifier: GPL-3.0-or-later
// release KIT [--piece NAME]... --out DIR: every piece in its best format under its limit, with a
// receipt beside it.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "release/release.h"
#include "store/kit_file.h"

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
    // A variant is a try that is kept beside its piece: it goes out when it is asked for.
    ReleaseOrder order{{}, asked.out, common.replacing(), true};
    for (const Piece& piece : kit->pieces) {
        const bool named =
            std::find(asked.pieces.begin(), asked.pieces.end(), piece.id) != asked.pieces.end();
        if (asked.pieces.empty() ? !piece.variantOf.empty() : !named) continue;
        if (auto brief = briefOf(piece, *briefs); !brief) return passOn(brief.error());
        order.pieces.push_back(piece.id);
    }
    InkStore store;
    OrderedJson files = OrderedJson::array(), refused = OrderedJson::array();
    std::optional<Error> broken;  // no matter of the piece: the folder, the disk
    Verdict worst = Verdict::pass;
    std::stop_source stop;
    const auto told = [&](const ReleaseOutcome& one) {
        endProgress();
        const std::string title = kit->piece(one.piece)->title;
        if (one.bestInstead)
            fmt::print(stderr,
                       "zledge: {} does not meet its limit in the format it is set to; the best "
                       "one that does is taken.\n",
                       title);
        if (!one.released) {
            const Error& why = one.released.error();
            if (why.code != Code::limitNotMet) {
                broken = why;
                stop.request_stop();
                return;
            }
            worst = Verdict::fail;
            refused.push_back({{"piece", one.piece}, {"says", why.sentence()}});
            return fmt::print(stderr, "zledge: {}\n", why.sentence());
        }
        const Released& done = *one.released;
        worst = std::max(worst, worstOf(done.readings));
        if (!done.pageRefused.empty())
            fmt::print(stderr, "zledge: {} The page of link regions was not written.\n",
                       done.pageRefused);
        files.push_back(jsonOf(done));
        if (common.json) return;
        fmt::print("{}: {}, {} bytes, {}\n", done.file.string(), nameOf(done.encoding),
                   grouped(done.bytes), nameOf(worstOf(done.readings)));
        for (const Path& path : done.beside) fmt::print("{}\n", path.string());
    };
    const auto progress = [](const Piece& piece, double part) { showProgress(piece.title, part); };
    releaseAll(order, *kit, *briefs, store, stop.get_token(), progress, told);
    if (broken) return passOn(*broken);
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
