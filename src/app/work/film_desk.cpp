// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/film_desk.h"

#include <algorithm>
#include <cmath>

#include "readings/bars.h"

namespace zl::app {
namespace {

constexpr int inStrip = 20, proposals = 8, smallWidth = 168;
constexpr PixelSize placeRoom{160, 90}, proposalRoom{336, 192};  // px

FilmFrame filmFrame(SeenFrame frame, Nearness nearness) {
    return {frame.number, frame.time,
            imageOf(std::make_shared<const Straight8>(std::move(frame.pixels))), nearness};
}

FilmFrame filmFrame(VideoFrame frame) {
    FilmFrame out{frame.number, frame.time, {}};
    if (isOpaque(frame.pixels)) out.bars = insideBars(frame.pixels);
    const auto whole = std::make_shared<const VideoFrame>(std::move(frame));
    out.image = imageOf({whole, &whole->pixels});
    out.whole = whole;
    return out;
}

}  // namespace

QImage imageOf(std::shared_ptr<const Straight8> raster) {
    const Straight8& pixels = *raster;
    return QImage(
        pixels.bytes(), pixels.width(), pixels.height(), pixels.width() * 4,
        QImage::Format_RGBA8888,
        [](void* held) { delete static_cast<std::shared_ptr<const Straight8>*>(held); },
        new std::shared_ptr<const Straight8>(std::move(raster)));
}

// On the interface thread, unless another video was opened meanwhile.
template <class Done>
void FilmDesk::back(int serial, Done done) {
    QMetaObject::invokeMethod(
        this,
        [this, serial, done = std::move(done)]() mutable {
            if (serial == serial_) done();
        },
        Qt::QueuedConnection);
}

void FilmDesk::close() {
    for (LatestJob* job : {&opening_, &frames_, &nearing_, &stripping_, &searching_}) job->cancel();
    ++serial_;
    exact_.reset();
    keys_.reset();
    strip_.reset();
    facts_.reset();
    places_.clear();
    cuts_.clear();
    file_.clear();
    last_ = 0;
    looking_ = false;
}

void FilmDesk::open(const Path& file) {
    close();
    file_ = file;
    opening_.post([this, file, serial = serial_](const std::stop_token& stop) {
        auto video = Video::open(file, stop);
        if (stop.stop_requested()) return;
        if (!video)
            return back(serial, [this, sentence = video.error().sentence()] {
                Q_EMIT refused(QString::fromStdString(sentence));
            });
        back(serial, [this, serial, opened = std::make_shared<Video>(std::move(*video))] {
            begin(opened, serial);
        });
    });
}

// Each purpose gets a reader of its own, so that nobody waits for another; that reads no index.
void FilmDesk::begin(const std::shared_ptr<Video>& video, int serial) {
    exact_ = video;
    facts_ = video->facts();
    within_ = {0, facts_->duration};
    opening_.post([this, video, serial](const std::stop_token& stop) {
        // A key frame is there no sooner with several threads.
        auto keys = video->again(stop, 1);
        if (!keys) return;
        back(serial, [this, serial, keys = std::make_shared<Video>(std::move(*keys))] {
            keys_ = keys;
            makeStrip(serial);
            search(serial);
            Q_EMIT opened();
        });
    });
}

std::function<Result<Video>(const std::stop_token&)> FilmDesk::player() const {
    if (!exact_) return {};
    return [video = exact_](const std::stop_token& stop) { return video->again(stop); };
}

void FilmDesk::askFor(Number number) {
    if (!exact_) return;
    frames_.post([this, video = exact_, number = std::move(number),
                  serial = serial_](const std::stop_token& stop) {
        const auto at = number(*video, stop);
        if (!at || stop.stop_requested()) return;
        auto frame = video->frame(*at, stop);
        if (stop.stop_requested()) return;
        if (!frame)
            return back(serial, [this, sentence = frame.error().sentence()] {
                Q_EMIT refused(QString::fromStdString(sentence));
            });
        back(serial, [this, made = filmFrame(std::move(*frame))] {
            last_ = made.number;
            Q_EMIT arrived(made);
        });
    });
}

void FilmDesk::ask(long long number) {
    last_ = number;
    askFor([number](Video&, const std::stop_token&) -> Result<long long> { return number; });
}

void FilmDesk::askAt(double seconds) {
    askFor([seconds](Video& video, const std::stop_token&) { return video.numberAt(seconds); });
}

void FilmDesk::askCut(bool on) {
    if (!facts_) return;
    askFor([from = last_, on, cuts = cuts_, last = facts_->frames - 1](
               Video& video, const std::stop_token& stop) -> Result<long long> {
        if (on) {
            for (const HardCut& cut : cuts) {
                if (cut.number <= from) continue;
                const auto first = firstOfShot(video, cut, stop);
                if (!first || *first > from) return first;
            }
            return last;
        }
        for (auto cut = cuts.rbegin(); cut != cuts.rend(); ++cut) {
            if (cut->before + 1 >= from) continue;
            const auto first = firstOfShot(video, *cut, stop);
            if (!first || *first < from) return first;
        }
        return 0;
    });
}

void FilmDesk::nearAt(double seconds, QSize room) {
    if (!keys_ || !facts_) return;
    nearing_.post([this, keys = keys_, strip = strip_, seconds, room,
                   serial = serial_](const std::stop_token& stop) {
        constexpr double near = 0.3;  // s: nearer than a key frame mostly is
        const auto there = strip ? strip->nearestTime(seconds) : std::nullopt;
        if (there && std::abs(*there - seconds) <= near)
            if (auto picture = strip->nearest(seconds))
                return back(serial,
                            [this, made = filmFrame(
                                       {std::move(picture->pixels), picture->number, picture->time},
                                       Nearness::strip)] { Q_EMIT neared(made); });
        const auto number = keys->numberAt(seconds);
        if (!number) return;
        auto frame = keys->keyFrame(*number, {room.width(), room.height()}, stop);
        if (!frame || stop.stop_requested()) return;
        back(serial,
             [this, made = filmFrame(std::move(*frame), Nearness::key)] { Q_EMIT neared(made); });
    });
}

void FilmDesk::placesFrom(const std::vector<FilmFrame>& places) {
    places_ = places;
    Q_EMIT stripGrew();
}

void FilmDesk::stripIs(const std::shared_ptr<Strip>& strip) {
    strip_ = strip;
    const auto looked = strip->looked();
    if (!looked) return;
    cuts_ = looked->cuts;
    looking_ = false;
    Q_EMIT progressed(1);
    Q_EMIT stripGrew();
    Q_EMIT lookedThrough();
    search(serial_);
}

// Key frames along it at once; then the strip that is kept, or is made now.
void FilmDesk::makeStrip(int serial) {
    looking_ = true;
    stripping_.post([this, video = exact_, file = file_, folder = cacheFolder_,
                     serial](const std::stop_token& stop) {
        // Of a large video each thread that decodes takes a hundred megabytes.
        constexpr long long large = 4'000'000;  // px
        auto own = video->again(stop, video->facts().size.count() > large ? 1 : 0);
        if (!own) return;
        const std::string identity = identityOf(file);
        auto strip = Strip::kept(folder, identity);
        std::vector<FilmFrame> places;
        const auto placed = [&](const std::function<std::optional<FilmFrame>(double)>& at) {
            places.clear();
            for (int i = 0; i < inStrip && !stop.stop_requested(); ++i)
                if (auto frame = at(own->facts().duration * (i + 0.5) / inStrip))
                    places.push_back(std::move(*frame));
            back(serial, [this, places] { placesFrom(places); });
        };
        const auto fromStrip = [&](double seconds) -> std::optional<FilmFrame> {
            auto picture = strip->nearest(seconds);
            if (!picture) return {};
            FilmFrame out = filmFrame({std::move(picture->pixels), picture->number, picture->time},
                                      Nearness::strip);
            out.image = out.image.scaled(placeRoom.width, placeRoom.height, Qt::KeepAspectRatio,
                                         Qt::SmoothTransformation);
            return out;
        };
        if (!strip) {
            placed([&](double seconds) -> std::optional<FilmFrame> {
                const auto number = own->numberAt(seconds);
                if (!number) return {};
                auto frame = own->keyFrame(*number, placeRoom, stop);
                if (!frame) return {};
                return filmFrame(std::move(*frame), Nearness::key);
            });
            auto made = Strip::make(
                *own, folder, identity,
                [&](const std::shared_ptr<Strip>& begun) {
                    back(serial, [this, begun] { strip_ = begun; });
                },
                [&](double part) {
                    back(serial, [this, part] { Q_EMIT progressed(std::min(part, 0.999)); });
                },
                stop);
            if (!made) {
                if (made.error().code != Code::cancelled)
                    back(serial, [this, sentence = made.error().sentence()] {
                        looking_ = false;
                        Q_EMIT progressed(1);
                        Q_EMIT refused(QString::fromStdString(sentence));
                    });
                return;
            }
            strip = *made;
        }
        placed(fromStrip);
        back(serial, [this, strip] { stripIs(strip); });
    });
}

void FilmDesk::stopLooking() {
    stripping_.cancel();
    looking_ = false;
    Q_EMIT progressed(1);
}

bool FilmDesk::tell(Video& video, const std::vector<Candidate>& found, Nearness nearness,
                    int serial, const std::stop_token& stop) {
    std::vector<FilmFrame> frames;
    std::vector<Candidate> reasons;
    for (const Candidate& candidate : found) {
        if (nearness == Nearness::key) {
            auto frame = video.keyFrame(candidate.number, proposalRoom, stop);
            if (!frame) continue;
            frames.push_back(filmFrame(std::move(*frame), nearness));
        } else {
            auto frame = video.frame(candidate.number, stop);
            if (!frame) continue;
            frames.push_back({candidate.number, candidate.time,
                              imageOf(std::make_shared<const Straight8>(std::move(frame->pixels)))
                                  .scaledToWidth(2 * smallWidth, Qt::SmoothTransformation)});
        }
        frames.back().number = candidate.number;
        frames.back().time = candidate.time;
        reasons.push_back(candidate);
    }
    if (stop.stop_requested()) return false;
    back(serial, [this, frames, reasons] { Q_EMIT proposed(frames, reasons); });
    return true;
}

void FilmDesk::propose(const Span& within) {
    if (within == within_) return;
    within_ = within;
    search(serial_);
}

// The thirds at once, from key frames near them; then exact; then, when it is looked through, the
// best others.
void FilmDesk::search(int serial) {
    searching_.post([this, video = exact_, strip = strip_, within = within_,
                     serial](const std::stop_token& stop) {
        auto own = video->again(stop);
        if (!own) return;
        const auto looked = strip ? strip->looked() : std::nullopt;
        if (!looked) {
            const std::vector<Candidate> thirds = thirdsOf(*own, within);
            if (tell(*own, thirds, Nearness::key, serial, stop))
                tell(*own, thirds, Nearness::exact, serial, stop);
            return;
        }
        const auto found = candidatesAmong(*looked, *own, proposals, within, stop);
        if (found) tell(*own, *found, Nearness::exact, serial, stop);
    });
}

}  // namespace zl::app
