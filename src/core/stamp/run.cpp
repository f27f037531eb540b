// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/run.h"

#include <fmt/core.h>
#include <sys/stat.h>

#include <algorithm>
#include <atomic>
#include <ctime>
#include <fstream>
#include <set>

#include "base/crew.h"
#include "base/json.h"
#include "encode/encode.h"
#include "raster/resample.h"
#include "stamp/run_page.h"
#include "stamp/run_record.h"
#include "store/stamp_json.h"
#include "words/words.h"

namespace zl {
namespace {

namespace fs = std::filesystem;

bool isInside(const Path& inner, const Path& outer) {
    std::error_code none;
    const Path a = fs::weakly_canonical(inner, none), b = fs::weakly_canonical(outer, none);
    const auto [ends, at] = std::mismatch(b.begin(), b.end(), a.begin(), a.end());
    // A folder's name may end with a slash.
    return ends == b.end() || (std::next(ends) == b.end() && ends->empty());
}

bool isPicture(const Path& file) {
    const auto content = contentByEnding(endingOf(file));
    return content && factsOf(*content).read;
}

Result<void> addFolder(const Path& folder, bool recursive, std::vector<Path>& files) {
    std::vector<Path> found;
    std::error_code error;
    const auto look = [&](const auto& entry) {
        std::error_code none;
        if (entry.is_regular_file(none) && isPicture(entry.path())) found.push_back(entry.path());
    };
    constexpr auto skip = fs::directory_options::skip_permission_denied;
    if (recursive)
        for (auto at = fs::recursive_directory_iterator(folder, skip, error);
             !error && at != fs::recursive_directory_iterator(); at.increment(error))
            look(*at);
    else
        for (auto at = fs::directory_iterator(folder, error);
             !error && at != fs::directory_iterator(); at.increment(error))
            look(*at);
    if (error)
        return fail(Code::unreadable, fmt::format("The folder {} cannot be read.", folder.string()),
                    "Look at its rights.");
    std::sort(found.begin(), found.end());
    files.insert(files.end(), found.begin(), found.end());
    return {};
}

Result<std::vector<Path>> photosIn(const RunAsked& asked) {
    std::vector<Path> files;
    std::set<Path> known;
    for (const Path& input : asked.inputs) {
        std::error_code none;
        if (!fs::is_directory(input, none)) {
            files.push_back(input);
            continue;
        }
        for (const auto& out : {std::optional(asked.out), asked.clean})
            if (out && isInside(*out, input))
                return fail(Code::badUsage,
                            fmt::format("{} lies in {}, whose photographs are marked.",
                                        out->string(), input.string()),
                            "Choose a folder elsewhere.");
        if (auto good = addFolder(input, asked.recursive, files); !good)
            return passOn(good.error());
    }
    std::erase_if(files, [&](const Path& file) {
        std::error_code none;
        return !known.insert(fs::weakly_canonical(file, none)).second;
    });
    if (files.empty())
        return fail(Code::unreadable, "There is no photograph in what was named.",
                    "Name files, or a folder that holds some.");
    return files;
}

Content contentOf(const Path& file) {
    Bytes first(512);
    std::ifstream in(file, std::ios::binary);
    in.read(reinterpret_cast<char*>(first.data()), static_cast<std::streamsize>(first.size()));
    first.resize(static_cast<std::size_t>(in.gcount()));
    return sniff(first);
}

// The ending of what is written: the photograph's own where it says what is in it.
std::string endingFor(const Path& file, const PhotoAsked& asked) {
    const Content own = contentOf(file);
    if (own == Content::unknown && !asked.format) return file.extension().string();
    const Content content = asked.format           ? *asked.format
                            : factsOf(own).written ? own
                                                   : Content::png;
    if (contentByEnding(endingOf(file)) == content) return file.extension().string();
    return usualEnding(content);
}

std::string dayOf(const Path& file) {
    struct stat facts {};
    if (::stat(file.c_str(), &facts) != 0) return "0000-00-00";
    std::tm day{};
    ::localtime_r(&facts.st_mtime, &day);
    return fmt::format("{:04}-{:02}-{:02}", day.tm_year + 1900, day.tm_mon + 1, day.tm_mday);
}

bool asksDay(const std::string& pattern) {
    return pattern.find("{year}") != std::string::npos ||
           pattern.find("{date}") != std::string::npos;
}
bool asksDay(const Stamp& stamp) {
    const auto asks = [](const StampWhat& what) {
        const auto* text = std::get_if<StampText>(&what);
        return text && asksDay(text->letters.text);
    };
    return asks(stamp.what) || (stamp.twin && asks(*stamp.twin));
}

// The day that the photograph tells, else that of its file.
std::string dayOf(const Path& file, ByteView bytes) {
    const std::string taken = dayTaken(bytes);
    return taken.empty() ? dayOf(file) : taken;
}

// The bytes of one state of the file, never of two.
Result<Bytes> readWhole(const Path& file) {
    struct stat before {
    }, after{};
    const bool there = ::stat(file.c_str(), &before) == 0;
    auto bytes = readFile(file);
    if (!bytes) return bytes;
    const auto same = [](const timespec& a, const timespec& b) {
        return a.tv_sec == b.tv_sec && a.tv_nsec == b.tv_nsec;
    };
    if (!there || ::stat(file.c_str(), &after) != 0 || before.st_ino != after.st_ino ||
        before.st_size != after.st_size || !same(before.st_mtim, after.st_mtim))
        return fail(Code::unreadable, fmt::format("{} changed while it was read.", file.string()),
                    "Run it again.");
    return bytes;
}

Bytes smallPicture(const Straight8& picture) {
    const double scale = std::min({1.0, static_cast<double>(gallerySmall.width) / picture.width(),
                                   static_cast<double>(gallerySmall.height) / picture.height()});
    const PixelSize size{std::max(1, static_cast<int>(picture.width() * scale)),
                         std::max(1, static_cast<int>(picture.height() * scale))};
    const auto shared = std::make_shared<const Straight8>(picture.clone());
    const Ink ink = resampled(shared, true, RealRect::of(picture.size()), RealRect::of(size),
                              PixelRect::of(size));
    Straight8 out = Straight8::cleared(size);
    blendOver({&ink, 1}, PixelRect::of(size), out);
    constexpr int good = 80;
    auto bytes = encode(out, {Content::jpeg, good, Chroma::half, Effort::quick});
    return bytes ? std::move(*bytes) : Bytes{};
}

constexpr std::size_t mostPictures = 400;  // in a report

// Everything that the jobs of a run share.
class Running {
  public:
    Running(const Stamp& stamp, const StampHome& home, const RunAsked& asked,
            const std::vector<RunJob>& jobs, RunRecord& record, RunHand& hand,
            const std::stop_token& stop)
        : stamp_(stamp),
          home_(home),
          asked_(asked),
          jobs_(jobs),
          record_(record),
          hand_(hand),
          stop_(stop),
          entries_(jobs.size()) {
        for (const RunJob& job : jobs) {
            std::error_code none;
            inputs_.insert(fs::weakly_canonical(job.file, none));
        }
    }

    void work() {
        for (std::size_t i = next_++; i < jobs_.size() && !stops(); i = next_++) {
            hand_.waitWhilePaused();
            if (stops()) return;
            entries_[i] = entryOf(i);
            if (stops()) return;
            hand_.done(entries_[i], i, jobs_.size());
        }
    }
    Result<std::vector<RunEntry>> finished() {
        if (fatal_) return passOn(*fatal_);
        if (stop_.stop_requested()) return fail(Code::cancelled, "Cancelled.");
        return std::move(entries_);
    }

  private:
    bool stops() const { return stop_.stop_requested() || stopped_; }

    void giveUp(Error error) {
        const std::lock_guard lock(mutex_);
        if (!fatal_) fatal_ = std::move(error);
        stopped_ = true;
    }

    RunEntry entryOf(std::size_t i) {
        const RunJob& job = jobs_[i];
        if (auto known = record_.known(job.target, job.file)) return std::move(*known);
        RunEntry entry;
        entry.file = job.file;
        entry.target = job.target;
        entry.state = JobState::leftOut;
        if (job.choice.leftOut) return entry;
        auto made = unlessTooLarge(job.file.string(), [&] { return markOne(job, entry, i); });
        if (made) {
            entry.state = JobState::done;
        } else {
            entry.state = JobState::failed;
            entry.error = made.error().sentence();
        }
        if (stops()) return entry;
        if (auto written = record_.ended(entry); !written) giveUp(written.error());
        return entry;
    }

    Result<void> markOne(const RunJob& job, RunEntry& entry, std::size_t i) {
        const auto bytes = readWhole(job.file);
        if (!bytes) return passOn(bytes.error());
        auto photo = openPhoto(*bytes, job.file.string());
        if (!photo) return passOn(photo.error());
        const auto glance = glanceOf(**photo);
        if (!glance) return passOn(glance.error());
        const auto marks = marksFor(job, *bytes);
        if (!marks) return passOn(marks.error());
        const auto out =
            marked(**photo, *glance, stamp_, **marks, job.choice, asked_.photo, store_, stop_);
        if (!out) return passOn(out.error());
        tell(*out, entry);
        if (i < mostPictures) {
            entry.beforePicture = smallPicture(glance->picture);
            entry.afterPicture = smallPicture(
                markedGlance({out->size, glance->picture.clone(), {}, {}}, out->chosen.laid));
        }
        entry.sha256 = sha256(out->bytes);
        std::vector<FileToWrite> files{{asked_.out / job.target, out->bytes}};
        if (!asked_.clean) return write(job.target, files);
        PhotoAsked clean = asked_.photo;
        clean.clean = true;
        const auto copy =
            marked(**photo, *glance, stamp_, **marks, job.choice, clean, store_, stop_);
        if (!copy) return passOn(copy.error());
        entry.cleanSha256 = sha256(copy->bytes);
        files.push_back({*asked_.clean / job.target, copy->bytes});
        return write(job.target, files);
    }

    static void tell(const MarkedPhoto& out, RunEntry& entry) {
        const Chosen& chosen = out.chosen;
        entry.verdict = chosen.stamped.verdict;
        entry.says = english(chosen.stamped.says);
        entry.shown = chosen.stamped.shown;
        entry.notes = out.notes;
        entry.keptOutside = out.keptOutside;
        entry.size = out.size;
        entry.bytes = static_cast<long long>(out.bytes.size());
        entry.at = chosen.at ? std::string(wordOf(*chosen.at)) : "own";
        entry.twin = chosen.twin;
        entry.mark = chosen.laid.box;
        entry.blocks = out.blocks;
        entry.changed = out.changed;
    }

    // Drawn once where every photograph has the same.
    Result<std::shared_ptr<const Marks>> marksFor(const RunJob& job, ByteView bytes) {
        const std::lock_guard lock(marksMutex_);
        if (marks_ && !marks_->mark.own && !(marks_->twin && marks_->twin->own)) return marks_;
        auto made = marksOf(stamp_, fieldsOf(stamp_, job.file, job.number, bytes), home_, store_);
        if (!made) return passOn(made.error());
        marks_ = std::make_shared<const Marks>(std::move(*made));
        return marks_;
    }

    // All of one photograph, or nothing. A file that stood there before the run is not its own, and
    // is told before the journal says that one begins: a run that is taken up again replaces what
    // it began, and nothing else.
    Result<void> write(const std::string& target, const std::vector<FileToWrite>& files) {
        const bool own = asked_.replace || record_.wasBegun(target);
        for (const FileToWrite& file : files) {
            std::error_code none;
            if (inputs_.contains(fs::weakly_canonical(file.path, none)))
                return fail(Code::unwritable,
                            fmt::format("{} is a photograph of this run.", file.path.string()),
                            "Choose another folder, or another pattern of names.");
            if (!own && fs::exists(fs::symlink_status(file.path, none)))
                return fail(Code::unwritable,
                            fmt::format("{} stands there already.", file.path.string()),
                            "Choose another folder, or another pattern of names.");
        }
        if (auto good = record_.begins(target); !good) {
            giveUp(good.error());
            return good;
        }
        auto done = writeFiles(files, own ? Replace::yes : Replace::no);
        if (!done && isFull(files.front().path.parent_path())) giveUp(done.error());
        return done;
    }

    static bool isFull(const Path& folder) {
        std::error_code error;
        const auto space = fs::space(folder, error);
        constexpr std::uintmax_t little = 1'000'000;
        return !error && space.available < little;
    }

    const Stamp& stamp_;
    const StampHome& home_;
    const RunAsked& asked_;
    const std::vector<RunJob>& jobs_;
    RunRecord& record_;
    RunHand& hand_;
    std::stop_token stop_;
    std::set<Path> inputs_;
    InkStore store_{60'000'000};
    std::atomic<std::size_t> next_ = 0;
    std::vector<RunEntry> entries_;
    std::mutex mutex_, marksMutex_;
    std::shared_ptr<const Marks> marks_;
    std::optional<Error> fatal_;
    std::atomic<bool> stopped_ = false;
};

Result<void> makeFolder(const Path& folder) {
    std::error_code error;
    fs::create_directories(folder, error);
    if (!fs::is_directory(folder, error))
        return fail(Code::unwritable, fmt::format("The folder {} cannot be made.", folder.string()),
                    "Choose another folder.");
    return {};
}

}  // namespace

int RunOutcome::count(JobState state) const {
    return static_cast<int>(std::count_if(entries.begin(), entries.end(),
                                          [&](const RunEntry& e) { return e.state == state; }));
}

Result<std::vector<RunJob>> plannedRun(const RunAsked& asked) {
    if (auto good = checkAsked(asked.photo); !good) return passOn(good.error());
    if (asked.name.find('/') != std::string::npos)
        return fail(Code::badUsage, "A pattern of names holds no folder.", "Leave the slash out.");
    const auto files = photosIn(asked);
    if (!files) return passOn(files.error());
    std::vector<RunJob> jobs;
    std::set<std::string> taken;
    const int digits = static_cast<int>(std::to_string(files->size()).size());
    for (const Path& file : *files) {
        const int number = asked.part > 0 ? asked.part : static_cast<int>(jobs.size()) + 1;
        StampFields fields{stemOf(file), number, digits, ""};
        if (asksDay(asked.name)) {
            const auto bytes = readFile(file);
            fields.date = bytes ? dayOf(file, *bytes) : dayOf(file);
        }
        const auto stem = withFields(asked.name, fields);
        if (!stem) return passOn(stem.error());
        if (stem->empty() || *stem == "." || *stem == "..")
            return fail(Code::badUsage, "The pattern gives a photograph no name.",
                        "Such as {name}-marked.");
        const std::string ending = endingFor(file, asked.photo);
        std::string target = *stem + ending;
        for (int more = 2; !taken.insert(target).second; ++more)
            target = fmt::format("{}-{}{}", *stem, more, ending);
        const auto choice = asked.choices.find(file);
        jobs.push_back(
            {file, target, number, choice == asked.choices.end() ? PhotoChoice{} : choice->second});
    }
    return jobs;
}

Result<RunOutcome> run(const Stamp& stamp, const StampHome& home, const RunAsked& asked,
                       const std::vector<RunJob>& jobs, RunHand& hand,
                       const std::stop_token& stop) {
    if (auto good = checkStamp(stamp); !good) return passOn(good.error());
    for (const auto& folder : {std::optional(asked.out), asked.clean})
        if (folder)
            if (auto good = makeFolder(*folder); !good) return passOn(good.error());
    {
        // A mark that cannot be drawn is no photograph's fault.
        InkStore store;
        const auto tried = marksOf(stamp, {"photo", 1, 1, "2000-01-01"}, home, store);
        if (!tried) return passOn(tried.error());
    }
    auto record = RunRecord::opened(stamp, asked, jobs.size());
    if (!record) return passOn(record.error());
    Running running(stamp, home, asked, jobs, *record, hand, stop);
    const auto work = [&] { running.work(); };
    if (asked.jobs > 1)
        Crew::mine().share(asked.jobs - 1, work);
    else
        work();
    auto entries = running.finished();
    if (!entries) return passOn(entries.error());
    RunOutcome outcome{std::move(*entries), {}, {}};
    if (auto good = record->close(outcome); !good) return passOn(good.error());
    return outcome;
}

StampFields fieldsOf(const Stamp& stamp, const Path& file, int number, ByteView bytes) {
    return {stemOf(file), number, 1, asksDay(stamp) ? dayOf(file, bytes) : ""};
}

Result<Chosen> measuredOne(const Stamp& stamp, const StampHome& home, const RunJob& job,
                           const RunAsked& asked, InkStore& store) {
    const auto bytes = readWhole(job.file);
    if (!bytes) return passOn(bytes.error());
    auto photo = openPhoto(*bytes, job.file.string());
    if (!photo) return passOn(photo.error());
    auto glance = glanceOf(**photo);
    if (!glance) return passOn(glance.error());
    glance->photo = sizeWithin(glance->photo, asked.photo.within);
    const auto marks = marksOf(stamp, fieldsOf(stamp, job.file, job.number, *bytes), home, store);
    if (!marks) return passOn(marks.error());
    return chosenFor(*glance, stamp, *marks, job.choice, store);
}

bool isUnfinished(const Path& out) {
    std::error_code none;
    return fs::exists(out / runJournalName, none);
}

}  // namespace zl
