// SPDX-License-Identifier: GPL-3.0-or-later
// release KIT [--piece NAME]... --out DIR: every piece in its best format under its limit, with a
// receipt beside it.
#include "release/release.h"

#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct Asked {
    std::string kit, out;
    std::vector<std::string> pieces;
};

void tellInstead(const std::string& title) {
    fmt::print(stderr,
               "zledge: {} does not meet its limit in the format it is set to; the best one that "
               "does is taken.\n",
               title);
}

void tellReleased(const Released& done) {
    fmt::print("{}: {}, {} bytes, {}\n", done.file.string(), nameOf(done.encoding),
               grouped(done.bytes), nameOf(worstOf(done.readings)));
    for (const Path& path : done.beside) fmt::print("{}\n", path.string());
}

// One file's facts stand at the top, too.
void printJson(const OrderedJson& files, const OrderedJson& refused) {
    OrderedJson json = files.size() == 1 ? files.front() : OrderedJson::object();
    json["files"] = files;
    json["refused"] = refused;
    print(json);
}

Result<int> run(const Asked& asked, const Common& common) {
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    auto order = orderFor(*kit, *briefs, asked.pieces, asked.out);
    if (!order) return passOn(order.error());
    order->replace = common.replacing();
    order->bestInstead = true;
    InkStore store;
    OrderedJson files = OrderedJson::array(), refused = OrderedJson::array();
    std::optional<Error> broken;  // no matter of the piece: the folder, the disk
    Verdict worst = Verdict::pass;
    std::stop_source stop;
    const auto told = [&](const ReleaseOutcome& one) {
        endProgress();
        if (one.bestInstead) tellInstead(kit->piece(one.piece)->title);
        if (!one.released && one.released.error().code != Code::limitNotMet) {
            broken = one.released.error();
            stop.request_stop();
        } else if (!one.released) {
            const std::string says = one.released.error().sentence();
            worst = Verdict::fail;
            refused.push_back({{"piece", one.piece}, {"says", says}});
            fmt::print(stderr, "zledge: {}\n", says);
        } else {
            const Released& done = *one.released;
            worst = std::max(worst, worstOf(done.readings));
            if (!done.pageRefused.empty())
                fmt::print(stderr, "zledge: {} The page of link regions was not written.\n",
                           done.pageRefused);
            files.push_back(jsonOf(done));
            if (!common.json) tellReleased(done);
        }
    };
    const auto progress = [](const Piece& piece, double part) { showProgress(piece.title, part); };
    releaseAll(*order, *kit, *briefs, store, stop.get_token(), progress, told);
    if (broken) return passOn(*broken);
    if (common.json) printJson(files, refused);
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
