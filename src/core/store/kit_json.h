// SPDX-License-Identifier: GPL-3.0-or-later
// kit.json: a kit's values, without the originals' bytes. Included by the room's own sources.
#pragma once

#include "base/json_fwd.h"
#include "kit/kit.h"

namespace zl {

OrderedJson jsonOf(const Kit& kit);
// `json` has passed the schema; what a schema cannot say (unique ids, known originals) is checked
// here. The assets come without bytes.
[[nodiscard]] Result<Kit> kitFrom(const Json& json, const std::string& name);

}  // namespace zl
