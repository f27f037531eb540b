// SPDX-License-Identifier: GPL-3.0-or-later
// What is known of the videos that pieces go with: whether they are there, and where in them a
// picture is found. Only what Film has looked through already is read: nothing is decoded but small
// pictures of the strip. Safe from any thread.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <tuple>

#include "base/guarded.h"
#include "film/find_picture.h"
#include "film/moments.h"
#include "film/strip.h"
#include "kit/kit.h"

namespace zl {

class KnownFilms {
  public:
    explicit KnownFilms(Path stripFolder) : folder_(std::move(stripFolder)) {}
    void kitLiesAt(const std::optional<Path>& kitFile);

    enum class Known { gone, notLookedThrough, lookedThrough };
    struct Search {
        Known known = Known::gone;
        std::optional<FoundPicture> found{};
    };
    // What a mark of a piece that goes with this video is held against: of the video that was named
    // for all, else of its own, once that was looked through; nothing else.
    std::shared_ptr<const VideoMoments> momentsOf(const std::optional<PieceVideo>& video) const;
    void holdAllAgainst(std::shared_ptr<const VideoMoments> moments);
    // `part` of a picture whose original has that hash.
    Search look(const PieceVideo& video, const std::string& sha256, const Straight8& picture,
                const RealRect& part) const;

  private:
    // A file that did not change is the same video.
    struct Seen {
        long long size = -1, changed = 0;
        std::string identity{};
        std::shared_ptr<Strip> strip{};
    };
    std::shared_ptr<Strip> stripOf(const Path& file, bool& there) const ZL_REQUIRES(mutex_);

    const Path folder_;
    mutable Mutex mutex_;
    std::optional<Path> kitFile_ ZL_GUARDED_BY(mutex_);
    mutable std::map<Path, Seen> seen_ ZL_GUARDED_BY(mutex_);
    std::shared_ptr<const VideoMoments> ofAll_ ZL_GUARDED_BY(mutex_);
    mutable std::map<std::string, std::shared_ptr<const VideoMoments>> moments_
        ZL_GUARDED_BY(mutex_);  // by a video's identity
    using Question = std::tuple<std::string, std::string, double, double, double, double>;
    mutable std::map<Question, std::optional<FoundPicture>> answers_ ZL_GUARDED_BY(mutex_);
};

// Those that a kit in this file goes with, from the person's own strips.
std::shared_ptr<KnownFilms> filmsOf(const Path& kitFile);

}  // namespace zl
