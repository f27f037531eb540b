// SPDX-License-Identifier: GPL-3.0-or-later
// `format`: what the bytes truly are (PNG, W3C 2003; JFIF; GIF89a) against what the brief accepts.
#include <algorithm>

#include "base/file.h"
#include "readings/moving.h"

namespace zl {
namespace {

std::string acceptedTitles(const Brief& brief) {
    std::string all;
    for (std::size_t i = 0; i < brief.formats.size(); ++i) {
        const auto content = contentById(brief.formats[i]);
        all += i == 0 ? "" : i + 1 == brief.formats.size() ? " or " : ", ";
        all += content ? std::string(factsOf(*content).title) : brief.formats[i];
    }
    return all;
}

Reading ofMoving(const Subject& subject) {
    const Brief& brief = *subject.brief;
    const std::string id = movingFormatOf(subject), title = movingTitle(id);
    const auto& taken = brief.moving.formats;
    std::string all;
    for (const std::string& one : taken) all += (all.empty() ? "" : ", ") + movingTitle(one);
    Reading reading;
    reading.unit = "bit";
    reading.value = 8.0;
    reading.limit = 8.0;
    reading.shown = title;
    reading.verdict = Verdict::pass;
    reading.says = {"format.moving", {title}};
    const auto say = [&](Verdict verdict, Message message) {
        reading.verdict = verdict;
        reading.says = message;
        reading.findings.push_back({{}, {}, std::move(message)});
    };
    if (taken.empty())
        say(Verdict::watch, {"format.stands-still", {brief.title}});
    else if (std::find(taken.begin(), taken.end(), id) == taken.end())
        say(Verdict::fail, {"format.not-accepted", {title, all}});
    else if (brief.alpha == AlphaDemand::seeThrough && !keepsAlpha(id))
        say(Verdict::fail, {"format.no-alpha", {title}});
    reading.shownBeside = subject.opaque || !keepsAlpha(id) ? "without alpha" : "with alpha";
    return reading;
}

}  // namespace

Reading measureFormat(const Subject& subject) {
    if (movesIn(subject)) return ofMoving(subject);
    const Brief& brief = *subject.brief;
    const FileFacts& file = subject.file;
    const ContentFacts& facts = factsOf(file.content);
    const std::string title(facts.title);
    Reading reading;
    reading.unit = "bit";
    reading.value = static_cast<double>(file.bitsPerChannel);
    reading.limit = 8.0;
    reading.shown = title;
    reading.shownBeside = file.alphaChannel ? "with alpha" : "without alpha";
    const auto say = [&](Verdict verdict, Message message, const char* mend) {
        reading.findings.push_back({{}, {}, message});
        if (verdict > reading.verdict) {
            reading.verdict = verdict;
            reading.says = std::move(message);
        }
        if (mend) reading.mends.emplace_back(mend);
    };
    if (!brief.accepts(facts.id))
        say(Verdict::fail, {"format.not-accepted", {title, acceptedTitles(brief)}}, "fit-limit");
    if (brief.alpha == AlphaDemand::seeThrough && !file.alphaChannel) {
        if (!facts.alpha)
            say(Verdict::fail, {"format.no-alpha", {title}},
                subject.piece ? "keep-alpha" : nullptr);
        else
            say(Verdict::fail, {"format.no-alpha-channel", {}}, nullptr);
    }
    if (!file.missing.empty()) say(Verdict::watch, {"format.missing", {file.missing}}, nullptr);
    if (file.pages > 1) say(Verdict::watch, {"format.pages", {}}, nullptr);
    const std::string ending = endingOf(file.name);
    if (ending.empty())
        say(Verdict::watch, {"format.no-ending", {file.name, title, usualEnding(file.content)}},
            "rename");
    else if (contentByEnding(ending) != file.content)
        say(Verdict::watch, {"format.wrong-ending", {file.name, title}}, "rename");
    if (reading.findings.empty()) {
        reading.verdict = Verdict::pass;
        // A GIF's alpha is one bit, and is told for what it is.
        reading.says =
            file.content == Content::gif && file.alphaChannel
                ? Message{"format.gif-alpha", {}}
                : Message{"format.accepted", {title, static_cast<long long>(file.bitsPerChannel)}};
    }
    return reading;
}

}  // namespace zl
