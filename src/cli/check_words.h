// SPDX-License-Identifier: GPL-3.0-or-later
// What both ways of `check` share: a picture's and a kit's.
#pragma once

#include "command.h"
#include "mend/mend_all.h"

namespace zl::cli {

struct CheckWords {
    std::vector<std::string> files;
    std::string file, brief, piece, mend, out, over;  // file: the one that is looked at
    std::shared_ptr<const VideoMoments> moments{};    // of the video `over`, where one was named
};

int exitFor(Verdict verdict);
// What of the mends could not help, or was not offered where it was named.
void tellLog(const std::string& of, const std::string& asked, const MendLog& log);
Result<Told> checkFile(const CheckWords& asked, const Common& common, Bytes bytes);
Result<int> checkKit(const CheckWords& asked, const Common& common);

}  // namespace zl::cli
