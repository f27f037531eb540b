// SPDX-License-Identifier: GPL-3.0-or-later
// What red and blue weigh in a video's light (ITU-T H.273, matrix coefficients).
#pragma once

#include <zimg.h>

#include <optional>

namespace zl::video {

struct Weights {
    double red, blue;
};

inline std::optional<Weights> weightsOf(zimg_matrix_coefficients_e matrix) {
    switch (matrix) {
        case ZIMG_MATRIX_BT709:
            return Weights{0.2126, 0.0722};
        case ZIMG_MATRIX_FCC:
            return Weights{0.30, 0.11};
        case ZIMG_MATRIX_BT470_BG:
        case ZIMG_MATRIX_ST170_M:
            return Weights{0.299, 0.114};
        case ZIMG_MATRIX_ST240_M:
            return Weights{0.212, 0.087};
        case ZIMG_MATRIX_BT2020_NCL:
            return Weights{0.2627, 0.0593};
        default:
            return {};
    }
}

}  // namespace zl::video
