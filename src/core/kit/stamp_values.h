// SPDX-License-Identifier: GPL-3.0-or-later
// A stamp: one mark for many photographs. It says what, where, how large and how strong; the
// photograph says the rest, so that the mark looks alike on all of them.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "base/geometry.h"
#include "base/result.h"
#include "kit/layer.h"

namespace zl {

// px, or a percentage of a side of the photograph.
struct Length {
    double value = 0;
    bool percent = false;
    double on(double side) const { return percent ? value / 100 * side : value; }
    bool operator==(const Length&) const = default;
};

// The nine places of a photograph.
enum class StampAt { topLeft, top, topRight, left, centre, right, bottomLeft, bottom, bottomRight };
inline constexpr std::array<std::string_view, 9> stampPlaces{
    "top-left", "top",         "top-right", "left",        "centre",
    "right",    "bottom-left", "bottom",    "bottom-right"};
constexpr std::string_view wordOf(StampAt at) {
    return stampPlaces[static_cast<std::size_t>(at)];
}
std::optional<StampAt> stampAtNamed(std::string_view word);
// 0 for the left or the top, 0.5 for the middle, 1 for the right or the bottom.
constexpr RealPoint shareOf(StampAt at) {
    const int i = static_cast<int>(at);
    return {(i % 3) / 2.0, (i / 3) / 2.0};
}

enum class StampOf { shortSide, width, px };     // what a percentage is of
enum class StampSize { width, inside, covers };  // by `width`; the largest that fits; over all

// Where the mark stands and how large it is. All lengths are measured to the turned mark's ink.
struct StampPlacing {
    StampAt at = StampAt::bottomRight;
    std::optional<RealPoint> centre{};  // shares of the photograph; where the mark was dragged to
    Length insetX{4, true}, insetY{4, true};  // from the edges it stands at
    StampSize size = StampSize::width;
    Length width{30, true};  // of the ink before its turn
    StampOf of = StampOf::shortSide;
    bool operator==(const StampPlacing&) const = default;
};

struct StampPicture {
    std::string file;  // a path; one without a root begins at the recipe's folder
    bool operator==(const StampPicture&) const = default;
};
// The text may hold {year}, {date}, {file} and {n}.
struct StampText {
    LetteringLayer letters;
    std::vector<Finish> finishes;
    bool operator==(const StampText&) const = default;
};
struct StampPiece {
    std::string kit;    // a path as above; empty: the kit that holds the stamp
    std::string piece;  // its id
    bool operator==(const StampPiece&) const = default;
};
using StampWhat = std::variant<StampText, StampPicture, StampPiece>;

struct Stamp {
    std::string name = "New stamp";
    StampWhat what;
    std::optional<StampWhat> twin{};  // the same for the other tone
    StampPlacing placing;
    std::optional<StampPlacing> upright{};  // on photographs that are higher than wide
    std::vector<StampAt> corners{};         // that may be used, best first; empty: `at` alone
    double least = 0, most = 0;             // px of the ink's width; 0: no bound
    double leastCapitals = 0;               // px; 0: no bound
    double opacity = 1;                     // 0..1
    double turn = 0;                        // degrees clockwise
    std::optional<Length> tiled{};          // repeated with that gap, a percentage of its width
    std::string author, rights, address;    // written into the marked photographs; empty: not
    bool operator==(const Stamp&) const = default;
    const StampPlacing& placingOn(PixelSize photo) const {
        return upright && photo.height > photo.width ? *upright : placing;
    }
};

// Code::badUsage says which value is out of its range.
[[nodiscard]] Result<void> checkStamp(const Stamp& stamp);

}  // namespace zl
