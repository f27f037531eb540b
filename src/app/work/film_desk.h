// SPDX-License-Identifier: GPL-3.0-or-later
// A video that is looked through for a still: opened, its frames, its strip and its proposals, all
// aside. The newest wish wins.
#pragma once

#include <QImage>
#include <QObject>
#include <memory>
#include <optional>
#include <vector>

#include "film/candidates.h"
#include "video/video.h"
#include "work/jobs.h"

namespace zl::app {

struct FilmFrame {
    long long number = 0;
    double time = 0;  // s
    QImage image;
    bool toned = false;  // its light was brought down to what a display shows
};

class FilmDesk : public QObject {
    Q_OBJECT
  public:
    explicit FilmDesk(QObject* parent = nullptr) : QObject(parent) {}

    void open(const Path& file);
    void close();
    const std::optional<VideoFacts>& facts() const { return facts_; }
    const Path& file() const { return file_; }
    void ask(long long number);  // exact, at its full size
    void askAt(double seconds);  // the frame that is shown then
    const std::vector<FilmFrame>& strip() const { return strip_; }
    // The frame of the strip that is nearest, at once; nothing before the first one came.
    const FilmFrame* nearest(double seconds) const;

  Q_SIGNALS:
    void opened();
    void refused(const QString& sentence);
    void arrived(const zl::app::FilmFrame& frame);  // what was asked for last
    void stripGrew();
    void proposed(const std::vector<zl::app::FilmFrame>& frames,
                  const std::vector<zl::Candidate>& reasons);
    void progressed(double part);  // of the search for proposals

  private:
    void askFor(std::function<Result<long long>(const Video&)> number);
    void fillStrip(int serial);
    void search(int serial);

    Path file_;
    std::optional<VideoFacts> facts_;
    std::vector<FilmFrame> strip_;
    int serial_ = 0;  // of the video that is open
    // One for each purpose, used by its job only.
    std::shared_ptr<Video> exact_;
    LatestJob opening_{true}, frames_{true, Stands::withTheHand}, stripping_{true, Stands::back},
        searching_{true, Stands::farBack};
};

QString clockWords(double seconds);  // "1:02.345"

}  // namespace zl::app
