// SPDX-License-Identifier: GPL-3.0-or-later
// report KIT --out HTML: one self-contained page about the whole kit.
#include <fmt/core.h>

#include <memory>

#include "command.h"
#include "measure/videos.h"
#include "report/report.h"
#include "store/kit_file.h"

namespace zl::cli {
namespace {

struct ReportAsked {
    std::string kit, out;
};

Result<int> runReport(const ReportAsked& asked, const Common& common) {
    const auto kit = openKit(asked.kit);
    if (!kit) return passOn(kit.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    if (auto may = mayWrite(asked.out, {asked.kit}, common); !may) return passOn(may.error());
    InkStore store;
    knowVideosOf(store, asked.kit);
    const auto report =
        reportOf(*kit, *briefs, store, {}, [](double part) { showProgress("measuring", part); });
    endProgress();
    if (!report) return passOn(report.error());
    const std::string& html = report->html;
    if (auto done =
            writeFile(asked.out, {reinterpret_cast<const std::uint8_t*>(html.data()), html.size()},
                      common.replacing());
        !done)
        return passOn(done.error());
    if (common.json)
        print({{"out", asked.out},
               {"pieces", kit->pieces.size()},
               {"verdict", nameOf(report->worst)}});
    else
        fmt::print("{}: {} pieces, {}\n", asked.out, kit->pieces.size(), nameOf(report->worst));
    return report->worst == Verdict::fail ? Exit::readingFailed : Exit::done;
}

}  // namespace

std::function<Result<int>()> declareReport(Options& options, const Common& common) {
    const auto asked = std::make_shared<ReportAsked>();
    options.value("kit", asked->kit, "A kit (.zlkit)").required();
    options.value("--out", asked->out, "The page to write").required();
    return [asked, &common] { return runReport(*asked, common); };
}

}  // namespace zl::cli
