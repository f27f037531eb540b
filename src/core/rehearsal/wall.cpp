// SPDX-License-Identifier: GPL-3.0-or-later
#include "rehearsal/wall.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>
#include <mutex>

#include "base/parallel.h"
#include "raster/resample.h"
#include "release/release.h"

namespace zl {
namespace {

struct Due {
    const WallPiece* piece;
    Sight sight;
};

std::vector<Due> dueOf(const std::vector<WallPiece>& pieces) {
    std::vector<Due> due;
    for (const WallPiece& piece : pieces) {
        if (!piece.brief || !piece.frame || piece.frame->empty()) continue;
        Posted posted;
        posted.length = piece.length;
        for (Sight& sight : sightsOf(*piece.brief, posted))
            if (sight.theme != "dark") due.push_back({&piece, std::move(sight)});
    }
    return due;
}

// The frames at the widths that surfaces show them, each made once.
class Copies {
  public:
    std::shared_ptr<const Straight8> at(const WallPiece& piece, int width) {
        const auto key = std::pair(&piece, width);
        {
            const std::scoped_lock lock(mutex_);
            if (const auto found = made_.find(key); found != made_.end()) return found->second;
        }
        auto copy = piece.frame;
        if (width != copy->width()) {
            const PixelSize size{
                width, std::max(1, static_cast<int>(std::lround(static_cast<double>(width) *
                                                                copy->height() / copy->width())))};
            copy = std::make_shared<const Straight8>(
                rounded8(resampled(copy, isOpaque(*copy), RealRect::of(copy->size()),
                                   RealRect::of(size), PixelRect::of(size))));
        }
        const std::scoped_lock lock(mutex_);
        return made_.emplace(key, copy).first->second;
    }

  private:
    std::mutex mutex_;
    std::map<std::pair<const WallPiece*, int>, std::shared_ptr<const Straight8>> made_;
};

}  // namespace

Straight8 within(const Straight8& picture, PixelSize most) {
    const double scale = std::min({1.0, static_cast<double>(most.width) / picture.width(),
                                   static_cast<double>(most.height) / picture.height()});
    if (scale >= 1) return picture.clone();
    const PixelSize size{std::max(1, static_cast<int>(std::lround(picture.width() * scale))),
                         std::max(1, static_cast<int>(std::lround(picture.height() * scale)))};
    const auto source = std::make_shared<const Straight8>(picture.clone());
    return rounded8(resampled(source, isOpaque(picture), RealRect::of(picture.size()),
                              RealRect::of(size), PixelRect::of(size)));
}

std::vector<WallPiece> wallPiecesOf(const Piece& piece, const Briefs& briefs,
                                    const std::shared_ptr<const Straight8>& frame) {
    std::vector<WallPiece> all;
    if (!frame) return all;
    const double length = piece.video ? piece.video->length : usualLength;
    if (const Brief* brief = briefs.find(piece.brief))
        all.push_back(
            {piece.id, piece.title, std::make_shared<const Brief>(*brief), asMet(frame), length});
    for (const Slice& slice : piece.slices) {
        const Brief* own = briefs.find(slice.brief);
        if (!own || slice.place.empty() ||
            slice.place.intersected(PixelRect::of(frame->size())) != slice.place)
            continue;
        all.push_back({piece.id, piece.title, std::make_shared<const Brief>(*own),
                       asMet(std::make_shared<const Straight8>(partOf(*frame, slice.place))),
                       length, slice.name});
    }
    return all;
}

std::size_t tilesOf(const std::vector<WallPiece>& pieces) {
    return dueOf(pieces).size();
}

Result<void> drawWall(const std::vector<WallPiece>& pieces, const std::string& channel,
                      PixelSize most, std::stop_token stop,
                      const std::function<void(std::size_t, Tile)>& told) {
    const std::vector<Due> due = dueOf(pieces);
    Copies copies;
    std::atomic<std::size_t> next{0};
    std::mutex mutex;
    std::optional<Error> failed;
    const auto work = [&] {
        for (std::size_t i = next++; i < due.size() && !stop.stop_requested(); i = next++) {
            const auto& [piece, sight] = due[i];
            Posted posted;
            posted.length = piece->length;
            posted.title = piece->title;
            posted.channel = channel;
            const auto surface = drawSurface(
                sight, *piece->brief, piece->frame->size(),
                [&, mine = piece](int width) { return copies.at(*mine, width); }, posted);
            // All themed ones are light here: their titles need not say it.
            constexpr std::string_view light = ", light";
            std::string title = sight.title;
            if (!sight.theme.empty() && title.ends_with(light))
                title.resize(title.size() - light.size());
            if (!piece->slice.empty()) title = piece->slice + ": " + title;
            Tile tile{piece->id, sight.id, std::move(title), {}};
            if (surface) tile.picture = within(surface->picture, most);
            const std::scoped_lock lock(mutex);
            if (!surface)
                failed = surface.error();
            else
                told(i, std::move(tile));
        }
    };
    Crew::mine().share(coreCount() - 1, work);
    if (stop.stop_requested()) return fail(Code::cancelled, "Cancelled.");
    if (failed) return passOn(*failed);
    return {};
}

}  // namespace zl
