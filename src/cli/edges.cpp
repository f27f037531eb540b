// SPDX-License-Identifier: GPL-3.0-or-later
// edges FILE: the readings of its edges, and the map that shows where.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "base/parallel.h"
#include "command.h"
#include "measure/measure.h"
#include "picture/decode.h"
#include "readings/edge_facts.h"

namespace zl::cli {
namespace {

struct EdgesAsked {
    std::vector<std::string> files;
    std::string map;
};

Result<Told> runEdges(const EdgesAsked& asked, const std::string& file, const Common& common) {
    auto bytes = readInput(file);
    if (!bytes) return passOn(bytes.error());
    const std::string name = nameOfInput(file);
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    // No destination is asked: edges are measured as those of any see-through picture.
    const auto brief = briefNamed(*briefs, "free-frame");
    if (!brief) return passOn(brief.error());
    if (!asked.map.empty()) {
        if (auto may = mayWrite(asked.map, {file}, common); !may) return passOn(may.error());
        if (endingOf(asked.map) != ".png")
            return fail(Code::badUsage, "The map is a PNG.", "Name it .png.");
    }
    const auto read = readPictureFile(*bytes, name, **brief);
    if (!read) return passOn(read.error());
    Subject subject;
    subject.brief = *brief;
    subject.pixels = read->picture.pixels.get();
    subject.opaque = read->picture.opaque;
    if (!subject.opaque)
        subject.edges =
            std::make_shared<const EdgeFacts>(edgeFactsOf(read->picture.pixels, coreCount()));
    const std::vector<Reading> readings = measureEdges(subject);
    if (!asked.map.empty()) {
        Encoding plain;
        plain.reduced = false;
        const auto map = encode(edgeMapOf(*subject.pixels, edgeMarksOf(subject)), plain);
        if (!map) return passOn(map.error());
        if (auto done = writeFile(asked.map, *map, common.replacing()); !done)
            return passOn(done.error());
    }
    return told(worstOf(readings) == Verdict::fail ? Exit::readingFailed : Exit::done,
                {{"file", file},
                 {"readings", jsonOf(readings)},
                 {"map", asked.map.empty() ? OrderedJson(nullptr) : OrderedJson(asked.map)}},
                fmt::format("{}: {}\n{}{}", file, nameOf(worstOf(readings)), wordsOf(readings),
                            asked.map.empty() ? "" : fmt::format("Map: {}\n", asked.map)));
}

}  // namespace

std::function<Result<int>()> declareEdges(Options& options, const Common& common) {
    const auto asked = std::make_shared<EdgesAsked>();
    options.value("file", asked->files, "Pictures with alpha; - is standard input").required();
    options.value("--map", asked->map, "Write a PNG that shows where the edge is at fault");
    return [asked, &common]() -> Result<int> {
        if (asked->files.size() > 1 && !asked->map.empty())
            return fail(Code::badUsage, "--map goes with one file.");
        return eachFile(asked->files, common,
                        [&](const std::string& file) { return runEdges(*asked, file, common); });
    };
}

}  // namespace zl::cli
