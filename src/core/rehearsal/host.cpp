// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/host.h"

#include <fmt/core.h>

#include <array>
#include <chrono>
#include <cmath>
#include <set>
#include <thread>

#include "base/parallel.h"
#include "encode/encode.h"
#include "measure/measure.h"
#include "picture/decode.h"
#include "raster/resample.h"
#include "rehearsal/surfaces.h"
#include "words/words.h"

namespace zl {
namespace {

constexpr std::string_view draftName = "draft", publishedName = "published";

bool accepts(const Brief& brief, Content content) {
    return std::any_of(brief.formats.begin(), brief.formats.end(),
                       [&](const std::string& id) { return contentById(id) == content; });
}

// Waits that long, telling how far it is; false when it was stopped.
bool waits(double seconds, const std::stop_token& stop,
           const std::function<void(double)>& progress) {
    const auto begin = std::chrono::steady_clock::now();
    constexpr auto step = std::chrono::milliseconds(20);
    for (;;) {
        const double gone =
            std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
        if (stop.stop_requested()) return false;
        if (gone >= seconds) return true;
        if (progress) progress(gone / seconds);
        std::this_thread::sleep_for(step);
    }
}

HostSaid spoken(const Reading& reading, const PictureFacts& facts, const Brief& brief,
                long long bytes) {
    // A host either takes a file or does not: a watch is told, but taken. So is a file without
    // alpha, where the kind of file is accepted: what should be see-through turns solid there.
    if (reading.id == reading_id::format && reading.verdict == Verdict::fail &&
        facts.content != Content::unknown && accepts(brief, facts.content))
        return {Verdict::watch, english(reading.says), "taken all the same"};
    if (reading.verdict == Verdict::fail) return {Verdict::fail, english(reading.says), ""};
    if (reading.id == reading_id::frame)
        return {reading.verdict, fmt::format("{} × {}", facts.size.width, facts.size.height),
                brief.frameRule == FrameRule::any
                    ? "any frame"
                    : fmt::format("asked {} × {}", brief.frame.width, brief.frame.height)};
    if (reading.id == reading_id::weight)
        return {reading.verdict, grouped(bytes) + " bytes",
                brief.limit ? "limit " + grouped(*brief.limit) : "no limit"};
    return {reading.verdict, fmt::format("Content is {}", factsOf(facts.content).title),
            "by its bytes"};
}

}  // namespace

std::vector<std::string> HostAnswer::reasons() const {
    std::vector<std::string> all;
    for (const HostSaid& one : said)
        if (one.verdict == Verdict::fail) all.push_back(one.what);
    return all;
}

std::string_view nameOf(HostState state) {
    constexpr std::array<std::string_view, 4> names{"nothing", "draft", "published",
                                                    "draft over published"};
    return names[static_cast<std::size_t>(state)];
}

Result<Bytes> displayCopy(const Straight8& picture, int width, int quality) {
    const int height =
        std::max(1, static_cast<int>(std::lround(static_cast<double>(width) * picture.height() /
                                                 picture.width())));
    const PixelSize size{width, height};
    const auto source = std::make_shared<const Straight8>(picture.clone());
    const bool opaque = isOpaque(picture);
    const Straight8 shown =
        rounded8(resampled(source, opaque, RealRect::of(picture.size()), RealRect::of(size),
                           PixelRect::of(size), coreCount()));
    return opaque ? encode(shown, {Content::jpeg, quality, Chroma::half, Effort::release})
                  : encode(shown, {});
}

std::optional<Path> StandInHost::kept(const std::string& pieceId, std::string_view stem) const {
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator(folder_ / pieceId, error))
        if (entry.is_regular_file(error) && entry.path().stem() == stem) return entry.path();
    return {};
}

Result<Path> StandInHost::keep(const std::string& pieceId, std::string_view stem, ByteView bytes,
                               const std::string& ending) {
    const Path place = folder_ / pieceId;
    std::error_code error;
    std::filesystem::create_directories(place, error);
    if (error)
        return fail(Code::unwritable,
                    fmt::format("The stand-in host's folder {} cannot be made.", place.string()));
    const Path file = place / (std::string(stem) + ending);
    if (auto done = writeFile(file, bytes, Replace::yes); !done) return passOn(done.error());
    // One of a name: a PNG takes the place of the JPEG before it.
    for (const auto& entry : std::filesystem::directory_iterator(place, error))
        if (entry.path().stem() == stem && entry.path() != file)
            std::filesystem::remove(entry.path(), error);
    return file;
}

// The upload: what arrived of this file before is not sent again. False when it broke off.
Result<bool> StandInHost::arrives(ByteView bytes, const std::string& pieceId, HostAnswer& answer) {
    const std::string stem = "upload-" + sha256(bytes).substr(0, 16);
    const auto before = kept(pieceId, stem);
    long long there = 0;
    if (before) {
        std::error_code error;
        there = static_cast<long long>(std::filesystem::file_size(*before, error));
    }
    const auto all = static_cast<long long>(bytes.size());
    const bool cuts = trouble_.what == Trouble::What::cutsOff;
    const long long now =
        cuts ? std::min(all, there + std::max(1LL, static_cast<long long>(trouble_.amount))) : all;
    if (now < all) {
        if (auto part = keep(pieceId, stem, bytes.first(static_cast<std::size_t>(now)), ".part");
            !part)
            return passOn(part.error());
        answer.brokeOffAt = now;
        answer.said.push_back(
            {Verdict::fail,
             fmt::format("The upload broke off after {} of {} bytes", grouped(now), grouped(all)),
             "the file is whole on this side; hand it over again to go on from there"});
        return false;
    }
    std::error_code error;
    if (before) std::filesystem::remove(*before, error);
    return true;
}

Result<HostAnswer> StandInHost::handOver(ByteView bytes, const std::string& fileName,
                                         const std::string& pieceId, const Brief& brief,
                                         std::stop_token stop,
                                         const std::function<void(double)>& progress) {
    HostAnswer answer;
    if (trouble_.what == Trouble::What::slow && !waits(trouble_.amount, stop, progress))
        return fail(Code::cancelled, "The hand-over was cancelled; the host keeps what it had.");
    const auto whole = arrives(bytes, pieceId, answer);
    if (!whole) return passOn(whole.error());
    if (!*whole) return answer;
    const auto read = readPictureFile(bytes, fileName, brief);
    if (!read) {
        answer.said.push_back({Verdict::fail, read.error().what, ""});
        return answer;
    }
    for (const Reading& reading : read->readings)
        if (reading.id == reading_id::format || reading.id == reading_id::frame ||
            reading.id == reading_id::weight)
            answer.said.push_back(spoken(reading, read->picture.facts, brief, read->bytes));
    constexpr std::pair<Trouble::What, const char*> refusals[] = {
        {Trouble::What::refusesFormat, "The host takes no such format"},
        {Trouble::What::refusesFrame, "The host takes no frame of this size"},
        {Trouble::What::refusesWeight, "The host says that the file is too heavy"}};
    for (const auto& [what, says] : refusals)
        if (trouble_.what == what)
            answer.said.push_back({Verdict::fail, says, "it was told to refuse; nothing changed"});
    answer.accepted = answer.reasons().empty();
    if (!answer.accepted) return answer;
    auto file = keep(pieceId, draftName, bytes, usualEnding(read->picture.facts.content));
    if (!file) return passOn(file.error());
    answer.kept = std::move(*file);
    return answer;
}

Result<void> StandInHost::publish(const std::string& pieceId, const Brief& brief) {
    const auto draft = kept(pieceId, draftName);
    if (!draft)
        return fail(Code::badUsage, "There is no draft to publish.", "Hand a file over first.");
    if (trouble_.what == Trouble::What::losesDraft) {
        std::error_code error;
        std::filesystem::remove(*draft, error);
        return fail(Code::unreadable, "The host lost the draft before it was published.",
                    "The released file is whole; hand it over again.");
    }
    const auto bytes = readFile(*draft);
    if (!bytes) return passOn(bytes.error());
    const auto picture = decode(*bytes, draft->filename().string());
    if (!picture) return passOn(picture.error());
    const auto met = asMet(picture->pixels);
    std::set<int> widths;
    for (const SurfaceSpec& surface : brief.surfaces)
        widths.insert(copyWidth(surface, brief, met->size()));
    for (const int width : widths) {
        const auto copy = displayCopy(*met, width, copyQuality());
        if (!copy) return passOn(copy.error());
        if (auto done =
                keep(pieceId, fmt::format("display-{}", width), *copy, usualEnding(sniff(*copy)));
            !done)
            return passOn(done.error());
    }
    if (auto done = keep(pieceId, publishedName, *bytes, draft->extension().string()); !done)
        return passOn(done.error());
    std::error_code error;
    std::filesystem::remove(*draft, error);
    return {};
}

HostState StandInHost::state(const std::string& pieceId) const {
    const bool draft = kept(pieceId, draftName).has_value(),
               shown = kept(pieceId, publishedName).has_value();
    return draft   ? (shown ? HostState::draftOverPublished : HostState::draft)
           : shown ? HostState::published
                   : HostState::nothing;
}

std::optional<Path> StandInHost::accepted(const std::string& pieceId) const {
    const auto draft = kept(pieceId, draftName);
    return draft ? draft : kept(pieceId, publishedName);
}

std::optional<Path> StandInHost::published(const std::string& pieceId) const {
    return kept(pieceId, publishedName);
}

}  // namespace zl
