// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in host: a folder that behaves as a destination does. It looks at the bytes, never at the name, holds a file
// against the brief and keeps what it accepts. It speaks to no network.
#pragma once

#include <vector>

#include "base/file.h"
#include "readings/reading.h"

namespace zl {

struct HostSaid {
    Verdict verdict = Verdict::pass;  // fail: this is why it was refused
    std::string what;                 // "Content is a PNG"
    std::string beside;               // "by its bytes"
};

struct HostAnswer {
    bool accepted = false;
    std::vector<HostSaid> said;                // accepted or not, what it looked at
    Path kept;                                 // where the accepted file lies; empty when refused
    std::vector<std::string> reasons() const;  // why it was refused; empty when accepted
};

// One folder a piece; each hand-over replaces what was accepted before. A refused file changes nothing in it.
class StandInHost {
  public:
    explicit StandInHost(Path folder) : folder_(std::move(folder)) {}

    // Errors are only for a folder that cannot be written; a file that cannot be read is refused, with the reason.
    [[nodiscard]] Result<HostAnswer> handOver(ByteView bytes, const std::string& fileName, const std::string& pieceId, const Brief& brief);
    // The file that was accepted last, if any.
    std::optional<Path> accepted(const std::string& pieceId) const;

  private:
    Path folder_;
};

}  // namespace zl
