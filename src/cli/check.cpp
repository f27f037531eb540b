// SPDX-License-Identifier: GPL-3.0-or-later
// check FILE --brief ID, check KIT [--piece NAME]; --mend applies mends and writes to --out.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "encode/encode.h"
#include "measure/measure.h"
#include "mend/mend_all.h"
#include "store/kit_file.h"
#include "words/words.h"

namespace zl::cli {
namespace {

struct Asked {
    std::vector<std::string> files;
    std::string file, brief, piece, mend, out;  // file: the one that is looked at
    bool several() const { return files.size() > 1; }
};

int exitFor(Verdict verdict) {
    return verdict == Verdict::fail ? Exit::readingFailed : Exit::done;
}

bool isKit(const Path& path, ByteView bytes) {
    return endingOf(path) == ".zlkit" || (bytes.size() > 4 && bytes[0] == 'P' && bytes[1] == 'K');
}

// What of the mends could not help, or was not offered where it was named.
void tellLog(const std::string& of, const std::string& asked, const MendLog& log) {
    for (const LeftOut& one : log.leftOut)
        fmt::print(stderr, "zledge: {}: {} was left out: {}\n", of, one.mend, one.why.sentence());
    if (log.done.empty() && asked != everyMend)
        fmt::print(stderr, "zledge: {}: {} is not offered there; nothing was changed.\n", of,
                   asked);
}

Result<void> checkMendWords(const Asked& asked) {
    if (asked.mend.empty()) {
        if (!asked.out.empty()) return fail(Code::badUsage, "--out goes with --mend.");
        return {};
    }
    if (asked.out.empty())
        return fail(Code::badUsage, "--mend needs --out: inputs are never overwritten.");
    if (asked.mend != everyMend && !findMend(asked.mend))
        return fail(Code::badUsage, fmt::format("There is no mend \"{}\".", asked.mend));
    return {};
}

// File
// ------------------------------------------------------------

Result<Told> checkFile(const Asked& asked, const Common& common, Bytes bytes) {
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    if (asked.brief.empty())
        return fail(Code::badUsage, "A picture file is checked against a brief.",
                    "Add --brief ID; see: zledge briefs");
    if (!asked.piece.empty()) return fail(Code::badUsage, "--piece goes with a kit.");
    const auto brief = briefNamed(*briefs, asked.brief);
    if (!brief) return passOn(brief.error());
    std::string name = nameOfInput(asked.file);
    auto read = readPictureFile(bytes, name, **brief);
    if (!read) return passOn(read.error());
    std::string file = asked.file;
    if (!asked.mend.empty()) {
        const Path out =
            outFor(asked.out, asked.file, asked.several(), read->picture.facts.content);
        if (auto may = mayWrite(out, {asked.file}, common); !may) return passOn(may.error());
        auto mended =
            mendAllOfFile(asked.mend, std::move(bytes), name, out.filename().string(), **brief);
        if (!mended) return passOn(mended.error());
        tellLog(name, asked.mend, mended->log);
        bytes = std::move(mended->bytes);
        read = std::move(mended->read);
        name = out.filename().string();
        // A file never ends in what it is not: the name that was asked for says what is written.
        const auto named = contentByEnding(endingOf(out));
        if (named && factsOf(*named).written && *named != read->picture.facts.content) {
            constexpr int fine = 95;
            auto again = encode(*read->picture.pixels, {*named, *named == Content::webp ? 0 : fine,
                                                        Chroma::full, Effort::release});
            if (!again) return passOn(again.error());
            bytes = std::move(*again);
            read = readPictureFile(bytes, name, **brief);
            if (!read) return passOn(read.error());
        }
        if (auto done = writeFile(out, bytes, common.replacing()); !done)
            return passOn(done.error());
        file = out.string();
    }
    const Verdict verdict = worstOf(read->readings);
    const PictureFacts& facts = read->picture.facts;
    return told(exitFor(verdict),
                {{"file", file},
                 {"brief", asked.brief},
                 {"width", facts.size.width},
                 {"height", facts.size.height},
                 {"bytes", read->bytes},
                 {"content", factsOf(facts.content).type},
                 {"verdict", nameOf(verdict)},
                 {"readings", jsonOf(read->readings)}},
                fmt::format("{}: {} against {}\n{}", file, nameOf(verdict), (*brief)->title,
                            wordsOf(read->readings)));
}

// Kit
// ------------------------------------------------------------

Result<Kit> mendedKit(Kit kit, const Asked& asked, const Briefs& briefs, InkStore& store) {
    const Kit before = kit;
    for (const Piece& piece : before.pieces) {
        if (!asked.piece.empty() && piece.id != asked.piece) continue;
        auto mended = mendAll(asked.mend, std::move(kit), piece.id, briefs, store);
        if (!mended) return passOn(mended.error());
        // A mend that is named is looked for in all pieces; where it is not needed is no news.
        if (asked.mend == everyMend || !asked.piece.empty())
            tellLog(piece.id, asked.mend, mended->log);
        kit = std::move(mended->kit);
    }
    return kit;
}

Result<int> checkKit(const Asked& asked, const Common& common) {
    if (!asked.brief.empty())
        return fail(Code::badUsage, "A kit's pieces carry their own briefs.", "Leave --brief out.");
    auto kit = openKit(asked.file);
    if (!kit) return passOn(kit.error());
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    if (!asked.piece.empty() && !kit->piece(asked.piece))
        return fail(Code::badUsage,
                    fmt::format("There is no piece \"{}\" in {}.", asked.piece, asked.file));
    InkStore store;
    std::string file = asked.file;
    if (!asked.mend.empty()) {
        if (auto may = mayWrite(asked.out, {asked.file}, common); !may) return passOn(may.error());
        kit = mendedKit(std::move(*kit), asked, *briefs, store);
        if (!kit) return passOn(kit.error());
        if (auto saved = saveKit(*kit, asked.out, common.replacing()); !saved)
            return passOn(saved.error());
        file = asked.out;
    }
    OrderedJson pieces = OrderedJson::array();
    Verdict worst = Verdict::notMeasured;
    for (const Piece& piece : kit->pieces) {
        if (!asked.piece.empty() && piece.id != asked.piece) continue;
        const auto brief = briefOf(piece, *briefs);
        if (!brief) return passOn(brief.error());
        const auto read = readPiece({piece, *kit}, **brief, store, Weighing::exact, {},
                                    [&](double part) { showProgress(piece.title, part); });
        endProgress();
        if (!read) return passOn(read.error());
        const Verdict verdict = worstOf(read->readings);
        worst = std::max(worst, verdict);
        if (common.json) {
            pieces.push_back({{"piece", piece.id},
                              {"title", piece.title},
                              {"brief", piece.brief},
                              {"verdict", nameOf(verdict)},
                              {"readings", jsonOf(read->readings)}});
        } else {
            fmt::print("{} ({}): {} against {}\n", piece.title, piece.id, nameOf(verdict),
                       (*brief)->title);
            printReadings(read->readings);
        }
    }
    if (common.json) print({{"kit", file}, {"pieces", pieces}});
    return exitFor(worst);
}

}  // namespace

std::function<Result<int>()> declareCheck(Options& options, const Common& common) {
    const auto asked = std::make_shared<Asked>();
    options.value("file", asked->files, "Pictures, or one kit (.zlkit); - is standard input")
        .required();
    options.value("--brief", asked->brief, "The brief a picture is held against");
    options.value("--piece", asked->piece, "One piece of the kit, by its id");
    options.value("--mend", asked->mend,
                  "Apply this mend, or \"all\" that ask no question, and write to --out");
    options.value("--out", asked->out, "Where the mended file goes");
    return [asked, &common]() -> Result<int> {
        if (auto good = checkMendWords(*asked); !good) return passOn(good.error());
        asked->file = asked->files.front();
        if (!asked->several() && asked->file != "-") {
            bool kit = false;
            {
                const auto bytes = readFile(asked->file);
                if (!bytes) return passOn(bytes.error());
                kit = isKit(asked->file, *bytes);
            }  // a large kit is not held twice
            if (kit) return checkKit(*asked, common);
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
