// SPDX-License-Identifier: GPL-3.0-or-later
// Runs a script over the reference libraries (Pillow, NumPy, scikit-image: test-only) and gives
// what it printed as JSON.
#pragma once

#include <cstdio>

#include "base/json.h"
#include "support/support.h"

namespace zl::test {

// `script` sees sys.argv[1] = the folder. It prints one JSON document.
inline Json python(const Folder& folder, const std::string& script) {
    const Path file = folder / "script.py";
    if (const auto done = writeFile(file,
                                    bytesOf("import json, sys\nimport numpy as np\nfrom PIL import "
                                            "Image, ImageOps\nfolder = sys.argv[1] + '/'\n" +
                                            script),
                                    Replace::yes);
        !done)
        throw std::runtime_error(done.error().sentence());
    const std::string line =
        "'" + referencePython() + "' '" + file.string() + "' '" + folder.path().string() + "'";
    FILE* pipe = ::popen(line.c_str(), "r");
    std::string out;
    char part[4096];
    for (std::size_t n = 0; (n = std::fread(part, 1, sizeof part, pipe)) > 0;) out.append(part, n);
    if (::pclose(pipe) != 0) throw std::runtime_error("the reference script failed: " + line);
    return good(parseJson(bytesOf(out), "the script's output"));
}

inline void put(const Folder& folder, const std::string& name, const Bytes& bytes) {
    if (const auto done = writeFile(folder / name, bytes, Replace::yes); !done)
        throw std::runtime_error(done.error().sentence());
}

// Runs the real program in the folder; what it says is a failed test when it does not end well.
inline void zledge(const Folder& folder, const std::string& words) {
    const std::string line = "cd '" + folder.path().string() + "' && '" + zledgeProgram() + "' " +
                             words + " >.out 2>.err";
    ASSERT_EQ(::system(line.c_str()), 0) << line << '\n' << textOf(good(readFile(folder / ".err")));
}

}  // namespace zl::test
