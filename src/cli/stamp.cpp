// SPDX-License-Identifier: GPL-3.0-or-later
// stamp RECIPE --out DIR FILES|FOLDERS...: one mark on many photographs.
#include <fmt/core.h>
#include <signal.h>

#include <memory>
#include <mutex>

#include "base/crew.h"
#include "base/json.h"
#include "command.h"
#include "stamp/run.h"
#include "store/stamp_json.h"
#include "words/words.h"

namespace zl::cli {
namespace {

struct StampAsked {
    std::string recipe, out, clean, resize, format, limit, metadata = "author", name = "{name}",
                                                           undo;
    std::vector<std::string> files, merge;
    int jobs = 0, quality = 0, part = 0;
    bool recursive = false, keepOutside = false, resume = false, dryRun = false, list = false,
         printRecipe = false;
};

// One compact line, so that each photograph's can be read as soon as it is done.
void printLine(const OrderedJson& json) {
    fmt::print("{}\n", json.dump(-1, ' ', false, OrderedJson::error_handler_t::replace));
    std::fflush(stdout);
}

// With the whole path of what was written.
OrderedJson jsonWith(const RunEntry& entry, const Path& out) {
    OrderedJson json = jsonOf(entry);
    if (entry.state == JobState::done && !out.empty()) json["out"] = (out / entry.target).string();
    return json;
}

volatile sig_atomic_t interrupted = 0;

class Told : public RunHand {
  public:
    Told(const Common& common, Path out, std::stop_source& stop)
        : common_(common), out_(std::move(out)), stop_(stop) {
        struct sigaction action {};
        action.sa_handler = [](int) { interrupted = 1; };
        action.sa_flags = SA_RESETHAND;  // a second one ends it at once
        ::sigaction(SIGINT, &action, nullptr);
    }
    void done(const RunEntry& entry, std::size_t, std::size_t of) override {
        const std::lock_guard lock(mutex_);
        ++count_;
        if (common_.json)
            printLine(jsonWith(entry, out_));
        else
            say(entry);
        showProgress("stamping", static_cast<double>(count_) / static_cast<double>(of));
        if (interrupted) stop_.request_stop();
    }

  private:
    static void say(const RunEntry& entry) {
        endProgress();
        if (entry.state == JobState::failed) {
            fmt::print("{}: not marked\n", entry.file.string());
            fmt::print(stderr, "zledge: {}\n", entry.error);
            return;
        }
        fmt::print("{}: {}, {} of its edges stand out{}{}\n", entry.target,
                   english({fmt::format("verdict.{}", nameOf(entry.verdict)), {}}), entry.shown,
                   entry.keptOutside ? ", not encoded again" : "",
                   entry.before ? " (done before)" : "");
        for (const std::string& note : entry.notes) fmt::print("  {}\n", note);
    }

    const Common& common_;
    const Path out_;
    std::stop_source& stop_;
    std::mutex mutex_;
    std::size_t count_ = 0;
};

Result<PhotoAsked> photoAsked(const StampAsked& asked) {
    PhotoAsked photo;
    photo.keep = asked.metadata == "all"    ? KeepTags::all
                 : asked.metadata == "none" ? KeepTags::none
                                            : KeepTags::author;
    photo.quality = asked.quality;
    photo.keepOutside = asked.keepOutside;
    if (!asked.resize.empty()) {
        const auto size = parseOpenSize(asked.resize);
        if (!size) return passOn(size.error());
        photo.within = *size;
    }
    if (!asked.limit.empty()) {
        const auto limit = parseBytes(asked.limit);
        if (!limit) return passOn(limit.error());
        photo.limit = *limit;
    }
    if (asked.format.empty()) return photo;
    const auto format = contentById(asked.format == "jpg" ? "jpeg" : asked.format);
    if (!format)
        return fail(Code::badUsage, fmt::format("There is no format \"{}\".", asked.format),
                    "There are png, jpeg, gif and webp.");
    photo.format = *format;
    return photo;
}

Result<RunAsked> runAsked(const StampAsked& asked, const Common& common) {
    if (asked.out.empty())
        return fail(Code::badUsage, "Nothing says where the marked photographs go.",
                    "Give --out DIR.");
    if (asked.files.empty())
        return fail(Code::badUsage, "No photograph is named.", "Name files or folders.");
    const auto photo = photoAsked(asked);
    if (!photo) return passOn(photo.error());
    RunAsked run;
    run.inputs.assign(asked.files.begin(), asked.files.end());
    run.recursive = asked.recursive;
    run.out = asked.out;
    if (!asked.clean.empty()) run.clean = asked.clean;
    run.name = asked.name;
    run.photo = *photo;
    run.jobs = asked.jobs > 0 ? asked.jobs : coreCount();
    run.resume = asked.resume;
    run.replace = common.replace;
    run.part = asked.part;
    return run;
}

// For a shell: in quotes.
std::string quoted(const std::string& text) {
    std::string out = "'";
    for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

// A file's name as a pattern that means itself.
std::string patternFor(const std::string& stem) {
    std::string out;
    for (const char c : stem) out += c == '{' || c == '}' ? std::string(2, c) : std::string(1, c);
    return out;
}

int list(const StampAsked& asked, const RunAsked& run, const std::vector<RunJob>& jobs) {
    namespace fs = std::filesystem;
    std::string options = fmt::format(" --metadata {}", asked.metadata);
    const auto add = [&](const char* option, const std::string& value) {
        if (!value.empty()) options += fmt::format(" {} {}", option, quoted(value));
    };
    add("--resize", asked.resize);
    add("--format", asked.format);
    add("--limit", asked.limit);
    if (run.clean) add("--clean", fs::absolute(*run.clean).string());
    if (asked.quality > 0) options += fmt::format(" --quality {}", asked.quality);
    if (asked.keepOutside) options += " --keep-outside";
    if (run.replace) options += " --replace";
    for (const RunJob& job : jobs)
        fmt::print("zledge stamp {} --out {} --part {} --name {} --jobs 1 --resume{} {}\n",
                   quoted(fs::absolute(asked.recipe).string()),
                   quoted(fs::absolute(run.out).string()), job.number,
                   quoted(patternFor(stemOf(job.target))), options,
                   quoted(fs::absolute(job.file).string()));
    return Exit::done;
}

// What would be done, measured and not written.
Result<int> tryOut(const Stamp& stamp, const StampHome& home, const RunAsked& asked,
                   const std::vector<RunJob>& jobs, const Common& common) {
    InkStore store;
    OrderedJson photos = OrderedJson::array();
    bool failed = false;
    for (const RunJob& job : jobs) {
        RunEntry entry;
        entry.file = job.file;
        entry.target = job.target;
        const auto measured = measuredOne(stamp, home, job, asked, store);
        if (measured) {
            entry.verdict = measured->stamped.verdict;
            entry.shown = measured->stamped.shown;
            entry.says = english(measured->stamped.says);
            entry.twin = measured->twin;
            entry.at = measured->at ? std::string(wordOf(*measured->at)) : "own";
            entry.mark = measured->laid.box;
        } else {
            entry.state = JobState::failed;
            entry.error = measured.error().sentence();
            failed = true;
        }
        photos.push_back(jsonOf(entry));
        if (common.json)
            printLine(photos.back());
        else if (measured)
            fmt::print("{} -> {}: {}, {}\n", job.file.string(), job.target,
                       english({fmt::format("verdict.{}", nameOf(entry.verdict)), {}}), entry.says);
        else
            fmt::print(stderr, "zledge: {}\n", entry.error);
    }
    if (common.json) printLine({{"dry_run", true}, {"photos", photos}});
    return failed ? Exit::readingFailed : Exit::done;
}

Result<int> finished(const RunOutcome& outcome, const Path& out, const std::string& stampName,
                     const Common& common) {
    endProgress();
    if (common.json) {
        OrderedJson photos = OrderedJson::array();
        for (const RunEntry& entry : outcome.entries) photos.push_back(jsonWith(entry, out));
        printLine({{"stamp", stampName},
                   {"done", outcome.count(JobState::done)},
                   {"failed", outcome.count(JobState::failed)},
                   {"left_out", outcome.count(JobState::leftOut)},
                   {"receipt", outcome.receipt.string()},
                   {"report", outcome.report.string()},
                   {"photos", photos}});
    } else {
        fmt::print("{} marked, {} not marked.\n", outcome.count(JobState::done),
                   outcome.count(JobState::failed));
        if (!outcome.report.empty()) fmt::print("The report is {}.\n", outcome.report.string());
    }
    return outcome.count(JobState::failed) > 0 ? Exit::readingFailed : Exit::done;
}

Result<int> merge(const StampAsked& asked, const Common& common) {
    const auto outcome = mergedParts({asked.merge.begin(), asked.merge.end()}, asked.out);
    if (!outcome) return passOn(outcome.error());
    return finished(*outcome, {}, "", common);
}

Result<int> undo(const StampAsked& asked, const Common& common) {
    const auto undone = undoneRun(asked.undo);
    if (!undone) return passOn(undone.error());
    if (common.json)
        print({{"removed", undone->removed}, {"changed", undone->changed}});
    else
        fmt::print("{} files removed.\n", undone->removed.size());
    for (const std::string& file : undone->changed)
        fmt::print(stderr, "zledge: {} was changed since the run and stays.\n", file);
    return undone->changed.empty() ? Exit::done : Exit::readingFailed;
}

Result<int> runStamp(const StampAsked& asked, const Common& common) {
    if (asked.printRecipe) {
        fmt::print("{}", written(jsonOf(exampleStamp())));
        return Exit::done;
    }
    if (!asked.merge.empty()) return merge(asked, common);
    if (!asked.undo.empty()) return undo(asked, common);
    if (asked.recipe.empty())
        return fail(Code::badUsage, "No recipe is named.",
                    "zledge stamp --print-recipe writes one to begin with.");
    const auto planned = runAsked(asked, common);
    if (!planned) return passOn(planned.error());
    const auto bytes = readInput(asked.recipe);
    if (!bytes) return passOn(bytes.error());
    const auto stamp = parseStamp(*bytes, nameOfInput(asked.recipe));
    if (!stamp) return passOn(stamp.error());
    StampHome home;
    home.folder = std::filesystem::absolute(asked.recipe == "-" ? "x" : asked.recipe).parent_path();
    const auto jobs = plannedRun(*planned);
    if (!jobs) return passOn(jobs.error());
    if (asked.list) return list(asked, *planned, *jobs);
    if (asked.dryRun) return tryOut(*stamp, home, *planned, *jobs, common);
    std::stop_source stop;
    Told hand(common, planned->out, stop);
    const auto outcome = zl::run(*stamp, home, *planned, *jobs, hand, stop.get_token());
    if (!outcome && outcome.error().code == Code::cancelled)
        return fail(Code::cancelled, "The run was stopped.", "It goes on with --resume.");
    if (!outcome) return passOn(outcome.error());
    return finished(*outcome, planned->out, stamp->name, common);
}

}  // namespace

std::function<Result<int>()> declareStamp(Options& options, const Common& common) {
    const auto asked = std::make_shared<StampAsked>();
    options.value("recipe", asked->recipe, "The stamp: a JSON file (docs/stamp-format.md)");
    options.value("files", asked->files, "Photographs, and folders that hold some");
    options.value("--out", asked->out, "The folder that the marked photographs go to");
    options.value("--clean", asked->clean, "A second folder, for copies without the mark");
    options.flag("--recursive", asked->recursive, "Folders with what lies below them");
    options.value("--jobs", asked->jobs, "Photographs at a time (default: one a processor)")
        .between(1, 256);
    options.value("--resize", asked->resize, "WxH, 800x or x600: made smaller to fit inside");
    options.value("--format", asked->format, "png, jpeg, gif or webp (default: the photograph's)");
    options.value("--quality", asked->quality, "1 to 100 (default: the photograph's own)")
        .between(1, 100);
    options.value("--limit", asked->limit, "The most bytes, such as 2MB or 200k");
    options
        .value("--metadata", asked->metadata,
               "all, author (who made it and whose it is; the default) or none")
        .oneOf({"all", "author", "none"});
    options.value("--name", asked->name,
                  "What they are called: {name}, {n}, {date}, {year} (default {name})");
    options.flag("--keep-outside", asked->keepOutside,
                 "Refuse a JPEG whose blocks outside the mark cannot stay bit by bit; they do by "
                 "default where size, format and quality are kept");
    options.flag("--resume", asked->resume, "Go on with a run that was left unfinished");
    options.flag("--dry-run", asked->dryRun, "Measure and tell, write nothing");
    options.flag("--list", asked->list, "Print one job a line, each a command of its own");
    options.value("--part", asked->part, "The number of a job out of such a list")
        .between(1, 100'000'000);
    options.value("--merge", asked->merge, "Folders whose parts become one receipt and one report");
    options.value("--undo", asked->undo, "A receipt, whose files are removed as far as unchanged");
    options.flag("--print-recipe", asked->printRecipe, "Print a recipe to begin with");
    return [asked, &common] { return runStamp(*asked, common); };
}

}  // namespace zl::cli
