// SPDX-License-Identifier: GPL-3.0-or-later
// The contrast ratio of two colours of the interface (WCAG 2.2).
#pragma once

#include <QColor>

#include "colour/colour.h"

namespace zl::app {

inline double contrast(const QColor& one, const QColor& other) {
    const auto light = [](const QColor& c) {
        return relativeLuminance(c.red(), c.green(), c.blue());
    };
    return contrastRatio(light(one), light(other));
}

}  // namespace zl::app
