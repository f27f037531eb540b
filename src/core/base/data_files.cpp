// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/data_files.h"

#include <fmt/core.h>

#include <cstdlib>

#include "base/json.h"

namespace zl {

Result<Path> dataFolder() {
    namespace fs = std::filesystem;
    std::error_code error;
    std::vector<Path> places;
    const Path program = fs::read_symlink("/proc/self/exe", error);
    if (!error) {
        for (Path up = program.parent_path(); up.has_relative_path(); up = up.parent_path()) {
            places.push_back(up / ZL_INSTALLED_DATA);
            places.push_back(up / "data");
        }
    }
    places.emplace_back(ZL_SOURCE_DATA);
    for (const Path& place : places)
        if (fs::is_directory(place / "briefs", error) && fs::is_directory(place / "fonts", error))
            return place;
    return fail(Code::unreadable,
                fmt::format("The program's data files are missing (looked in {}).",
                            places.front().string()),
                "Install Zinc Ledge again.");
}

Result<Json> schemaNamed(const char* name, const Path& dataFolder) {
    const auto text = readFile(dataFolder / "schema" / name, 1'000'000);
    if (!text) return passOn(text.error());
    return parseJson(*text, name);
}

Result<Json> schemaNamed(const char* name) {
    const auto data = dataFolder();
    if (!data) return passOn(data.error());
    return schemaNamed(name, *data);
}

Path personalFolder() {
    if (const char* home = std::getenv("XDG_DATA_HOME"); home && *home)
        return Path(home) / "zinc-ledge";
    const char* home = std::getenv("HOME");
    return Path(home && *home ? home : "/tmp") / ".local/share/zinc-ledge";
}

}  // namespace zl
