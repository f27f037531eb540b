// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a mark holds for the whole of a video: its curve, the worst moment, and what would help.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <vector>

#include "base/colour_value.h"
#include "base/json_fwd.h"
#include "base/message.h"
#include "film/marking.h"
#include "film/strip.h"
#include "readings/over_frames.h"

namespace zl {

// What is asked: a mark, where it stands, and while which part of the video.
struct LegibleQuestion {
    std::shared_ptr<const Straight8> mark;
    MarkPlacing placing;                // px of the frame as it is shown
    std::optional<RealRect> exactly{};  // instead of the placing's own place, px of the frame
    double from = 0;                    // s
    std::optional<double> to{};
    double opacity = 1;
};

// The mark with an outline in a colour that it stands out from, and how much wider it became on
// each side, px of it.
struct OutlinedMark {
    std::shared_ptr<const Straight8> pixels;
    int more = 0;
};
OutlinedMark outlinedMark(const std::shared_ptr<const Straight8>& mark, double px);

// One thing that would help, and how the mark would stand then.
struct LegibleProposal {
    enum class Kind { corner, outline, start } kind = Kind::corner;
    StampAt at = StampAt::bottomRight;  // of a corner
    double px = 0;                      // of an outline, of the mark as it is placed
    Colour colour{};
    double from = 0;  // of a start, s
    double lost = 0, worst = 0;
    Message says;
};

struct Legibility {
    LegibleCurve curve;
    std::vector<LegibleProposal> proposals;  // the one that helps most first; none where it passes
};

// Gathers the frames of a video in their order.
class LegibleStudy {
  public:
    // `frame`: of the frames that will be seen; `shown`: of the video.
    LegibleStudy(const LegibleQuestion& question, PixelSize frame, PixelSize shown, double length);
    // Frames outside of the time that is asked for are passed over.
    void see(const Straight8& frame, double time);
    Legibility told() const;

  private:
    struct Variant {
        LegibleProposal what;
        MarkInFrame mark;
        LegibleCurve curve{};
    };
    void addOutlines(const LegibleQuestion& question, const RealRect& place);

    LegibleQuestion question_;
    PixelSize frame_;
    double length_;
    MarkInFrame own_;
    LegibleCurve curve_;
    std::vector<Variant> variants_;
};

// Four times a second, at the video's full size. Code::badUsage for a mark larger than the frame,
// Code::cancelled.
[[nodiscard]] Result<Legibility> legibilityOver(const Video& video, const LegibleQuestion& question,
                                                const std::function<void(double)>& progress = {},
                                                const std::stop_token& stop = {});
// From the small pictures of a strip that is whole: within 2 points of the full size.
[[nodiscard]] Result<Legibility> legibilityOver(const Strip& strip, const VideoFacts& facts,
                                                const LegibleQuestion& question,
                                                const std::stop_token& stop = {});

OrderedJson jsonOf(const Legibility& legibility);

}  // namespace zl
