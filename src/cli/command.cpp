// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"

#include <fmt/core.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <cstdio>

#include "base/data_files.h"
#include "base/json.h"
#include "picture/content.h"
#include "raster/bleed.h"
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
        for (const Error& error : briefs->refused)
            fmt::print(stderr, "zledge: {}\n", error.sentence());
    return briefs;
}

Result<const Brief*> briefNamed(const Briefs& briefs, const std::string& id) {
    if (const Brief* brief = briefs.find(id)) return brief;
    std::vector<std::string> known;
    for (const Brief& brief : briefs.all) known.push_back(brief.id);
    const std::string near = didYouMean(id, known);
    return fail(Code::badUsage, fmt::format("There is no brief \"{}\".", id),
                near.empty() ? "See: zledge briefs" : near);
}

Result<void> mayWrite(const Path& out, const std::vector<Path>& inputs, const Common& common) {
    for (const Path& input : inputs)
        if (sameFile(out, input))
            return fail(
                Code::unwritable,
                fmt::format("{} is an input, and inputs are never overwritten.", out.string()),
                "Name another file.");
    std::error_code none;
    if (!common.replace && std::filesystem::exists(out, none))
        return fail(Code::unwritable, fmt::format("{} stands there already.", out.string()),
                    "Name another file, or add --replace.");
    return {};
}

Result<Content> formatFor(const std::string& ending) {
    const auto content = contentByEnding(ending);
    if (content && factsOf(*content).written) return *content;
    return fail(Code::badUsage,
                ending.empty() ? "The file's name has no ending to tell its format."
                               : fmt::format("Files ending in {} cannot be written.", ending),
                "Use .png, .jpg, .gif or .webp.");
}

namespace {

constexpr int longestSide = 20'000;  // px

std::optional<int> sideFrom(std::string_view text) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || value <= 0) return {};
    return value;
}

}  // namespace

Result<PixelSize> parseOpenSize(const std::string& text) {
    const auto bad = [&] {
        return fail(Code::badUsage, fmt::format("\"{}\" is not a size.", text),
                    "Write WIDTHxHEIGHT, such as 1280x720, or 1280x or x720.");
    };
    const std::size_t x = text.find('x');
    if (x == std::string::npos || text.size() == 1) return bad();
    PixelSize size;
    for (const bool across : {true, false}) {
        const std::string side = across ? text.substr(0, x) : text.substr(x + 1);
        if (side.empty()) continue;
        const auto value = sideFrom(side);
        if (!value) return bad();
        if (*value > longestSide)
            return fail(Code::badUsage,
                        fmt::format("{}: a side has at most {} px.", text, grouped(longestSide)));
        (across ? size.width : size.height) = *value;
    }
    if (size.width > 0 && size.height > 0 && size.count() > mostPixels)
        return fail(Code::badUsage,
                    fmt::format("{} is more than the 100 million pixels allowed.", text));
    return size;
}

PixelSize filledIn(PixelSize size, PixelSize of) {
    const double shape = static_cast<double>(of.width) / of.height;
    if (size.width == 0)
        size.width = std::max(1, static_cast<int>(std::lround(size.height * shape)));
    if (size.height == 0)
        size.height = std::max(1, static_cast<int>(std::lround(size.width / shape)));
    return size;
}

Result<PixelSize> parseSize(const std::string& text) {
    const auto size = parseOpenSize(text);
    if (size && (size->width == 0 || size->height == 0))
        return fail(Code::badUsage,
                    fmt::format("\"{}\" leaves a side open; here both are needed.", text),
                    "Write WIDTHxHEIGHT, such as 1280x720.");
    return size;
}

Result<long long> parseBytes(const std::string& text) {
    double value = 0;
    const auto [end, error] =
        std::from_chars(text.data(), text.data() + text.size(), value, std::chars_format::fixed);
    std::string unit(end, text.data() + text.size());
    for (char& c : unit) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    const double times = unit.empty() || unit == "b"   ? 1
                         : unit == "k" || unit == "kb" ? 1e3
                         : unit == "m" || unit == "mb" ? 1e6
                                                       : 0;
    const double bytes = value * times;
    if (error != std::errc{} || times == 0 || !(bytes >= 1) || bytes > 1e9)
        return fail(Code::badUsage,
                    fmt::format("\"{}\" is no number of bytes from 1 to 1,000,000,000.", text),
                    "Write bytes, or 200k, or 2MB.");
    return std::llround(bytes);
}

std::string didYouMean(const std::string& word, const std::vector<std::string>& known) {
    std::string best;
    std::size_t least = 3;  // letters that may be wrong, and one more
    for (const std::string& one : known) {
        // Levenshtein's distance, row by row.
        std::vector<std::size_t> row(one.size() + 1);
        for (std::size_t j = 0; j < row.size(); ++j) row[j] = j;
        for (std::size_t i = 1; i <= word.size(); ++i) {
            std::size_t corner = row[0];
            row[0] = i;
            for (std::size_t j = 1; j <= one.size(); ++j) {
                const std::size_t above = row[j];
                row[j] =
                    std::min({row[j - 1] + 1, above + 1, corner + (word[i - 1] != one[j - 1])});
                corner = above;
            }
        }
        if (row.back() < least && row.back() < word.size()) {
            least = row.back();
            best = one;
        }
    }
    return best.empty() ? "" : fmt::format("Did you mean {}?", best);
}

Result<Bytes> readInput(const std::string& file) {
    if (file != "-") return readFile(file);
    Bytes bytes;
    std::array<std::uint8_t, 65536> part;
    for (std::size_t n = 0; (n = std::fread(part.data(), 1, part.size(), stdin)) > 0;) {
        if (bytes.size() + n > largestInput)
            return fail(Code::unreadable, "Standard input has more than 1 GB.");
        bytes.insert(bytes.end(), part.begin(), part.begin() + static_cast<std::ptrdiff_t>(n));
    }
    if (bytes.empty()) return fail(Code::unreadable, "Standard input is empty.");
    return bytes;
}

Result<Input> readPicture(const std::string& file) {
    return readPictureFor([](PixelSize whole) { return whole; }, file);
}

Result<Input> readPictureFor(const std::function<PixelSize(PixelSize)>& least,
                             const std::string& file) {
    auto bytes = readInput(file);
    if (!bytes) return passOn(bytes.error());
    const std::string name = nameOfInput(file);
    const auto facts = readFacts(*bytes, name);
    if (!facts) return passOn(facts.error());
    auto picture = decodeFor(least(facts->size), *bytes, name);
    if (!picture) return passOn(picture.error());
    if (const std::string& missing = picture->facts.held.missing; !missing.empty())
        fmt::print(stderr, "zledge: {}: {}\n", name, english({"format.missing", {missing}}));
    if (picture->facts.pages > 1)
        fmt::print(stderr, "zledge: {}: {}\n", name, english({"format.pages", {}}));
    return Input{std::move(*bytes), name, std::move(*picture)};
}

Result<Content> formatAsked(const std::string& format, const std::string& out) {
    if (!format.empty()) return formatFor("." + format);
    if (out == "-")
        return fail(Code::badUsage, "Standard output has no ending to tell the format.",
                    "Add --format.");
    return formatFor(endingOf(out));
}

Result<void> layOn(const std::string& matte, Content format, Straight8& pixels) {
    if (matte.empty()) return {};
    const auto colour = parseColour(matte);
    if (!colour) return passOn(colour.error());
    if (!isOpaque(pixels) && !holdsAlphaOf(pixels, format))
        flattenOnto(pixels, colour->red, colour->green, colour->blue);
    return {};
}

OrderedJson tellEnlarged(const std::string& name, double factor) {
    constexpr double whisker = 1.001;
    if (factor <= whisker) return nullptr;
    fmt::print(stderr, "zledge: {}: enlarged {:.2f} times; it has no more detail than before.\n",
               name, factor);
    return factor;
}

std::string nameOfInput(const std::string& file) {
    return file == "-" ? "standard input" : Path(file).filename().string();
}

Path outFor(const std::string& out, const std::string& file, bool several, Content content) {
    std::error_code none;
    if (out == "-" || (!several && !std::filesystem::is_directory(out, none))) return out;
    const std::string stem = file == "-" ? "standard-input" : stemOf(file);
    return Path(out) / (stem + std::string(usualEnding(content)));
}

Result<void> writeOutput(const Path& out, ByteView bytes, const std::string& input,
                         const Common& common) {
    if (out == "-") {
        if (common.json)
            return fail(Code::badUsage, "--json and --out - both want standard output.",
                        "Name a file.");
        if (std::fwrite(bytes.data(), 1, bytes.size(), stdout) != bytes.size() ||
            std::fflush(stdout) != 0)
            return fail(Code::unwritable, "Standard output could not be written.");
        return {};
    }
    if (auto may = mayWrite(out, {input}, common); !may) return may;
    return writeFile(out, bytes, common.replacing());
}

Told told(int exit, OrderedJson json, std::string text) {
    return {exit, std::make_shared<const OrderedJson>(std::move(json)), std::move(text)};
}

Result<int> eachFile(const std::vector<std::string>& files, const Common& common,
                     const std::function<Result<Told>(const std::string&)>& run) {
    if (files.size() == 1) {
        const auto one = run(files.front());
        if (!one) return passOn(one.error());
        if (common.json)
            print(*one->json);
        else
            fmt::print("{}", one->text);
        return one->exit;
    }
    int exit = Exit::done;
    OrderedJson all = OrderedJson::array();
    for (const std::string& file : files) {
        const auto one = run(file);
        endProgress();
        if (one) {
            exit = std::max(exit, one->exit);
            if (common.json)
                all.push_back(*one->json);
            else
                fmt::print("{}", one->text);
            continue;
        }
        if (one.error().code == Code::badUsage) return passOn(one.error());
        exit = std::max(exit, exitFor(one.error().code));
        fmt::print(stderr, "zledge: {}\n", one.error().sentence());
        all.push_back(OrderedJson{{"file", file}, {"error", one.error().sentence()}});
    }
    if (common.json) print({{"files", all}});
    return exit;
}

Result<std::vector<double>> parseNumbers(const std::string& text, std::size_t count,
                                         const char* option) {
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
    return fail(Code::badUsage, fmt::format("{} wants {} numbers parted by commas, not \"{}\".",
                                            option, count, text));
}

std::string wordsOf(const std::vector<Reading>& readings) {
    std::string out;
    for (const Reading& reading : readings) {
        out += fmt::format("  {:<6} {:<12} {}\n", nameOf(reading.verdict),
                           english({"reading." + reading.id, {}}), english(reading.says));
        if (reading.findings.size() > 1)
            for (const Finding& finding : reading.findings)
                out += fmt::format("           - {}\n", english(finding.says));
        for (const std::string& mend : reading.mends)
            out += fmt::format("           mend: --mend {}\n", mend);
    }
    return out;
}

void printReadings(const std::vector<Reading>& readings) {
    fmt::print("{}", wordsOf(readings));
}

}  // namespace zl::cli
