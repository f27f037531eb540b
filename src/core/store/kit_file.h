// SPDX-License-Identifier: GPL-3.0-or-later
// The file `.zlkit`: a zip that holds kit.json and the originals, each named by its SHA-256
// (docs/kit-format.md). What is read is bounded and checked: names, sizes, ratios, hashes, JSON
// Schema. The same kit gives the same bytes.
#pragma once

#include "base/file.h"
#include "base/json_fwd.h"
#include "kit/kit.h"

namespace zl {

// 2: references, fonts of its own, more formats; 3: bars, finishes, tone, guides, looks; 4: cuts;
// 5: links, slices, pieces laid out from others; 7: which frame of which video a picture is;
// 8: stamps. 9: subjects.
inline constexpr int kitFormatVersion = 10;

// Code::badUsage where kit.json of this kit would be refused when it is read: nothing that cannot
// be opened again may take the place of what can.
[[nodiscard]] Result<void> readsBack(const Kit& kit);
// Only the originals that a piece uses are written. What does not read back is not packed.
[[nodiscard]] Result<Bytes> packKit(const Kit& kit);
// `schema` is data/schema/kit.schema.json; `name` stands in the errors' sentences. A kit of a newer
// version is refused.
[[nodiscard]] Result<Kit> unpackKit(ByteView bytes, const Json& schema, const std::string& name);

// kit.json alone, as text or as what was read of it: its version, its schema, and all that pieces
// and layers may be. Its originals come without bytes.
[[nodiscard]] Result<Kit> kitFromText(ByteView text, const Json& schema, const std::string& name);
[[nodiscard]] Result<Kit> checkedKit(const Json& json, const Json& schema, const std::string& name);
inline constexpr std::size_t largestOriginal = 500'000'000;  // bytes
// The bytes again when they are those of the original that the kit names.
[[nodiscard]] Result<Bytes> checkedOriginal(Bytes bytes, const Asset& asset,
                                            const std::string& name);

[[nodiscard]] Result<Kit> openKit(const Path& path);
// Beside, synced, renamed: the old file stands until the new one is whole. What it replaces is kept
// as the previous version.
[[nodiscard]] Result<void> saveKit(const Kit& kit, const Path& path, Replace replace);
// Where the previous version of a kit stands: "NAME.previous.zlkit" beside it.
Path previousOf(const Path& path);

}  // namespace zl
