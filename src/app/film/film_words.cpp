// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/film_words.h"
#include "widgets/moment_field.h"

#include <QCoreApplication>
#include <QStringList>
#include <algorithm>
#include <cmath>
#include <cstdlib>

namespace zl::app {
namespace {

struct Words {
    Q_DECLARE_TR_FUNCTIONS(Film)
};

QString soundWords(const VideoFacts& facts) {
    if (facts.sound.empty()) return Words::tr("no sound");
    const int channels = facts.sound.front().channels;
    return channels == 1   ? Words::tr("mono sound")
           : channels == 2 ? Words::tr("stereo sound")
                           : Words::tr("sound of %1 channels").arg(channels);
}

// A matrix by the standard that defines it.
QString standardOf(const std::string& matrix) {
    if (matrix == "bt709") return "BT.709";
    if (matrix == "bt470bg" || matrix == "smpte170m") return "BT.601";
    if (matrix == "bt2020nc" || matrix == "bt2020c") return "BT.2020";
    return matrix == "gbr" ? QString("RGB") : QString::fromStdString(matrix);
}

bool allTold(const VideoColour& colour) {
    return colour.matrix.told && colour.primaries.told && colour.transfer.told && colour.range.told;
}

}  // namespace

QString factWords(const VideoFacts& facts, std::optional<PixelSize> frame) {
    QStringList words;
    words << QString("%1 × %2").arg(facts.shown.width).arg(facts.shown.height)
          << QString::fromStdString(shapeName(facts.shown));
    if (frame) {
        const double times = std::min(static_cast<double>(facts.shown.width) / frame->width,
                                      static_cast<double>(facts.shown.height) / frame->height);
        words << (std::abs(times - 1) < 0.005 ? Words::tr("as large as the frame")
                  : times > 1 ? Words::tr("%1 times the frame").arg(times, 0, 'g', 3)
                              : Words::tr("only %1 times the frame").arg(times, 0, 'g', 2));
    }
    words << momentWords(facts.duration)
          << Words::tr("%1 frames a second").arg(QString::number(facts.fps, 'g', 4));
    if (!facts.ratesTold)
        words.back() = Words::tr("no time stamps, counted at %1 a second").arg(facts.fps);
    if (facts.variableRate) words << Words::tr("at a rate that varies");
    if (facts.quarters != 0) words << Words::tr("turned by %1°").arg(90 * facts.quarters);
    if (facts.alpha) words << Words::tr("see-through");
    words << Words::tr("%1 bit").arg(facts.depth);
    if (facts.interlaced) words << Words::tr("interlaced");
    words << soundWords(facts)
          << Words::tr("%1, %2 range, %3")
                 .arg(standardOf(facts.colour.matrix.name),
                      QString::fromStdString(facts.colour.range.name),
                      allTold(facts.colour)      ? Words::tr("told by the file")
                      : facts.colour.matrix.told ? Words::tr("partly guessed")
                                                 : Words::tr("guessed"));
    return words.join("  ·  ");
}

QString colourWords(const VideoFacts& facts) {
    QStringList lines;
    const auto line = [&](const QString& what, const ColourFact& fact) {
        lines << Words::tr("%1: %2, %3")
                     .arg(what, QString::fromStdString(fact.name),
                          fact.told ? Words::tr("told by the file") : Words::tr("guessed"));
    };
    line(Words::tr("Matrix"), facts.colour.matrix);
    line(Words::tr("Primaries"), facts.colour.primaries);
    line(Words::tr("Transfer"), facts.colour.transfer);
    line(Words::tr("Range"), facts.colour.range);
    lines << Words::tr("%1 in %2")
                 .arg(QString::fromStdString(facts.codec), QString::fromStdString(facts.container));
    return lines.join("\n");
}

QString nearnessWords(Nearness nearness) {
    switch (nearness) {
        case Nearness::strip:
            return Words::tr("near: from the strip");
        case Nearness::key:
            return Words::tr("near: a key frame");
        case Nearness::exact:
            return Words::tr("exact");
    }
    return {};
}

QString exactWords(const VideoFrame& frame) {
    QStringList words{nearnessWords(Nearness::exact)};
    if (frame.deep) words << Words::tr("16 bit");
    if (frame.deinterlaced) words << Words::tr("deinterlaced");
    if (frame.toned) words << Words::tr("its light brought down to a display's");
    return words.join(", ");
}

QString speedWords(int speed) {
    if (speed == 1) return Words::tr("playing");
    return speed > 0 ? Words::tr("%1 × on").arg(speed)
                     : Words::tr("%1 × back").arg(std::abs(speed));
}

}  // namespace zl::app
