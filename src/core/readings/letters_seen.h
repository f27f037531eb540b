// SPDX-License-Identifier: GPL-3.0-or-later
// Letters as the eye meets them at a size they are shown at: their coverage, what stands over them,
// and what is seen in and round them.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "readings/reading.h"

namespace zl {

// What stands over the layer within its frame, white where it hides it; nothing where nothing does.
std::optional<Straight8> coversOf(const Subject& subject, std::size_t layer);
// How much of the letters it hides, 0..1.
double shareHidden(const Subject& subject, const Ink& fill, const Straight8& covers);

// One layer's letters at `scale` px for a px of the frame, at most 1.
class LettersSeen {
  public:
    LettersSeen(const Subject& subject, const Ink& fill, const Straight8* covers, double scale);
    ~LettersSeen();
    LettersSeen(const LettersSeen&) = delete;
    LettersSeen& operator=(const LettersSeen&) = delete;

    // The 10th percentile, along the letters' edge, of the contrast between their core and the most
    // contrasting pixel outwards, 1..21; nothing where there is no edge. What is see-through is
    // seen over white and over black, since nobody knows what will be behind it; the lower one
    // counts.
    std::optional<double> contrast() const;
    // The same over `behind`, which is opaque and is seen at `place` (px of the frame); beside it
    // all is black.
    std::optional<double> contrastOver(const std::shared_ptr<const Straight8>& behind,
                                       const RealRect& place) const;

  private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

// Of the frame, how much the letters cover, 0..1.
double shareTaken(const Subject& subject);

}  // namespace zl
