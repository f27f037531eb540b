// SPDX-License-Identifier: GPL-3.0-or-later
// check FILE --brief ID [--mend ID --out FILE]
#include <fmt/core.h>

#include <tuple>

#include "base/json.h"
#include "check_words.h"

namespace zl::cli {
namespace {

// A file that was mended and written: its name, and how it reads now.
Result<std::pair<std::string, FileReadings>> mendedTo(const CheckWords& asked, Bytes bytes,
                                                      const std::string& name, Content content,
                                                      const Brief& brief, const Common& common) {
    const Path out = outFor(asked.out, asked.file, asked.files.size() > 1, content);
    if (auto may = mayWrite(out, {asked.file}, common); !may) return passOn(may.error());
    auto mended = mendAllOfFile(asked.mend, std::move(bytes), name, out.filename().string(), brief);
    if (!mended) return passOn(mended.error());
    tellLog(name, asked.mend, mended->log);
    if (auto done = writeFile(out, mended->bytes, common.replacing()); !done)
        return passOn(done.error());
    return std::pair(out.string(), std::move(mended->read));
}

}  // namespace

Result<Told> checkFile(const CheckWords& asked, const Common& common, Bytes bytes) {
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    if (asked.brief.empty())
        return fail(Code::badUsage, "A picture file is checked against a brief.",
                    "Add --brief ID; see: zledge briefs");
    if (!asked.piece.empty()) return fail(Code::badUsage, "--piece goes with a kit.");
    const auto brief = briefNamed(*briefs, asked.brief);
    if (!brief) return passOn(brief.error());
    const std::string name = nameOfInput(asked.file);
    auto read = readPictureFile(bytes, name, **brief, asked.moments);
    if (!read) return passOn(read.error());
    std::string file = asked.file;
    if (!asked.mend.empty()) {
        auto mended =
            mendedTo(asked, std::move(bytes), name, read->picture.facts.content, **brief, common);
        if (!mended) return passOn(mended.error());
        std::tie(file, *read) = std::move(*mended);
    }
    const Verdict verdict = worstOf(read->readings);
    OrderedJson json{{"file", file}};
    json.update(jsonOf(*read, **brief));
    json["brief"] = asked.brief;  // as it was asked for, an older id, too
    return told(exitFor(verdict), std::move(json),
                fmt::format("{}: {} against {}\n{}", file, nameOf(verdict), (*brief)->title,
                            wordsOf(read->readings)));
}

}  // namespace zl::cli
