// SPDX-License-Identifier: GPL-3.0-or-later
// `naming`: names that say nothing, layers that do nothing (common practice, no source).
#include "readings/naming.h"
#include "readings/moving.h"

#include <fmt/core.h>

#include <map>
#include <regex>

#include "base/file.h"
#include "kit/layer_kinds.h"
#include "readings/reading.h"

namespace zl {

bool saysNothing(const std::string& name) {
    static const std::regex nothing(
        R"(^\s*((new|copy\s+of)\s+)*)"
        R"((layer|picture|image|img|dsc[nf]?|photo|lettering|text|shape|bar|untitled|unnamed|)"
        R"(screenshot|screen[ _-]?shot|piece|thumbnail|export|download|file|copy))"
        R"(([\s_-]*(of|copy|\(?\d+\)?|\d{2,}[\d_.-]*|[_-]\d+))*\s*(\.[a-z]{2,4})?\s*$)",
        std::regex::icase);
    return std::regex_match(name.substr(0, 120), nothing);
}

bool looksLikeReference(const std::string& name) {
    static const std::regex words(
        R"((^|[^a-z])(screen[ _-]?shot|template|reference|layout|sketch|mock[ _-]?up)([^a-z]|$))",
        std::regex::icase);
    return std::regex_search(name.substr(0, 200), words);
}

namespace {

void tellCounts(Reading& reading, long long layers, long long references) {
    const auto count = static_cast<long long>(reading.findings.size());
    reading.value = static_cast<double>(count);
    reading.verdict = count == 0 ? Verdict::pass : Verdict::watch;
    reading.shown = layers == 1 ? "1 layer" : fmt::format("{} layers", layers);
    reading.shownBeside = count > 0         ? fmt::format("{} to look at", count)
                          : references == 0 ? "all named"
                                            : fmt::format("{} not released", references);
    if (count > 0)
        reading.says =
            count == 1 ? reading.findings.front().says : Message{"naming.count", {count}};
    else
        reading.says = layers == 0   ? Message{"naming.nothing", {}}
                       : layers == 1 ? Message{"naming.one", {}}
                                     : Message{"naming.good", {layers}};
}

}  // namespace

Reading measureNaming(const Subject& subject) {
    const Piece& piece = *subject.piece;
    Reading reading;
    reading.unit = "names";
    reading.limit = 0.0;
    bool renames = false;
    const auto blame = [&](std::optional<int> layer, std::optional<PixelRect> rect, Message says,
                           bool byRenaming) {
        reading.findings.push_back({rect, layer, std::move(says)});
        renames = renames || byRenaming;
    };
    long long references = 0;
    bool leftIn = false;
    std::map<std::string, long long> times;
    for (const Layer& layer : piece.layers) ++times[layer.name];
    const PixelRect frame = PixelRect::of(piece.frame);
    for (std::size_t i = 0; i < piece.layers.size(); ++i) {
        const Layer& layer = piece.layers[i];
        const LayerFacts& facts = subject.layers[i];
        const PixelRect seen = facts.box.intersected(frame);
        const std::optional<PixelRect> where = seen.empty() ? std::nullopt : std::optional(seen);
        if (layer.isReference()) {  // never released: counted, not blamed
            ++references;
            continue;
        }
        if (releasedPicture(layer) &&
            (looksLikeReference(layer.name) || looksLikeReference(facts.originalName))) {
            blame(layer.id, where, {"naming.reference-left-in", {layer.name}}, false);
            leftIn = true;
        }
        if (layer.name.empty())
            blame(layer.id, where, {"naming.no-name", {}}, true);
        else if (saysNothing(layer.name))
            blame(layer.id, where, {"naming.default-name", {layer.name}}, true);
        else if (auto& count = times[layer.name]; count > 1) {
            blame(layer.id, where, {"naming.repeated", {layer.name, count}}, true);
            count = 1;  // once is enough
        }
        if (layer.hidden || layer.opacity <= 0)
            blame(layer.id, {}, {"naming.hidden", {layer.name}}, false);
        else if (!facts.inked)
            blame(layer.id, {}, {"naming.empty", {layer.name}}, false);
        else if (seen.empty())
            blame(layer.id, {}, {"naming.outside", {layer.name}}, false);
    }
    const std::string ending = endingOf(piece.release.name);
    const auto named = contentByEnding(ending);
    if (named && !movesIn(subject) && *named != subject.file.content)
        blame({}, {},
              {"naming.file-ending",
               {piece.release.name, std::string(factsOf(subject.file.content).title)}},
              true);
    if (saysNothing(piece.release.name))
        blame({}, {}, {"naming.file-default", {piece.release.name}}, true);

    tellCounts(reading, static_cast<long long>(piece.layers.size()), references);
    if (leftIn) reading.mends.emplace_back("to-reference");
    if (renames) reading.mends.emplace_back("rename");
    return reading;
}

}  // namespace zl
