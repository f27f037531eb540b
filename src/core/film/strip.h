// SPDX-License-Identifier: GPL-3.0-or-later
// The strip of a video: a small picture of every quarter of a second, how each looks, and the cuts.
// Made once and kept in a cache on disk; a picture of it is there within milliseconds.
#pragma once

#include <functional>
#include <memory>
#include <optional>

#include "base/guarded.h"
#include "film/glimpses.h"

namespace zl {

// Where the person's strips are kept.
Path stripFolder();

// What a video file is known by: its size, its time of change, and its first and last million
// bytes. Empty where it cannot be read.
std::string identityOf(const Path& video);
// The same without its time of change: a copy of it is the same video.
std::string contentOf(const Path& video);

// Any thread; it grows while it is made.
class Strip {
  public:
    static constexpr int pictureWidth = 480;  // px

    struct Picture {
        Straight8 pixels;
        long long number = 0;
        double time = 0;  // s
    };
    ~Strip();
    Strip(const Strip&) = delete;
    Strip& operator=(const Strip&) = delete;

    std::size_t size() const;
    // The one that is nearest to that second; nothing while there is none, or where the disk fails.
    std::optional<Picture> nearest(double seconds) const;
    // Its time alone.
    std::optional<double> nearestTime(double seconds) const;
    // All of it, once it is whole.
    std::optional<LookedThrough> looked() const;

    // The one that is kept in the folder; nothing where there is none or it is damaged.
    static std::shared_ptr<Strip> kept(const Path& folder, const std::string& identity);
    // Looks through the video and keeps the strip in the folder, where older ones make room: at
    // most `mostBytes` of them stay. `begun` gets the strip before it has its first picture, `grew`
    // is called at each. Errors: Code::cancelled, Code::unreadable; Code::unwritable for the
    // folder.
    [[nodiscard]] static Result<std::shared_ptr<Strip>> make(
        Video& video, const Path& folder, const std::string& identity,
        const std::function<void(const std::shared_ptr<Strip>&)>& begun = {},
        const std::function<void(double part)>& grew = {}, const std::stop_token& stop = {},
        long long mostBytes = 1'000'000'000);

  private:
    struct Entry {
        Glimpse glimpse;
        long long offset = 0, bytes = 0;
    };
    explicit Strip(int file) : file_(file) {}
    Result<void> add(const Glimpse& glimpse, const Straight8& picture);
    Result<void> finish(std::vector<HardCut> cuts, const Path& name);
    Bytes indexBytes() const ZL_REQUIRES(mutex_);
    bool readIndex();

    int file_;
    long long end_ = 0;  // of what was written, bytes
    mutable Mutex mutex_;
    std::vector<Entry> entries_ ZL_GUARDED_BY(mutex_);
    std::vector<HardCut> cuts_ ZL_GUARDED_BY(mutex_);
    bool whole_ ZL_GUARDED_BY(mutex_) = false;
};

}  // namespace zl
