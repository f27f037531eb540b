// SPDX-License-Identifier: GPL-3.0-or-later
// A stamp run: one stamp on many photographs, whose originals are only read. What is done stands in
// a journal beside the marked ones, so that a run that was killed goes on where it was; at its end
// the journal becomes a receipt, by which the run can be undone.
#pragma once

#include <functional>
#include <map>
#include <mutex>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

#include "base/json_fwd.h"
#include "stamp/photo.h"

namespace zl {

struct RunAsked {
    std::vector<Path> inputs;     // files and folders
    bool recursive = false;       // folders with what lies below them
    Path out;                     // a folder; made where it is missing
    std::optional<Path> clean{};  // a second folder, for copies without the mark
    std::string name = "{name}";  // of what is written, without its ending; fields as in mark.h
    PhotoAsked photo;
    std::map<Path, PhotoChoice> choices{};  // by the photograph's path
    int jobs = 1;                           // photographs at a time
    bool resume = false, replace = false;
    int part = 0;  // more than 0: one job of a run that is spread, with that number
};

struct RunJob {
    Path file;
    std::string target;  // a file name
    int number = 1;
    PhotoChoice choice{};
};
// The photographs in their order (by name in a folder), each with a name that no other of the run
// has. Code::badUsage: what is asked cannot be had together, the output lies in an input's folder,
// the pattern has a field that there is not; Code::unreadable: there is no photograph.
[[nodiscard]] Result<std::vector<RunJob>> plannedRun(const RunAsked& asked);

enum class JobState { done, failed, leftOut };

struct RunEntry {
    Path file;
    std::string target;
    JobState state = JobState::done;
    bool before = false;  // by the run that was left unfinished
    std::string error;    // a sentence, where it failed
    Verdict verdict = Verdict::notMeasured;
    std::string says;  // of the reading `stamped`
    std::string shown;
    std::vector<std::string> notes;
    bool keptOutside = false;
    PixelSize size;
    long long bytes = 0;
    std::string sha256, cleanSha256;
    std::string at;  // the place's word, or "own"
    bool twin = false;
    PixelRect mark;
    long long blocks = 0, changed = 0;
    Bytes beforePicture, afterPicture;  // JPEGs for the report; empty where there are too many
};
OrderedJson jsonOf(const RunEntry& entry);

struct RunOutcome {
    std::vector<RunEntry> entries;  // in the order of the jobs
    Path receipt, report;           // empty where the run did not come to its end
    int count(JobState state) const;
};

// What a run hears and is told while it goes; safe from any thread.
class RunHand {
  public:
    virtual ~RunHand() = default;
    virtual void done(const RunEntry& entry, std::size_t index, std::size_t of) = 0;
    virtual void waitWhilePaused() {}
};

// Marks what was planned. One bad photograph is an entry that failed and stops nothing. Errors:
// Code::unwritable (the folder, its journal, a full disk; a run was left unfinished there),
// Code::cancelled, after which the journal stands and the run can be taken up again.
[[nodiscard]] Result<RunOutcome> run(const Stamp& stamp, const StampHome& home,
                                     const RunAsked& asked, const std::vector<RunJob>& jobs,
                                     RunHand& hand, const std::stop_token& stop = {});

// What a text's fields say on that photograph: its own day, else that of its file.
StampFields fieldsOf(const Stamp& stamp, const Path& file, int number, ByteView bytes);
// How one would be marked: its place, its tone and its reading; nothing is written.
[[nodiscard]] Result<Chosen> measuredOne(const Stamp& stamp, const StampHome& home,
                                         const RunJob& job, const RunAsked& asked, InkStore& store);

inline constexpr char runJournalName[] = "stamp-run.journal";
// Whether a run was left unfinished in that folder.
bool isUnfinished(const Path& out);

// Parts of a spread run, in those folders, become one receipt and one report in `into`; where that
// is empty, in the first of them.
[[nodiscard]] Result<RunOutcome> mergedParts(const std::vector<Path>& folders,
                                             const Path& into = {});

struct Undone {
    std::vector<std::string> removed, changed;  // those that are others since stay
};
// Removes exactly what a run wrote, as far as it is unchanged since, its report and its receipt.
[[nodiscard]] Result<Undone> undoneRun(const Path& receipt);

}  // namespace zl
