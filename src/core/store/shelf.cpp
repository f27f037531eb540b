// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/shelf.h"

#include <fmt/core.h>

#include "base/data_files.h"
#include "base/json.h"
#include "store/layer_json.h"

namespace zl {

namespace {

Result<std::vector<Look>> looksFrom(ByteView bytes, const std::string& name) {
    const auto json = parseJson(bytes, name);
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

}  // namespace

Result<std::vector<Look>> readShelf(const Path& file) {
    std::error_code none;
    if (!std::filesystem::exists(file, none)) return std::vector<Look>{};
    const auto bytes = readFile(file);
    if (!bytes) return passOn(bytes.error());
    return looksFrom(*bytes, file.filename().string());
}

Result<void> addToShelf(const Path& file, const Look& look) {
    auto looks = readShelf(file);
    if (!looks) return passOn(looks.error());
    std::erase_if(*looks, [&](const Look& other) { return other.name == look.name; });
    looks->push_back(look);
    OrderedJson json = OrderedJson::array();
    for (const Look& one : *looks) json.push_back(jsonOf(one));
    const std::string text = written(json);
    const ByteView bytes{reinterpret_cast<const std::uint8_t*>(text.data()), text.size()};
    // What could not be read again takes no shelf's place.
    if (const auto back = looksFrom(bytes, "the shelf"); !back) return passOn(back.error());
    std::error_code none;
    std::filesystem::create_directories(file.parent_path(), none);
    return writeFile(file, bytes, Replace::yes);
}

}  // namespace zl
