// SPDX-License-Identifier: GPL-3.0-or-later
// What a stamp run has done, on disk: a journal of one JSON value a line while it goes, a receipt
// when it is done. A line is written before a photograph is named and after it is whole, so that at
// every moment it is known which files are the run's own. Included by the room's own sources.
#pragma once

#include <map>
#include <memory>
#include <set>

#include "base/guarded.h"
#include "stamp/run.h"

namespace zl {

class RunRecord {
  public:
    // Code::unwritable: it cannot be made; a run was left unfinished and is not to be taken up;
    // it was one of another stamp or with other options.
    static Result<RunRecord> opened(const Stamp& stamp, const RunAsked& asked, std::size_t count);
    RunRecord(RunRecord&&) noexcept;
    ~RunRecord();

    // What the unfinished run, or the same one that came to its end, did of it, when it still
    // stands as it was written.
    std::optional<RunEntry> known(const std::string& target, const Path& file) const;
    bool wasBegun(const std::string& target) const;  // by the unfinished run
    [[nodiscard]] Result<void> begins(const std::string& target);
    [[nodiscard]] Result<void> ended(const RunEntry& entry);
    // Writes receipt and report, unless those of the folder tell the same already, and takes the
    // journal away.
    [[nodiscard]] Result<void> close(RunOutcome& outcome);

  private:
    RunRecord();
    Result<void> takeUp(const Path& journal, const OrderedJson& head);
    void lookForReceipt();
    Result<void> add(const OrderedJson& line);
    struct State;
    std::unique_ptr<State> state_;
};

// A receipt's values; Code::unreadable where it is none.
struct RunReceipt {
    std::string stampName;
    Path out, clean;
    std::vector<RunEntry> entries;
};
[[nodiscard]] Result<RunReceipt> readReceipt(const Path& file);
// Writes both files of a run; their names are new ones in that folder.
[[nodiscard]] Result<void> writeReceipt(const Path& folder, const std::string& stem,
                                        const std::string& stampName, const OrderedJson& head,
                                        RunOutcome& outcome, bool withPage);

}  // namespace zl
