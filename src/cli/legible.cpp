// SPDX-License-Identifier: GPL-3.0-or-later
// legible MARK --over VIDEO: whether a mark stands out for the whole of a video.
#include "measure/legible.h"

#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "placing.h"
#include "words/words.h"

namespace zl::cli {
namespace {

struct LegibleAsked {
    std::string mark, video, to;
    PlacingWords placing;
    double from = 0, opacity = 1;
};

Result<int> runLegible(const LegibleAsked& asked, const Common& common) {
    LegibleQuestion question;
    if (!asked.to.empty()) {
        const auto to = parseNumbers(asked.to, 1, "--to");
        if (!to) return passOn(to.error());
        question.to = to->front();
    }
    auto mark = readPicture(asked.mark);
    if (!mark) return passOn(mark.error());
    auto video = Video::open(asked.video);
    if (!video) return passOn(video.error());
    const auto placing = placingOf(asked.placing, video->facts().shown);
    if (!placing) return passOn(placing.error());
    question.mark = mark->picture.pixels;
    question.placing = *placing;
    question.from = asked.from;
    question.opacity = asked.opacity;
    const auto legibility = legibilityOver(
        *video, question, [](double part) { showProgress("looking through the video", part); });
    endProgress();
    if (!legibility) return passOn(legibility.error());
    const LegibleCurve& curve = legibility->curve;
    const auto worst = curve.worst();
    if (!worst) return fail(Code::unreadable, "No frame of the video could be seen.");
    if (common.json) {
        OrderedJson json{{"mark", asked.mark}, {"video", asked.video}};
        json.update(jsonOf(*legibility));
        print(json);
    } else {
        fmt::print("{}: {}\n", nameOf(curve.verdict()),
                   english({"legible.told",
                            {std::floor(100 * (1 - curve.lost())), worst->time,
                             std::floor(100 * worst->share)}}));
        for (const LegibleProposal& proposal : legibility->proposals)
            fmt::print("  {}\n", english(proposal.says));
    }
    return curve.verdict() == Verdict::fail ? Exit::readingFailed : Exit::done;
}

}  // namespace

std::function<Result<int>()> declareLegible(Options& options, const Common& common) {
    const auto asked = std::make_shared<LegibleAsked>();
    options.value("mark", asked->mark, "The mark, a picture with alpha").required();
    options.value("--over", asked->video, "The video that it is to stand over").required();
    declarePlacing(options, asked->placing);
    options.value("--opacity", asked->opacity, "0 to 1 (default 1)").between(0.0, 1.0);
    options.value("--from", asked->from, "The second at which it comes (default 0)")
        .between(0.0, 1e6);
    options.value("--to", asked->to, "The second at which it goes (default: the video's end)");
    return [asked, &common] { return runLegible(*asked, common); };
}

}  // namespace zl::cli
