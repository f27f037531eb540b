// SPDX-License-Identifier: GPL-3.0-or-later
// `weight`: encoded bytes against the limit, which trades write as MB; some mean 1,048,576 bytes by
// it (common practice, no source). Counts are compared as whole numbers.
#include <fmt/core.h>

#include "readings/moving.h"
#include "words/words.h"

namespace zl {

Reading measureWeight(const Subject& subject) {
    if (movesIn(subject)) {
        // What a video weighs is known when it was encoded; the release keeps to the limit.
        Reading reading;
        reading.unit = "bytes";
        const auto limit = subject.brief->moving.limit;
        if (limit) reading.limit = static_cast<double>(*limit);
        reading.shown = limit ? "≤ " + weightWords(*limit) : std::string("free");
        reading.shownBeside = limit ? "is kept to" : "no limit";
        reading.says =
            limit ? Message{"weight.moving", {*limit}} : Message{"weight.moving-free", {}};
        return reading;
    }
    const FileFacts& file = subject.file;
    const long long bytes = file.bytes;
    Reading reading;
    reading.unit = "bytes";
    reading.value = static_cast<double>(bytes);
    reading.shown = (file.exact ? "" : "≤ ") + weightWords(bytes);
    if (!subject.brief->limit) {
        reading.verdict = Verdict::pass;
        reading.says = {"weight.no-limit", {bytes}};
        reading.shownBeside = "no limit";
        return reading;
    }
    const long long limit = *subject.brief->limit, binary = limit * 1'048'576 / 1'000'000;
    reading.limit = static_cast<double>(limit);
    reading.shownBeside = "of " + weightWords(limit);
    reading.rule = Rule{static_cast<double>(bytes), static_cast<double>(limit),
                        static_cast<double>(limit) * 1.25};
    if (!file.cannotFit.empty()) {
        reading.verdict = Verdict::fail;
        reading.says = {"weight.cannot-fit", {file.cannotFit}};
    } else if (!file.exact) {
        // A bound over the limit tells nothing yet; the exact count is on its way.
        reading.verdict = bytes <= limit ? Verdict::pass : Verdict::notMeasured;
        reading.says = {"weight.bound", {bytes, limit}};
        return reading;
    } else if (bytes <= limit) {
        reading.verdict = Verdict::pass;
        reading.says = {"weight.under", {bytes, limit}};
    } else if (bytes <= binary) {
        reading.verdict = Verdict::watch;
        reading.says = {"weight.binary-only",
                        {bytes, fmt::format("{:g}", static_cast<double>(limit) / 1e6), binary}};
    } else {
        reading.verdict = Verdict::fail;
        reading.says = {"weight.over", {bytes, bytes - limit, limit}};
    }
    if (reading.verdict > Verdict::pass) {
        reading.findings.push_back({{}, {}, reading.says});
        if (file.cannotFit.empty()) reading.mends.emplace_back("fit-limit");
    }
    return reading;
}

}  // namespace zl
