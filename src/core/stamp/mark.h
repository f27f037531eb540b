// SPDX-License-Identifier: GPL-3.0-or-later
// What a stamp shows, ready to be drawn at any size, and where it lies on a photograph. Layers are
// scaled and turned as values, so that lettering stays sharp and a picture is resampled once.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "base/file.h"
#include "kit/stamp_values.h"
#include "render/render.h"

namespace zl {

// What a text's fields say on one photograph.
struct StampFields {
    std::string file;    // its name without its ending
    int number = 1;      // its place in the run
    int digits = 1;      // that it is written with at least
    std::string date{};  // "2026-11-29", of the photograph
    std::string year() const { return date.substr(0, 4); }
    bool operator==(const StampFields&) const = default;
};
// "{year} {file}" with its fields put in; "{{" is a brace. Code::badUsage: a field that there is
// not.
[[nodiscard]] Result<std::string> withFields(const std::string& pattern, const StampFields& fields);
// Whether it depends on the photograph.
bool hasFields(const std::string& pattern);

// A mark at the size it was made at.
struct Mark {
    Kit kit;
    Piece piece;
    PixelRect ink;         // of the piece's frame px; alpha of at least `inkAlpha`
    double capHeight = 0;  // px of the smallest lettering; 0: there is none
    bool own = false;      // it says something else on each photograph
};
// Fainter ink than that, of 255, takes no room: tails of shadows and glows.
inline constexpr int inkAlpha = 24;

// Where files of a stamp are looked for, and the kit that holds it.
struct StampHome {
    Path folder;
    const Kit* kit = nullptr;
};
// Errors: a file that cannot be read, a piece that is not there, nothing to be seen.
[[nodiscard]] Result<Mark> markOf(const StampWhat& what, const StampFields& fields,
                                  const StampHome& home, InkStore& store);

// A mark on one photograph.
struct Laid {
    std::vector<Ink> inks;     // px of the photograph; several where it is repeated
    PixelRect box;             // round the ink of one, the first, in px of the photograph
    double factor = 1;         // px of the photograph for a px of the mark
    double capitals = 0;       // px; 0: there are none
    bool madeSmaller = false;  // it would not have fitted
};
// `at`: another place than the stamp's own, such as the best corner. Code::limitNotMet: the
// photograph is too small for a mark.
[[nodiscard]] Result<Laid> laidOn(PixelSize photo, const Stamp& stamp, const Mark& mark,
                                  std::optional<StampAt> at, InkStore& store);
// The same with a placing of the photograph's own.
[[nodiscard]] Result<Laid> laidOn(PixelSize photo, const Stamp& stamp, const StampPlacing& placing,
                                  const Mark& mark, InkStore& store);

// The stamp laid onto a piece, as layers of its own above all others. Fields of a text say what
// they say of the piece, today.
[[nodiscard]] Result<Kit> withStampOn(const Kit& kit, std::string_view pieceId, const Stamp& stamp,
                                      const StampHome& home);
// The mark's layers as they lie on a frame of that size, with the stamp's opacity.
[[nodiscard]] Result<std::vector<Layer>> layersOn(PixelSize frame, const Stamp& stamp,
                                                  const Mark& mark, InkStore& store);

}  // namespace zl
