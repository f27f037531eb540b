// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/report.h"

#include <fmt/core.h>

#include "encode/encode.h"
#include "links/links.h"
#include "measure/measure.h"
#include "rehearsal/wall.h"
#include "words/page.h"
#include "words/words.h"

namespace zl {
namespace {

Result<std::string> pictureTag(const Straight8& picture, const std::string& says,
                               const char* cssClass) {
    constexpr int fine = 85;
    const bool opaque = isOpaque(picture);
    const auto bytes = encode(
        picture, opaque ? Encoding{Content::jpeg, fine, Chroma::full, Effort::quick} : Encoding{});
    if (!bytes) return passOn(bytes.error());
    return fmt::format(
        "<img class=\"{}\" width=\"{}\" height=\"{}\" alt=\"{}\" src=\"data:image/{};base64,{}\">",
        cssClass, picture.width(), picture.height(), escaped(says), opaque ? "jpeg" : "png",
        base64(*bytes));
}

std::string tableOf(const std::vector<Reading>& readings) {
    std::string rows;
    for (const Reading& r : readings) {
        std::string says = escaped(english(r.says));
        for (const Finding& finding : r.findings)
            if (const std::string one = english(finding.says); one != english(r.says))
                says += "<br><span class=\"soft\">" + escaped(one) + "</span>";
        rows +=
            fmt::format("<tr><td>{}</td><td>{}</td><td class=\"value\">{}</td><td>{}</td></tr>\n",
                        verdictTag(r.verdict), escaped(english({"reading." + r.id, {}})),
                        escaped(r.shown), says);
    }
    return "<table>\n" + rows + "</table>\n";
}

}  // namespace

Result<Report> reportOf(const Kit& kit, const Briefs& briefs, InkStore& store, std::stop_token stop,
                        const std::function<void(double)>& progress) {
    Report out;
    std::string body;
    const auto steps = static_cast<double>(kit.pieces.size());
    for (std::size_t i = 0; i < kit.pieces.size(); ++i) {
        const Piece& piece = kit.pieces[i];
        if (progress) progress(static_cast<double>(i) / steps);
        const Brief* brief = briefs.find(piece.brief);
        if (!brief) {
            body += fmt::format(
                "<section><h2>{}</h2><p>Its brief \"{}\" is not here; nothing can be "
                "measured.</p></section>\n",
                escaped(piece.title), escaped(piece.brief));
            continue;
        }
        const auto read = readPiece({piece, kit}, *brief, store, Weighing::exact, stop);
        if (!read && read.error().code == Code::cancelled) return passOn(read.error());
        if (!read) {  // the other pieces are still told of
            out.worst = Verdict::fail;
            body += fmt::format("<section><h2>{} &nbsp;{}</h2><p>{}</p></section>\n",
                                escaped(piece.title), verdictTag(Verdict::fail),
                                escaped(read.error().sentence()));
            continue;
        }
        const Verdict verdict = worstOf(read->readings);
        out.worst = std::max(out.worst, verdict);
        const auto frame = pictureTag(within(*read->frame, {640, 420}), piece.title, "frame");
        if (!frame) return passOn(frame.error());
        const std::vector<WallPiece> one = wallPiecesOf(piece, briefs, read->frame);
        std::vector<Tile> tiles(tilesOf(one));
        const auto drawn =
            drawWall(one, kit.title, {320, 240}, stop,
                     [&](std::size_t at, Tile tile) { tiles[at] = std::move(tile); });
        if (!drawn) return passOn(drawn.error());
        std::string figures;
        for (const Tile& tile : tiles) {
            const auto tag = pictureTag(tile.picture, tile.title, "surface");
            if (!tag) return passOn(tag.error());
            figures += fmt::format("<figure>{}<figcaption>{}</figcaption></figure>\n", *tag,
                                   escaped(tile.title));
        }
        body += fmt::format(
            "<section id=\"{}\">\n<h2>{} &nbsp;{}</h2>\n<p class=\"soft\">{} · {} × {} "
            "px</p>\n{}\n<h3>Readings</h3>\n{}",
            escaped(piece.id), escaped(piece.title), verdictTag(verdict), escaped(brief->title),
            piece.frame.width, piece.frame.height, *frame, tableOf(read->readings));
        if (!figures.empty()) body += "<h3>Where it is met</h3>\n" + figures;
        body += "</section>\n";
    }
    out.html = pageOf(escaped(kit.title),
                      fmt::format("<p>{} piece{}. Worst reading: {}.</p>\n{}", kit.pieces.size(),
                                  kit.pieces.size() == 1 ? "" : "s", verdictTag(out.worst), body));
    if (progress) progress(1);
    return out;
}

}  // namespace zl
