// SPDX-License-Identifier: GPL-3.0-or-later
// Distances and blurs against OpenCV's, tone and finishes of a full frame, memory of the
// twelve-layer piece.
#include <sys/resource.h>

#include <opencv2/imgproc.hpp>

#include "base/parallel.h"
#include "finish/finish.h"
#include "pair.h"
#include "raster/blur.h"
#include "raster/distance.h"
#include "render/render.h"
#include "tone/tone.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

// Discs and bars with soft and hard edges over a full frame: some 5 % of it is edge.
Plane shapes() {
    Plane plane(frame);
    for (int y = 0; y < frame.height; ++y)
        for (int x = 0; x < frame.width; ++x) {
            const float dx = static_cast<float>(x % 160) - 80,
                        dy = static_cast<float>(y % 160) - 80;
            plane.row(y)[x] = std::clamp(52.5f - std::sqrt(dx * dx + dy * dy), 0.0f, 1.0f);
        }
    return plane;
}

// The distance as an outline of 12 px asks for it: anti-aliased, banded, with its digits where the
// outline ends. OpenCV's is of whole pixels and of the whole frame.
void distanceAgainstOpenCv(benchmark::State& state) {
    const Plane plane = shapes();
    cv::Mat outside(frame.height, frame.width, CV_8U), field;
    for (int y = 0; y < frame.height; ++y)
        for (int x = 0; x < frame.width; ++x)
            outside.at<std::uint8_t>(y, x) = plane.row(y)[x] < 0.5f ? 255 : 0;
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(
                EdgeDistance(plane, 14, std::array{12.0f}, coreCount()).plane().row(0));
        },
        [&] { cv::distanceTransform(outside, field, cv::DIST_L2, cv::DIST_MASK_PRECISE); });
}

void blurAgainstOpenCv(benchmark::State& state) {
    const Plane plane = shapes();
    const double sigma = static_cast<double>(state.range(0));
    cv::Mat source(frame.height, frame.width, CV_32F), out;
    for (int y = 0; y < frame.height; ++y)
        std::copy_n(plane.row(y), frame.width, source.ptr<float>(y));
    const int taps = static_cast<int>(std::ceil(4 * sigma)) * 2 + 1;
    compare(
        state, [&] { benchmark::DoNotOptimize(blurred(plane, sigma, 0, 0, coreCount()).row(0)); },
        [&] {
            cv::GaussianBlur(source, out, {taps, taps}, sigma, sigma, cv::BORDER_CONSTANT);
        });
}

// A step of a slider: the photograph's tone, and the piece blended again. The reference is Qt's
// painter in dragStep; here the goal is 50 ms.
void toneStepOfAFullFrame(benchmark::State& state) {
    const TwelveLayers layers;
    Kit kit = layers.kit();
    InkStore store;
    must(render({kit.pieces[0], kit}, store));
    const Straight8& photograph = layers.rasters[0];
    int step = 0;
    compare(
        state,
        [&] {
            Layer layer = kit.pieces[0].layers[0];
            layer.picture()->tone = {static_cast<double>(++step % 90),   10, 12, 8, 0,
                                     static_cast<double>(state.range(0))};
            kit = must(withChangedLayer(kit, "twelve", layer));
            must(render({kit.pieces[0], kit}, store));
        },
        [&] { benchmark::DoNotOptimize(photograph.clone().row(0)); });
}

// A step of a slider of a finish on a small layer, with the damage blended again.
void finishStepOfASmallLayer(benchmark::State& state) {
    Kit kit = TwelveLayers().kit();
    InkStore store;
    Straight8 target = must(render({kit.pieces[0], kit}, store));
    int step = 0;
    compare(
        state,
        [&] {
            Layer layer = kit.pieces[0].layers[6];
            layer.finishes = {outlineOf(4 + ++step % 9, {}), makeFinish("shadow"),
                              makeFinish("glow")};
            const Kit next = must(withChangedLayer(kit, "twelve", layer));
            const PixelRect damage = damageBetween(kit.pieces[0], {next.pieces[0], next}, store);
            must(
                renderInto(target, damage, {next.pieces[0], next}, store).map([] { return true; }));
            kit = next;
        },
        [&] {
            benchmark::DoNotOptimize(must(render({kit.pieces[0], kit}, store)).row(0));
        });
}

// The most memory that this process has had, after the piece with all its finishes was drawn. Run
// it alone: --benchmark_filter=memory
void memoryOfTwelveLayersWithFinishes(benchmark::State& state) {
    for (auto _ : state) {
        Kit kit = TwelveLayers().kit();
        Piece piece = kit.pieces[0];
        for (std::size_t i = 4; i < piece.layers.size(); ++i)
            piece.layers[i].finishes = {outlineOf(6, {}), makeFinish("shadow"), makeFinish("glow")};
        kit = must(withChangedPiece(kit, piece));
        InkStore store;
        benchmark::DoNotOptimize(must(render({kit.pieces[0], kit}, store)).row(0));
    }
    rusage usage{};
    ::getrusage(RUSAGE_SELF, &usage);
    state.counters["peak_MB"] = static_cast<double>(usage.ru_maxrss) / 1000;
}

BENCHMARK(distanceAgainstOpenCv)->UseManualTime()->Iterations(9)->Unit(benchmark::kMillisecond);
BENCHMARK(blurAgainstOpenCv)
    ->Arg(3)
    ->Arg(9)
    ->Arg(30)
    ->UseManualTime()
    ->Iterations(7)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(toneStepOfAFullFrame)
    ->Arg(0)
    ->Arg(20)
    ->UseManualTime()
    ->Iterations(9)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(finishStepOfASmallLayer)->UseManualTime()->Iterations(15)->Unit(benchmark::kMillisecond);
BENCHMARK(memoryOfTwelveLayersWithFinishes)->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
