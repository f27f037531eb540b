// SPDX-License-Identifier: GPL-3.0-or-later
// fit FILE --brief ID|--limit BYTES --out FILE: the best quality under the limit.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "encode/fit.h"
#include "picture/decode.h"

namespace zl::cli {
namespace {

struct FitAsked {
    std::vector<std::string> files;
    std::string brief, formats, matte, out, limit;
    bool several() const { return files.size() > 1; }
};

Result<std::vector<Content>> parseFormats(const std::string& text) {
    std::vector<Content> formats;
    std::string_view rest = text;
    while (true) {
        const std::string_view one = rest.substr(0, rest.find(','));
        const auto content = contentById(one);
        if (!content || !factsOf(*content).written)
            return fail(Code::badUsage, fmt::format("The format \"{}\" cannot be written.", one),
                        "Use png, jpeg, gif or webp.");
        formats.push_back(*content);
        if (one.size() == rest.size()) return formats;
        rest.remove_prefix(one.size() + 1);
    }
}

// --formats, else what the ending says, else what the brief accepts.
Result<std::vector<Content>> formatsFor(const FitAsked& asked, const Brief* brief) {
    if (!asked.formats.empty()) return parseFormats(asked.formats);
    if (const std::string ending = asked.several() ? "" : endingOf(asked.out); !ending.empty()) {
        const auto format = formatFor(ending);
        if (!format) return passOn(format.error());
        return std::vector{*format};
    }
    std::vector<Content> formats;
    for (const ContentFacts& facts : allContents())
        if (facts.written && (!brief || brief->accepts(facts.id))) formats.push_back(facts.content);
    return formats;
}

Result<FitOptions> optionsFor(const FitAsked& asked) {
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    if (asked.brief.empty() == asked.limit.empty())
        return fail(Code::badUsage, "Give either --brief or --limit.");
    FitOptions options;
    const Brief* brief = nullptr;
    if (!asked.brief.empty()) {
        const auto named = briefNamed(*briefs, asked.brief);
        if (!named) return passOn(named.error());
        brief = *named;
        options.limit = brief->limit;
    } else {
        const auto limit = parseBytes(asked.limit);
        if (!limit) return passOn(limit.error());
        options.limit = *limit;
    }
    auto formats = formatsFor(asked, brief);
    if (!formats) return passOn(formats.error());
    options.formats = std::move(*formats);
    if (!asked.matte.empty()) {
        const auto matte = parseColour(asked.matte);
        if (!matte) return passOn(matte.error());
        options.matte = *matte;
    }
    return options;
}

Result<Told> runFit(const FitAsked& asked, const std::string& file, const Common& common) {
    const auto options = optionsFor(asked);
    if (!options) return passOn(options.error());
    const auto input = readPicture(file);
    if (!input) return passOn(input.error());
    if (asked.out == "-" && asked.formats.empty())
        return fail(Code::badUsage, "Standard output has no ending to tell the format.",
                    "Add --formats.");
    if (!asked.several() && asked.out != "-")
        if (auto may = mayWrite(asked.out, {file}, common);
            !may && !std::filesystem::is_directory(asked.out))
            return passOn(may.error());
    auto kept = keptAsItIs(input->bytes, *options);
    const auto fitted = kept ? Result<Fitted>(std::move(*kept))
                             : fitToLimit(*input->picture.pixels, *options, {},
                                          [](double part) { showProgress("fitting", part); });
    endProgress();
    if (!fitted) return passOn(fitted.error());
    // A file never ends in what it is not: the ending follows the format that was found.
    const Content content = fitted->encoding.format;
    Path out = outFor(asked.out, file, asked.several(), content);
    if (out != "-" && contentByEnding(endingOf(out)) != content) {
        if (contentByEnding(endingOf(out))) out.replace_extension();
        out += usualEnding(content);
        fmt::print(stderr, "zledge: written as {}, since it is a {}.\n", out.string(),
                   factsOf(content).title);
    }
    if (auto done = writeOutput(out, fitted->bytes, file, common); !done)
        return passOn(done.error());
    if (out == "-") return Told{};
    const bool jpeg = content == Content::jpeg,
               ofQuality = (jpeg && fitted->encoding.quality > 0) ||
                           (content == Content::webp && fitted->encoding.quality > 0);
    return told(
        Exit::done,
        {{"out", out.string()},
         {"content", factsOf(content).type},
         {"bytes", fitted->bytes.size()},
         {"limit", options->limit ? OrderedJson(*options->limit) : OrderedJson(nullptr)},
         {"quality", ofQuality ? OrderedJson(fitted->encoding.quality) : OrderedJson(nullptr)},
         {"chroma", jpeg && ofQuality ? OrderedJson(samplingOf(fitted->encoding.chroma))
                                      : OrderedJson(nullptr)},
         {"alpha_kept", fitted->alphaKept},
         {"difference",
          {{"ssim", fitted->difference.ssim}, {"de00_p99", fitted->difference.de00P99}}},
         {"tried", jsonOf(fitted->tried)}},
        fmt::format(
            "{}: {}, {} bytes{}, SSIM {:.4f}\n", out.string(),
            jpeg && !ofQuality ? "the JPEG as it was, without metadata" : nameOf(fitted->encoding),
            grouped(static_cast<long long>(fitted->bytes.size())),
            options->limit ? " of " + grouped(*options->limit) : "", fitted->difference.ssim));
}

}  // namespace

std::function<Result<int>()> declareFit(Options& options, const Common& common) {
    const auto asked = std::make_shared<FitAsked>();
    options.value("file", asked->files, "Pictures; - is standard input").required();
    options.value("--brief", asked->brief, "Take the limit and the formats from this brief");
    options.value("--limit", asked->limit, "The limit in bytes, or as 200k or 2MB (decimal)");
    options.value(
        "--formats", asked->formats,
        "Those allowed, such as png,jpeg (default: what the ending of --out says, else the brief)");
    options.value("--matte", asked->matte,
                  "#RRGGBB that see-through parts are laid on where the format has no alpha");
    options
        .value("--out", asked->out,
               "The file to write; a folder for several files; - is standard output")
        .required();
    return [asked, &common] {
        return eachFile(asked->files, common,
                        [&](const std::string& file) { return runFit(*asked, file, common); });
    };
}

}  // namespace zl::cli
