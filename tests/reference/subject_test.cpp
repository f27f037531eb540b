// SPDX-License-Identifier: GPL-3.0-or-later
// Subjects cut out of made scenes with known alpha and ink, beside OpenCV's grabCut (Rother,
// Kolmogorov and Blake 2004) with the same box and strokes, its edge by a guided filter (He, Sun
// and Tang 2013, over OpenCV's box filter). docs/subject.md tells the protocol and the bounds.
//
// ZL_SUBJECT_FULL=1 measures all scenes at 640 px, of the seed that was tuned on and of the one
// that was not, and prints the rows of docs/subject.md.
#include <gtest/gtest.h>

#include <algorithm>
#include <cstdlib>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

#include "support/subject_scenes.h"

namespace zl {
namespace {

using test::Contrast;
using test::correctedSubject;
using test::errorsOf;
using test::Form;
using test::SubjectErrors;
using test::SubjectScene;

bool full() {
    return std::getenv("ZL_SUBJECT_FULL") != nullptr;
}

double median(std::vector<double> values) {
    std::sort(values.begin(), values.end());
    return values.empty() ? 0 : values[values.size() / 2];
}

// alpha by the other side: four iterations of grabCut at 400 px with the strokes as hard labels,
// enlarged, then the guided filter of that radius.
cv::Mat otherAlpha(const SubjectScene& scene, const SubjectCut& cut) {
    const Working small = workingOf(scene.picture, labelSize),
                  whole = workingOf(scene.picture, 1 << 20);
    const auto matOf = [](const Straight8& pixels) {
        cv::Mat bgr;
        cv::cvtColor(cv::Mat(pixels.height(), pixels.width(), CV_8UC4,
                             const_cast<std::uint8_t*>(pixels.bytes())),
                     bgr, cv::COLOR_RGBA2BGR);
        return bgr;
    };
    cv::Mat mask(small.size().height, small.size().width, CV_8UC1, cv::Scalar(cv::GC_BGD));
    const auto at = [&](double v) { return static_cast<int>(std::lround(v * small.scale)); };
    const cv::Rect box =
        cv::Rect(at(cut.box->x), at(cut.box->y), at(cut.box->width), at(cut.box->height)) &
        cv::Rect(0, 0, mask.cols, mask.rows);
    mask(box).setTo(cv::GC_PR_FGD);
    const Labels strokes = drawn(cut.strokes, small.size(), small.scale);
    for (int y = 0; y < mask.rows; ++y)
        for (int x = 0; x < mask.cols; ++x)
            if (strokes.at(x, y) != undecided)
                mask.at<std::uint8_t>(y, x) =
                    strokes.at(x, y) == ofSubject ? cv::GC_FGD : cv::GC_BGD;
    cv::Mat grounds, subjects;
    cv::setNumThreads(1);
    cv::theRNG().state = 7;
    cv::grabCut(matOf(small.pixels), mask, {}, grounds, subjects, 4, cv::GC_INIT_WITH_MASK);
    cv::Mat hard, alpha;
    cv::Mat(mask & 1).convertTo(hard, CV_32F);
    cv::resize(hard, alpha, {whole.size().width, whole.size().height}, 0, 0, cv::INTER_LINEAR);
    cv::Mat guide;
    cv::cvtColor(matOf(whole.pixels), guide, cv::COLOR_BGR2GRAY);
    guide.convertTo(guide, CV_32F, 1 / 255.0);
    // The radius and the epsilon that serve it best on these scenes.
    constexpr int radius = 4;
    constexpr double epsilon = 1e-4;
    const auto mean = [&](const cv::Mat& m) {
        cv::Mat out;
        cv::boxFilter(m, out, CV_32F, {2 * radius + 1, 2 * radius + 1});
        return out;
    };
    const cv::Mat i = mean(guide), p = mean(alpha), ip = mean(guide.mul(alpha)),
                  ii = mean(guide.mul(guide));
    const cv::Mat a = (ip - i.mul(p)) / (ii - i.mul(i) + epsilon), b = p - a.mul(i);
    cv::Mat out = mean(a).mul(guide) + mean(b);
    return cv::min(cv::max(out, 0.0), 1.0);
}

double otherError(const SubjectScene& scene, const SubjectCut& cut) {
    const cv::Mat alpha = otherAlpha(scene, cut);
    const Labels band = test::bandOf(scene);
    double sum = 0, count = 0;
    for (int y = 0; y < alpha.rows; ++y)
        for (int x = 0; x < alpha.cols; ++x)
            if (band.at(x, y) == undecided) {
                sum += std::abs(static_cast<double>(alpha.at<float>(y, x)) - scene.alpha.row(y)[x]);
                count += 1;
            }
    return sum / count;
}

struct Bound {
    double overlap, alpha, composite;
};
// Of easy, medium and hard scenes, lossless and through a JPEG of quality 90 with half the chroma.
constexpr Bound bounds[2][3] = {{{0.988, 0.030, 5.5}, {0.982, 0.055, 9}, {0.965, 0.11, 17}},
                                {{0.982, 0.060, 10}, {0.978, 0.085, 13}, {0.96, 0.13, 20}}};

struct Measured {
    std::vector<double> overlap, alpha, composite, halo, strokes, other;
};

Measured measured(unsigned seed, int repeats, int longSide, Contrast contrast, bool jpeg) {
    Measured out;
    for (int repeat = 0; repeat < repeats; ++repeat)
        for (int form = 0; form < test::formCount; ++form) {
            SubjectScene scene = test::subjectScene(static_cast<Form>(form), contrast,
                                                    seed + static_cast<unsigned>(repeat), longSide);
            if (jpeg) scene.picture = test::throughJpeg(scene.picture);
            const test::CorrectedSubject cut = correctedSubject(scene, 2);
            const SubjectErrors errors = errorsOf(scene, cut.pixels);
            out.overlap.push_back(errors.overlap);
            out.alpha.push_back(errors.alpha);
            out.composite.push_back(errors.composite);
            out.halo.push_back(errors.halo);
            out.strokes.push_back(static_cast<double>(cut.cut.strokes.size()));
            out.other.push_back(otherError(scene, cut.cut));
        }
    return out;
}

TEST(SubjectReference, HoldsItsBoundsAndIsAheadOfGrabCutWithAGuidedFilter) {
    constexpr const char* names[] = {"easy", "medium", "hard"};
    constexpr unsigned tuned = 10, other = 20;
    int ahead = 0, scenes = 0;
    std::vector<double> ours, theirs;
    for (const unsigned seed :
         full() ? std::vector<unsigned>{tuned, other} : std::vector<unsigned>{other})
        for (const bool jpeg : {false, true})
            for (int level = 0; level < 3; ++level) {
                if (!full() && jpeg && level != 1) continue;  // one of them, for the time they take
                SCOPED_TRACE(testing::Message() << names[level] << (jpeg ? ", JPEG" : ""));
                const Measured m = measured(seed, full() ? 2 : 1, full() ? 640 : 480,
                                            static_cast<Contrast>(level), jpeg);
                const Bound& bound = bounds[jpeg ? 1 : 0][level];
                std::printf("| %s%s, seed %u | %.3f | %.3f | %.1f | %.1f | %.0f | %.3f |\n",
                            names[level], jpeg ? ", JPEG" : "", seed, median(m.overlap),
                            median(m.alpha), median(m.composite), median(m.halo), median(m.strokes),
                            median(m.other));
                EXPECT_GE(median(m.overlap), bound.overlap);
                // At 480 px what a JPEG does to an edge is a larger part of the picture.
                const double room = jpeg && !full() ? 1.15 : 1.0;
                EXPECT_LE(median(m.alpha), room * bound.alpha);
                EXPECT_LE(median(m.composite), room * bound.composite);
                for (std::size_t i = 0; i < m.alpha.size(); ++i) {
                    if (jpeg) continue;
                    ahead += m.alpha[i] < m.other[i];
                    ++scenes;
                    ours.push_back(m.alpha[i]);
                    theirs.push_back(m.other[i]);
                }
            }
    std::printf("ahead in %d of %d scenes; median %.3f against %.3f\n", ahead, scenes, median(ours),
                median(theirs));
    EXPECT_GE(ahead, 0.85 * scenes);
    EXPECT_LE(median(ours), 0.6 * median(theirs));
}

// Matting apart: the true band given, lossless.
TEST(SubjectReference, AlphaFromATrueBandIsWithinItsBound) {
    for (int level = 0; level < 3; ++level) {
        std::vector<double> all;
        for (int form = 0; form < test::formCount; ++form) {
            const SubjectScene scene = test::subjectScene(
                static_cast<Form>(form), static_cast<Contrast>(level), 20, full() ? 640 : 480);
            const Labels band = test::bandOf(scene);
            const Plane alpha = solvedAlpha(scene.picture, band, 2);
            double sum = 0, count = 0;
            for (int y = 0; y < band.height(); ++y)
                for (int x = 0; x < band.width(); ++x)
                    if (band.at(x, y) == undecided) {
                        sum +=
                            std::abs(static_cast<double>(alpha.row(y)[x]) - scene.alpha.row(y)[x]);
                        count += 1;
                    }
            all.push_back(sum / count);
        }
        // The prototype of this way had 0.018, 0.029 and 0.031 on scenes of its own; our hard ones
        // are harder, their colours are nearly those of the ground.
        constexpr double bound[] = {0.018, 0.029, 0.045};
        std::printf("true band: %.3f\n", median(all));
        EXPECT_LE(median(all), bound[level]) << level;
    }
}

}  // namespace
}  // namespace zl
