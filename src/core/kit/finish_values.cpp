// SPDX-License-Identifier: GPL-3.0-or-later
#include "kit/finish_values.h"

#include <fmt/core.h>

#include <algorithm>
#include <cmath>

namespace zl {
namespace {

constexpr double farthest = 400;  // px

constexpr auto outlineFields = std::to_array<FinishField>({
    {"px", "px", 0, farthest, 6, true, ""},
    {"side", "", 0, 2, 0, false, "outside|centre|inside"},
});
constexpr auto shadowFields = std::to_array<FinishField>({
    {"dx", "px", -2000, 2000, 6, true, ""},
    {"dy", "px", -2000, 2000, 6, true, ""},
    {"blur", "px", 0, farthest, 12, true, ""},
    {"spread", "px", -farthest, farthest, 0, true, ""},
    {"opacity", "%", 0, 100, 60, false, ""},
});
constexpr auto glowFields = std::to_array<FinishField>({
    {"px", "px", 0, farthest, 18, true, ""},
    {"opacity", "%", 0, 100, 80, false, ""},
});
constexpr auto bevelFields = std::to_array<FinishField>({
    {"size", "px", 0, farthest, 8, true, ""},
    {"depth", "%", 0, 100, 50, false, ""},
    {"light", "°", -360, 360, 225, false, ""},
});

constexpr auto table = std::to_array<FinishKind>({
    {"outline", {16, 21, 28, 255}, outlineFields},
    {"shadow", {0, 0, 0, 255}, shadowFields},
    {"glow", {255, 246, 227, 255}, glowFields},
    {"bevel", {255, 255, 255, 255}, bevelFields},
});

bool isOuter(const Finish& finish) {
    return finish.kind == "outline" && !finish.off && finish.value("px") > 0 &&
           finish.value("side") < 2;
}

}  // namespace

std::span<const FinishKind> allFinishKinds() {
    return table;
}

const FinishKind* finishKind(std::string_view id) {
    const auto* found =
        std::find_if(table.begin(), table.end(), [&](const FinishKind& k) { return k.id == id; });
    return found == table.end() ? nullptr : found;
}

int FinishKind::fieldAt(std::string_view field) const {
    for (std::size_t i = 0; i < fields.size(); ++i)
        if (fields[i].id == field) return static_cast<int>(i);
    return -1;
}

double Finish::value(std::string_view field) const {
    const FinishKind* row = finishKind(kind);
    const int at = row ? row->fieldAt(field) : -1;
    return at < 0 ? 0 : values[static_cast<std::size_t>(at)];
}

void Finish::set(std::string_view field, double value) {
    const FinishKind* row = finishKind(kind);
    if (const int at = row ? row->fieldAt(field) : -1; at >= 0)
        values[static_cast<std::size_t>(at)] = value;
}

Finish makeFinish(std::string_view kind) {
    Finish made;
    made.kind = kind;
    if (const FinishKind* row = finishKind(kind)) {
        made.colour = row->usual;
        for (std::size_t i = 0; i < row->fields.size(); ++i) made.values[i] = row->fields[i].usual;
    }
    return made;
}

Finish outlineOf(double px, Colour colour) {
    Finish made = makeFinish("outline");
    made.set("px", px);
    made.colour = colour;
    return made;
}

const Finish* outerOutline(const std::vector<Finish>& finishes) {
    const auto found = std::find_if(finishes.begin(), finishes.end(), isOuter);
    return found == finishes.end() ? nullptr : &*found;
}

Finish* outerOutline(std::vector<Finish>& finishes) {
    return const_cast<Finish*>(outerOutline(std::as_const(finishes)));
}

double outerWidth(const Finish& outline) {
    return outline.value("px") * (outline.value("side") == 1 ? 0.5 : 1);
}

Finish scaled(Finish finish, double factor) {
    if (const FinishKind* row = finishKind(finish.kind))
        for (std::size_t i = 0; i < row->fields.size(); ++i)
            if (row->fields[i].length)
                finish.values[i] =
                    std::clamp(finish.values[i] * factor, row->fields[i].low, row->fields[i].high);
    return finish;
}

Result<void> checkFinish(const Finish& finish) {
    const FinishKind* row = finishKind(finish.kind);
    if (!row)
        return fail(Code::badUsage,
                    fmt::format("There is no finish \"{}\".", finish.kind.substr(0, 40)));
    for (std::size_t i = 0; i < row->fields.size(); ++i) {
        const FinishField& field = row->fields[i];
        const double v = finish.values[i];
        if (!std::isfinite(v) || v < field.low || v > field.high)
            return fail(
                Code::badUsage,
                fmt::format("The {} of {} {} goes from {} to {}{}.", field.id,
                            row->id == "outline" ? "an" : "a", row->id, field.low, field.high,
                            field.unit.empty() ? "" : fmt::format(" {}", field.unit)));
    }
    return {};
}

}  // namespace zl
