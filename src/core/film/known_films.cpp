// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/known_films.h"

#include <sys/stat.h>

#include "film/take_still.h"

namespace zl {

std::shared_ptr<KnownFilms> filmsOf(const Path& kitFile) {
    auto films = std::make_shared<KnownFilms>(stripFolder());
    films->kitLiesAt(kitFile);
    return films;
}

void KnownFilms::kitLiesAt(const std::optional<Path>& kitFile) {
    const Lock lock(mutex_);
    kitFile_ = kitFile;
}

std::shared_ptr<Strip> KnownFilms::stripOf(const Path& file, bool& there) const {
    struct stat found {};
    there = ::stat(file.c_str(), &found) == 0 && S_ISREG(found.st_mode);
    if (!there) return nullptr;
    Seen& seen = seen_[file];
    const long long changed = found.st_mtim.tv_sec * 1'000'000'000ll + found.st_mtim.tv_nsec;
    if (seen.size != found.st_size || seen.changed != changed)
        seen = {found.st_size, changed, identityOf(file)};
    if (!seen.strip) seen.strip = Strip::kept(folder_, seen.identity);
    return seen.strip;
}

void KnownFilms::holdAllAgainst(std::shared_ptr<const VideoMoments> moments) {
    const Lock lock(mutex_);
    ofAll_ = std::move(moments);
}

std::shared_ptr<const VideoMoments> KnownFilms::momentsOf(
    const std::optional<PieceVideo>& video) const {
    std::shared_ptr<Strip> strip;
    std::string identity, name;
    {
        const Lock lock(mutex_);
        if (ofAll_ || !video) return ofAll_;
        bool there = false;
        const Path file = videoAt(video->file, kitFile_);
        strip = stripOf(file, there);
        if (!strip) return nullptr;
        identity = seen_[file].identity;
        name = file.filename().string();
        if (const auto found = moments_.find(identity); found != moments_.end())
            return found->second;
    }
    auto made = zl::momentsOf(*strip, name);
    const Lock lock(mutex_);
    moments_.clear();  // a kit goes with one video or few: those of the last one are kept
    if (made) moments_[identity] = made;
    return made;
}

KnownFilms::Search KnownFilms::look(const PieceVideo& video, const std::string& sha256,
                                    const Straight8& picture, const RealRect& part) const {
    std::shared_ptr<Strip> strip;
    Question question;
    {
        const Lock lock(mutex_);
        bool there = false;
        const Path file = videoAt(video.file, kitFile_);
        strip = stripOf(file, there);
        if (!there) return {Known::gone};
        if (!strip) return {Known::notLookedThrough};
        question = {seen_[file].identity, sha256, part.x, part.y, part.width, part.height};
        if (const auto answer = answers_.find(question); answer != answers_.end())
            return {Known::lookedThrough, answer->second};
    }
    const auto looked = strip->looked();
    const auto first = strip->nearest(0);
    std::optional<FoundPicture> found;
    if (looked && first)
        found = findPicture(*looked, first->pixels.size(), picture, part,
                            [&](double time) -> std::optional<Straight8> {
                                auto near = strip->nearest(time);
                                if (!near) return {};
                                return std::move(near->pixels);
                            });
    const Lock lock(mutex_);
    constexpr std::size_t most = 1000;
    if (answers_.size() >= most) answers_.clear();
    answers_[question] = found;
    return {Known::lookedThrough, found};
}

}  // namespace zl
