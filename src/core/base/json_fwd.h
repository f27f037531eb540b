// SPDX-License-Identifier: GPL-3.0-or-later
// The names of JSON values alone. Headers that only hand JSON on include this; whoever reads or
// writes it includes base/json.h, which is slow to compile.
#pragma once

#include <nlohmann/json_fwd.hpp>

namespace zl {

using Json = nlohmann::json;
using OrderedJson = nlohmann::ordered_json;

}  // namespace zl
