// SPDX-License-Identifier: GPL-3.0-or-later
#include "measure/measure.h"

#include <fmt/core.h>

#include <array>
#include <cmath>

#include "base/file.h"
#include "base/json.h"
#include "base/parallel.h"
#include "encode/fit_memory.h"
#include "film/known_films.h"
#include "film/take_still.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"
#include "lettering/lettering.h"
#include "raster/resample.h"
#include "readings/alpha_sum.h"
#include "readings/bars.h"
#include "readings/edge_facts.h"
#include "readings/zones.h"
#include "words/words.h"

namespace zl {
namespace {

bool anyInk(const Ink& ink) {
    if (ink.box.empty()) return false;
    if (ink.opaque) return true;
    for (int y = 0; y < ink.box.height(); ++y)
        for (int x = 0; x < ink.box.width(); ++x)
            if (ink.eight ? alphaOf(ink.eight->row(y + ink.fromY)[x + ink.fromX]) > 0
                          : ink.sixteen->row(3, y)[x] > 0)
                return true;
    return false;
}

// Of a picture with alpha, what its edge is like before finishes; what lies far outside the frame
// is not looked at.
Result<std::shared_ptr<const EdgeFacts>> edgesOf(Layer layer, const Kit& kit, PixelSize frame,
                                                 InkStore& store, const std::stop_token& stop,
                                                 RealPoint& at) {
    layer.finishes.clear();
    const auto bare = store.ink(layer, kit, frame, stop);
    if (!bare) return passOn(bare.error());
    if (bare->opaque || bare->box.empty()) return nullptr;
    at = {static_cast<double>(bare->box.left), static_cast<double>(bare->box.top)};
    // An ink that only moved, or did not change at all, is not measured again.
    const auto facts = store.measured<EdgeFacts>(*bare, [&]() -> std::shared_ptr<const EdgeFacts> {
        auto raster = std::make_shared<const Straight8>(rounded8(*bare));
        if (isOpaque(*raster)) return std::make_shared<const EdgeFacts>();
        return std::make_shared<const EdgeFacts>(edgeFactsOf(std::move(raster), coreCount()));
    });
    return facts->ink ? facts : nullptr;
}

// The box a layer would take, whether it is shown or not.
PixelRect boxInFrame(const Layer& layer) {
    return roundOutwards(boundsOf(layer));
}

Result<std::vector<LayerFacts>> layerFacts(const Piece& piece, const Kit& kit, InkStore& store,
                                           const std::stop_token& stop) {
    std::vector<LayerFacts> all;
    for (const Layer& layer : piece.layers) {
        LayerFacts facts;
        facts.layer = layer.id;
        facts.rimMeant = layer.rimMeant;
        facts.box = boxInFrame(layer);
        const Asset* asset = assetOf(layer, kit);
        if (asset) facts.originalName = stemOf(asset->name);
        if (!layer.hidden && layer.opacity > 0) {
            auto ink = store.ink(layer, kit, piece.frame, stop);
            if (!ink) return passOn(ink.error());
            if (asset) {
                const auto times = store.timesDrawn(*layer.picture(), *asset, stop);
                if (!times) return passOn(times.error());
                facts.timesDrawn = *times;
                if (asset->bytes && sniff(*asset->bytes) == Content::svg)
                    if (const auto original = store.facts(*asset)) facts.held = original->held;
            }
            // What lies outside a large picture's drawn part is not looked at; outside the frame it
            // is told as such.
            facts.inked = facts.box.intersected(PixelRect::of(piece.frame)).empty() || anyInk(*ink);
            if (releasedPicture(layer) && facts.inked && !ink->opaque) {
                auto edges = edgesOf(layer, kit, piece.frame, store, stop, facts.edgesAt);
                if (!edges) return passOn(edges.error());
                facts.edges = std::move(*edges);
            }
            if (facts.inked && !ink->box.empty() && !layer.picture()) facts.box = ink->box;
            if (isEssential(layer, piece.frame) && !ink->box.empty())
                facts.sum = store.measured<AlphaSum>(
                    *ink, [&] { return std::make_shared<const AlphaSum>(*ink); });
            facts.ink = std::move(*ink);
            if (const LetteringLayer* letters = layer.lettering()) {
                Layer fill = layer;
                fill.finishes.clear();
                Layer rimmed = layer;
                std::erase_if(rimmed.finishes, [](const Finish& f) { return f.kind != "outline"; });
                auto filled = store.ink(fill, kit, piece.frame, stop),
                     outlined = store.ink(rimmed, kit, piece.frame, stop);
                const auto height = capHeight(*letters);
                if (!filled || !outlined || !height)
                    return passOn(!filled     ? filled.error()
                                  : !outlined ? outlined.error()
                                              : height.error());
                facts.fill = std::move(*filled);
                facts.outlined = std::move(*outlined);
                facts.capHeight = *height;
            }
        }
        all.push_back(facts);
    }
    return all;
}

// The part of a main picture that is shown, without black bars of its own.
RealRect partToFind(const PictureLayer& layer, const Picture& picture) {
    if (!picture.opaque) return layer.crop;
    const auto inside = insideBars(*picture.pixels);
    return inside ? layer.crop.intersected(RealRect::ofPixels(*inside)) : layer.crop;
}

Result<std::optional<FilmFacts>> filmFacts(const Piece& piece, const Kit& kit, InkStore& store,
                                           const std::stop_token& stop) {
    using Origin = FilmFacts::Origin;
    if (!piece.video) return std::nullopt;
    FilmFacts out;
    out.video = Path(piece.video->file).filename().string();
    const Layer* main = piece.layer(layerForStill(piece, 0));
    if (!main) {
        out.origin = Origin::noPicture;
        return out;
    }
    const PictureLayer& layer = *main->picture();
    out.layer = main->id;
    if (layer.still && layer.still->file == piece.video->file) {
        out.origin = Origin::taken;
        out.time = layer.still->time;
        return out;
    }
    const Asset* asset = kit.asset(layer.source);
    if (!store.films() || !asset) return out;
    const auto picture = store.picture(*asset, stop);
    if (!picture) return passOn(picture.error());
    const auto search = store.films()->look(*piece.video, asset->sha256, *(*picture)->pixels,
                                            partToFind(layer, **picture));
    switch (search.known) {
        case KnownFilms::Known::gone:
            break;
        case KnownFilms::Known::notLookedThrough:
            out.origin = Origin::notLookedThrough;
            break;
        case KnownFilms::Known::lookedThrough:
            out.origin = search.found ? Origin::found : Origin::notFound;
            out.time = search.found ? search.found->time : 0;
    }
    return out;
}

struct Bound {
    long long bytes = 0;
    Content content = Content::png;
};

// An upper bound of what the release will weigh, far sooner than the release's own encode. Where
// JPEG is allowed, one JPEG that fits proves that the outcome stays within the limit; else a quick
// PNG bounds the thorough one. Nothing: there is no quick way.
std::optional<Bound> quickBound(const Straight8& frame, const FitOptions& plan) {
    const auto allows = [&](Content content) {
        return std::find(plan.formats.begin(), plan.formats.end(), content) != plan.formats.end();
    };
    const bool exactPng =
        plan.exactly && plan.exactly->format == Content::png && !plan.exactly->palette;
    if (plan.limit && !plan.exactly && allows(Content::jpeg) && isOpaque(frame)) {
        constexpr int middling = 60;
        const auto jpeg = encode(frame, {Content::jpeg, middling, Chroma::half, Effort::quick});
        if (jpeg && static_cast<long long>(jpeg->size()) <= *plan.limit)
            return Bound{*plan.limit, allows(Content::png) ? Content::png : Content::jpeg};
    }
    if (plan.exactly && !exactPng) return {};
    if (!exactPng && !allows(Content::png)) return {};
    const auto png = encode(frame, {Content::png, 0, Chroma::full, Effort::quick});
    return png ? std::optional(Bound{static_cast<long long>(png->size()), Content::png})
               : std::nullopt;
}

struct Weighed {
    FileFacts file;
    std::shared_ptr<const Fitted> outcome;  // of an exact weighing that fits
};

// What the release would write, as far as `weighing` asks; an encoding that does not exist is told
// in the facts.
Result<Weighed> weigh(const Piece& piece, const Brief& brief, const Straight8& frame,
                      Weighing weighing, const std::stop_token& stop,
                      const std::function<void(double)>& progress) {
    Weighed out;
    const FitOptions plan = fitOptionsOf(piece, brief);
    const bool pngAllowed =
        std::find(plan.formats.begin(), plan.formats.end(), Content::png) != plan.formats.end();
    const bool aboutPng = plan.exactly ? plan.exactly->format == Content::png : pngAllowed;
    if (weighing == Weighing::quickBound)
        if (const auto bound = quickBound(frame, plan)) {
            out.file.bytes = bound->bytes;
            out.file.content = bound->content;
            out.file.exact = false;
            return out;
        }
    auto fitted = fitOnce(frame, plan, stop, progress);
    if (fitted) {
        out.file.bytes = static_cast<long long>(fitted->bytes.size());
        out.file.content = fitted->encoding.format;
        out.outcome = std::make_shared<const Fitted>(std::move(*fitted));
        return out;
    }
    if (fitted.error().code != Code::limitNotMet) return passOn(fitted.error());
    out.file.cannotFit = fitted.error().sentence();
    out.file.content = aboutPng ? Content::png : Content::jpeg;
    return out;
}

}  // namespace

FitOptions fitOptionsOf(const Piece& piece, const Brief& brief) {
    FitOptions plan;
    plan.limit = brief.limit;
    plan.matte = piece.release.matte;
    const ReleaseChoice& choice = piece.release;
    if (choice.format == FormatChoice::best) {
        for (const std::string& id : brief.formats)
            if (const auto content = contentById(id); content && factsOf(*content).written) {
                // A format without alpha is no candidate where alpha is wanted.
                if (brief.alpha != AlphaDemand::seeThrough || factsOf(*content).alpha)
                    plan.formats.push_back(*content);
            }
        return plan;
    }
    constexpr std::array<Content, 6> contents{Content::png, Content::png, Content::jpeg,
                                              Content::png, Content::gif, Content::webp};
    const Content content = contents[static_cast<std::size_t>(choice.format)];
    plan.formats = {content};
    const bool ofQuality = content == Content::jpeg || content == Content::webp;
    if (!ofQuality || choice.quality > 0) {
        plan.exactly = Encoding{content,
                                choice.quality,
                                choice.chroma == ChromaChoice::half ? Chroma::half : Chroma::full,
                                Effort::release,
                                choice.format == FormatChoice::palette,
                                choice.dither};
        plan.mayExceed = true;  // the reading tells by how much
    }
    return plan;
}

std::string releaseFileName(const Piece& piece, Content content) {
    const std::string& name = piece.release.name;
    return contentByEnding(endingOf(name)) ? name : name + usualEnding(content);
}

Result<PieceReadings> readPiece(const View& view, const Brief& brief, InkStore& store,
                                Weighing weighing, std::stop_token stop,
                                const std::function<void(double)>& progress) {
    return unlessTooLarge(view.piece.title, [&]() -> Result<PieceReadings> {
        const Piece& piece = view.piece;
        const Kit& kit = view.kit;
        PieceReadings out;
        auto frame = releaseFrame(view, store, stop);
        if (!frame) return passOn(frame.error());
        out.frame = std::make_shared<const Straight8>(std::move(*frame));
        // A quick bound is looked for while the readings are taken; an exact weighing has both
        // processors to itself, after them.
        std::optional<Result<Weighed>> weighed;
        const auto weighNow = [&] {
            weighed = weigh(piece, brief, *out.frame, weighing, stop, progress);
        };
        std::optional<Beside> beside;
        const bool moving = moves(piece);
        if (weighing == Weighing::quickBound && !moving) beside.emplace(weighNow);
        const auto layers = layerFacts(piece, kit, store, stop);
        if (!layers) return passOn(layers.error());
        Subject subject;
        subject.brief = &brief;
        subject.pixels = out.frame.get();
        subject.opaque = isOpaque(*out.frame);
        subject.piece = &piece;
        subject.layers = *layers;
        auto film = filmFacts(piece, kit, store, stop);
        if (!film) return passOn(film.error());
        subject.film = std::move(*film);
        if (brief.liesOverFootage() && store.films())
            subject.moments = store.films()->momentsOf(piece.video);
        std::optional<Error> trouble;
        out.readings = measureAll(subject, [&] {
            out.notes = noteSurfaces(subject);
            out.marks = edgeMarksOf(subject);
            if (moving) {
                // Its frames are no file of their own.
                subject.file.name = piece.release.name;
                return;
            }
            beside ? beside->finish() : weighNow();
            Result<Weighed>& known = *weighed;
            if (!known) return void(trouble = std::move(known.error()));
            out.outcome = std::move(known->outcome);
            subject.file = std::move(known->file);
            subject.file.name = releaseFileName(piece, subject.file.content);
            subject.file.alphaChannel = factsOf(subject.file.content).alpha && !subject.opaque;
        });
        if (trouble) return passOn(*trouble);
        return out;
    });
}

Result<FileReadings> readPictureFile(ByteView bytes, const std::string& name, const Brief& brief,
                                     const std::shared_ptr<const VideoMoments>& over) {
    return unlessTooLarge(name, [&]() -> Result<FileReadings> {
        auto picture = decode(bytes, name);
        if (!picture) return passOn(picture.error());
        FileReadings out;
        out.picture = std::move(*picture);
        out.bytes = static_cast<long long>(bytes.size());
        Subject subject;
        subject.brief = &brief;
        subject.pixels = out.picture.pixels.get();
        subject.opaque = out.picture.opaque;
        subject.file = {name,
                        out.bytes,
                        true,
                        out.picture.facts.content,
                        out.picture.facts.alphaChannel,
                        out.picture.facts.bitsPerChannel,
                        out.picture.facts.profileIsSrgb,
                        out.picture.facts.cmyk,
                        out.picture.facts.pages,
                        out.picture.facts.held.missing,
                        {}};
        subject.moments = over;
        if (!subject.opaque)
            subject.edges =
                std::make_shared<const EdgeFacts>(edgeFactsOf(out.picture.pixels, coreCount()));
        out.readings = measureAll(subject);
        return out;
    });
}

namespace {

OrderedJson jsonOf(const Value& value) {
    if (const auto* number = std::get_if<double>(&value)) {
        const bool whole = std::abs(*number) < 1e15 && *number == std::floor(*number);
        return whole ? OrderedJson(static_cast<long long>(*number)) : OrderedJson(*number);
    }
    if (const auto* pair = std::get_if<std::array<double, 2>>(&value))
        return OrderedJson::array(
            {static_cast<long long>((*pair)[0]), static_cast<long long>((*pair)[1])});
    return nullptr;
}

OrderedJson jsonOf(const Finding& finding) {
    OrderedJson json = OrderedJson::object();
    if (finding.rect)
        json["rect"] = {finding.rect->left, finding.rect->top, finding.rect->width(),
                        finding.rect->height()};
    if (finding.layer) json["layer"] = *finding.layer;
    json["says"] = english(finding.says);
    return json;
}

}  // namespace

OrderedJson jsonOf(const std::vector<Reading>& readings) {
    OrderedJson all = OrderedJson::array();
    for (const Reading& r : readings) {
        OrderedJson findings = OrderedJson::array();
        for (const Finding& finding : r.findings) findings.push_back(jsonOf(finding));
        all.push_back({{"id", r.id},
                       {"title", english({"reading." + r.id, {}})},
                       {"verdict", nameOf(r.verdict)},
                       {"value", jsonOf(r.value)},
                       {"limit", jsonOf(r.limit)},
                       {"unit", r.unit},
                       {"says", english(r.says)},
                       {"findings", findings},
                       {"mends", r.mends}});
    }
    return all;
}

Result<const Brief*> briefOf(const Piece& piece, const Briefs& briefs) {
    if (const Brief* brief = briefs.find(piece.brief)) return brief;
    return fail(
        Code::unreadable,
        fmt::format("Piece {} wants the brief \"{}\", which is not here.", piece.id, piece.brief),
        "Put it into your briefs folder.");
}

Result<Verdict> checkPieces(const Kit& kit, const std::string& pieceId, const Briefs& briefs,
                            InkStore& store,
                            const std::function<void(const Piece&, double)>& progress,
                            const std::function<void(const CheckedPiece&)>& told) {
    if (!pieceId.empty() && !kit.piece(pieceId))
        return fail(Code::badUsage, fmt::format("There is no piece \"{}\" in the kit.", pieceId));
    Verdict worst = Verdict::notMeasured;
    for (const Piece& piece : kit.pieces) {
        if (!pieceId.empty() && piece.id != pieceId) continue;
        const auto brief = briefOf(piece, briefs);
        if (!brief) return passOn(brief.error());
        auto read = readPiece({piece, kit}, **brief, store, Weighing::exact, {},
                              [&](double part) { progress(piece, part); });
        if (!read) return passOn(read.error());
        worst = std::max(worst, worstOf(read->readings));
        told({piece, **brief, std::move(*read)});
    }
    return worst;
}

OrderedJson jsonOf(const FileReadings& read, const Brief& brief) {
    const PictureFacts& facts = read.picture.facts;
    return {{"brief", brief.id},
            {"width", facts.size.width},
            {"height", facts.size.height},
            {"bytes", read.bytes},
            {"content", factsOf(facts.content).type},
            {"verdict", nameOf(worstOf(read.readings))},
            {"readings", jsonOf(read.readings)}};
}

}  // namespace zl
