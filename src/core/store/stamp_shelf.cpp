// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/stamp_shelf.h"

#include <algorithm>

#include "base/json.h"

namespace zl {
namespace {

namespace fs = std::filesystem;

// Calls `each(file, stamp)` for the recipes of the folder.
template <class Each>
void overShelf(const Path& folder, const Each& each) {
    std::error_code error;
    for (auto at = fs::directory_iterator(folder, error); !error && at != fs::directory_iterator();
         at.increment(error))
        if (at->path().extension() == ".json")
            if (const auto stamp = readStamp(at->path())) each(at->path(), *stamp);
}

}  // namespace

std::vector<Stamp> stampsOnShelf(const Path& folder) {
    std::vector<Stamp> stamps;
    overShelf(folder, [&](const Path&, const Stamp& stamp) { stamps.push_back(stamp); });
    std::sort(stamps.begin(), stamps.end(),
              [](const Stamp& a, const Stamp& b) { return a.name < b.name; });
    return stamps;
}

bool takeFromShelf(const Path& folder, const std::string& name) {
    std::vector<Path> gone;
    overShelf(folder, [&](const Path& file, const Stamp& stamp) {
        if (stamp.name == name) gone.push_back(file);
    });
    std::error_code none;
    for (const Path& file : gone) fs::remove(file, none);
    return !gone.empty();
}

Result<void> putOnShelf(const Path& folder, const Stamp& stamp) {
    std::error_code none;
    fs::create_directories(folder, none);
    const std::string stem = fileNameFromTitle(stamp.name);
    // Two names may give one file name; another stamp's file is not written over.
    for (int i = 1;; ++i) {
        const Path file = folder / (stem + (i > 1 ? "-" + std::to_string(i) : "") + ".json");
        if (!fs::exists(file, none)) return writeStamp(file, stamp, Replace::no);
        const auto there = readStamp(file);
        if (there && there->name == stamp.name) return writeStamp(file, stamp, Replace::yes);
    }
}

Result<void> writeStamp(const Path& file, const Stamp& stamp, Replace replace) {
    const std::string text = written(jsonOf(stamp));
    const ByteView bytes{reinterpret_cast<const std::uint8_t*>(text.data()), text.size()};
    // What could not be read again takes no file's place.
    if (const auto back = parseStamp(bytes, "this stamp"); !back) return passOn(back.error());
    return writeFile(file, bytes, replace);
}

}  // namespace zl
