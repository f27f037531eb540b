// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/host.h"

#include <fmt/core.h>

#include "raster/decode.h"
#include "readings/measure.h"
#include "words/words.h"

namespace zl {
namespace {

constexpr std::string_view keptName = "accepted";

HostSaid spoken(const Reading& reading, const PictureFacts& facts, const Brief& brief, long long bytes) {
    // A host either takes a file or does not: a watch is told, but taken.
    if (reading.verdict == Verdict::fail) return {Verdict::fail, english(reading.says), ""};
    if (reading.id == "frame")
        return {reading.verdict, fmt::format("{} × {}", facts.size.width, facts.size.height),
                brief.frameRule == FrameRule::any ? "any frame" : fmt::format("asked {} × {}", brief.frame.width, brief.frame.height)};
    if (reading.id == "weight")
        return {reading.verdict, grouped(bytes) + " bytes", brief.limit ? "limit " + grouped(*brief.limit) : "no limit"};
    return {reading.verdict, fmt::format("Content is a {}", factsOf(facts.content).title), "by its bytes"};
}

}  // namespace

std::vector<std::string> HostAnswer::reasons() const {
    std::vector<std::string> all;
    for (const HostSaid& one : said)
        if (one.verdict == Verdict::fail) all.push_back(one.what);
    return all;
}

Result<HostAnswer> StandInHost::handOver(ByteView bytes, const std::string& fileName, const std::string& pieceId, const Brief& brief) {
    HostAnswer answer;
    const auto read = readPictureFile(bytes, fileName, brief);
    if (!read) {
        answer.said.push_back({Verdict::fail, read.error().what, ""});
        return answer;
    }
    for (const Reading& reading : read->readings)
        if (reading.id == "format" || reading.id == "frame" || reading.id == "weight")
            answer.said.push_back(spoken(reading, read->picture.facts, brief, read->bytes));
    answer.accepted = answer.reasons().empty();
    if (!answer.accepted) return answer;
    const Path place = folder_ / pieceId;
    std::error_code error;
    std::filesystem::create_directories(place, error);
    if (error) return fail(Code::unwritable, fmt::format("The stand-in host's folder {} cannot be made.", place.string()));
    const Path kept = place / (std::string(keptName) + usualEnding(read->picture.facts.content));
    if (auto done = writeFile(kept, bytes, Replace::yes); !done) return passOn(done.error());
    for (const auto& entry : std::filesystem::directory_iterator(place, error))
        if (entry.path().stem() == keptName && entry.path() != kept) std::filesystem::remove(entry.path(), error);
    answer.kept = kept;
    return answer;
}

std::optional<Path> StandInHost::accepted(const std::string& pieceId) const {
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator(folder_ / pieceId, error))
        if (entry.path().stem() == keptName) return entry.path();
    return {};
}

}  // namespace zl
