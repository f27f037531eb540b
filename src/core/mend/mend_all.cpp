// SPDX-License-Identifier: GPL-3.0-or-later
#include "mend/mend_all.h"

#include <fmt/core.h>

#include <algorithm>

namespace zl {
namespace {

// A mend may lead to another, never in circles for long.
constexpr int mostRounds = 16, mostTimes = 2;

// The mends to try now: the one asked for, or each offered one that asks no question.
std::vector<std::string> wanted(std::string_view id, const std::vector<Reading>& readings) {
    std::vector<std::string> ids;
    for (const Reading& reading : readings)
        for (const std::string& one : reading.mends) {
            const MendRow* row = findMend(one);
            if (row && (id == everyMend ? !row->asks : one == id)) ids.push_back(one);
        }
    return ids;
}

// Reads, mends, reads again. `read() -> Result<const std::vector<Reading>*>`, `apply(id) ->
// Result<void>`, `can(row)` whether a mend is for this.
template <class Read, class Apply, class Can>
Result<MendLog> rounds(std::string_view id, const Read& read, const Apply& apply, const Can& can) {
    MendLog log;
    std::vector<std::string> used;
    for (int round = 0; round < mostRounds; ++round) {
        const auto readings = read();
        if (!readings) return passOn(readings.error());
        auto ids = wanted(id, **readings);
        std::erase_if(ids, [&](const std::string& one) {
            return std::count(used.begin(), used.end(), one) >= (id == everyMend ? mostTimes : 1) ||
                   !can(*findMend(one));
        });
        if (ids.empty()) break;
        const std::string& now = ids.front();
        used.push_back(now);
        if (auto done = apply(now); done) {
            log.done.push_back(now);
        } else if (id == everyMend && done.error().code == Code::limitNotMet) {
            // One that cannot help does not keep the others from helping, and is not asked again.
            log.leftOut.push_back({now, done.error()});
            used.push_back(now);
        } else {
            return passOn(done.error());
        }
    }
    return log;
}

}  // namespace

Result<MendedKit> mendAll(std::string_view id, Kit kit, const std::string& pieceId,
                          const Briefs& briefs, InkStore& store, const std::stop_token& stop) {
    if (!kit.piece(pieceId))
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    const auto brief = briefOf(*kit.piece(pieceId), briefs);
    if (!brief) return passOn(brief.error());
    std::optional<PieceReadings> now;
    const auto read = [&]() -> Result<const std::vector<Reading>*> {
        auto known = readPiece({*kit.piece(pieceId), kit}, **brief, store, Weighing::exact, stop);
        if (!known) return passOn(known.error());
        now = std::move(*known);
        return &now->readings;
    };
    const auto apply = [&](const std::string& mend) -> Result<void> {
        auto next = mended(mend, kit, pieceId, **brief, store, stop);
        if (!next) return passOn(next.error());
        kit = std::move(*next);
        return {};
    };
    auto log = rounds(id, read, apply, [](const MendRow& row) { return row.onPiece != nullptr; });
    if (!log) return passOn(log.error());
    return MendedKit{std::move(kit), std::move(*log)};
}

Result<Kit> mendAllOfKit(std::string_view id, Kit kit, const std::string& pieceId,
                         const Briefs& briefs, InkStore& store,
                         const std::function<void(const std::string&, const MendLog&)>& told) {
    const Kit before = kit;
    for (const Piece& piece : before.pieces) {
        if (!pieceId.empty() && piece.id != pieceId) continue;
        auto one = mendAll(id, std::move(kit), piece.id, briefs, store);
        if (!one) return passOn(one.error());
        // A mend that is named is looked for in all pieces; where it is not needed is no news.
        if (id == everyMend || !pieceId.empty()) told(piece.id, one->log);
        kit = std::move(one->kit);
    }
    return kit;
}

Result<MendedBytes> mendAllOfFile(std::string_view id, Bytes bytes, const std::string& name,
                                  const std::string& written, const Brief& brief) {
    MendedBytes out{std::move(bytes), {}, {}};
    std::string now = name;
    const auto readAgain = [&]() -> Result<void> {
        auto known = readPictureFile(out.bytes, now, brief);
        if (!known) return passOn(known.error());
        out.read = std::move(*known);
        return {};
    };
    const auto apply = [&](const std::string& mend) -> Result<void> {
        auto next = mendedFile(mend, out.bytes, now, brief);
        if (!next) return passOn(next.error());
        out.bytes = std::move(next->bytes);
        now = written;
        return {};
    };
    if (id != everyMend) {
        const MendRow* row = findMend(id);
        if (row && !row->onFile)
            return fail(Code::badUsage,
                        fmt::format("The mend \"{}\" is for pieces, not for files.", id));
        if (auto done = apply(std::string(id)); !done) return passOn(done.error());
        out.log.done.emplace_back(id);
    } else {
        const auto read = [&]() -> Result<const std::vector<Reading>*> {
            if (auto done = readAgain(); !done) return passOn(done.error());
            return &out.read.readings;
        };
        auto log =
            rounds(id, read, apply, [](const MendRow& row) { return row.onFile != nullptr; });
        if (!log) return passOn(log.error());
        out.log = std::move(*log);
    }
    if (auto done = readAgain(); !done) return passOn(done.error());
    const auto named = contentByEnding(endingOf(written));
    if (!named || !factsOf(*named).written || *named == out.read.picture.facts.content) return out;
    // A file never ends in what it is not: the name that was asked for says what is written.
    constexpr int fine = 95;
    auto again = encode(*out.read.picture.pixels, {*named, *named == Content::webp ? 0 : fine,
                                                   Chroma::full, Effort::release});
    if (!again) return passOn(again.error());
    out.bytes = std::move(*again);
    now = written;
    if (auto done = readAgain(); !done) return passOn(done.error());
    return out;
}

}  // namespace zl
