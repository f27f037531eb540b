// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/core.h>

#include "base/json.h"
#include "command.h"
#include "words/words.h"

namespace zl::cli {

namespace {

// Nothing for one that asks nothing of a piece that moves.
std::string movingWords(const MovingBrief& moving) {
    std::string words;
    for (const std::string& format : moving.formats)
        words += (words.empty() ? "; moving: " : ", ") + format;
    if (moving.limit) words += fmt::format(", {}", weightWords(*moving.limit));
    if (moving.longest > 0) words += fmt::format(", {:g} s at most", moving.longest);
    return words;
}

}  // namespace

std::function<Result<int>()> declareBriefs(Options&, const Common& common) {
    return [&common]() -> Result<int> {
        const auto briefs = shippedBriefs();
        if (!briefs) return passOn(briefs.error());
        if (common.json) {
            OrderedJson all = OrderedJson::array();
            for (const Brief& brief : briefs->all) all.push_back(wholeOf(brief));
            print({{"briefs", all}});
            return Exit::done;
        }
        for (const Brief& brief : briefs->all) {
            const std::string frame =
                brief.frameRule == FrameRule::any
                    ? "any frame"
                    : fmt::format("{}{} x {}",
                                  brief.frameRule == FrameRule::minimum ? "at least " : "",
                                  brief.frame.width, brief.frame.height);
            std::string formats;
            for (const std::string& format : brief.formats)
                formats += (formats.empty() ? "" : ", ") + format;
            fmt::print("{:<18} {:<20} {:<21} {:<9} {}{}\n", brief.id, brief.title, frame,
                       brief.limit ? weightWords(*brief.limit) : "no limit", formats,
                       movingWords(brief.moving));
        }
        return Exit::done;
    };
}

}  // namespace zl::cli
