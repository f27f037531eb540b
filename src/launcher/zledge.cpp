// SPDX-License-Identifier: GPL-3.0-or-later
// zledge as it is called: tells its version at once, else becomes the program that does the work.
// That one is linked to a hundred libraries, which take three times as long to load as a version
// may take to be told.
#include <unistd.h>

#include <array>
#include <climits>
#include <cstdio>
#include <string>
#include <string_view>

int main(int argc, char** argv) {
    if (argc == 2 && std::string_view(argv[1]) == "--version")
        return std::puts("zledge " ZL_VERSION) < 0 ? 4 : 0;
    std::array<char, PATH_MAX> self{};
    if (::readlink("/proc/self/exe", self.data(), self.size() - 1) > 0) {
        const std::string_view program(self.data());
        const std::string folder(program.substr(0, program.rfind('/')));
        for (const char* place : {"/zledge-core", "/../" ZL_MODULES "/zledge-core"})
            ::execv((folder + place).c_str(), argv);
    }
    std::fputs("zledge: the program zledge-core is missing beside it. Install Zinc Ledge again.\n",
               stderr);
    return 3;
}
