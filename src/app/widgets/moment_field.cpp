// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/moment_field.h"

#include <cmath>

namespace zl::app {

QString momentWords(double seconds) {
    const auto ms = static_cast<long long>(std::llround(std::max(0.0, seconds) * 1000));
    return QString("%1:%2.%3")
        .arg(ms / 60'000)
        .arg(ms / 1000 % 60, 2, 10, QChar('0'))
        .arg(ms % 1000, 3, 10, QChar('0'));
}

std::optional<double> secondsTyped(const QString& words) {
    double seconds = 0;
    for (const QString& part : words.trimmed().split(':')) {
        bool good = false;
        const double value = part.toDouble(&good);
        if (!good || !std::isfinite(value) || value < 0) return {};
        seconds = 60 * seconds + value;
    }
    return seconds;
}

MomentField::MomentField(const char* objectName, const QString& name, int width) {
    setObjectName(objectName);
    setFixedWidth(width);
    setAccessibleName(name);
    setToolTip(name);
}

void MomentField::showMoment(double seconds) {
    if (!hasFocus() || !isModified()) setText(momentWords(seconds));
}

QString MomentField::taken() {
    setModified(false);
    return text().trimmed();
}

}  // namespace zl::app
