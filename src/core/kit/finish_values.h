// SPDX-License-Identifier: GPL-3.0-or-later
// Finishes as values: outline, shadow, glow, bevel. What each kind has is told by one table, which
// JSON, the window's fields, the checks and the drawing (finish/) read. Lengths are frame px.
#pragma once

#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "base/colour_value.h"
#include "base/result.h"

namespace zl {

// One number of a finish.
struct FinishField {
    std::string_view id;    // in kit.json
    std::string_view unit;  // "px", "%", "°", ""
    double low = 0, high = 0, usual = 0;
    bool length = false;     // grows with the layer when it is scaled
    std::string_view words;  // for a choice: the words of 0, 1, 2 …, parted by '|'; empty: a number
};

struct FinishKind {
    std::string_view
        id;        // its title is the phrase "finish.ID", a field's the phrase "finish.FIELD"
    Colour usual;  // its colour to begin with
    std::span<const FinishField> fields;
    int fieldAt(std::string_view field) const;  // -1 when there is none
};

std::span<const FinishKind> allFinishKinds();
const FinishKind* finishKind(std::string_view id);

inline constexpr std::size_t mostFinishFields = 6, mostFinishes = 12;  // of a kind; of a layer

struct Finish {
    std::string kind = "outline";
    std::array<double, mostFinishFields>
        values{};  // in the order of its kind's fields; the rest is 0
    Colour colour{};
    bool off = false;  // kept, but not drawn

    double value(std::string_view field) const;  // 0 when its kind has no such field
    void set(std::string_view field, double value);
    bool operator==(const Finish&) const = default;
};

// With the usual values of its kind, which must exist.
Finish makeFinish(std::string_view kind);
Finish outlineOf(double px, Colour colour);

// The first outline that is drawn outside the ink (or across its edge) and not off; nothing when
// there is none.
const Finish* outerOutline(const std::vector<Finish>& finishes);
Finish* outerOutline(std::vector<Finish>& finishes);
// How far it reaches beyond the edge, px.
double outerWidth(const Finish& outline);

// Every length times `factor`.
Finish scaled(Finish finish, double factor);

// Code::badUsage: an unknown kind, a number that is none or out of its range.
[[nodiscard]] Result<void> checkFinish(const Finish& finish);

}  // namespace zl
