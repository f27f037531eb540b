// SPDX-License-Identifier: GPL-3.0-or-later
// Cutting a subject out, step by step. Reference: OpenCV's grabCut with a box, five iterations, at
// 480 px of the longer side, in one thread, on the same picture; `ratio` is over its time.
#include <opencv2/imgproc.hpp>

#include "cut/subject/band_cut.h"
#include "cut/subject/foreground.h"
#include "cut/subject/subject.h"
#include "pair.h"
#include "support/subject_scenes.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

constexpr int threads = 2;

// A person of fur before a busy ground; large ones are the small one doubled.
const test::SubjectScene& scene() {
    static const test::SubjectScene made =
        test::subjectScene(test::Form::fur, test::Contrast::medium, 20, 1600);
    return made;
}

void grabCut() {
    static const cv::Mat small = [] {
        const Straight8& p = scene().picture;
        const cv::Mat rgba(p.height(), p.width(), CV_8UC4, const_cast<std::uint8_t*>(p.bytes()));
        cv::Mat out;
        const double by = 480.0 / std::max(p.width(), p.height());
        cv::resize(rgba, out, {}, by, by, cv::INTER_AREA);
        cv::cvtColor(out, out, cv::COLOR_RGBA2BGR);
        return out;
    }();
    cv::setNumThreads(1);
    cv::theRNG().state = 1;
    const double by = 480.0 / std::max(scene().picture.width(), scene().picture.height());
    const RealRect& b = scene().box;
    cv::Mat mask, grounds, subjects;
    cv::grabCut(small, mask,
                {static_cast<int>(b.x * by), static_cast<int>(b.y * by),
                 static_cast<int>(b.width * by), static_cast<int>(b.height * by)},
                grounds, subjects, 5, cv::GC_INIT_WITH_RECT);
    benchmark::DoNotOptimize(mask.data);
}

struct Begun {
    SubjectCut cut;
    std::shared_ptr<const SubjectStart> start;
    Labels labels;
    Working large;
    Labels fine;
};
const Begun& begun() {
    static const Begun made = [] {
        Begun b;
        b.cut.box = scene().box;
        b.start = must(subjectStart(scene().picture, scene().box, threads));
        const RealPoint c = scene().box.centre();
        b.cut.strokes = {{true, 12, {{c.x - 60, c.y}, {c.x + 60, c.y + 20}}},
                         {false, 12, {{20, 20}, {60, 200}}}};
        b.labels = must(subjectLabels(*b.start, b.cut));
        b.large = workingOf(scene().picture, mattingSize, threads);
        b.fine = must(bandCut(b.large, b.start->working, b.labels, b.cut.strokes, {}));
        return b;
    }();
    return made;
}

void strokeAnswered(benchmark::State& state) {
    compare(
        state, [] { benchmark::DoNotOptimize(subjectLabels(*begun().start, begun().cut)); },
        grabCut);
}
BENCHMARK(strokeAnswered)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

void bandCutAt1600(benchmark::State& state) {
    compare(
        state,
        [] {
            benchmark::DoNotOptimize(bandCut(begun().large, begun().start->working, begun().labels,
                                             begun().cut.strokes, {}));
        },
        grabCut);
}
BENCHMARK(bandCutAt1600)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

void mattingAt1600(benchmark::State& state) {
    compare(
        state,
        [] {
            benchmark::DoNotOptimize(
                matteOf(begun().large.pixels, begun().large.sure, begun().fine, {}, threads));
        },
        grabCut);
}
BENCHMARK(mattingAt1600)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

// `ratio` is over grabCut; `seconds_a_megapixel` is what the goal speaks of.
void inkAt1600(benchmark::State& state) {
    const Plane alpha =
        matteOf(begun().large.pixels, begun().large.sure, begun().fine, {}, threads).alpha;
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(coloursUnder(begun().large.pixels, alpha, false, threads));
        },
        grabCut);
    state.counters["seconds_a_megapixel"] =
        state.counters["ours_ms"] / 1000 / (static_cast<double>(alpha.size().count()) / 1e6);
}
BENCHMARK(inkAt1600)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);

// From 12 megapixels that are decoded to a soft preview: where the box is drawn first.
void firstPreviewOf12Megapixels(benchmark::State& state) {
    static const Straight8 large = [] {
        constexpr PixelSize size{4600, 2600};
        const Straight8& from = scene().picture;
        Straight8 out(size);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                out.row(y)[x] =
                    from.row(y * from.height() / size.height)[x * from.width() / size.width];
        return out;
    }();
    const double by = static_cast<double>(large.width()) / scene().picture.width();
    SubjectCut cut;
    cut.box = RealRect{scene().box.x * by, scene().box.y * by, scene().box.width * by,
                       scene().box.height * by};
    compare(
        state,
        [&] {
            const auto start = must(subjectStart(large, cut.box, threads));
            benchmark::DoNotOptimize(subjectMatte(large, *start, cut, previewSize, threads));
        },
        grabCut);
}
BENCHMARK(firstPreviewOf12Megapixels)
    ->UseManualTime()
    ->Iterations(5)
    ->Unit(benchmark::kMillisecond);

// The whole at 12 megapixels, as it is released.
void wholeCutOf1600(benchmark::State& state) {
    compare(
        state,
        [] {
            benchmark::DoNotOptimize(
                subjectCut(scene().picture, *begun().start, begun().cut, threads));
        },
        grabCut);
}
BENCHMARK(wholeCutOf1600)->UseManualTime()->Iterations(5)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
