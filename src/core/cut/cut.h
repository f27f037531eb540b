// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts put on a picture: keys and cleanings change the original's straight alpha (and the colour of
// edge pixels), shapes change the alpha of the ink that was placed.
#pragma once

#include <functional>
#include <memory>
#include <span>
#include <stop_token>

#include "base/message.h"
#include "base/result.h"
#include "cut/background.h"
#include "cut/ground.h"
#include "kit/cut_values.h"
#include "raster/over.h"
#include "raster/raster.h"

namespace zl {

// What a key does with what it is not told.
struct KeyPlan {
    std::array<double, 3> background{};
    double share =
        1;  // of the border, 0..1: how sure the background is; 1 when the colour was given
    bool exact = true;  // most of the border has exactly that colour
    Noise noise;        // its tolerance is the one used
    std::optional<Ground>
        ground{};  // where it drifts or has a grain; `background` is its middle then
};
KeyPlan keyPlanOf(const Straight8& picture, const KeyCut& key);

// Below this share of the border a background that was found by itself is a guess.
inline constexpr double sureShare = 0.5;

// The flat background taken off. Each edge pixel's alpha and colour come from C = aF + (1 - a)B
// (Porter and Duff 1984), F being carried out from the nearest clean ink; alpha that is there
// already is kept. A picture without any such colour stays as it is.
Straight8 keyed(const Straight8& picture, const KeyCut& key, int threads = 1,
                const std::stop_token& stop = {});

// One key, cleaning or subject put on; a shape changes nothing here. `start` is what a subject
// begins with on this picture, where it is known. Code::cancelled; Code::unreadable when the module
// that cuts subjects is missing.
struct SubjectStart;  // cut/subject/subject.h
[[nodiscard]] Result<Straight8> oneCut(const Straight8& picture, const Cut& cut,
                                       const SubjectStart* start, int threads = 1,
                                       const std::stop_token& stop = {});
// All keys, cleanings and subjects that are on, in their order; shapes are left out.
[[nodiscard]] Result<Straight8> cutOut(const Straight8& picture, std::span<const Cut> cuts,
                                       int threads = 1, const std::stop_token& stop = {});
bool changesPixels(const Cut& cut);  // a key, a cleaning or a subject that is on
bool changesShape(const Cut& cut);   // a shape that is on

// The ink with the shapes' coverage on its alpha. `placed` brings px of the original to the ink's
// px; `scale` is how much larger they are there.
Ink withShapes(const Ink& ink, std::span<const Cut> cuts,
               const std::function<RealPoint(RealPoint)>& placed, double scale, int threads = 1);

// What a key would do, before it is put on.
struct KeyReport {
    KeyPlan plan;
    // Why it cannot work as it is told, or should not: nothing or everything would be taken off, no
    // flat background was found, the border is see-through already.
    std::optional<Message> trouble{};
    bool unsure = false;  // `trouble` is a doubt: a person may want the key all the same
    int closed = 0;  // areas of the ground's colour that ink closes in, which stay: holes, or ink
    double closedShare = 0;  // of the picture's pixels, 0..1
    double left =
        0;  // share of the pixels that are kept though their colour is near the ground's, 0..1
    int spots = 0;  // pieces that stay though all of them is near the ground's colour: its, or ink
    double spotsShare = 0;  // of the picture's pixels, 0..1
};
KeyReport reportOf(const Straight8& picture, const KeyCut& key);

// What a key sees on a picture, found once for both its report and its cut. The picture must
// outlive it.
class KeySight {
  public:
    KeySight(const Straight8& picture, KeyCut key);
    ~KeySight();
    KeyReport report() const;
    // Empty when the picture is.
    Straight8 cut(int threads = 1, const std::stop_token& stop = {}) const;

  private:
    struct Seen;  // its plan, the picture on a level ground, and what is ink there
    const Straight8& picture_;
    const KeyCut key_;
    const std::unique_ptr<const Seen> seen_;
};

// `cut` with strokes on it, which bring back what `picture` had there or take away.
Straight8 brushed(const Straight8& picture, Straight8 cut, std::span<const Stroke> strokes);

// What a person should look at though the key works: closed areas of the ground's colour, and ink
// of nearly that colour (one percent of the picture and more, or a thousandth of it in pieces that
// stand alone), of which a key cannot know how much is the ground's.
std::vector<Message> notesOf(const KeyReport& report, const KeyCut& key);

}  // namespace zl
