// SPDX-License-Identifier: GPL-3.0-or-later
// A stamp as JSON: its recipe, as docs/stamp-format.md describes it.
#pragma once

#include "base/file.h"
#include "base/json_fwd.h"
#include "kit/kit.h"

namespace zl {

inline constexpr int stampFormatVersion = 1;

OrderedJson jsonOf(const Stamp& stamp);
// Checked against data/schema/stamp.schema.json and by checkStamp. `name` stands in the error's
// sentence. Errors: Code::unreadable.
[[nodiscard]] Result<Stamp> stampFrom(const Json& json, const std::string& name);

[[nodiscard]] Result<Stamp> parseStamp(ByteView text, const std::string& name);
[[nodiscard]] Result<Stamp> readStamp(const Path& file);

// What the command line writes for a person to begin with.
Stamp exampleStamp();

}  // namespace zl
