// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/intake.h"

#include <algorithm>
#include <array>

#include "edit/edits.h"
#include "film/clip_frames.h"
#include "layout/new_layers.h"
#include "lettering/fonts.h"
#include "work/kit_files.h"

namespace zl::app {
namespace {

// Tells the end of one that comes in, whatever became of it.
struct Ended {
    const std::function<void()>& tell;
    ~Ended() { tell(); }
};

}  // namespace

bool isVideoName(const Path& file) {
    static constexpr std::array<std::string_view, 11> endings{
        ".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi", ".mpg", ".mpeg", ".ts", ".ogv", ".mxf"};
    return std::find(endings.begin(), endings.end(), endingOf(file)) != endings.end();
}

Intake::Intake(Document& document, Choice& choice, KitFiles& files, Jobs& jobs,
               std::shared_ptr<InkStore> inks, QObject* parent)
    : QObject(parent),
      document_(document),
      choice_(choice),
      files_(files),
      jobs_(jobs),
      inks_(std::move(inks)) {
    connect(&files, &KitFiles::opening, this, [this] {
        waiting_.clear();
        ++kit_;
    });
}

void Intake::bringInClip(const Path& file) {
    if (!choice_.piece()) {
        Q_EMIT told(tr("Start a piece first; then clips have a place to go."), true);
        return;
    }
    AsideEdit edit{.what = tr("Bring in a clip")};
    const std::string id = choice_.pieceId();
    edit.make = [file, id, kitFile = files_.path()](const Kit& kit, const std::stop_token& stop) {
        return withClipOf(kit, id, file, kitFile, stop);
    };
    edit.applied = [this, id, file] {
        rememberFile("recentVideos", file);
        const Piece* piece = document_.kit().piece(id);
        if (!piece || id != choice_.pieceId()) return;
        int newest = 0;
        for (const Layer& layer : piece->layers) newest = std::max(newest, layer.id);
        choice_.chooseLayer(newest);
    };
    document_.applyAside(jobs_, std::move(edit));
}

void Intake::bringInVideo(const Path& file) {
    rememberFile("recentVideos", file);
    Q_EMIT videoBrought(QString::fromStdString(file.string()));
}

void Intake::bringIn(const std::vector<Path>& files, bool reference) {
    for (const Path& file : files)
        if (isVideoName(file))
            bringInVideo(file);
        else
            waiting_.push_back({file, reference, choice_.pieceId()});
    next();
}

// One after the other, so that they lie in the order in which they were given.
void Intake::next() {
    if (coming_ || waiting_.empty()) return;
    coming_ = true;
    const Coming one = std::move(waiting_.front());
    waiting_.pop_front();
    const auto ended = [this] {
        coming_ = false;
        next();
    };
    aside(
        jobs_, this, [file = one.file] { return readFile(file); },
        [this, one, ended, number = kit_](Result<Bytes> bytes) {
            if (number != kit_) return ended();
            if (!bytes) {
                Q_EMIT told(QString::fromStdString(bytes.error().sentence()), true);
                return ended();
            }
            const std::string ending = endingOf(one.file), name = one.file.filename().string();
            if (ending == ".otf" || ending == ".ttf" || ending == ".ttc")
                return takeFont(std::move(*bytes), name, ended);
            rememberFile("recentPictures", one.file);
            take(std::move(*bytes), one, ended);
        });
}

void Intake::bringIn(Bytes bytes, const std::string& name, bool reference) {
    take(std::move(bytes), {name, reference, choice_.pieceId()}, [] {});
}

void Intake::take(Bytes bytes, const Coming& what, std::function<void()> ended) {
    const Piece* piece = document_.kit().piece(what.piece);
    if (!piece) {
        Q_EMIT told(tr("Start a piece first; then pictures have a place to go."), true);
        return ended();
    }
    struct Brought {
        Asset asset;
        PixelSize frame;
        PictureLayer picture;
    };
    // Decoded wholly before it may come in: a damaged picture never reaches the kit.
    aside(
        jobs_, this,
        [bytes = std::move(bytes), name = what.file.filename().string(), frame = piece->frame,
         store = inks_](const std::stop_token& stop) mutable -> Result<Brought> {
            Asset asset = makeAsset(std::move(bytes), name);
            const auto picture = store->picture(asset, stop);
            if (!picture) return passOn(picture.error());
            PictureLayer layer = newPicture(asset.sha256, *(*picture)->pixels, frame);
            return Brought{std::move(asset), frame, std::move(layer)};
        },
        [this, pieceId = what.piece, reference = what.reference, number = kit_,
         ended = std::move(ended)](const Result<Brought>& brought) {
            const Ended whenLeft{ended};
            if (!brought) {
                Q_EMIT told(QString::fromStdString(brought.error().sentence()), true);
                return;
            }
            const Kit& kit = document_.kit();
            const Piece* target = number == kit_ ? kit.piece(pieceId) : nullptr;
            if (!target) return;
            Layer layer;
            layer.name = cutToFit(stemOf(brought->asset.name));
            PictureLayer picture = brought->picture;
            if (target->frame != brought->frame)
                picture =
                    fillingFrame(picture.source, roundOutwards(picture.crop).size(), target->frame);
            picture.reference = reference;
            layer.what = picture;
            if (document_.apply(
                    withLayer(withAsset(kit, brought->asset), pieceId, layer),
                    reference ? tr("Bring in a reference") : tr("Bring in a picture")) &&
                pieceId == choice_.pieceId())
                choice_.chooseLayer(document_.kit().piece(pieceId)->layers.back().id);
        });
}

void Intake::takeFont(Bytes bytes, const std::string& name, std::function<void()> ended) {
    struct Brought {
        Asset font;
        std::string family;
    };
    aside(
        jobs_, this,
        [bytes = std::move(bytes), name, kit = document_.kit()]() mutable -> Result<Brought> {
            Asset font = makeAsset(std::move(bytes), name);
            const auto families = familiesIn(font);
            if (!families) return passOn(families.error());
            useFontsOf(withFont(kit, font));  // so that they are there when the interface asks
            return Brought{std::move(font), families->front()};
        },
        [this, number = kit_, ended = std::move(ended)](const Result<Brought>& brought) {
            const Ended whenLeft{ended};
            if (!brought) {
                Q_EMIT told(QString::fromStdString(brought.error().sentence()), true);
                return;
            }
            if (number != kit_) return;
            document_.apply(withFont(document_.kit(), brought->font), tr("Bring in a font"));
            Q_EMIT told(
                tr("The font %1 is in the kit now.").arg(QString::fromStdString(brought->family)),
                false);
        });
}

}  // namespace zl::app
