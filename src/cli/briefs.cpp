// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/core.h>

#include "base/json.h"
#include "command.h"
#include "words/words.h"

namespace zl::cli {

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
            fmt::print("{:<18} {:<20} {:<21} {:<9} {}\n", brief.id, brief.title, frame,
                       brief.limit ? weightWords(*brief.limit) : "no limit", formats);
        }
        return Exit::done;
    };
}

}  // namespace zl::cli
