// SPDX-License-Identifier: GPL-3.0-or-later
#include "release/course.h"

#include <algorithm>
#include <cmath>

#include "film/clip_frames.h"

namespace zl {

Course::Course(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile)
    : piece_(piece), kit_(kit), rate_(rateOf(piece)) {
    auto clips = std::make_shared<ClipFrames>();
    clips->kitLiesAt(kitFile);
    store_.knowClips(clips);
}

Result<const Straight8*> Course::at(long long number, const std::stop_token& stop) {
    const double moment = static_cast<double>(number) * rate_.under / rate_.over;
    Piece now = atMoment(piece_, moment, store_);
    const View view{now, kit_, {}, For::release};
    PixelRect damage = PixelRect::of(piece_.frame);
    if (frame_.empty())
        frame_ = Straight8(piece_.frame);
    else
        damage = damageBetween(last_, view, store_);
    changed_ = !damage.empty();
    if (changed_)
        if (auto done = renderInto(frame_, damage, view, store_, stop); !done)
            return passOn(done.error());
    last_ = std::move(now);
    return &frame_;
}

PictureAt pictureAt(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile,
                    bool loops, std::stop_token stop) {
    struct Shown {
        Course course;
        std::shared_ptr<const Straight8> picture{};
        explicit Shown(const Piece& piece, const Kit& kit, const std::optional<Path>& kitFile)
            : course(piece, kit, kitFile) {}
    };
    const auto shown = std::make_shared<Shown>(piece, kit, kitFile);
    const long long count = frameCountOf(piece);
    return [=](double seconds) -> Result<std::shared_ptr<const Straight8>> {
        const FrameRate rate = shown->course.rate();
        // A moment that is a frame's own, but for rounding, is that frame's.
        constexpr double slip = 1e-6;
        auto number = static_cast<long long>(std::floor(seconds * rate.over / rate.under + slip));
        number = loops ? (number % count + count) % count : std::clamp(number, 0LL, count - 1);
        const auto frame = shown->course.at(number, stop);
        if (!frame) return passOn(frame.error());
        if (!shown->picture || shown->course.changed())
            shown->picture = std::make_shared<const Straight8>((*frame)->clone());
        return shown->picture;
    };
}

PictureAt madeInto(PictureAt from, PictureMade made) {
    struct Last {
        std::shared_ptr<const Straight8> from, made;
    };
    const auto last = std::make_shared<Last>();
    return [from = std::move(from), made = std::move(made),
            last](double seconds) -> Result<std::shared_ptr<const Straight8>> {
        const auto picture = from(seconds);
        if (!picture || *picture == last->from) return picture ? last->made : picture;
        auto now = made(*picture);
        if (now) *last = {*picture, *now};
        return now;
    };
}

}  // namespace zl
