// SPDX-License-Identifier: GPL-3.0-or-later
// A video that is looked through for a still: opened, its frames, its strip, its cuts and its
// proposals, all aside. The newest wish wins.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>
#include <optional>
#include <vector>

#include "film/candidates.h"
#include "film/strip.h"
#include "video/video.h"
#include "work/jobs.h"

namespace zl::app {

// How near to the frame that was asked for a picture is.
enum class Nearness { strip, key, exact };

struct FilmFrame {
    long long number = 0;
    double time = 0;  // s
    QImage image;
    Nearness nearness = Nearness::exact;
    std::shared_ptr<const VideoFrame> whole{};  // of an exact one
    std::optional<PixelRect> bars{};            // what lies between its black bars
};
// The pixels stay with the image.
QImage imageOf(std::shared_ptr<const Straight8> raster);

class FilmDesk : public QObject {
    Q_OBJECT
  public:
    // Strips are kept in the cache folder.
    explicit FilmDesk(Path cacheFolder, QObject* parent = nullptr)
        : QObject(parent), cacheFolder_(std::move(cacheFolder)) {}

    void open(const Path& file);
    void close();
    const std::optional<VideoFacts>& facts() const { return facts_; }
    const Path& file() const { return file_; }
    // A reader for who plays it; nothing while none is open.
    std::function<Result<Video>(const std::stop_token&)> player() const;

    void ask(long long number);  // exact, at its full size
    void askAt(double seconds);  // the frame that is shown then
    void askCut(bool on);        // the next cut, or the one before, from the frame asked for last
    // A small picture near that second, at once; the exact one is not asked for.
    void nearAt(double seconds, QSize room);
    // Proposals come from this part only.
    void propose(const Span& within);
    void stopLooking();

    const std::vector<FilmFrame>& places() const { return places_; }  // along the strip
    const std::vector<HardCut>& cuts() const { return cuts_; }        // once it is looked through
    bool looking() const { return looking_; }

  Q_SIGNALS:
    void opened();
    void refused(const QString& sentence);
    void arrived(const zl::app::FilmFrame& frame);  // what was asked for last
    void neared(const zl::app::FilmFrame& frame);
    void stripGrew();
    void proposed(const std::vector<zl::app::FilmFrame>& frames,
                  const std::vector<zl::Candidate>& reasons);
    void lookedThrough();          // to its end, and the strip is kept
    void progressed(double part);  // of looking through it; 1: done, or stopped

  private:
    using Number = std::function<Result<long long>(Video&, const std::stop_token&)>;
    void begin(const std::shared_ptr<Video>& video, int serial);
    void askFor(Number number);
    void makeStrip(int serial);
    void stripIs(const std::shared_ptr<Strip>& strip);
    void placesFrom(const std::vector<FilmFrame>& places);
    void search(int serial);
    // Shows what was proposed, first near, then exact; false when it was stopped.
    bool tell(Video& video, const std::vector<Candidate>& found, Nearness nearness, int serial,
              const std::stop_token& stop);
    template <class Done>
    void back(int serial, Done done);

    Path cacheFolder_, file_;
    std::optional<VideoFacts> facts_;
    std::vector<FilmFrame> places_;
    std::vector<HardCut> cuts_;
    Span within_;
    long long last_ = 0;  // frame asked for
    int serial_ = 0;      // of the video that is open
    bool looking_ = false;
    std::shared_ptr<Strip> strip_;  // may grow still
    // One for each purpose, used by its job only.
    std::shared_ptr<Video> exact_, keys_;
    LatestJob opening_{true}, frames_{true, Stands::withTheHand},
        nearing_{false, Stands::withTheHand}, stripping_{true, Stands::farBack}, searching_{true};
};

}  // namespace zl::app
