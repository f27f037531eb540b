// SPDX-License-Identifier: GPL-3.0-or-later
// A subject cut out of an ordinary photograph: labels at 400 px that follow strokes at once, then
// a soft edge at up to 1600 px, then the picture's own size. The same bytes at every call and on
// any number of threads. docs/subject.md tells the way and what it reaches.
#pragma once

#include <memory>
#include <optional>
#include <stop_token>

#include "base/message.h"
#include "cut/subject/guess.h"
#include "cut/subject/matte.h"
#include "kit/cut_values.h"
#include "raster/raster.h"

namespace zl {

// What of a cut does not change with its strokes and its settings; kept while it is worked on.
struct SubjectStart {
    Working working;  // of labelSize
    PixelSize size;   // of the picture
    bool boxed = false;
    Start box;                // of a box: what it begins with
    Guesses guesses;          // without one
    bool flatGround = false;  // a colour key would be exact
};
[[nodiscard]] Result<std::shared_ptr<const SubjectStart>> subjectStart(
    const Straight8& picture, const std::optional<RealRect>& box, int threads = 1,
    const std::stop_token& stop = {});

// The labels of the working size. Of several guesses, strokes choose the one that they fit best
// where the first is asked for.
[[nodiscard]] Result<Labels> subjectLabels(const SubjectStart& start, const SubjectCut& cut,
                                           const std::stop_token& stop = {});

// How sure the labels are.
struct SubjectReport {
    double trust = 1;   // of a guess, 0..1; 1 where a box or strokes were given
    double unsure = 0;  // share of the pixels in the subject's box that may be wrong, 0..1
    Labels map;         // `undecided` where it is unsure, at the working size
    std::vector<PixelRect> places;  // the unsure places in px of the picture, the largest first
    std::vector<Message> says;      // what a person should know, plain
    bool trusted() const { return trust >= sureTrust; }
};
[[nodiscard]] Result<SubjectReport> subjectReport(const SubjectStart& start, const SubjectCut& cut,
                                                  const Labels& labels,
                                                  const std::stop_token& stop = {});

// What is only known when the edge was solved: that it is blurred, and a guess. Nothing where it is
// crisp. `cut` is a picture whose subject was cut out.
std::optional<Message> softnessOf(const Straight8& cut);

inline constexpr int mattingSize = 1600, previewSize = 800;

// alpha of the subject and the colours that it and the ground have, at a size of `longSide` at
// most.
struct SubjectMatte {
    Straight8 picture;  // at that size, opaque
    Plane alpha;
    std::vector<std::array<float, 3>> subject, ground;  // code values, in rows
    Labels known;                                       // what was undecided while it was solved
    Plane shadow;  // at the working size; empty where it is not kept
};
[[nodiscard]] Result<SubjectMatte> subjectMatte(const Straight8& picture, const SubjectStart& start,
                                                const SubjectCut& cut, int longSide = mattingSize,
                                                int threads = 1, const std::stop_token& stop = {});

// The picture with what the cut leaves of it; alpha that was there before is kept.
[[nodiscard]] Result<Straight8> subjectCut(const Straight8& picture, const SubjectStart& start,
                                           const SubjectCut& cut, int threads = 1,
                                           const std::stop_token& stop = {});

}  // namespace zl
