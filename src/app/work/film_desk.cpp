// SPDX-License-Identifier: GPL-3.0-or-later
#include "work/film_desk.h"

#include <algorithm>
#include <cmath>

namespace zl::app {
namespace {

constexpr int inStrip = 16, proposals = 8, smallWidth = 168;

QImage imageOf(const Straight8& raster) {
    return QImage(raster.bytes(), raster.width(), raster.height(), raster.width() * 4,
                  QImage::Format_RGBA8888)
        .copy();
}

FilmFrame filmFrame(const VideoFrame& frame, int width) {
    FilmFrame out{frame.number, frame.time, imageOf(frame.pixels), frame.toned};
    if (width > 0) out.image = out.image.scaledToWidth(width, Qt::SmoothTransformation);
    return out;
}

}  // namespace

QString clockWords(double seconds) {
    const auto ms = static_cast<long long>(std::llround(std::max(0.0, seconds) * 1000));
    return QString("%1:%2.%3")
        .arg(ms / 60'000)
        .arg(ms / 1000 % 60, 2, 10, QChar('0'))
        .arg(ms % 1000, 3, 10, QChar('0'));
}

void FilmDesk::close() {
    for (LatestJob* job : {&opening_, &frames_, &stripping_, &searching_}) job->cancel();
    ++serial_;
    exact_.reset();
    facts_.reset();
    strip_.clear();
    file_.clear();
}

void FilmDesk::open(const Path& file) {
    close();
    file_ = file;
    opening_.post([this, file, serial = serial_](const std::stop_token& stop) {
        auto video = Video::open(file, stop);
        if (stop.stop_requested()) return;
        auto opened = std::make_shared<Result<Video>>(std::move(video));
        QMetaObject::invokeMethod(
            this,
            [this, opened, serial] {
                if (serial != serial_) return;
                if (!*opened) {
                    Q_EMIT refused(QString::fromStdString(opened->error().sentence()));
                    return;
                }
                exact_ = std::make_shared<Video>(std::move(**opened));
                facts_ = exact_->facts();
                fillStrip(serial);
                search(serial);
                Q_EMIT this->opened();
            },
            Qt::QueuedConnection);
    });
}

void FilmDesk::askFor(std::function<Result<long long>(const Video&)> number) {
    if (!exact_) return;
    frames_.post([this, video = exact_, number = std::move(number),
                  serial = serial_](const std::stop_token& stop) {
        const auto at = number(*video);
        if (!at) return;
        const auto frame = video->frame(*at, stop);
        if (stop.stop_requested()) return;
        auto made = std::make_shared<Result<FilmFrame>>(
            frame ? Result<FilmFrame>(filmFrame(*frame, 0)) : passOn(frame.error()));
        QMetaObject::invokeMethod(
            this,
            [this, made, serial] {
                if (serial != serial_) return;
                if (*made)
                    Q_EMIT arrived(**made);
                else
                    Q_EMIT refused(QString::fromStdString(made->error().sentence()));
            },
            Qt::QueuedConnection);
    });
}

void FilmDesk::ask(long long number) {
    askFor([number](const Video&) -> Result<long long> { return number; });
}

void FilmDesk::askAt(double seconds) {
    askFor([seconds](const Video& video) { return video.numberAt(seconds); });
}

const FilmFrame* FilmDesk::nearest(double seconds) const {
    const auto at =
        std::min_element(strip_.begin(), strip_.end(), [&](const FilmFrame& a, const FilmFrame& b) {
            return std::abs(a.time - seconds) < std::abs(b.time - seconds);
        });
    return at == strip_.end() ? nullptr : &*at;
}

// A format context and a decoder of its own, so that nobody waits for it.
void FilmDesk::fillStrip(int serial) {
    stripping_.post([this, file = file_, serial](const std::stop_token& stop) {
        auto video = Video::open(file, stop);
        if (!video) return;
        for (int i = 0; i < inStrip && !stop.stop_requested(); ++i) {
            const auto at = video->numberAt(video->facts().duration * (i + 0.5) / inStrip);
            const auto frame = at ? video->frame(*at, stop) : passOn(at.error());
            if (!frame) continue;
            QMetaObject::invokeMethod(
                this,
                [this, small = filmFrame(*frame, smallWidth), serial] {
                    if (serial != serial_) return;
                    strip_.push_back(small);
                    Q_EMIT stripGrew();
                },
                Qt::QueuedConnection);
        }
    });
}

void FilmDesk::search(int serial) {
    searching_.post([this, file = file_, serial](const std::stop_token& stop) {
        auto video = Video::open(file, stop);
        if (!video) return;
        const auto told = [this, serial](double part) {
            QMetaObject::invokeMethod(
                this,
                [this, part, serial] {
                    if (serial == serial_) Q_EMIT progressed(part);
                },
                Qt::QueuedConnection);
        };
        const auto found = candidatesOf(*video, proposals, stop, told);
        if (!found) return;
        std::vector<FilmFrame> frames;
        std::vector<Candidate> reasons;
        for (const Candidate& candidate : *found) {
            const auto frame = video->frame(candidate.number, stop);
            if (!frame) continue;
            frames.push_back(filmFrame(*frame, smallWidth));
            reasons.push_back(candidate);
        }
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this,
            [this, frames = std::move(frames), reasons = std::move(reasons), serial] {
                if (serial == serial_) Q_EMIT proposed(frames, reasons);
            },
            Qt::QueuedConnection);
    });
}

}  // namespace zl::app
