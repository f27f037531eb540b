// SPDX-License-Identifier: GPL-3.0-or-later
// edges FILE: the readings of its edges, and the map that shows where.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "base/parallel.h"
#include "command.h"
#include "raster/decode.h"
#include "readings/edge_facts.h"
#include "readings/measure.h"

namespace zl::cli {
namespace {

struct Asked {
    std::string file, map;
};

Result<int> run(const Asked& asked, const Common& common) {
    auto bytes = readFile(asked.file);
    if (!bytes) return passOn(bytes.error());
    const std::string name = Path(asked.file).filename().string();
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    // No destination is asked: edges are measured as those of any see-through picture.
    const auto brief = briefNamed(*briefs, "free-frame");
    if (!brief) return passOn(brief.error());
    if (!asked.map.empty()) {
        if (auto may = mayWrite(asked.map, {asked.file}, common); !may) return passOn(may.error());
        if (endingOf(asked.map) != ".png") return fail(Code::badUsage, "The map is a PNG.", "Name it .png.");
    }
    const auto read = readPictureFile(*bytes, name, **brief);
    if (!read) return passOn(read.error());
    Subject subject;
    subject.brief = *brief;
    subject.pixels = read->picture.pixels.get();
    subject.opaque = read->picture.opaque;
    if (!subject.opaque) subject.edges = std::make_shared<const EdgeFacts>(edgeFactsOf(read->picture.pixels, coreCount()));
    const std::vector<Reading> readings = measureEdges(subject);
    if (!asked.map.empty()) {
        const auto map = encode(edgeMapOf(*subject.pixels, edgeMarksOf(subject)), {});
        if (!map) return passOn(map.error());
        if (auto done = writeFile(asked.map, *map, common.replacing()); !done) return passOn(done.error());
    }
    if (common.json)
        print({{"file", asked.file},
               {"readings", jsonOf(readings)},
               {"map", asked.map.empty() ? OrderedJson(nullptr) : OrderedJson(asked.map)}});
    else {
        fmt::print("{}: {}\n", asked.file, nameOf(worstOf(readings)));
        printReadings(readings);
        if (!asked.map.empty()) fmt::print("Map: {}\n", asked.map);
    }
    return worstOf(readings) == Verdict::fail ? Exit::readingFailed : Exit::done;
}

}  // namespace

std::function<Result<int>()> declareEdges(Options& options, const Common& common) {
    const auto asked = std::make_shared<Asked>();
    options.value("file", asked->file, "A picture with alpha").required();
    options.value("--map", asked->map, "Write a PNG that shows where the edge is at fault");
    return [asked, &common] { return run(*asked, common); };
}

}  // namespace zl::cli
