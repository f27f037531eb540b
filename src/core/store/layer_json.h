// SPDX-License-Identifier: GPL-3.0-or-later
// Layers, finishes and looks as JSON, as docs/kit-format.md describes them. JSON that comes in was
// checked against the schema.
#pragma once

#include "base/json_fwd.h"
#include "kit/kit.h"

namespace zl {

OrderedJson jsonOf(const Layer& layer);
OrderedJson jsonOf(const Look& look);
OrderedJson jsonOf(const std::vector<Cut>& cuts);
// `name` stands in the error's sentence: a field that its kind needs is missing, a finish is out of
// its range.
[[nodiscard]] Result<Layer> layerFrom(const Json& json, const std::string& name);
[[nodiscard]] Result<Look> lookFrom(const Json& json, const std::string& name);

}  // namespace zl
