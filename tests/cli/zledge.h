// SPDX-License-Identifier: GPL-3.0-or-later
// The real program, run as a person runs it: words in, exit status and both outputs back.
#pragma once

#include <sys/wait.h>

#include <cstdio>

#include "base/json.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl::test {

struct Ran {
    int status = -1;
    std::string out, err;
    Json json() const { return good(parseJson(bytesOf(out), "standard output")); }
};

// Runs zledge with words as the shell reads them, in `folder`.
inline Ran zledge(const Folder& folder, const std::string& words) {
    const std::string err = (folder / ".err").string();
    const std::string line = "cd '" + folder.path().string() + "' && XDG_DATA_HOME='" +
                             (folder / "data").string() + "' '" + zledgeProgram() + "' " + words +
                             " 2>'" + err + "'";
    Ran ran;
    FILE* pipe = ::popen(line.c_str(), "r");
    char part[4096];
    for (std::size_t n = 0; (n = std::fread(part, 1, sizeof part, pipe)) > 0;)
        ran.out.append(part, n);
    const int status = ::pclose(pipe);
    ran.status = WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status);
    ran.err = textOf(good(readFile(err)));
    return ran;
}

inline void put(const Folder& folder, const std::string& name, const Bytes& bytes) {
    if (const auto done = writeFile(folder / name, bytes, Replace::yes); !done)
        throw std::runtime_error(done.error().sentence());
}

inline Picture pictureIn(const Folder& folder, const std::string& name) {
    return good(decode(good(readFile(folder / name)), name));
}

}  // namespace zl::test
