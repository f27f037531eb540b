// SPDX-License-Identifier: GPL-3.0-or-later
// The words of `cut --subject`, and what is told of it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "command.h"
#include "kit/kit.h"
#include "render/ink_store.h"

namespace zl::cli {

struct SubjectWords {
    std::optional<std::string> box;  // of --subject; empty: the program looks for it itself
    std::vector<std::string> keep, drop;
    std::optional<double> stroke;
    std::string edge, part;
    bool takesGuess = false;
    bool more() const {  // what goes with --subject alone
        return !keep.empty() || !drop.empty() || stroke || !edge.empty() || !part.empty() ||
               takesGuess;
    }
};
void declareSubject(Options& options, SubjectWords& words);
[[nodiscard]] Result<SubjectCut> subjectOf(const SubjectWords& words, PixelSize size,
                                           bool keepsShadow);

// Looks for the subject in the asset, says on standard error what a person should know, and gives
// what the JSON tells. Code::limitNotMet when the guess is not to be trusted and nobody took it.
[[nodiscard]] Result<OrderedJson> tellSubject(const Asset& asset, const SubjectCut& cut,
                                              bool takesGuess, InkStore& store);

}  // namespace zl::cli
