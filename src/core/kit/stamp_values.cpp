// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/stamp_values.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

#include "base/overloads.h"

namespace zl {
namespace {

constexpr double mostPx = 100'000, mostPercent = 1000;
constexpr std::size_t longestText = 10'000, longestPath = 4096;  // bytes

Result<void> checkRange(const char* what, double value, double least, double most) {
    if (std::isfinite(value) && value >= least && value <= most) return {};
    return fail(Code::badUsage,
                fmt::format("The stamp's {} is out of its range, {} to {}.", what, least, most));
}

Result<void> checkWhat(const StampWhat& what) {
    return std::visit(
        Overloads{[](const StampText& text) -> Result<void> {
                      if (text.letters.text.empty())
                          return fail(Code::badUsage, "The stamp's text is empty.",
                                      "Write what it shall say.");
                      if (text.letters.text.size() > longestText)
                          return fail(Code::badUsage, "The stamp's text is too long.",
                                      "Shorten it to 10,000 bytes.");
                      for (const Finish& finish : text.finishes)
                          if (auto good = checkFinish(finish); !good) return good;
                      return checkRange("size of letters", text.letters.size, 1, 4000);
                  },
                  [](const StampPicture& picture) -> Result<void> {
                      if (picture.file.size() > longestPath)
                          return fail(Code::badUsage,
                                      "The path of the stamp's picture is too long.");
                      if (!picture.file.empty()) return {};
                      return fail(Code::badUsage, "The stamp names no picture.", "Choose one.");
                  },
                  [](const StampPiece& piece) -> Result<void> {
                      if (!piece.piece.empty()) return {};
                      return fail(Code::badUsage, "The stamp names no piece.", "Choose one.");
                  }},
        what);
}

Result<void> checkPlacing(const StampPlacing& placing) {
    for (const Length& inset : {placing.insetX, placing.insetY})
        if (auto good = checkRange("inset", inset.value, inset.percent ? -mostPercent : -mostPx,
                                   inset.percent ? mostPercent : mostPx);
            !good)
            return good;
    if (placing.centre)
        for (const double share : {placing.centre->x, placing.centre->y})
            if (auto good = checkRange("place", share, -1, 2); !good) return good;
    if (placing.size != StampSize::width) return {};
    if (placing.width.percent && placing.of == StampOf::px)
        return fail(Code::badUsage, "The stamp's width is a percentage, and is said to be in px.",
                    "Give a number, or say what it is a percentage of: \"short\" or \"width\".");
    constexpr double least = 0.01;
    return checkRange("width", placing.width.value, placing.width.percent ? least : 1,
                      placing.width.percent ? mostPercent : mostPx);
}

}  // namespace

std::optional<StampAt> stampAtNamed(std::string_view word) {
    const auto at = std::find(stampPlaces.begin(), stampPlaces.end(), word);
    if (at == stampPlaces.end()) return {};
    return static_cast<StampAt>(at - stampPlaces.begin());
}

Result<void> checkStamp(const Stamp& stamp) {
    if (stamp.name.empty()) return fail(Code::badUsage, "A stamp needs a name.");
    if (auto good = checkWhat(stamp.what); !good) return good;
    if (stamp.twin)
        if (auto good = checkWhat(*stamp.twin); !good) return good;
    if (auto good = checkPlacing(stamp.placing); !good) return good;
    if (stamp.upright)
        if (auto good = checkPlacing(*stamp.upright); !good) return good;
    if (auto good = checkRange("opacity", stamp.opacity, 0, 1); !good) return good;
    if (auto good = checkRange("turn", stamp.turn, -360, 360); !good) return good;
    if (auto good = checkRange("least width", stamp.least, 0, mostPx); !good) return good;
    if (auto good = checkRange("greatest width", stamp.most, 0, mostPx); !good) return good;
    if (stamp.most > 0 && stamp.most < stamp.least)
        return fail(Code::badUsage, "The stamp's greatest width is less than its least.");
    if (stamp.tiled)
        if (auto good = checkRange("gap", stamp.tiled->value, 0, mostPx); !good) return good;
    return checkRange("least height of capitals", stamp.leastCapitals, 0, mostPx);
}

}  // namespace zl
