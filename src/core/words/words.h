// SPDX-License-Identifier: GPL-3.0-or-later
// The one table of English sentences. A message is an id and its numbers; the command line prints
// the sentence, the window shows or translates it.
#pragma once

#include <span>
#include <string>
#include <string_view>

#include "base/message.h"

namespace zl {

// The sentence; numbers are put where the table says. An id that is not in the table gives the id
// itself.
std::string english(const Message& message);

struct Phrase {
    std::string_view id, text;
};
std::span<const Phrase> allPhrases();

// 1118204 -> "1.12 MB", 4312 -> "4.3 kB", 312 -> "312 bytes". For display only; limits are compared
// as integers.
std::string weightWords(long long bytes);

}  // namespace zl
