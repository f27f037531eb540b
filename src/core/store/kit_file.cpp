// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/kit_file.h"

#include <fmt/core.h>
#include <zip.h>

#include <set>

#include "base/data_files.h"
#include "base/json.h"
#include "edit/edits.h"
#include "store/kit_json.h"

namespace zl {
namespace {

constexpr zip_uint64_t largestEntry = largestOriginal;
constexpr zip_uint64_t largestTotal = 2'000'000'000;
constexpr zip_uint64_t largestText = 32'000'000;  // of the kit's own words and numbers
// Pictures are packed already: what packs that well again is a drawing, or a trap.
constexpr zip_uint64_t likelyRatio = 20, mostPackedWell = 200'000'000;
constexpr zip_uint64_t steepestRatio = 200;  // unpacked over packed; pictures hardly pack at all
constexpr zip_int64_t mostEntries = 5'001;
constexpr char kitEntry[] = "kit.json";
constexpr std::string_view originals = "originals/";

struct Discard {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Archive = std::unique_ptr<zip_t, Discard>;

struct Close {
    void operator()(zip_file_t* file) const { zip_fclose(file); }
};

tl::unexpected<Error> refused(const std::string& name, const std::string& why) {
    return fail(Code::unreadable, fmt::format("{} cannot be opened as a kit: {}.", name, why));
}

Result<Archive> opened(ByteView bytes, const std::string& name) {
    if (bytes.empty())
        return refused(name, "it is empty");  // libzip would take it for an archive without entries
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* zip =
        source ? zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error) : nullptr;
    zip_error_fini(&error);
    if (!zip) {
        if (source) zip_source_free(source);
        return refused(name, "it is no zip file, or it is damaged");
    }
    return Archive(zip);
}

// Every entry's name, size and ratio, before a byte is unpacked.
Result<void> checkEntries(zip_t* zip, const std::string& name) {
    const zip_int64_t count = zip_get_num_entries(zip, 0);
    if (count > mostEntries) return refused(name, "it holds too many files");
    zip_uint64_t total = 0, packedWell = 0;
    std::set<std::string> names;
    for (zip_int64_t i = 0; i < count; ++i) {
        zip_stat_t facts;
        if (zip_stat_index(zip, static_cast<zip_uint64_t>(i), 0, &facts) != 0)
            return refused(name, "it is damaged");
        const std::string entry = facts.name;
        const bool original =
            entry.size() == originals.size() + 64 && entry.starts_with(originals) &&
            entry.find_first_not_of("0123456789abcdef", originals.size()) == std::string::npos;
        if (entry != kitEntry && !original)
            return refused(name, fmt::format("it holds a file that does not belong there, \"{}\"",
                                             entry.substr(0, 60)));
        if (!names.insert(entry).second)
            return refused(name, fmt::format("it holds \"{}\" twice", entry.substr(0, 60)));
        total += facts.size;
        const bool bomb = facts.size > 1'000'000 &&
                          facts.size / std::max<zip_uint64_t>(1, facts.comp_size) > steepestRatio;
        packedWell += facts.size > likelyRatio * facts.comp_size ? facts.size : 0;
        const bool large = entry == kitEntry ? facts.size > largestText : facts.size > largestEntry;
        if (large || total > largestTotal || packedWell > mostPackedWell || bomb)
            return refused(name, "it would unpack to far more than it should");
    }
    return {};
}

Result<Bytes> unpacked(zip_t* zip, const std::string& entry, const std::string& name) {
    zip_stat_t facts;
    if (zip_stat(zip, entry.c_str(), 0, &facts) != 0)
        return refused(name, fmt::format("\"{}\" is missing in it", entry.substr(0, 80)));
    const std::unique_ptr<zip_file_t, Close> file(zip_fopen(zip, entry.c_str(), 0));
    Bytes bytes(facts.size);
    const zip_int64_t got = file ? zip_fread(file.get(), bytes.data(), facts.size) : -1;
    char more = 0;
    if (got != static_cast<zip_int64_t>(facts.size) || zip_fread(file.get(), &more, 1) != 0)
        return refused(name, fmt::format("\"{}\" in it is damaged", entry.substr(0, 80)));
    return bytes;
}

bool add(zip_t* zip, const std::string& entry, ByteView bytes, zip_int32_t method) {
    zip_source_t* source = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
    const zip_int64_t at = source ? zip_file_add(zip, entry.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
    if (at < 0) {
        if (source) zip_source_free(source);
        return false;
    }
    // No clock in the file: the same kit gives the same bytes.
    constexpr zip_uint16_t firstDay = 1 << 5 | 1;  // 1980-01-01
    return zip_set_file_compression(zip, static_cast<zip_uint64_t>(at), method, 0) == 0 &&
           zip_file_set_dostime(zip, static_cast<zip_uint64_t>(at), 0, firstDay, 0) == 0;
}

Result<void> readsBack(const std::string& json) {
    const auto schema = schemaNamed("kit.schema.json");
    if (!schema) return passOn(schema.error());
    const auto back = kitFromText({reinterpret_cast<const std::uint8_t*>(json.data()), json.size()},
                                  *schema, "this kit");
    if (back) return {};
    return fail(
        Code::badUsage,
        fmt::format("What is in this kit now could not be opened again: {}", back.error().what),
        "Undo the last edits until it can be kept.");
}

}  // namespace

Result<void> readsBack(const Kit& kit) {
    return readsBack(written(jsonOf(kit)));
}

Result<Bytes> packKit(const Kit& kit) {
    const auto failed = [] {
        return fail(Code::unwritable, "The kit could not be packed.",
                    "Free some memory and save again.");
    };
    const std::string json = written(jsonOf(kit));
    if (auto good = readsBack(json); !good) return passOn(good.error());
    zip_error_t error;
    zip_error_init(&error);
    zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
    zip_t* zip = target ? zip_open_from_source(target, ZIP_TRUNCATE, &error) : nullptr;
    zip_error_fini(&error);
    if (!zip) {
        if (target) zip_source_free(target);
        return failed();
    }
    zip_source_keep(target);
    bool good =
        add(zip, kitEntry, {reinterpret_cast<const std::uint8_t*>(json.data()), json.size()},
            ZIP_CM_DEFLATE);
    for (const std::string& hash : kit.assetsInUse()) {
        const Asset* asset = kit.asset(hash);
        good = good && asset && asset->bytes &&
               add(zip, std::string(originals) + hash, *asset->bytes, ZIP_CM_STORE);
    }
    if (!good || zip_close(zip) != 0) {
        zip_discard(zip);
        zip_source_free(target);
        return failed();
    }
    zip_stat_t facts;
    Bytes bytes;
    if (zip_source_open(target) == 0 && zip_source_stat(target, &facts) == 0) {
        bytes.resize(facts.size);
        if (zip_source_read(target, bytes.data(), facts.size) !=
            static_cast<zip_int64_t>(facts.size))
            bytes.clear();
        zip_source_close(target);
    }
    zip_source_free(target);
    if (bytes.empty()) return failed();
    return bytes;
}

Result<Kit> checkedKit(const Json& json, const Json& schema, const std::string& name) {
    const std::string place = name + ", kit.json";
    if (json.is_object() && json.contains("version") && json["version"].is_number_integer() &&
        json["version"].get<long long>() > kitFormatVersion)
        return fail(
            Code::unreadable,
            fmt::format(
                "{} was saved by a newer Zinc Ledge (kit format {}, this one reads up to {}).",
                name, json["version"].dump(), kitFormatVersion),
            "Open it with a newer version.");
    if (auto good = checkAgainst(schema, json, place); !good) return passOn(good.error());
    auto kit = kitFrom(json, place);
    if (!kit) return kit;
    for (const Piece& piece : std::as_const(*kit).pieces) {
        if (auto good = checkPiece(piece); !good)
            return refused(name, fmt::format("piece {}: {}", piece.id, good.error().what));
        for (const Layer& layer : piece.layers)
            if (auto good = checkLayer(layer, *kit); !good)
                return refused(name, fmt::format("piece {}: {}", piece.id, good.error().what));
    }
    return kit;
}

Result<Kit> kitFromText(ByteView text, const Json& schema, const std::string& name) {
    const auto json = parseJson(text, name + ", kit.json");
    if (!json) return passOn(json.error());
    return checkedKit(*json, schema, name);
}

Result<Bytes> checkedOriginal(Bytes bytes, const Asset& asset, const std::string& name) {
    if (sha256(bytes) != asset.sha256)
        return refused(name, fmt::format("the original \"{}\" in it was changed", asset.name));
    return bytes;
}

Result<Kit> unpackKit(ByteView bytes, const Json& schema, const std::string& name) {
    auto archive = opened(bytes, name);
    if (!archive) return passOn(archive.error());
    if (auto good = checkEntries(archive->get(), name); !good) return passOn(good.error());
    const auto text = unpacked(archive->get(), kitEntry, name);
    if (!text) return passOn(text.error());
    auto kit = kitFromText(*text, schema, name);
    if (!kit) return kit;
    for (auto& [hash, asset] : kit->assets.own()) {
        auto original = unpacked(archive->get(), std::string(originals) + hash, name);
        if (!original) return passOn(original.error());
        auto good = checkedOriginal(std::move(*original), asset, name);
        if (!good) return passOn(good.error());
        asset.bytes = std::make_shared<const Bytes>(std::move(*good));
    }
    return kit;
}

Result<Kit> openKit(const Path& path) {
    auto bytes = readFile(path);
    if (!bytes) return passOn(bytes.error());
    const auto schema = schemaNamed("kit.schema.json");
    if (!schema) return passOn(schema.error());
    return unpackKit(*bytes, *schema, path.filename().string());
}

Result<void> saveKit(const Kit& kit, const Path& path, Replace replace) {
    const auto bytes = packKit(kit);
    if (!bytes) return passOn(bytes.error());
    // The old file is copied, not moved: at no moment is there none under its name.
    if (std::error_code none; replace == Replace::yes && std::filesystem::exists(path, none)) {
        if (const auto old = readFile(path); old && *old != *bytes)
            if (auto kept = writeFile(previousOf(path), *old, Replace::yes); !kept) return kept;
    }
    return writeFile(path, *bytes, replace);
}

Path previousOf(const Path& path) {
    return path.parent_path() / (stemOf(path) + ".previous" + path.extension().string());
}

}  // namespace zl
