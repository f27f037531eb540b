// SPDX-License-Identifier: GPL-3.0-or-later
// Made scenes with known alpha and ink: a textured subject over a textured ground. For the tests
// and the benchmarks of cut/subject.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "cut/subject/subject.h"
#include "raster/plane.h"
#include "raster/raster.h"

namespace zl::test {

enum class Form { blob, person, cup, spikes, wheel, hair, fur, motion, defocus };
inline constexpr int formCount = 9;
enum class Contrast { easy, medium, hard };

struct SubjectScene {
    std::string name;
    Straight8 picture;                      // opaque, rounded from alpha F + (1 - alpha) B
    Plane alpha;                            // the truth
    std::vector<std::array<float, 3>> ink;  // F, code values, in rows, everywhere
    RealRect box;                           // round alpha > 0.5, a little wider, px
};

// The same scene for the same arguments, everywhere.
SubjectScene subjectScene(Form form, Contrast contrast, unsigned seed, int longSide = 640);

// The picture through a JPEG of that quality, chroma at half the size.
Straight8 throughJpeg(const Straight8& picture, int quality = 90);

// How far a cut-out is from the truth, in the band within max(4, round(long side / 320)) px of the
// contour of alpha 0.5 and of all that is soft.
struct SubjectErrors {
    double overlap = 0;    // of alpha over 0.5: both over either
    double alpha = 0;      // mean
    double composite = 0;  // code values: mean over white, black and grey, the worst of them
    double halo = 0;       // code values: mean of alpha times how far the ink is off, soft pixels
};
SubjectErrors errorsOf(const SubjectScene& scene, const Straight8& cut);
// The band alone, as labels with `undecided` where it is.
Labels bandOf(const SubjectScene& scene);

// What a patient hand would do next: a stroke through the largest region where the labels are
// wrong. False when they are good enough (overlap 0.97), or nothing is left to stroke.
bool strokeWhatIsWrong(const SubjectScene& scene, const Labels& labels, double scale,
                       SubjectCut& cut);

// A box, then up to six strokes: the protocol of docs/subject.md.
struct CorrectedSubject {
    Straight8 pixels;
    SubjectCut cut;
    std::shared_ptr<const SubjectStart> start;
    Labels labels;
};
CorrectedSubject correctedSubject(const SubjectScene& scene, int threads = 1);

}  // namespace zl::test
