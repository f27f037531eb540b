// SPDX-License-Identifier: GPL-3.0-or-later
// The adapter of OpenCV's face detector: frontal faces by boosted cascades (Viola and Jones 2001),
// with the cascade that opencv-data ships. Loaded by picture/faces.cpp.
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <opencv2/objdetect.hpp>

#include <algorithm>
#include <cstdint>

// Finds faces in `grey` (width * height bytes). Writes up to `most` of them as x, y, width, height
// in px and the detector's confidence, the most certain first, and gives their number; -1 when it
// cannot work. One thread at a time.
extern "C" int zl_find_faces(const std::uint8_t* grey, int width, int height, double* out,
                             int most) {
    try {
        cv::setNumThreads(1);
        // Read once: parsing it takes as long as looking for a face.
        static cv::CascadeClassifier cascade;
        if (cascade.empty() && !cascade.load(ZL_FACE_CASCADE)) return -1;
        const cv::Mat given(height, width, CV_8UC1, const_cast<std::uint8_t*>(grey));
        cv::Mat even;
        cv::equalizeHist(given, even);
        std::vector<cv::Rect> found;
        std::vector<int> levels;
        std::vector<double> weights;
        constexpr double step = 1.08;
        constexpr int neighbours = 4, smallest = 24;
        cascade.detectMultiScale(even, found, levels, weights, step, neighbours, 0,
                                 cv::Size(smallest, smallest), cv::Size(), true);
        std::vector<std::size_t> order(found.size());
        for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return weights[a] > weights[b]; });
        int count = 0;
        for (const std::size_t i : order) {
            if (count >= most) break;
            double* at = out + 5 * count++;
            at[0] = found[i].x;
            at[1] = found[i].y;
            at[2] = found[i].width;
            at[3] = found[i].height;
            at[4] = weights[i];
        }
        return count;
    } catch (const cv::Exception&) {
        return -1;
    }
}

// Looks for open eyes in a face, the square that the face's cascade found, at three sizes. Gives
// how many were seen in all, two at most each time; -1 when it cannot work. One thread at a time.
extern "C" int zl_find_open_eyes(const std::uint8_t* grey, int width, int height) {
    try {
        static cv::CascadeClassifier cascade;
        if (cascade.empty() && !cascade.load(ZL_OPEN_EYE_CASCADE)) return -1;
        const cv::Mat given(height, width, CV_8UC1, const_cast<std::uint8_t*>(grey));
        int open = 0;
        for (const int side : {120, 160, 200}) {
            cv::Mat face;
            cv::resize(given, face, cv::Size(side, side), 0, 0,
                       side < width ? cv::INTER_AREA : cv::INTER_CUBIC);
            cv::equalizeHist(face, face);
            // From under the hair to the middle of the nose.
            const cv::Mat upper = face(cv::Rect(0, side / 6, side, side * 2 / 5));
            std::vector<cv::Rect> found;
            constexpr double step = 1.05;
            constexpr int neighbours = 2;
            cascade.detectMultiScale(upper, found, step, neighbours, 0,
                                     cv::Size(side / 8, side / 8));
            open += std::min<int>(2, static_cast<int>(found.size()));
        }
        return open;
    } catch (const cv::Exception&) {
        return -1;
    }
}
