// SPDX-License-Identifier: GPL-3.0-or-later
// release KIT [--piece NAME]... --out DIR: every piece in its best format under its limit, with a
// receipt beside it.
#include "release/release.h"
#include "base/json.h"
#include "command.h"
#include "measure/videos.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct ReleaseAsked {
    std::string kit, out, poster;
    std::vector<std::string> pieces;
};

void tell(const ReleaseOutcome& one, const std::string& title, bool asJson) {
    endProgress();
    if (one.bestInstead)
        fmt::print(stderr,
                   "zledge: {} does not meet its limit in the format it is set to; the "
                   "best one that does is taken.\n",
                   title);
    if (!one.released) return fmt::print(stderr, "zledge: {}\n", one.released.error().sentence());
    const Released& done = *one.released;
    if (!done.pageRefused.empty())
        fmt::print(stderr, "zledge: {} The page of link regions was not written.\n",
                   done.pageRefused);
    if (asJson) return;
    fmt::print("{}: {}, {} bytes, {}\n", done.file.string(),
               done.moved ? std::string(factsOf(done.moved->kind).title) : nameOf(done.encoding),
               grouped(done.bytes), nameOf(worstOf(done.readings)));
    for (const Path& path : done.beside) fmt::print("{}\n", path.string());
}

Result<int> runRelease(const ReleaseAsked& asked, const Common& common) {
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    auto order = orderFor(*kit, *briefs, asked.pieces, asked.out);
    if (!order) return passOn(order.error());
    order->replace = common.replacing();
    order->bestInstead = true;
    order->kitFile = asked.kit;
    if (!asked.poster.empty()) {
        const auto at = parseNumbers(asked.poster, 1, "--poster");
        if (!at) return passOn(at.error());
        order->posterAt = at->front();
    }
    constexpr std::size_t room = 50'000'000;  // bytes of pixels: an encoder needs some, too
    InkStore store(room);
    knowVideosOf(store, asked.kit);
    std::optional<Error> broken;  // no matter of the piece: the folder, the disk
    std::stop_source stop;
    const auto told = [&](const ReleaseOutcome& one) {
        if (one.released || one.released.error().code == Code::limitNotMet)
            return tell(one, kit->piece(one.piece)->title, common.json);
        broken = one.released.error();
        stop.request_stop();
    };
    const auto progress = [](const Piece& piece, double part) { showProgress(piece.title, part); };
    const auto all = releaseAll(*order, *kit, *briefs, store, stop.get_token(), progress, told);
    if (broken) return passOn(*broken);
    if (common.json) print(jsonOf(all));
    return worstOf(all) == Verdict::fail ? Exit::readingFailed : Exit::done;
}

}  // namespace

std::function<Result<int>()> declareRelease(Options& options, const Common& common) {
    const auto asked = std::make_shared<ReleaseAsked>();
    options.value("kit", asked->kit, "A kit (.zlkit)").required();
    options.value("--piece", asked->pieces,
                  "A piece, by its id; may be given several times (default: all but variants)");
    options.value("--poster", asked->poster,
                  "The second of a moving piece that its poster shows (default: the first at "
                  "which all of it is seen)");
    options.value("--out", asked->out, "The folder to write into; it is made when it is missing")
        .required();
    return [asked, &common] { return runRelease(*asked, common); };
}

}  // namespace zl::cli
