// SPDX-License-Identifier: GPL-3.0-or-later
// Where the tests find what they run. Told to one source file, so that a compilation cache answers
// for all others in any folder.
#pragma once

#include <string>

namespace zl::test {

const std::string& zledgeProgram();    // the command line that was built
const std::string& sourceFolder();     // of the checkout
const std::string& buildFolder();      // where everything was built
const std::string& referencePython();  // Debian's own, with the reference libraries

}  // namespace zl::test
