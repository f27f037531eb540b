// SPDX-License-Identifier: GPL-3.0-or-later
// The soft edge between a subject and its ground: how much of each pixel is subject.
#pragma once

#include <stop_token>

#include "cut/subject/chroma.h"
#include "cut/subject/working.h"
#include "raster/plane.h"

namespace zl {

// alpha of a picture that is opaque, with `known` labels and `undecided` pixels between: the
// closed-form matting Laplacian (Levin, Lischinski and Weiss 2008; windows of 3 x 3, epsilon 1e-5)
// with samples of subject and ground along rays (Gastal and Oliveira 2010) as its data, a part of
// their confidence in weight (Wang and Cohen 2007), solved by conjugate gradients; in code values,
// not in light, since what is made of it is blended there. Chroma that was halved counts for half
// of luma (ours). The same on any number of threads.
Plane solvedAlpha(const Straight8& picture, const Labels& known, int threads = 1,
                  const std::stop_token& stop = {}, ChromaDetail chroma = ChromaDetail::whole);

// What is nearly nothing is nothing, and what is nearly all is all: a haze of one code would be
// seen as dirt (`specks`). 1.5 percent at either end, ours.
inline float settledAlpha(float alpha) {
    constexpr float end = 0.015F;
    const float a = (alpha - end) / (1 - 2 * end);
    return a < 0 ? 0 : a > 1 ? 1 : a;
}

// The band round the border of `labels` that has to be solved, grown where alpha has not come to
// its end at the band's rim, up to five times; its alpha. Strokes (`touched`) are not opened.
struct Matte {
    Plane alpha;
    Labels known;  // what was open when it ended
};
// `sure` as Working has it. All are of the picture's size.
Matte matteOf(const Straight8& picture, const Labels& sure, const Labels& labels,
              const Labels& touched, int threads = 1, const std::stop_token& stop = {},
              ChromaDetail chroma = ChromaDetail::whole);

}  // namespace zl
