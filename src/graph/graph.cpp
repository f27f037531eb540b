// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of OpenCV's graph cuts: grabCut (Rother, Kolmogorov and Blake 2004) and the minimum
// cut under it (Boykov and Kolmogorov 2004). Loaded by cut/subject/graph.cpp.
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

#include <cstdint>

// The minimum cut of a graph of `nodes` nodes. `pull` says how much each is drawn to the side 1 (or
// to the side 0, below 0); an edge has its two ends in `ends` and one weight, 0 or more. Writes 0
// or 1 a node. Gives 0, or -1 when it cannot work. Any thread.
extern "C" int zl_min_cut(int nodes, const float* pull, int edges, const int* ends,
                          const float* weights, std::uint8_t* sides) {
    try {
        if (edges == 0) {  // which its graph refuses
            for (int i = 0; i < nodes; ++i) sides[i] = pull[i] > 0 ? 1 : 0;
            return 0;
        }
        cv::detail::GCGraph<float> graph(static_cast<unsigned>(nodes),
                                         2 * static_cast<unsigned>(edges));
        for (int i = 0; i < nodes; ++i) {
            graph.addVtx();
            graph.addTermWeights(i, pull[i] > 0 ? pull[i] : 0.0F, pull[i] < 0 ? -pull[i] : 0.0F);
        }
        for (int i = 0; i < edges; ++i)
            graph.addEdges(ends[2 * i], ends[2 * i + 1], weights[i], weights[i]);
        graph.maxFlow();
        for (int i = 0; i < nodes; ++i) sides[i] = graph.inSourceSegment(i) ? 1 : 0;
        return 0;
    } catch (const std::exception&) {
        return -1;
    }
}

// grabCut of `bgr` (3 bytes a pixel) from the labels in `mask` (0 ground for sure, 1 subject for
// sure, 2 ground perhaps, 3 subject perhaps), which it changes. The same bytes at every call. Gives
// 0, or -1 when it cannot work, as with no pixel of one of the two kinds.
extern "C" int zl_grab_cut(const std::uint8_t* bgr, int width, int height, std::uint8_t* mask,
                           int iterations) {
    try {
        cv::setNumThreads(1);
        cv::theRNG().state = 0x2545F491;
        const cv::Mat picture(height, width, CV_8UC3, const_cast<std::uint8_t*>(bgr));
        cv::Mat labels(height, width, CV_8UC1, mask), grounds, subjects;
        cv::grabCut(picture, labels, {}, grounds, subjects, iterations, cv::GC_INIT_WITH_MASK);
        return 0;
    } catch (const std::exception&) {
        return -1;
    }
}
