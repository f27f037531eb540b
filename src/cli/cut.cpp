// SPDX-License-Identifier: GPL-3.0-or-later
// cut FILE --out PNG: colour key, subject, circle, rounded corners; feather, trim.
#include <fmt/core.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>

#include "base/json.h"
#include "cut/cut.h"
#include "cut_subject.h"
#include "edit/edits.h"
#include "made.h"
#include "picture/decode.h"
#include "raster/ink_box.h"
#include "words/words.h"

namespace zl::cli {
namespace {

struct CutAsked {
    std::string file, out, key, matte, format, reach = "linked";
    std::optional<std::string> shadow;
    std::optional<double> tolerance;
    std::optional<std::string> circle, trim;
    std::optional<double> round;
    double feather = 0;
    SubjectWords subject;
};

Result<KeyCut> keyOf(const CutAsked& asked) {
    KeyCut key;
    key.tolerance = asked.tolerance;
    if (asked.reach != "linked" && asked.reach != "everywhere")
        return fail(Code::badUsage, fmt::format("--reach {} is unknown.", asked.reach),
                    "It is linked or everywhere.");
    key.everywhere = asked.reach == "everywhere";
    constexpr std::array<std::string_view, 3> shadows{"keep", "drop", "off"};
    if (asked.shadow) {
        const auto word = std::find(shadows.begin(), shadows.end(), *asked.shadow);
        if (word == shadows.end())
            return fail(Code::badUsage, fmt::format("--shadow {} is unknown.", *asked.shadow),
                        "It is keep, drop or off.");
        key.shadow = static_cast<KeyShadow>(word - shadows.begin());
    }
    if (asked.key == "auto") return key;
    const auto colour = parseColour(asked.key);
    if (!colour)
        return fail(Code::badUsage, fmt::format("--key {} is no colour.", asked.key),
                    "Write auto or #RRGGBB.");
    key.colour = *colour;
    return key;
}

Result<std::vector<Cut>> cutsOf(const CutAsked& asked, PixelSize size) {
    std::vector<Cut> cuts;
    if (!asked.key.empty()) {
        auto key = keyOf(asked);
        if (!key) return passOn(key.error());
        cuts.push_back({*key});
    }
    if (asked.subject.box) {
        auto subject = subjectOf(asked.subject, size, asked.shadow == "keep");
        if (!subject) return passOn(subject.error());
        cuts.push_back({*subject});
    }
    if (asked.circle) {
        ShapeCut circle;
        circle.feather = asked.feather;
        const double least = std::min(size.width, size.height);
        circle.box = {(size.width - least) / 2, (size.height - least) / 2, least, least};
        if (!asked.circle->empty()) {
            const auto v = parseNumbers(*asked.circle, 3, "--circle");
            if (!v) return passOn(v.error());
            if ((*v)[2] <= 0) return fail(Code::badUsage, "A circle's radius is more than 0 px.");
            circle.box = {(*v)[0] - (*v)[2], (*v)[1] - (*v)[2], 2 * (*v)[2], 2 * (*v)[2]};
        }
        cuts.push_back({circle});
    }
    if (asked.round) {
        ShapeCut rounded;
        rounded.shape = CutShape::rounded;
        rounded.feather = asked.feather;
        rounded.box = RealRect::of(size);
        rounded.radii.fill(*asked.round);
        cuts.push_back({rounded});
    }
    for (const Cut& cut : cuts)
        if (auto good = checkCut(cut); !good) return passOn(good.error());
    return cuts;
}

Result<double> marginOf(const std::string& text) {
    if (text.empty()) return 0.0;
    const auto v = parseNumbers(text, 1, "--trim");
    if (!v) return passOn(v.error());
    if (v->front() < 0 || v->front() > 10'000)
        return fail(Code::badUsage, "--trim takes a margin of 0 to 10,000 px.");
    return v->front();
}

// What a key left, put into the frame of its ink with a margin round it.
Straight8 trimmed(const Straight8& pixels, const PixelRect& ink, int margin) {
    Straight8 out = Straight8::cleared({ink.width() + 2 * margin, ink.height() + 2 * margin});
    for (int y = 0; y < ink.height(); ++y)
        std::copy_n(pixels.row(y + ink.top) + ink.left, ink.width(), out.row(y + margin) + margin);
    return out;
}

// Options that mean nothing, or not what they say, beside the others.
Result<void> checkWords(const CutAsked& asked) {
    if (asked.key.empty() && !asked.subject.box && !asked.circle && !asked.round && !asked.trim)
        return fail(Code::badUsage,
                    "Say what to cut: --key, --subject, --circle, --round or --trim.");
    if (!asked.key.empty() && asked.subject.box)
        return fail(Code::badUsage, "--key and --subject do not go together.",
                    "A flat background is for --key.");
    if (!asked.subject.box && asked.subject.more())
        return fail(Code::badUsage,
                    "--keep, --drop, --stroke, --edge, --part and --take-guess go with --subject.");
    if (asked.subject.box && asked.shadow && *asked.shadow == "off")
        return fail(Code::badUsage, "--shadow off goes with --key.",
                    "A subject's shadow is --shadow keep or drop.");
    if (asked.key.empty() && (asked.tolerance || asked.reach != "linked"))
        return fail(Code::badUsage, "--tolerance and --reach go with --key.");
    if (asked.key.empty() && asked.shadow && !asked.subject.box)
        return fail(Code::badUsage, "--shadow goes with --key or --subject.");
    if (asked.feather != 0 && !asked.circle && !asked.round)
        return fail(Code::badUsage, "--feather goes with --circle or --round.");
    return {};
}

// Says what a key found, and why it cannot work.
Result<OrderedJson> tellKey(const std::string& name, const KeyReport& report, const KeyCut& key) {
    const KeyPlan& plan = report.plan;
    // A doubt is no reason for those who named the colour; else nothing is cut without a flat
    // background.
    if (report.trouble)
        return fail(Code::limitNotMet, fmt::format("{}: {}", name, english(*report.trouble)),
                    report.unsure ? "Name the colour to take off: --key #RRGGBB." : "");
    for (const Message& note : notesOf(report, key))
        fmt::print(stderr, "zledge: {}: {}\n", name, english(note));
    return OrderedJson{{"colour", nameOf(Background{plan.background, plan.share}.rounded())},
                       {"sure", plan.share},
                       {"tolerance", plan.noise.tolerance},
                       {"lossy", plan.noise.lossy},
                       {"drift", plan.ground ? plan.ground->span : 0.0},
                       {"grain", plan.ground ? plan.ground->grain : 0.0},
                       {"closed_areas", report.closed},
                       {"spots", report.spots},
                       {"left", report.left}};
}

Result<int> runCut(const CutAsked& asked, const Common& common) {
    if (auto good = checkWords(asked); !good) return passOn(good.error());
    const auto format = formatAsked(asked.format, asked.out);
    if (!format) return passOn(format.error());
    if (asked.matte.empty() && (!factsOf(*format).alpha || *format == Content::gif))
        return fail(
            Code::badUsage,
            fmt::format("A cut-out needs a format with alpha; {} has none that would hold it.",
                        factsOf(*format).title),
            "Name the output .png, or give the ground with --matte.");
    const auto margin = marginOf(asked.trim.value_or(""));
    if (!margin) return passOn(margin.error());
    auto input = readPicture(asked.file);
    if (!input) return passOn(input.error());
    const std::string& name = input->name;
    const PixelSize size = input->picture.pixels->size();
    const auto cuts = cutsOf(asked, size);
    if (!cuts) return passOn(cuts.error());
    OrderedJson more = OrderedJson::object();
    InkStore store;
    const Asset asset = makeAsset(std::move(input->bytes), name);
    if (!cuts->empty() && (cuts->front().key() || cuts->front().subject())) {
        const Cut& first = cuts->front();
        auto told = first.key()
                        ? store.keyReport(asset, *cuts, 0).and_then([&](const KeyReport& report) {
                              return tellKey(name, report, *first.key());
                          })
                        : tellSubject(asset, *first.subject(), asked.subject.takesGuess, store);
        if (!told) return passOn(told.error());
        more[first.key() ? "key" : "subject"] = std::move(*told);
    }
    Layer layer;
    layer.what = PictureLayer{asset.sha256, RealRect::of(size), RealRect::of(size)};
    layer.picture()->cuts = *cuts;
    auto sheet = drawn(withAsset(Kit{}, asset), layer, size, 0, store);
    if (!sheet) return passOn(sheet.error());
    const Outcome outcome{asked.out, 95, asked.matte, asked.format};
    if (!asked.trim) return writePicture(sheet->pixels, outcome, {asked.file}, common, more);
    const auto ink = inkBoxOf(sheet->pixels, 1);
    if (!ink)
        return fail(Code::limitNotMet, fmt::format("{}: nothing is left to trim to.", name),
                    "Cut less away.");
    return writePicture(trimmed(sheet->pixels, *ink, static_cast<int>(std::lround(*margin))),
                        outcome, {asked.file}, common, more);
}

}  // namespace

std::function<Result<int>()> declareCut(Options& options, const Common& common) {
    const auto asked = std::make_shared<CutAsked>();
    options.value("file", asked->file, "A picture; - is standard input").required();
    options.value("--key", asked->key, "Take this background colour off: auto, or #RRGGBB");
    options.value("--tolerance", asked->tolerance,
                  "How far from it still counts, 0..100 code values (measured near the ink)");
    options.value("--reach", asked->reach,
                  "linked: what touches the rim; everywhere: the holes inside, too");
    options.value("--shadow", asked->shadow,
                  "A soft shadow: keep, drop, or off (of a key: look for none)");
    declareSubject(options, asked->subject);
    options
        .value("--circle", asked->circle,
               "Keep a circle: X,Y,R in px, or the largest in the middle")
        .mayStandAlone();
    options.value("--round", asked->round, "Round the corners by so many px");
    options.value("--feather", asked->feather, "Soften a circle's or rounded rectangle's edge, px");
    options.value("--trim", asked->trim, "Cut the frame down to the ink, with a margin in px")
        .mayStandAlone();
    options.value("--matte", asked->matte,
                  "#RRGGBB that the cut-out is laid on where the format has no alpha");
    options.value("--format", asked->format,
                  "png, jpeg, gif or webp (default: what the ending says)");
    options.value("--out", asked->out, "The PNG to write; - is standard output, with --format")
        .required();
    return [asked, &common] { return runCut(*asked, common); };
}

}  // namespace zl::cli
