// SPDX-License-Identifier: GPL-3.0-or-later
// The demo kit for tests. Its videos take many seconds, so it is made once for all the programs of
// tests, beside them, and again when one of them is newer.
#pragma once

#include "demo/demo_kit.h"
#include "support/support.h"

namespace zl::test {

// What `zledge demo --out` writes; to be read only.
const Path& demoFolder();

// What demo::makeDemoKit gives, read from there.
const demo::DemoKit& madeDemo();

// A copy of it in the folder, under `name`.
void putDemo(const Folder& folder, const std::string& name);

}  // namespace zl::test
