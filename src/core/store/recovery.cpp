// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/recovery.h"

#include <fmt/core.h>

#include "base/data_files.h"
#include "base/json.h"
#include "store/kit_file.h"
#include "store/kit_json.h"

namespace zl {
namespace {

constexpr char journalName[] = "journal.json";

tl::unexpected<Error> broken(const Path& folder) {
    return fail(Code::unreadable,
                fmt::format("What was kept in {} cannot be read.", folder.string()));
}

}  // namespace

Result<void> writeRecovery(const Path& folder, const Kit& kit, const std::optional<Path>& saved,
                           std::set<std::string>& written) {
    if (auto good = readsBack(kit); !good) return good;
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error)
        return fail(Code::unwritable,
                    fmt::format("The recovery folder {} cannot be made.", folder.string()));
    for (const std::string& hash : kit.assetsInUse()) {
        if (written.contains(hash)) continue;
        const Asset* asset = kit.asset(hash);
        if (!asset || !asset->bytes) continue;
        if (auto done = writeFile(folder / hash, *asset->bytes, Replace::yes); !done) return done;
        written.insert(hash);
    }
    const std::string text =
        zl::written(OrderedJson{{"saved", saved ? saved->string() : ""}, {"kit", jsonOf(kit)}});
    return writeFile(folder / journalName,
                     {reinterpret_cast<const std::uint8_t*>(text.data()), text.size()},
                     Replace::yes);
}

Result<Recovered> readRecovery(const Path& folder) {
    const auto bytes = readFile(folder / journalName);
    if (!bytes) return passOn(bytes.error());
    const auto json = parseJson(*bytes, journalName);
    if (!json) return passOn(json.error());
    if (!json->is_object() || !json->contains("kit") || !json->contains("saved") ||
        !(*json)["saved"].is_string())
        return broken(folder);
    const auto schema = schemaNamed("kit.schema.json");
    if (!schema) return passOn(schema.error());
    auto kit = checkedKit((*json)["kit"], *schema, journalName);
    if (!kit) return passOn(kit.error());
    for (auto& [hash, asset] : kit->assets.own()) {
        auto original = readFile(folder / hash, largestOriginal);
        if (!original) return broken(folder);
        auto good = checkedOriginal(std::move(*original), asset, journalName);
        if (!good) return broken(folder);
        asset.bytes = std::make_shared<const Bytes>(std::move(*good));
    }
    Recovered out{std::move(*kit), {}};
    if (const std::string saved = (*json)["saved"]; !saved.empty()) out.saved = saved;
    return out;
}

void removeRecovery(const Path& folder) {
    std::error_code none;
    std::filesystem::remove_all(folder, none);
}

}  // namespace zl
