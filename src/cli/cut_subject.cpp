// SPDX-License-Identifier: GPL-3.0-or-later
#include "cut_subject.h"

#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>

#include "base/json.h"
#include "cut/subject/subject.h"
#include "words/words.h"

namespace zl::cli {
namespace {

Result<void> addStroke(std::vector<Stroke>& strokes, const std::string& text, bool restores,
                       double radius) {
    const char* option = restores ? "--keep" : "--drop";
    const auto count = static_cast<std::size_t>(std::count(text.begin(), text.end(), ',')) + 1;
    if (count % 2 != 0)
        return fail(Code::badUsage, fmt::format("{} {} has an odd number of values.", option, text),
                    "Write X,Y or X,Y,X,Y and so on, in px.");
    const auto numbers = parseNumbers(text, count, option);
    if (!numbers) return passOn(numbers.error());
    Stroke stroke{restores, radius, {}};
    for (std::size_t i = 0; i < count; i += 2)
        stroke.points.push_back({(*numbers)[i], (*numbers)[i + 1]});
    strokes.push_back(std::move(stroke));
    return {};
}

template <class Value, std::size_t count>
Result<Value> oneOf(const std::array<const char*, count>& words, const std::string& word,
                    const char* option) {
    for (std::size_t i = 0; i < count; ++i)
        if (word.empty() || word == words[i]) return static_cast<Value>(i);
    std::string all;
    for (const char* known : words) all += fmt::format("{}{}", all.empty() ? "" : ", ", known);
    return fail(Code::badUsage, fmt::format("{} {} is unknown.", option, word),
                fmt::format("It is one of {}.", all));
}

double secondsSince(std::chrono::steady_clock::time_point then) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - then).count();
}

}  // namespace

void declareSubject(Options& options, SubjectWords& words) {
    options
        .value("--subject", words.box,
               "Cut the subject of a photograph out: X,Y,W,H in px round it, or nothing")
        .mayStandAlone();
    options.value("--keep", words.keep, "A stroke over what belongs to the subject: X,Y,X,Y... px")
        .mayRepeat();
    options.value("--drop", words.drop, "A stroke over what does not: X,Y,X,Y... px").mayRepeat();
    options.value("--stroke", words.stroke, "How wide the strokes are, px");
    options.value("--edge", words.edge, "Where colours leave it open: as-found, tighter or fuller");
    options.value("--part", words.part,
                  "What stays: subject, ground, or filled (the ground carried on behind it)");
    options.flag("--take-guess", words.takesGuess, "Take the first guess though it is not sure");
}

Result<SubjectCut> subjectOf(const SubjectWords& words, PixelSize size, bool keepsShadow) {
    SubjectCut cut;
    cut.keepsShadow = keepsShadow;
    if (!words.box->empty()) {
        const auto v = parseNumbers(*words.box, 4, "--subject");
        if (!v) return passOn(v.error());
        const RealRect box{(*v)[0], (*v)[1], (*v)[2], (*v)[3]};
        if (box.width <= 0 || box.height <= 0 || box.x >= size.width || box.y >= size.height ||
            box.right() <= 0 || box.bottom() <= 0)
            return fail(Code::badUsage, "--subject needs a box that lies on the picture.",
                        fmt::format("The picture is {} x {} px.", size.width, size.height));
        cut.box = box;
    }
    const double radius =
        words.stroke ? *words.stroke / 2 : std::max(0.5, std::max(size.width, size.height) / 120.0);
    for (const auto& [texts, restores] : {std::pair{&words.keep, true}, {&words.drop, false}})
        for (const std::string& text : *texts)
            if (auto good = addStroke(cut.strokes, text, restores, radius); !good)
                return passOn(good.error());
    const auto edge =
        oneOf<SubjectEdge>(std::array{"as-found", "tighter", "fuller"}, words.edge, "--edge");
    if (!edge) return passOn(edge.error());
    const auto part =
        oneOf<SubjectPart>(std::array{"subject", "ground", "filled"}, words.part, "--part");
    if (!part) return passOn(part.error());
    cut.edge = *edge;
    cut.part = *part;
    return cut;
}

Result<OrderedJson> tellSubject(const Asset& asset, const SubjectCut& cut, bool takesGuess,
                                InkStore& store) {
    const Cut only{cut};
    auto then = std::chrono::steady_clock::now();
    const auto start = store.subjectStart(asset, {&only, 1}, 0);
    if (!start) return passOn(start.error());
    const double began = secondsSince(then);
    then = std::chrono::steady_clock::now();
    const auto labels = subjectLabels(**start, cut);
    if (!labels) return passOn(labels.error());
    const double labelled = secondsSince(then);
    const auto report = subjectReport(**start, cut, *labels);
    if (!report) return passOn(report.error());
    const bool asks = !cut.box && cut.strokes.empty() && !takesGuess && !report->trusted();
    for (const Message& say : report->says)
        if (!(asks && say.id == "subject.guess"))
            fmt::print(stderr, "zledge: {}: {}\n", asset.name, english(say));
    if (asks)
        return fail(Code::limitNotMet,
                    fmt::format("{}: the subject is not sure: the guess is trusted by {:.0f} %.",
                                asset.name, 100 * report->trust),
                    "Give a box or strokes: --subject X,Y,W,H, --keep, --drop; or take the first "
                    "guess: --take-guess.");
    if (boxOf(*labels, ofSubject).empty())
        return fail(Code::limitNotMet, fmt::format("{}: nothing is left of it.", asset.name),
                    "Give a larger box, or a --keep stroke.");
    then = std::chrono::steady_clock::now();
    const auto made = store.cutPicture(asset, {&only, 1});
    if (!made) return passOn(made.error());
    if (const auto soft = softnessOf(*(*made)->pixels))
        fmt::print(stderr, "zledge: {}: {}\n", asset.name, english(*soft));
    OrderedJson places = OrderedJson::array();
    for (const PixelRect& p : report->places)
        places.push_back({p.left, p.top, p.width(), p.height()});
    return OrderedJson{
        {"trust", report->trust},
        {"unsure", report->unsure},
        {"places", places},
        {"timings", {{"start", began}, {"labels", labelled}, {"matte", secondsSince(then)}}}};
}

}  // namespace zl::cli
