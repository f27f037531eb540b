// SPDX-License-Identifier: GPL-3.0-or-later
// One rehearsal: a file is handed over to the stand-in host, perhaps published, and every surface
// is drawn with the host's own copies of what it took. Reads and writes the host's folder.
#pragma once

#include <map>
#include <mutex>

#include "kit/kit.h"
#include "rehearsal/host.h"
#include "rehearsal/surfaces.h"

namespace zl {

// The host's recompressed copies of one picture, each made when it is first looked at. Any thread.
class HostCopies {
  public:
    HostCopies(std::shared_ptr<const Straight8> picture, int quality)
        : picture_(asMet(std::move(picture))), quality_(quality) {}
    PixelSize size() const { return picture_->size(); }
    // The copy of that width, px; nothing when it could not be made, and then `trouble` says why.
    std::shared_ptr<const Straight8> at(int width);
    std::optional<Error> trouble() const;

  private:
    std::shared_ptr<const Straight8> picture_;
    int quality_;
    mutable std::mutex mutex_;
    std::map<int, std::shared_ptr<const Straight8>> made_;
    std::optional<Error> trouble_;
};

struct Errand {
    Path host;  // its folder
    Trouble trouble{};
    std::string pieceId;
    Brief brief;
    Posted posted{};
    std::vector<std::pair<Slice, Brief>> slices{};  // with the briefs they are held against
    std::optional<Path> handOver{};                 // nothing: look at what the host has
    bool publish = false;  // what is handed over, or is there; a refused file is not
};

struct Rehearsed {
    HostAnswer answer;
    HostState state = HostState::nothing;
    std::string file;                    // the name of what was handed over
    std::shared_ptr<HostCopies> copies;  // nothing while the host has no file
    std::vector<Surface> surfaces;
    std::vector<std::pair<Slice, Surface>> slices;  // each where its own brief says it is met
};

// A refusal by the host is an answer, no error. `progress` hears 0..1 while the host is slow.
[[nodiscard]] Result<Rehearsed> rehearse(const Errand& errand, std::stop_token stop = {},
                                         const std::function<void(double)>& progress = {});

}  // namespace zl
