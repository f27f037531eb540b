// SPDX-License-Identifier: GPL-3.0-or-later
// Made scenes with known alpha and ink: a textured subject over a textured ground. For the tests
// and the benchmarks of cut/subject.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "raster/plane.h"
#include "raster/raster.h"

namespace zl::test {

enum class Form { blob, person, cup, spikes, wheel, hair, fur, motion, defocus };
inline constexpr int formCount = 9;
enum class Contrast { easy, medium, hard };

struct SubjectScene {
    std::string name;
    Straight8 picture;                           // opaque, rounded from alpha F + (1 - alpha) B
    Plane alpha;                                 // the truth
    std::vector<std::array<float, 3>> ink;       // F, code values, in rows, everywhere
    RealRect box;                                // round alpha > 0.5, a little wider, px
};

// The same scene for the same arguments, everywhere.
SubjectScene subjectScene(Form form, Contrast contrast, unsigned seed, int longSide = 640);

// The picture through a JPEG of that quality, chroma at half the size.
Straight8 throughJpeg(const Straight8& picture, int quality = 90);

}  // namespace zl::test
