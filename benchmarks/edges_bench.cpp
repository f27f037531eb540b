// SPDX-License-Identifier: GPL-3.0-or-later
// The colour key and the edge readings of a full frame, against OpenCV's components and distance of
// the same picture.
#include <opencv2/imgproc.hpp>

#include "base/parallel.h"
#include "cut/cut.h"
#include "pair.h"
#include "readings/edge_facts.h"
#include "twelve_layers.h"

namespace zl::bench {
namespace {

// Marks on a flat ground over the whole frame: discs of 52 px in cells of 160, some 5 % of it edge.
Straight8 marksOn(std::uint32_t ground) {
    Straight8 out(frame);
    for (int y = 0; y < frame.height; ++y)
        for (int x = 0; x < frame.width; ++x) {
            const double dx = x % 160 - 80, dy = y % 160 - 80,
                         a = std::clamp(52.5 - std::sqrt(dx * dx + dy * dy), 0.0, 1.0);
            const auto mix = [&](int ink, int under) {
                return static_cast<int>(std::lround(a * ink + (1 - a) * under));
            };
            if (ground == 0)
                out.row(y)[x] =
                    a > 0 ? packed(40, 70, 110, static_cast<int>(std::lround(255 * a))) : 0u;
            else
                out.row(y)[x] = packed(mix(40, redOf(ground)), mix(70, greenOf(ground)),
                                       mix(110, blueOf(ground)), 255);
        }
    return out;
}

// connectedComponents and distanceTransform of the ground's mask, as a key without unmixing would
// need them.
class Classic {
  public:
    explicit Classic(const Straight8& picture)
        : picture_(picture), mask_(frame.height, frame.width, CV_8U) {}
    void components() {
        for (int y = 0; y < frame.height; ++y)
            for (int x = 0; x < frame.width; ++x)
                mask_.ptr<std::uint8_t>(y)[x] =
                    awayFrom(picture_.row(y)[x], {255, 255, 255}) <= 8 ? 255 : 0;
        cv::connectedComponents(mask_, labels_, 4, CV_32S);
    }
    void distance() { cv::distanceTransform(mask_, field_, cv::DIST_L2, cv::DIST_MASK_PRECISE); }

  private:
    const Straight8& picture_;
    cv::Mat mask_, labels_, field_;
};

void keyAgainstOpenCv(benchmark::State& state) {
    const Straight8 picture = marksOn(0xFFFFFFFFu);
    Classic classic(picture);
    const KeyCut key;
    compare(
        state, [&] { benchmark::DoNotOptimize(keyed(picture, key, coreCount()).row(0)); },
        [&] {
            classic.components();
            classic.distance();
        });
}

// All edge readings of a frame; the reference is OpenCV's exact distance alone.
void edgeReadingsAgainstOpenCv(benchmark::State& state) {
    const auto ink = std::make_shared<const Straight8>(marksOn(0));
    const Straight8 opaque = marksOn(0xFFFFFFFFu);
    Classic classic(opaque);
    classic.components();
    compare(
        state,
        [&] {
            benchmark::DoNotOptimize(edgeFactsOf(ink, coreCount()).pixels.crisp.size());
            benchmark::DoNotOptimize(hiddenColourOf(*ink).far);
        },
        [&] { classic.distance(); });
}

BENCHMARK(keyAgainstOpenCv)->UseManualTime()->Iterations(7)->Unit(benchmark::kMillisecond);
BENCHMARK(edgeReadingsAgainstOpenCv)->UseManualTime()->Iterations(9)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace zl::bench
