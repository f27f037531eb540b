// SPDX-License-Identifier: GPL-3.0-or-later
// JSON in: parsed within limits and checked against a JSON Schema (draft 2020-12, the part of it
// listed below), so that a bad file is refused with its name, the field and the reason. The adapter
// of nlohmann's library: nothing throws from here.
//
// Keywords understood: type (one or a list), enum, required, properties, additionalProperties:
// false, items, minItems, maxItems, minLength, maxLength, minimum, maximum, pattern. A schema with
// any other constraint is refused, not ignored.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "base/bytes.h"
#include "base/json_fwd.h"
#include "base/result.h"

namespace zl {

// `name` stands in the error's sentence.
[[nodiscard]] Result<Json> parseJson(ByteView bytes, const std::string& name);
[[nodiscard]] Result<void> checkAgainst(const Json& schema, const Json& value,
                                        const std::string& name);

// Two spaces of indent, UTF-8 kept, invalid UTF-8 replaced, a line end at the end.
std::string written(const OrderedJson& value);

}  // namespace zl
