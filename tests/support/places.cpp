// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/places.h"

namespace zl::test {

const std::string& zledgeProgram() {
    static const std::string path = ZL_ZLEDGE;
    return path;
}

const std::string& sourceFolder() {
    static const std::string path = ZL_SOURCE;
    return path;
}

const std::string& buildFolder() {
    static const std::string path = ZL_BUILD;
    return path;
}

const std::string& referencePython() {
    static const std::string path = ZL_REFERENCE_PYTHON;
    return path;
}

}  // namespace zl::test
