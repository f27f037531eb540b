// SPDX-License-Identifier: GPL-3.0-or-later
// A piece laid over a video of the person's own: how it looks at a moment, whether it stands out
// for the whole of it, and the video written with it. All of it aside.
#pragma once

#include <QImage>
#include <QObject>

#include "measure/legible.h"
#include "release/course.h"
#include "video/burn.h"
#include "work/jobs.h"
#include "work/session.h"

namespace zl::app {

// How the piece is to stand on the video.
struct OverVideoWish {
    MarkPlacing placing;
    MarkTime time;
    double outline = 0;  // px of the mark as it is placed; 0: none
    bool operator==(const OverVideoWish& o) const {
        return placing == o.placing && outline == o.outline && time.from == o.time.from &&
               time.to == o.time.to && time.fade == o.time.fade && time.opacity == o.time.opacity;
    }
};

class OverVideoDesk : public QObject {
    Q_OBJECT
  public:
    explicit OverVideoDesk(Session& session, QObject* parent = nullptr);
    ~OverVideoDesk() override;

    void open(const Path& video);
    const std::optional<VideoFacts>& facts() const { return facts_; }
    const Path& file() const { return file_; }
    // The chosen piece, as a release would draw it.
    void takeMark();
    PixelSize markSize() const { return mark_ ? mark_->size() : PixelSize{}; }

    void measure(const OverVideoWish& wish);
    void showAt(double seconds, const OverVideoWish& wish, QSize room);
    void burn(const OverVideoWish& wish, int quality, long long limit, const Path& out,
              Replace replace);
    void cancel() { stop_.request_stop(); }
    bool burning() const { return burning_; }

  Q_SIGNALS:
    void opened();
    void refused(const QString& sentence);
    void lookedThrough(double part);  // 1: the whole of it
    void measured(const zl::Legibility& legibility);
    void shown(const QImage& picture, double seconds);
    void progressed(double part);
    void burnt(const zl::Result<zl::Burnt>& burnt);

  private:
    // The piece as it was when it was taken.
    struct Moving {
        Kit kit;
        std::string piece;
        std::optional<Path> file;
        bool loops = false;
        PictureAt pictures(const std::stop_token& stop = {}) const;
    };
    struct Dressed {
        std::shared_ptr<const Straight8> mark;
        RealRect place;
    };
    static Result<Dressed> dressed(const std::shared_ptr<const Straight8>& mark,
                                   const OverVideoWish& wish, PixelSize frame);

    Session& session_;
    Path file_;
    std::optional<VideoFacts> facts_;
    std::shared_ptr<const Straight8> mark_;  // of a piece that moves: at its clock's moment
    std::shared_ptr<const Moving> moving_;   // of a piece that moves
    PictureAt showsMoving_;                  // used by the job that shows
    std::shared_ptr<Video> video_;           // used by the job that shows
    std::shared_ptr<Strip> strip_;           // whole
    std::optional<OverVideoWish> asked_;
    std::stop_source stop_;
    bool burning_ = false;
    LatestJob opening_{true, Stands::farBack}, measuring_{true},
        showing_{true, Stands::withTheHand};
};

}  // namespace zl::app
