// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"

#include <fmt/core.h>
#include <unistd.h>

#include <charconv>
#include <cmath>

#include "base/data_files.h"
#include "base/json.h"
#include "raster/content.h"
#include "words/words.h"

namespace zl::cli {
namespace {

bool progressShown = false;

}  // namespace

void print(const OrderedJson& json) {
    fmt::print("{}", written(json));
}

void showProgress(const std::string& what, double part) {
    if (!::isatty(STDERR_FILENO)) return;
    fmt::print(stderr, "\r{} {:3.0f} %", what, part * 100);
    std::fflush(stderr);
    progressShown = true;
}

void endProgress() {
    if (progressShown) fmt::print(stderr, "\r\033[K");
    progressShown = false;
}

Result<Briefs> shippedBriefs() {
    const auto data = dataFolder();
    if (!data) return passOn(data.error());
    auto briefs = loadBriefs(*data, personalFolder());
    if (briefs)
        for (const Error& error : briefs->refused) fmt::print(stderr, "zledge: {}\n", error.sentence());
    return briefs;
}

Result<const Brief*> briefNamed(const Briefs& briefs, const std::string& id) {
    if (const Brief* brief = briefs.find(id)) return brief;
    return fail(Code::badUsage, fmt::format("There is no brief \"{}\".", id), "See: zledge briefs");
}

Result<void> mayWrite(const Path& out, const std::vector<Path>& inputs, const Common& common) {
    for (const Path& input : inputs)
        if (sameFile(out, input))
            return fail(Code::unwritable, fmt::format("{} is an input, and inputs are never overwritten.", out.string()),
                        "Name another file.");
    std::error_code none;
    if (!common.replace && std::filesystem::exists(out, none))
        return fail(Code::unwritable, fmt::format("{} stands there already.", out.string()), "Name another file, or add --replace.");
    return {};
}

Result<Content> formatFor(const std::string& ending) {
    const auto content = contentByEnding(ending);
    if (content && factsOf(*content).written) return *content;
    return fail(
        Code::badUsage,
        ending.empty() ? "The file's name has no ending to tell its format." : fmt::format("Files ending in {} cannot be written.", ending),
        "Use .png, .jpg, .gif or .webp.");
}

Result<PixelSize> parseSize(const std::string& text) {
    const auto bad = [&] {
        return fail(Code::badUsage, fmt::format("\"{}\" is not a size.", text), "Write WIDTHxHEIGHT, such as 1280x720.");
    };
    const std::size_t x = text.find('x');
    if (x == std::string::npos) return bad();
    PixelSize size;
    const auto number = [](const char* from, const char* to, int& out) {
        const auto [end, error] = std::from_chars(from, to, out);
        return error == std::errc{} && end == to && out > 0 && out <= 20'000;
    };
    if (!number(text.data(), text.data() + x, size.width) || !number(text.data() + x + 1, text.data() + text.size(), size.height))
        return bad();
    if (size.count() > mostPixels) return fail(Code::badUsage, fmt::format("{} is more than the 100 million pixels allowed.", text));
    return size;
}

Result<std::vector<double>> parseNumbers(const std::string& text, std::size_t count, const char* option) {
    std::vector<double> numbers;
    const char *at = text.data(), *end = text.data() + text.size();
    while (true) {
        double value = 0;
        const auto [stop, error] = std::from_chars(at, end, value);
        if (error != std::errc{} || !std::isfinite(value)) break;
        numbers.push_back(value);
        at = stop;
        if (at == end && numbers.size() == count) return numbers;
        if (at == end || *at++ != ',') break;
    }
    return fail(Code::badUsage, fmt::format("{} wants {} numbers parted by commas, not \"{}\".", option, count, text));
}

OrderedJson triedJson(const std::vector<Tried>& tried) {
    OrderedJson all = OrderedJson::array();
    for (const Tried& t : tried) {
        const bool jpeg = t.encoding.format == Content::jpeg,
                   ofQuality = jpeg || (t.encoding.format == Content::webp && t.encoding.quality > 0);
        all.push_back({{"format", factsOf(t.encoding.format).id},
                       {"quality", ofQuality ? OrderedJson(t.encoding.quality) : OrderedJson(nullptr)},
                       {"chroma", jpeg ? OrderedJson(samplingOf(t.encoding.chroma)) : OrderedJson(nullptr)},
                       {"palette", t.encoding.palette},
                       {"bytes", t.bytes},
                       {"fits", t.fits}});
    }
    return all;
}

void printReadings(const std::vector<Reading>& readings) {
    for (const Reading& reading : readings) {
        fmt::print("  {:<6} {:<12} {}\n", nameOf(reading.verdict), english({"reading." + reading.id, {}}), english(reading.says));
        if (reading.findings.size() > 1)
            for (const Finding& finding : reading.findings) fmt::print("           - {}\n", english(finding.says));
        for (const std::string& mend : reading.mends) fmt::print("           mend: --mend {}\n", mend);
    }
}

}  // namespace zl::cli
