// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/shelf.h"

#include <fmt/core.h>

#include "base/data_files.h"
#include "base/json.h"
#include "store/layer_json.h"

namespace zl {

Result<std::vector<Look>> readShelf(const Path& file) {
    std::error_code none;
    if (!std::filesystem::exists(file, none)) return std::vector<Look>{};
    const auto bytes = readFile(file);
    if (!bytes) return passOn(bytes.error());
    const std::string name = file.filename().string();
    const auto json = parseJson(*bytes, name);
    if (!json) return passOn(json.error());
    // The looks of a kit and those of the shelf are described by the same schema.
    const auto schema = schemaNamed("kit.schema.json");
    if (!schema) return passOn(schema.error());
    if (auto good = checkAgainst((*schema)["properties"]["looks"], *json, name); !good)
        return passOn(good.error());
    std::vector<Look> looks;
    for (const Json& one : *json) {
        auto look = lookFrom(one, name);
        if (!look) return passOn(look.error());
        looks.push_back(std::move(*look));
    }
    return looks;
}

Result<void> addToShelf(const Path& file, const Look& look) {
    auto looks = readShelf(file);
    if (!looks) return passOn(looks.error());
    std::erase_if(*looks, [&](const Look& other) { return other.name == look.name; });
    looks->push_back(look);
    OrderedJson json = OrderedJson::array();
    for (const Look& one : *looks) json.push_back(jsonOf(one));
    std::error_code none;
    std::filesystem::create_directories(file.parent_path(), none);
    const std::string text = written(json);
    return writeFile(file, {reinterpret_cast<const std::uint8_t*>(text.data()), text.size()},
                     Replace::yes);
}

}  // namespace zl
