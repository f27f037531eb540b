// SPDX-License-Identifier: GPL-3.0-or-later
// What was wrong with the words of a command line, as whole sentences.
#pragma once

#include "base/result.h"

namespace CLI {
class App;
class ParseError;
}  // namespace CLI

namespace zl::cli {

// Of an error that the parser threw over `app`. Code::badUsage.
Error usageError(const CLI::App& app, const CLI::ParseError& error);

}  // namespace zl::cli
