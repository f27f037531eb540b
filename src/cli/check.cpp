// SPDX-License-Identifier: GPL-3.0-or-later
// check FILE --brief ID, check KIT [--piece NAME]; --mend applies mends and writes to --out.
#include <fmt/core.h>

#include <memory>

#include "check_words.h"
#include "film/moments.h"

namespace zl::cli {
namespace {

bool isKit(const Path& path, ByteView bytes) {
    return endingOf(path) == ".zlkit" || (bytes.size() > 4 && bytes[0] == 'P' && bytes[1] == 'K');
}

// Its bytes are let go again: a large kit is not held twice.
Result<bool> isKitFile(const std::string& file) {
    if (file == "-") return false;
    const auto bytes = readFile(file);
    if (!bytes) return passOn(bytes.error());
    return isKit(file, *bytes);
}

Result<void> checkMendWords(const CheckWords& asked) {
    if (asked.mend.empty() && !asked.out.empty())
        return fail(Code::badUsage, "--out goes with --mend.");
    if (asked.mend.empty()) return {};
    if (asked.out.empty())
        return fail(Code::badUsage, "--mend needs --out: inputs are never overwritten.");
    if (asked.mend != everyMend && !findMend(asked.mend))
        return fail(Code::badUsage, fmt::format("There is no mend \"{}\".", asked.mend));
    return {};
}

Result<void> lookOver(CheckWords& asked) {
    if (asked.over.empty()) return {};
    auto video = Video::open(asked.over);
    if (!video) return passOn(video.error());
    const auto moments = momentsOf(*video, Path(asked.over).filename().string(), [](double part) {
        showProgress("looking through the video", part);
    });
    endProgress();
    if (!moments) return passOn(moments.error());
    asked.moments = *moments;
    return {};
}

}  // namespace

int exitFor(Verdict verdict) {
    return verdict == Verdict::fail ? Exit::readingFailed : Exit::done;
}

void tellLog(const std::string& of, const std::string& asked, const MendLog& log) {
    for (const LeftOut& one : log.leftOut)
        fmt::print(stderr, "zledge: {}: {} was left out: {}\n", of, one.mend, one.why.sentence());
    if (log.done.empty() && asked != everyMend)
        fmt::print(stderr, "zledge: {}: {} is not offered there; nothing was changed.\n", of,
                   asked);
}

std::function<Result<int>()> declareCheck(Options& options, const Common& common) {
    const auto asked = std::make_shared<CheckWords>();
    options.value("file", asked->files, "Pictures, or one kit (.zlkit); - is standard input")
        .required();
    options.value("--brief", asked->brief, "The brief a picture is held against");
    options.value("--piece", asked->piece, "One piece of the kit, by its id");
    options.value("--mend", asked->mend,
                  "Apply this mend, or \"all\" that ask no question, and write to --out");
    options.value("--out", asked->out, "Where the mended file goes");
    options.value("--over", asked->over,
                  "A video of yours: what is laid over footage is held against it");
    return [asked, &common]() -> Result<int> {
        if (auto good = checkMendWords(*asked); !good) return passOn(good.error());
        if (auto known = lookOver(*asked); !known) return passOn(known.error());
        asked->file = asked->files.front();
        if (asked->files.size() == 1) {
            const auto kit = isKitFile(asked->file);
            if (!kit) return passOn(kit.error());
            if (*kit) return checkKit(*asked, common);
        }
        return eachFile(asked->files, common, [&](const std::string& file) -> Result<Told> {
            auto bytes = readInput(file);
            if (!bytes) return passOn(bytes.error());
            asked->file = file;
            if (isKit(file, *bytes))
                return fail(Code::badUsage,
                            fmt::format("{} is a kit; a kit is checked by itself.", file));
            return checkFile(*asked, common, std::move(*bytes));
        });
    };
}

}  // namespace zl::cli
