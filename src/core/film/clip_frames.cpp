// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/clip_frames.h"

#include <fmt/core.h>
#include <sys/stat.h>

#include <algorithm>

#include "edit/edits.h"
#include "edit/stack.h"
#include "film/strip.h"
#include "film/take_still.h"
#include "kit/layer_kinds.h"
#include "kit/moving.h"
#include "picture/attention.h"

namespace zl {

// A video that is read by one thread at a time.
struct ClipFrames::Open {
    struct Kept {
        long long number = 0;
        bool quick = false;
        std::shared_ptr<const Picture> picture;
    };
    Path file;
    long long size = -1, changed = 0;
    Mutex mutex;
    std::optional<Video> video ZL_GUARDED_BY(mutex);
    std::list<Kept> last ZL_GUARDED_BY(mutex);
};

void ClipFrames::kitLiesAt(const std::optional<Path>& kitFile) {
    const Lock lock(mutex_);
    kitFile_ = kitFile;
}

std::shared_ptr<ClipFrames::Open> ClipFrames::opened(const std::string& remembered) {
    const Lock lock(mutex_);
    const Path file = videoAt(remembered, kitFile_);
    struct stat found {};
    if (::stat(file.c_str(), &found) != 0 || !S_ISREG(found.st_mode)) return nullptr;
    const long long changed = found.st_mtim.tv_sec * 1'000'000'000ll + found.st_mtim.tv_nsec;
    const auto same = [&](const std::shared_ptr<Open>& one) {
        return one->file == file && one->size == found.st_size && one->changed == changed;
    };
    if (const auto at = std::find_if(open_.begin(), open_.end(), same); at != open_.end()) {
        open_.splice(open_.begin(), open_, at);
        return open_.front();
    }
    auto made = std::make_shared<Open>();
    made->file = file;
    made->size = found.st_size;
    made->changed = changed;
    open_.push_front(made);
    constexpr std::size_t most = 6;  // videos that are open
    if (open_.size() > most) open_.pop_back();
    return made;
}

namespace {

// The video, opened when it is first asked for.
template <class OpenVideo>
Video* videoOf(OpenVideo& open) {
    if (!open.video)
        if (auto video = Video::open(open.file)) open.video.emplace(std::move(*video));
    return open.video ? &*open.video : nullptr;
}

template <class Frame>
Result<Straight8> pixelsIn(Result<Frame> frame) {
    if (!frame) return passOn(frame.error());
    return std::move(frame->pixels);
}

}  // namespace

std::optional<long long> ClipFrames::numberAt(const std::string& file, double seconds) {
    const auto open = opened(file);
    if (!open) return {};
    const Lock lock(open->mutex);
    Video* video = videoOf(*open);
    if (!video) return {};
    const auto number = video->numberAt(std::clamp(seconds, 0.0, video->facts().duration));
    return number ? std::optional(*number) : std::nullopt;
}

Result<std::shared_ptr<const Picture>> ClipFrames::frame(const std::string& file, long long number,
                                                         const std::stop_token& stop, bool quick) {
    const auto open = opened(file);
    const auto gone = [&] {
        return fail(Code::unreadable,
                    fmt::format("The video {} cannot be read.", Path(file).filename().string()),
                    "Look for it, or take its layer out.");
    };
    if (!open) return gone();
    const Lock lock(open->mutex);
    for (const Open::Kept& kept : open->last)
        if (kept.number == number && (quick || !kept.quick)) return kept.picture;
    Video* video = videoOf(*open);
    if (!video) return gone();
    const bool alpha = video->facts().alpha;
    const bool near = quick && !alpha;
    auto pixels =
        near ? pixelsIn(video->quick(number, stop)) : pixelsIn(video->frame(number, stop));
    if (!pixels) return passOn(pixels.error());
    auto picture = std::make_shared<Picture>();
    picture->facts.content = Content::png;
    picture->facts.size = pixels->size();
    picture->facts.alphaChannel = alpha;
    picture->opaque = !alpha || isOpaque(*pixels);
    picture->pixels = std::make_shared<const Straight8>(std::move(*pixels));
    open->last.push_front({number, near, picture});
    constexpr std::size_t most = 2;  // frames, for layers that show one twice
    if (open->last.size() > most) open->last.pop_back();
    return picture;
}

Result<void> checkClips(const Piece& piece, const std::optional<Path>& kitFile) {
    for (const Layer& layer : piece.layers) {
        const PictureLayer* picture = releasedPicture(layer);
        if (!picture || !picture->clip) continue;
        const Path file = videoAt(picture->clip->file, kitFile);
        const std::string identity = contentOf(file), name = file.filename().string();
        if (identity.empty())
            return fail(Code::unreadable,
                        fmt::format("The video {} of layer {} is not there.", name, layer.name),
                        "Look for it, or take its layer out.");
        if (identity != picture->clip->identity)
            return fail(Code::unreadable,
                        fmt::format("{} is another video than the one that layer {} was made with.",
                                    name, layer.name),
                        "Bring it in again, so that you see what it shows now.");
    }
    return {};
}

Result<Kit> withClip(const Kit& kit, const std::string& pieceId, Asset poster,
                     const Straight8& pixels, Clip clip) {
    if (auto good = checkClip(clip); !good) return passOn(good.error());
    const Piece* piece = kit.piece(pieceId);
    if (!piece) return fail(Code::badUsage, "That piece is gone.");
    const bool first =
        std::none_of(piece->layers.begin(), piece->layers.end(),
                     [](const Layer& layer) { return releasedPicture(layer) != nullptr; });
    Layer layer;
    layer.name = cutToFit(stemOf(clip.file));
    const PixelSize size = pixels.size();
    PictureLayer picture;
    if (first) {
        picture = fillingFrame(poster.sha256, size, piece->frame,
                               firstCrop(pixels, piece->frame.width, piece->frame.height));
    } else {
        const double by = std::min(static_cast<double>(piece->frame.width) / size.width,
                                   static_cast<double>(piece->frame.height) / size.height);
        picture.source = poster.sha256;
        picture.crop = RealRect::of(size);
        picture.place = {(piece->frame.width - size.width * by) / 2,
                         (piece->frame.height - size.height * by) / 2, size.width * by,
                         size.height * by};
    }
    picture.clip = std::move(clip);
    layer.what = picture;
    auto next = withLayer(withAsset(kit, std::move(poster)), pieceId, layer);
    if (!next || !first) return next;
    return withLayerMoved(*next, pieceId, next->piece(pieceId)->layers.back().id, 0);
}

Result<Kit> withClipOf(const Kit& kit, const std::string& pieceId, const Path& file,
                       const std::optional<Path>& kitFile, const std::stop_token& stop) {
    auto video = Video::open(file, stop);
    if (!video) return passOn(video.error());
    const VideoFacts& facts = video->facts();
    const auto frame = video->frame(facts.frames / 10, stop);
    if (!frame) return passOn(frame.error());
    auto poster = stillOf(*frame, file.filename().string());
    if (!poster) return passOn(poster.error());
    Clip clip;
    clip.file = rememberedAs(file, kitFile);
    clip.identity = contentOf(file);
    clip.length = facts.duration;
    clip.fps = facts.fps;
    clip.sounds = !facts.sound.empty();
    return withClip(kit, pieceId, std::move(*poster), frame->pixels, std::move(clip));
}

}  // namespace zl
