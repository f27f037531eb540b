// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/release.h"

#include <fmt/core.h>

#include "words/words.h"

namespace zl {

OrderedJson receiptOf(const Released& r, const Piece& piece) {
    return {{"piece", piece.id},
            {"brief", piece.brief},
            {"file", r.file.filename().string()},
            {"content", factsOf(r.content).type},
            {"width", r.size.width},
            {"height", r.size.height},
            {"bytes", r.bytes},
            {"limit", r.limit ? OrderedJson(*r.limit) : OrderedJson(nullptr)},
            {"sha256", r.sha256},
            {"alpha_kept", r.alphaKept},
            {"readings", jsonOf(r.readings)}};
}

Result<Released> releasePiece(const Piece& piece, const Kit& kit, const Brief& brief, InkStore& store, const Path& folder, Replace replace,
                              std::stop_token stop, const std::function<void(double)>& progress) {
    std::error_code none;
    if (!std::filesystem::is_directory(folder, none))
        return fail(Code::unwritable, fmt::format("The folder {} is not there.", folder.string()), "Choose another folder.");
    const auto read = readPiece(piece, kit, brief, store, Weighing::exact, stop, progress);
    if (!read) return passOn(read.error());
    for (const Reading& reading : read->readings)
        if (reading.id == "weight" && reading.verdict == Verdict::fail)
            return fail(Code::limitNotMet, fmt::format("{} was not released. {}", piece.title, english(reading.says)));
    if (!read->outcome) return fail(Code::limitNotMet, fmt::format("{} cannot be encoded.", piece.title));
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
    for (const Path& path : {out.file, out.receipt})
        if (replace == Replace::no && std::filesystem::exists(path, none))
            return fail(Code::unwritable, fmt::format("{} stands there already.", path.string()),
                        "Choose another name, or ask for it to be replaced.");
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (auto done = writeFile(out.file, fitted.bytes, replace); !done) return passOn(done.error());
    const std::string receipt = written(receiptOf(out, piece));
    if (auto done = writeFile(out.receipt, {reinterpret_cast<const std::uint8_t*>(receipt.data()), receipt.size()}, replace); !done)
        return passOn(done.error());
    if (progress) progress(1);
    return out;
}

}  // namespace zl
