// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/over_video_desk.h"

#include <QPointer>
#include <algorithm>

#include "base/parallel.h"
#include "film/clip_frames.h"
#include "raster/over.h"
#include "work/film_desk.h"

namespace zl::app {

OverVideoDesk::OverVideoDesk(Session& session, QObject* parent)
    : QObject(parent), session_(session) {}

OverVideoDesk::~OverVideoDesk() {
    stop_.request_stop();
}

void OverVideoDesk::takeMark() {
    const Piece* piece = session_.piece();
    if (!piece) return;
    moving_.reset();
    showsMoving_ = {};
    if (moves(*piece)) {
        const Brief* brief = session_.brief();
        moving_ = std::make_shared<const Moving>(Moving{
            session_.kit(), piece->id, session_.files().path(), brief && brief->moving.loops});
        showsMoving_ = moving_->pictures();
    }
    aside(
        session_.jobs(), &session_,
        [kit = session_.kit(), id = piece->id, inks = session_.inks(),
         moment = session_.clock().moment()] {
            return releaseFrame({*kit.piece(id), kit, moment}, *inks);
        },
        [this, there = QPointer(this)](Result<Straight8> frame) {
            if (!there) return;
            if (!frame) {
                Q_EMIT refused(QString::fromStdString(frame.error().sentence()));
                return;
            }
            mark_ = std::make_shared<const Straight8>(std::move(*frame));
            Q_EMIT opened();
        });
}

PictureAt OverVideoDesk::Moving::pictures(const std::stop_token& stop) const {
    return pictureAt(*kit.piece(piece), kit, file, loops, stop);
}

// Its facts first; then the strip, from the cache or made anew.
void OverVideoDesk::open(const Path& file) {
    file_ = file;
    facts_.reset();
    strip_.reset();
    video_.reset();
    opening_.post([this, file](const std::stop_token& stop) {
        const auto tell = [this, file](auto run) {
            QMetaObject::invokeMethod(
                this,
                [this, file, run = std::move(run)] {
                    if (file == file_) run();
                },
                Qt::QueuedConnection);
        };
        auto video = Video::open(file, stop);
        if (!video) {
            if (video.error().code != Code::cancelled)
                tell([this, sentence = QString::fromStdString(video.error().sentence())] {
                    Q_EMIT refused(sentence);
                });
            return;
        }
        auto second = video->again(stop, 1);
        if (!second) return;
        auto shows = std::make_shared<Video>(std::move(*video));
        tell([this, shows] {
            facts_ = shows->facts();
            video_ = shows;
            Q_EMIT opened();
        });
        const std::string identity = identityOf(file);
        auto strip = Strip::kept(stripFolder(), identity);
        if (!strip) {
            auto made = Strip::make(
                *second, stripFolder(), identity, {},
                [&](double part) {
                    tell([this, part] { Q_EMIT lookedThrough(std::min(part, 0.99)); });
                },
                stop);
            if (!made) {
                if (made.error().code != Code::cancelled)
                    tell([this, sentence = QString::fromStdString(made.error().sentence())] {
                        Q_EMIT refused(sentence);
                    });
                return;
            }
            strip = *made;
        }
        tell([this, strip] {
            strip_ = strip;
            Q_EMIT lookedThrough(1);
        });
    });
}

Result<OverVideoDesk::Dressed> OverVideoDesk::dressed(const std::shared_ptr<const Straight8>& mark,
                                                      const OverVideoWish& wish, PixelSize frame) {
    if (!mark || mark->empty()) return fail(Code::badUsage, "There is no piece to lay on it.");
    RealRect place = placeOf(wish.placing, mark->size(), frame);
    if (auto good = checkPlace(place, frame); !good) return passOn(good.error());
    if (wish.outline <= 0) return Dressed{mark, place};
    const double perPx = mark->width() / std::max(1.0, place.width);
    const OutlinedMark made = outlinedMark(mark, wish.outline * perPx);
    const double more = made.more / perPx;
    return Dressed{
        made.pixels,
        {place.x - more, place.y - more, place.width + 2 * more, place.height + 2 * more}};
}

void OverVideoDesk::measure(const OverVideoWish& wish) {
    if (!facts_ || !strip_ || !mark_) return;
    measuring_.post(
        [this, wish, mark = mark_, strip = strip_, facts = *facts_](const std::stop_token& stop) {
            const auto there = dressed(mark, wish, facts.shown);
            if (!there) return;
            LegibleQuestion question;
            question.mark = there->mark;
            question.placing = wish.placing;
            question.exactly = there->place;
            question.from = wish.time.from;
            question.to = wish.time.to;
            question.opacity = wish.time.opacity;
            auto legibility = legibilityOver(*strip, facts, question, stop);
            if (!legibility || stop.stop_requested()) return;
            auto told = std::make_shared<Legibility>(std::move(*legibility));
            QMetaObject::invokeMethod(
                this, [this, told] { Q_EMIT measured(*told); }, Qt::QueuedConnection);
        });
}

void OverVideoDesk::showAt(double seconds, const OverVideoWish& wish, QSize room) {
    if (!facts_ || !video_) return;
    showing_.post([this, seconds, wish, room, still = mark_, video = video_, moving = showsMoving_,
                   length = facts_->duration](const std::stop_token& stop) {
        const auto number = video->numberAt(std::clamp(seconds, 0.0, length));
        auto frame = number ? video->frame(*number, stop) : passOn(number.error());
        if (!frame || stop.stop_requested()) return;
        Straight8 seen = std::move(frame->pixels);
        const double weight = wish.time.weightAt(frame->time, length);
        auto mark = still;
        if (moving)
            if (const auto now = moving(std::max(0.0, frame->time - wish.time.from))) mark = *now;
        const auto there = dressed(mark, wish, seen.size());
        if (there && weight > 0) {
            const MarkInFrame placed(there->mark, there->place, seen.size());
            if (!placed.box().empty()) {
                std::array<Ink, 2> inks;
                inks[0].box = PixelRect::of(seen.size());
                inks[0].eight = std::make_shared<const Straight8>(seen.clone());
                inks[0].opaque = true;
                inks[1].box = placed.box();
                inks[1].eight = std::make_shared<const Straight8>(placed.pixels().clone());
                inks[1].opacity = static_cast<float>(weight);
                blendOver(inks, placed.box(), seen, coreCount());
            }
        }
        QImage image = imageOf(std::make_shared<const Straight8>(std::move(seen)))
                           .scaled(room, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        QMetaObject::invokeMethod(
            this, [this, image = std::move(image), at = frame->time] { Q_EMIT shown(image, at); },
            Qt::QueuedConnection);
    });
}

void OverVideoDesk::burn(const OverVideoWish& wish, int quality, long long limit, const Path& out,
                         Replace replace) {
    if (burning_ || !facts_ || !mark_) return;
    const auto container = videoContainerBy(endingOf(out));
    if (!container) {
        Q_EMIT refused(tr("Name the video with .mp4, .mkv or .webm at its end."));
        return;
    }
    const auto there = dressed(mark_, wish, facts_->shown);
    if (!there) {
        Q_EMIT refused(QString::fromStdString(there.error().sentence()));
        return;
    }
    burning_ = true;
    stop_ = std::stop_source();
    BurnPlan plan;
    plan.video = file_;
    plan.container = *container;
    plan.time = wish.time;
    plan.length = facts_->duration;
    plan.quality = quality;
    plan.limit = limit;
    aside(
        session_.jobs(), &session_,
        [this, session = &session_, desk = QPointer(this), plan, there = *there, facts = *facts_,
         out, replace, wish, moving = moving_,
         own = stop_](const std::stop_token& closing) mutable {
            const std::stop_callback stops(closing, [&own] { own.request_stop(); });
            BurnPlan whole = plan;
            const CodedMark coded = codedMark(there.mark, there.place, facts);
            whole.mark = coded.pixels;
            whole.left = coded.left;
            whole.top = coded.top;
            if (moving) {
                if (auto good = checkClips(*moving->kit.piece(moving->piece), moving->file); !good)
                    return Result<Burnt>(passOn(good.error()));
                whole.moving =
                    madeInto(moving->pictures(own.get_token()), [&](const auto& picture) {
                        auto now = dressed(picture, wish, facts.shown);
                        return now ? Result<std::shared_ptr<const Straight8>>(
                                         codedMark(now->mark, now->place, facts).pixels)
                                   : passOn(now.error());
                    });
            }
            return zl::burn(
                whole, out, replace,
                [this, session, desk](double part) {
                    QMetaObject::invokeMethod(
                        session,
                        [this, desk, part] {
                            if (desk) Q_EMIT progressed(part);
                        },
                        Qt::QueuedConnection);
                },
                own.get_token());
        },
        [this, desk = QPointer(this)](const Result<Burnt>& done) {
            if (!desk) return;
            burning_ = false;
            Q_EMIT burnt(done);
        });
}

}  // namespace zl::app
