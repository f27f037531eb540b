// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/release.h"

#include <fmt/core.h>

#include "base/json.h"
#include "links/links.h"
#include "release/moving.h"
#include "words/words.h"

namespace zl {
namespace {

struct Written {
    Path path;
    Bytes bytes;
};

// A slice's own file: in the piece's format, under the limit of its own brief.
Result<Fitted> encodedSlice(const Straight8& frame, const Slice& slice, const Piece& piece,
                            const Brief& brief, const Briefs* briefs, const std::stop_token& stop) {
    const Brief* own = briefs ? briefs->find(slice.brief) : nullptr;
    return fitToLimit(partOf(frame, slice.place), fitOptionsOf(piece, own ? *own : brief), stop);
}

Bytes bytesOf(const std::string& text) {
    return {text.begin(), text.end()};
}

// Slices and pages, as they would stand beside the picture.
Result<std::vector<Written>> besidesOf(const Piece& piece, const Straight8& frame,
                                       const Brief& brief, const Briefs* briefs, const Path& file,
                                       std::string& pageRefused, const std::stop_token& stop) {
    std::vector<Written> all;
    const Path folder = file.parent_path();
    const auto page = [&](const std::vector<LinkRegion>& links, PixelSize size,
                          const std::string& picture, const std::string& stem) {
        if (links.empty()) return;
        if (auto html = imageMap(links, size, picture, piece.title))
            all.push_back({folder / (stem + ".html"), bytesOf(*html)});
        else
            pageRefused = html.error().sentence();
    };
    for (const Slice& slice : piece.slices) {
        const auto fitted = encodedSlice(frame, slice, piece, brief, briefs, stop);
        if (!fitted) return passOn(fitted.error());
        const std::string stem = stemOf(file) + "-" + slice.name,
                          name = stem + usualEnding(fitted->encoding.format);
        all.push_back({folder / name, fitted->bytes});
        page(linksWithin(piece.links, slice.place), slice.place.size(), name, stem);
    }
    page(piece.links, piece.frame, file.filename().string(), stemOf(file));
    return all;
}

}  // namespace

Result<Mapped> mapPiece(const Piece& piece, const Kit& kit, const Briefs& briefs,
                        const std::string& sliceName, const std::string& stem, InkStore& store,
                        std::stop_token stop) {
    return unlessTooLarge(piece.title, [&]() -> Result<Mapped> {
        const Brief* brief = briefs.find(piece.brief);
        if (!brief)
            return fail(Code::unreadable,
                        fmt::format("The brief \"{}\" is not here.", piece.brief));
        Slice part{"", PixelRect::of(piece.frame), piece.brief};
        if (!sliceName.empty()) {
            const auto found = std::find_if(piece.slices.begin(), piece.slices.end(),
                                            [&](const Slice& s) { return s.name == sliceName; });
            if (found == piece.slices.end())
                return fail(Code::badUsage, fmt::format("There is no slice \"{}\" in piece {}.",
                                                        sliceName, piece.id));
            part = *found;
        }
        const auto links = linksWithin(piece.links, part.place);
        if (links.empty())
            return fail(Code::badUsage,
                        fmt::format("There are no link regions in piece {}.", piece.id),
                        "Draw some over it first.");
        const auto frame = releaseFrame({piece, kit}, store, stop);
        if (!frame) return passOn(frame.error());
        auto fitted = encodedSlice(*frame, part, piece, *brief, &briefs, stop);
        if (!fitted) return passOn(fitted.error());
        Mapped out;
        out.pictureName = stem + usualEnding(fitted->encoding.format);
        out.picture = std::move(fitted->bytes);
        out.regions = links.size();
        auto html = imageMap(links, part.place.size(), out.pictureName, piece.title);
        if (!html) return fail(Code::limitNotMet, html.error().what, html.error().hint);
        out.html = std::move(*html);
        return out;
    });
}

OrderedJson jsonOf(const Moved& m) {
    return {{"codec", m.pictureCodec},
            {"sound", m.soundCodec.empty() ? OrderedJson(nullptr) : OrderedJson(m.soundCodec)},
            {"fps", m.rate.perSecond()},
            {"frames", m.frames},
            {"length", m.length},
            {"loudness", m.loudness ? OrderedJson(*m.loudness) : OrderedJson(nullptr)},
            {"passes", m.passes}};
}

std::string_view typeOf(const Released& r) {
    return r.moved ? factsOf(r.moved->kind).type : factsOf(r.content).type;
}

OrderedJson receiptOf(const Released& r, const Piece& piece) {
    OrderedJson json{{"piece", piece.id},
                     {"brief", piece.brief},
                     {"file", r.file.filename().string()},
                     {"content", typeOf(r)},
                     {"width", r.size.width},
                     {"height", r.size.height},
                     {"bytes", r.bytes},
                     {"limit", r.limit ? OrderedJson(*r.limit) : OrderedJson(nullptr)},
                     {"sha256", r.sha256},
                     {"alpha_kept", r.alphaKept},
                     {"readings", jsonOf(r.readings)}};
    if (!r.moved) return json;
    json.update(jsonOf(*r.moved));
    json["poster"] =
        r.beside.empty() ? OrderedJson(nullptr) : OrderedJson(r.beside.front().filename().string());
    return json;
}

Result<Released> releasePiece(const Piece& piece, const Kit& kit, const Brief& brief,
                              InkStore& store, const Path& folder, Replace replace,
                              std::stop_token stop, const std::function<void(double)>& progress,
                              const Briefs* briefs) {
    return unlessTooLarge(piece.title, [&]() -> Result<Released> {
        std::error_code none;
        if (!std::filesystem::is_directory(folder, none))
            return fail(Code::unwritable,
                        fmt::format("The folder {} is not there.", folder.string()),
                        "Choose another folder.");
        const auto read = readPiece({piece, kit}, brief, store, Weighing::exact, stop, progress);
        if (!read) return passOn(read.error());
        for (const Reading& reading : read->readings)
            if (reading.id == reading_id::weight && reading.verdict == Verdict::fail)
                return fail(Code::limitNotMet, fmt::format("{} was not released. {}", piece.title,
                                                           english(reading.says)));
        if (!read->outcome)
            return fail(Code::limitNotMet, fmt::format("{} cannot be encoded.", piece.title));
        const Fitted& fitted = *read->outcome;
        Released out;
        out.piece = piece.id;
        out.content = fitted.encoding.format;
        out.encoding = fitted.encoding;
        out.file = folder / releaseFileName(piece, out.content);
        out.receipt = folder / (stemOf(out.file) + ".receipt.json");
        out.size = read->frame->size();
        out.bytes = static_cast<long long>(fitted.bytes.size());
        out.limit = brief.limit;
        out.sha256 = sha256(fitted.bytes);
        out.alphaKept = fitted.alphaKept;
        out.difference = fitted.difference;
        out.tried = fitted.tried;
        out.readings = read->readings;
        const auto besides =
            besidesOf(piece, *read->frame, brief, briefs, out.file, out.pageRefused, stop);
        if (!besides) return passOn(besides.error());
        for (const Written& one : *besides) out.beside.push_back(one.path);
        std::vector<Path> all{out.file, out.receipt};
        all.insert(all.end(), out.beside.begin(), out.beside.end());
        for (const Path& path : all)
            if (replace == Replace::no && std::filesystem::exists(path, none))
                return fail(Code::unwritable,
                            fmt::format("{} stands there already.", path.string()),
                            "Choose another name, or ask for it to be replaced.");
        if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        const Bytes receipt = bytesOf(written(receiptOf(out, piece)));
        std::vector<FileToWrite> set{{out.file, fitted.bytes}};
        for (const Written& one : *besides) set.push_back({one.path, one.bytes});
        set.push_back({out.receipt, receipt});
        if (auto done = writeFiles(set, replace); !done) return passOn(done.error());
        if (progress) progress(1);
        return out;
    });
}

namespace {

ReleaseOutcome releaseOne(const Piece& piece, const ReleaseOrder& order, const Kit& kit,
                          const Briefs& briefs, InkStore& store, const std::stop_token& stop,
                          const std::function<void(double)>& progress) {
    const auto brief = briefOf(piece, briefs);
    if (!brief) return {piece.id, passOn(brief.error())};
    if (moves(piece))
        return {piece.id, releaseMoving(piece, kit, **brief, store, order.kitFile, order.folder,
                                        order.replace, order.posterAt, stop, progress)};
    const auto released = [&](const Piece& as) {
        return releasePiece(as, kit, **brief, store, order.folder, order.replace, stop, progress,
                            &briefs);
    };
    ReleaseOutcome out{piece.id, released(piece)};
    if (out.released || out.released.error().code != Code::limitNotMet || !order.bestInstead ||
        piece.release.format == FormatChoice::best)
        return out;
    Piece best = piece;
    best.release.format = FormatChoice::best;
    best.release.quality = 0;
    return {piece.id, released(best), true};
}

}  // namespace

Result<ReleaseOrder> orderFor(const Kit& kit, const Briefs& briefs,
                              const std::vector<std::string>& named, const Path& folder) {
    for (const std::string& id : named)
        if (!kit.piece(id))
            return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", id));
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (!std::filesystem::is_directory(folder, error))
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", folder.string()),
                    "Choose another folder.");
    ReleaseOrder order{{}, folder};
    for (const Piece& piece : kit.pieces) {
        // A variant is a try that is kept beside its piece: it goes out when it is asked for.
        const bool wanted = named.empty()
                                ? piece.variantOf.empty()
                                : std::find(named.begin(), named.end(), piece.id) != named.end();
        if (!wanted) continue;
        if (auto brief = briefOf(piece, briefs); !brief) return passOn(brief.error());
        order.pieces.push_back(piece.id);
    }
    return order;
}

OrderedJson jsonOf(const Released& r) {
    const bool ofQuality =
        r.content == Content::jpeg || (r.content == Content::webp && r.encoding.quality > 0);
    OrderedJson beside = OrderedJson::array();
    for (const Path& path : r.beside) beside.push_back(path.string());
    OrderedJson json{
        {"piece", r.piece},
        {"out", r.file.string()},
        {"receipt", r.receipt.string()},
        {"content", typeOf(r)},
        {"bytes", r.bytes},
        {"limit", r.limit ? OrderedJson(*r.limit) : OrderedJson(nullptr)},
        {"quality", ofQuality ? OrderedJson(r.encoding.quality) : OrderedJson(nullptr)},
        {"alpha_kept", r.alphaKept},
        {"difference", {{"ssim", r.difference.ssim}, {"de00_p99", r.difference.de00P99}}},
        {"tried", jsonOf(r.tried)},
        {"beside", beside},
        {"verdict", nameOf(worstOf(r.readings))}};
    if (r.moved) json.update(jsonOf(*r.moved));
    return json;
}

OrderedJson jsonOf(const std::vector<ReleaseOutcome>& all) {
    OrderedJson files = OrderedJson::array(), refused = OrderedJson::array();
    for (const ReleaseOutcome& one : all)
        if (one.released)
            files.push_back(jsonOf(*one.released));
        else
            refused.push_back({{"piece", one.piece}, {"says", one.released.error().sentence()}});
    OrderedJson json = files.size() == 1 ? files.front() : OrderedJson::object();
    json["files"] = std::move(files);
    json["refused"] = std::move(refused);
    return json;
}

Verdict worstOf(const std::vector<ReleaseOutcome>& all) {
    Verdict worst = Verdict::pass;
    for (const ReleaseOutcome& one : all)
        worst = std::max(worst, one.released ? worstOf(one.released->readings) : Verdict::fail);
    return worst;
}

std::vector<ReleaseOutcome> releaseAll(const ReleaseOrder& order, const Kit& kit,
                                       const Briefs& briefs, InkStore& store,
                                       const std::stop_token& stop,
                                       const std::function<void(const Piece&, double)>& progress,
                                       const std::function<void(const ReleaseOutcome&)>& told) {
    std::vector<ReleaseOutcome> all;
    for (const std::string& id : order.pieces) {
        const Piece* piece = kit.piece(id);
        if (!piece) continue;
        all.push_back(releaseOne(*piece, order, kit, briefs, store, stop, [&](double part) {
            if (progress) progress(*piece, part);
        }));
        if (told) told(all.back());
        if (stop.stop_requested()) break;
    }
    return all;
}

}  // namespace zl
