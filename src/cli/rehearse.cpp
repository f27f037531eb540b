// SPDX-License-Identifier: GPL-3.0-or-later
// rehearse FILE --brief ID --out DIR: hands the file to the stand-in host, publishes it, writes
// each surface and rehearsal.json.
#include <fmt/core.h>

#include <memory>

#include "base/json.h"
#include "command.h"
#include "encode/encode.h"
#include "rehearsal/rehearse.h"

namespace zl::cli {
namespace {

struct RehearseAsked {
    std::string file, brief, title, out, show = "throughout", length;
};

Result<void> put(const Path& file, ByteView bytes, const Common& common) {
    return writeFile(file, bytes, common.replacing());
}

Result<OrderedJson> writeSurfaces(const std::vector<Surface>& surfaces, const Path& folder,
                                  const Common& common) {
    OrderedJson all = OrderedJson::array();
    for (const Surface& surface : surfaces) {
        const auto png = encode(surface.picture, {});
        if (!png) return passOn(png.error());
        const std::string name = surface.id + ".png";
        if (auto done = put(folder / name, *png, common); !done) return passOn(done.error());
        const PixelRect& r = surface.pieceRect;
        all.push_back({{"id", surface.id},
                       {"title", surface.title},
                       {"file", name},
                       {"width", surface.picture.width()},
                       {"height", surface.picture.height()},
                       {"piece_rect", {r.left, r.top, r.width(), r.height()}}});
    }
    return all;
}

Result<int> runRehearse(const RehearseAsked& asked, const Common& common) {
    const auto briefs = shippedBriefs();
    if (!briefs) return passOn(briefs.error());
    const auto brief = briefNamed(*briefs, asked.brief);
    if (!brief) return passOn(brief.error());
    Posted posted;
    const auto showing = parseShowing(asked.show);
    if (!showing) return passOn(showing.error());
    posted.showing = *showing;
    if (!asked.length.empty()) {
        const auto length = parseClock(asked.length);
        if (!length) return passOn(length.error());
        posted.length = *length;
    }
    if (auto good = checkShowing(posted.showing, posted.length); !good) return passOn(good.error());
    const bool plays =
        std::any_of((*brief)->surfaces.begin(), (*brief)->surfaces.end(),
                    [](const SurfaceSpec& s) { return s.kind == SurfaceKind::player; });
    if (!plays && asked.show != "throughout")
        return fail(Code::badUsage,
                    fmt::format("The brief {} has no player, so --show says nothing.", asked.brief),
                    "Leave it out.");
    std::error_code error;
    std::filesystem::create_directories(asked.out, error);
    if (!std::filesystem::is_directory(asked.out, error))
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", asked.out),
                    "Choose another folder.");
    const Path report = Path(asked.out) / "rehearsal.json";
    if (auto may = mayWrite(report, {asked.file}, common); !may) return passOn(may.error());
    posted.title = asked.title.empty() ? stemOf(asked.file) : asked.title;
    Errand errand{Path(asked.out) / "host", {}, fileNameFromTitle(stemOf(asked.file)), **brief};
    errand.posted = posted;
    errand.handOver = asked.file;
    errand.publish = true;
    const auto outcome = rehearse(errand);
    if (!outcome) return passOn(outcome.error());
    const HostAnswer& answer = outcome->answer;
    const auto surfaces = writeSurfaces(outcome->surfaces, asked.out, common);
    if (!surfaces) return passOn(surfaces.error());
    const OrderedJson json{
        {"accepted", answer.accepted},
        {"state", answer.accepted ? std::string(nameOf(outcome->state)) : "refused"},
        {"reasons", answer.reasons()},
        {"surfaces", *surfaces}};
    const std::string text = written(json);
    if (auto done =
            put(report, {reinterpret_cast<const std::uint8_t*>(text.data()), text.size()}, common);
        !done)
        return passOn(done.error());
    if (common.json) {
        print(json);
    } else {
        fmt::print("{}: {}\n", asked.file, answer.accepted ? "accepted" : "refused");
        for (const std::string& reason : answer.reasons()) fmt::print("  {}\n", reason);
        for (const auto& surface : *surfaces)
            fmt::print("  {}\n", (Path(asked.out) / surface["file"].get<std::string>()).string());
    }
    return answer.accepted ? Exit::done : Exit::readingFailed;
}

}  // namespace

std::function<Result<int>()> declareRehearse(Options& options, const Common& common) {
    const auto asked = std::make_shared<RehearseAsked>();
    options.value("file", asked->file, "The file that would be handed over").required();
    options.value("--brief", asked->brief, "The destination").required();
    options.value("--title", asked->title, "The title shown beside it (default: the file's name)");
    options.value("--show", asked->show,
                  "When a mark is on the player: throughout, from:SECONDS or closing");
    options.value("--length", asked->length, "The length of the video, as in 14:05 (default)");
    options
        .value("--out", asked->out,
               "The folder for the surfaces and rehearsal.json; it is made when it is missing")
        .required();
    return [asked, &common] { return runRehearse(*asked, common); };
}

}  // namespace zl::cli
