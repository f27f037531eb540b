// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/host.h"

#include <fmt/core.h>

#include <array>
#include <cmath>

#include "base/parallel.h"
#include "encode/encode.h"
#include "raster/decode.h"
#include "raster/resample.h"
#include "readings/measure.h"
#include "words/words.h"

namespace zl {
namespace {

constexpr std::string_view draftName = "draft", publishedName = "published";

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

std::string_view nameOf(HostState state) {
    constexpr std::array<std::string_view, 4> names{"nothing", "draft", "published", "draft over published"};
    return names[static_cast<std::size_t>(state)];
}

Result<Bytes> displayCopy(const Straight8& picture, int width) {
    const int height = std::max(1, static_cast<int>(std::lround(static_cast<double>(width) * picture.height() / picture.width())));
    const PixelSize size{width, height};
    const auto source = std::make_shared<const Straight8>(picture.clone());
    const bool opaque = isOpaque(picture);
    const Straight8 shown =
        rounded8(resampled(source, opaque, RealRect::of(picture.size()), RealRect::of(size), PixelRect::of(size), coreCount()));
    constexpr int quality = 80;
    return opaque ? encode(shown, {Content::jpeg, quality, Chroma::half, Effort::release}) : encode(shown, {});
}

std::optional<Path> StandInHost::kept(const std::string& pieceId, std::string_view stem) const {
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator(folder_ / pieceId, error))
        if (entry.is_regular_file(error) && entry.path().stem() == stem) return entry.path();
    return {};
}

Result<Path> StandInHost::keep(const std::string& pieceId, std::string_view stem, ByteView bytes, const std::string& ending) {
    const Path place = folder_ / pieceId;
    std::error_code error;
    std::filesystem::create_directories(place, error);
    if (error) return fail(Code::unwritable, fmt::format("The stand-in host's folder {} cannot be made.", place.string()));
    const Path file = place / (std::string(stem) + ending);
    if (auto done = writeFile(file, bytes, Replace::yes); !done) return passOn(done.error());
    // One of a name: a PNG takes the place of the JPEG before it.
    for (const auto& entry : std::filesystem::directory_iterator(place, error))
        if (entry.path().stem() == stem && entry.path() != file) std::filesystem::remove(entry.path(), error);
    return file;
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
    auto file = keep(pieceId, draftName, bytes, usualEnding(read->picture.facts.content));
    if (!file) return passOn(file.error());
    answer.kept = std::move(*file);
    return answer;
}

Result<void> StandInHost::publish(const std::string& pieceId, const Brief& brief) {
    const auto draft = kept(pieceId, draftName);
    if (!draft) return fail(Code::badUsage, "There is no draft to publish.", "Hand a file over first.");
    const auto bytes = readFile(*draft);
    if (!bytes) return passOn(bytes.error());
    const auto picture = decode(*bytes, draft->filename().string());
    if (!picture) return passOn(picture.error());
    for (const SurfaceSpec& surface : brief.surfaces) {
        if (!surface.showsWhole()) continue;
        const auto copy = displayCopy(*picture->pixels, surface.width);
        if (!copy) return passOn(copy.error());
        if (auto done = keep(pieceId, fmt::format("display-{}", surface.width), *copy, usualEnding(sniff(*copy))); !done)
            return passOn(done.error());
    }
    if (auto done = keep(pieceId, publishedName, *bytes, draft->extension().string()); !done) return passOn(done.error());
    std::error_code error;
    std::filesystem::remove(*draft, error);
    return {};
}

HostState StandInHost::state(const std::string& pieceId) const {
    const bool draft = kept(pieceId, draftName).has_value(), shown = kept(pieceId, publishedName).has_value();
    return draft ? (shown ? HostState::draftOverPublished : HostState::draft) : shown ? HostState::published : HostState::nothing;
}

std::optional<Path> StandInHost::accepted(const std::string& pieceId) const {
    const auto draft = kept(pieceId, draftName);
    return draft ? draft : kept(pieceId, publishedName);
}

std::optional<Path> StandInHost::published(const std::string& pieceId) const {
    return kept(pieceId, publishedName);
}

}  // namespace zl
