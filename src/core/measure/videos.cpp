// SPDX-License-Identifier: GPL-3.0-or-later
#include "measure/videos.h"

#include "film/clip_frames.h"
#include "film/known_films.h"

namespace zl {

void knowVideosOf(InkStore& store, const Path& kitFile) {
    store.knowFilms(filmsOf(kitFile));
    auto clips = std::make_shared<ClipFrames>();
    clips->kitLiesAt(kitFile);
    store.knowClips(std::move(clips));
}

}  // namespace zl
