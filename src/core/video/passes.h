// SPDX-License-Identifier: GPL-3.0-or-later
// A video encoded so that it stays under a limit: by quality first; where that is too large, once
// more to a rate of bits, with what the first run wrote down.
#pragma once

#include <fmt/core.h>

#include <algorithm>

#include "base/bytes.h"
#include "base/file.h"
#include "video/burn.h"

namespace zl {

// A folder of its own for what an encoder writes down between two runs; gone with it.
class PassNotes {
  public:
    PassNotes();
    ~PassNotes();
    PassNotes(const PassNotes&) = delete;
    PassNotes& operator=(const PassNotes&) = delete;
    Path file() const { return folder_.empty() ? Path() : folder_ / "notes"; }

  private:
    Path folder_;
};

struct LimitedVideo {
    bool solves = true;   // the encoder takes a rate of bits
    long long limit = 0;  // bytes; 0: any
    double length = 0;    // s
    Path out;
    Replace replace = Replace::no;
};

// `once(pass, into, progress) -> Result<Told>` writes it; Told has bytes, otherBytes, passes and
// bitRate, which are filled in here but for otherBytes. Nothing stays of what was not kept.
template <class Told, class Once>
Result<Told> withinLimit(const LimitedVideo& how, const Progress& progress, const Once& once) {
    // A second run meets the limit nearly always; a third is there for what is very short.
    const bool solves = how.limit > 0 && how.solves;
    const int usual = solves ? 2 : 1, most = solves ? 3 : 1;
    const PassNotes notes;
    BurnPass pass;
    if (solves) pass.notes = notes.file();
    for (int run = 1;; ++run) {
        auto file = NewFile::begin(how.out, how.replace);
        if (!file) return passOn(file.error());
        auto told = once(pass, file->meanwhile(), Progress([&](double part) {
                             if (progress) progress(std::min(1.0, (run - 1 + part) / usual));
                         }));
        if (!told) return told;
        told->bytes = file->size();
        told->passes = run;
        told->bitRate = pass.bitRate;
        if (how.limit == 0 || told->bytes <= how.limit) {
            if (auto done = file->keep(); !done) return passOn(done.error());
            return told;
        }
        // What is no picture keeps its bytes; a fiftieth is left for the rate's own swing, and
        // what the run before swung is taken off.
        const auto others = static_cast<double>(told->otherBytes);
        const double room = 0.98 * static_cast<double>(how.limit) - others;
        const auto wanted = static_cast<long long>(8 * room / std::max(how.length, 0.04));
        const double over = static_cast<double>(told->bytes) - others;
        const long long rate =
            pass.bitRate == 0
                ? wanted
                : static_cast<long long>(static_cast<double>(pass.bitRate) * room / over);
        constexpr long long leastRate = 20'000;  // bit/s; less shows nothing
        if (run == most || rate < leastRate)
            return fail(Code::limitNotMet,
                        fmt::format("{} bytes are too few for this video; the smallest that was "
                                    "made has {}.",
                                    grouped(how.limit), grouped(told->bytes)),
                        "Allow more, or shorten the video.");
        pass.bitRate = rate;
    }
}

}  // namespace zl
