// SPDX-License-Identifier: GPL-3.0-or-later
#include "stamp/run_record.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <glib.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cstring>
#include <fstream>

#include "base/json.h"
#include "stamp/run_page.h"
#include "store/stamp_json.h"

namespace zl {
namespace {

namespace fs = std::filesystem;

constexpr std::array<const char*, 3> stateWords{"done", "failed", "left-out"};
constexpr std::array<const char*, 4> verdictWords{"n/a", "pass", "watch", "fail"};
constexpr const char* receiptEnding = ".receipt.json";
constexpr const char* partStem = "stamp-run.part-";

// A word's place in a table; 0 where it is none of them.
template <std::size_t count>
std::size_t placeOf(const std::array<const char*, count>& words, const std::string& word) {
    const auto at = std::find(words.begin(), words.end(), word);
    return at == words.end() ? 0 : static_cast<std::size_t>(at - words.begin());
}

// Throws what nlohmann's library throws for values of another kind.
RunEntry entryFrom(const Json& json) {
    RunEntry entry;
    entry.file = json.at("file").get<std::string>();
    entry.target = json.value("target", "");
    entry.state = static_cast<JobState>(placeOf(stateWords, json.at("state").get<std::string>()));
    entry.error = json.value("error", "");
    entry.verdict = static_cast<Verdict>(placeOf(verdictWords, json.value("verdict", "n/a")));
    entry.says = json.value("says", "");
    entry.shown = json.value("shown", "");
    entry.keptOutside = json.value("kept_outside", false);
    entry.size = {json.value("width", 0), json.value("height", 0)};
    entry.bytes = json.value("bytes", 0LL);
    entry.sha256 = json.value("sha256", "");
    entry.cleanSha256 = json.value("clean_sha256", "");
    entry.at = json.value("at", "");
    entry.twin = json.value("twin", false);
    entry.blocks = json.value("blocks", 0LL);
    entry.changed = json.value("blocks_changed", 0LL);
    if (json.contains("notes")) entry.notes = json["notes"].get<std::vector<std::string>>();
    if (json.contains("mark_rect")) {
        const auto r = json["mark_rect"].get<std::array<int, 4>>();
        entry.mark = {r[0], r[1], r[0] + r[2], r[1] + r[3]};
    }
    return entry;
}

std::optional<std::string> hashOf(const Path& file) {
    const auto bytes = readFile(file);
    if (!bytes) return {};
    return sha256(*bytes);
}

ByteView viewOf(const std::string& text) {
    return {reinterpret_cast<const std::uint8_t*>(text.data()), text.size()};
}

std::string lineOf(const OrderedJson& json) {
    return json.dump(-1, ' ', false, OrderedJson::error_handler_t::replace) + "\n";
}

// What has to be the same for a run to be taken up again.
OrderedJson headOf(const Stamp& stamp, const RunAsked& asked) {
    constexpr std::array<const char*, 3> keeps{"none", "author", "all"};
    const PhotoAsked& photo = asked.photo;
    OrderedJson json{{"run", 1},
                     {"stamp", jsonOf(stamp)},
                     {"out", asked.out.string()},
                     {"name", asked.name},
                     {"metadata", keeps[static_cast<std::size_t>(photo.keep)]}};
    if (asked.clean) json["clean"] = asked.clean->string();
    if (photo.within) json["resize"] = {photo.within->width, photo.within->height};
    if (photo.format) json["format"] = factsOf(*photo.format).id;
    if (photo.quality > 0) json["quality"] = photo.quality;
    if (photo.limit) json["limit"] = *photo.limit;
    return json;
}

std::string stemOfReceipt(const std::string& name) {
    return name.ends_with(receiptEnding) ? name.substr(0, name.size() - std::strlen(receiptEnding))
                                         : stemOf(name);
}

// The newest receipt of the folder, or of that part of a run; nothing where there is none.
std::optional<Path> newestReceipt(const Path& folder, int part) {
    std::error_code none;
    std::optional<Path> newest;
    for (int i = 1; i == 1 || part == 0; ++i) {
        const Path file =
            folder / (part > 0 ? fmt::format("{}{:06}{}", partStem, part, receiptEnding)
                      : i == 1 ? fmt::format("stamp-run{}", receiptEnding)
                               : fmt::format("stamp-run-{}{}", i, receiptEnding));
        if (!fs::exists(file, none)) break;
        newest = file;
    }
    return newest;
}

// A stem of which neither the receipt nor the report stands in the folder.
std::string freeStem(const Path& folder) {
    std::error_code none;
    for (int i = 1;; ++i) {
        const std::string stem = i == 1 ? "stamp-run" : fmt::format("stamp-run-{}", i);
        if (!fs::exists(folder / (stem + receiptEnding), none) &&
            !fs::exists(folder / (stem + ".html"), none))
            return stem;
    }
}

}  // namespace

OrderedJson jsonOf(const RunEntry& entry) {
    OrderedJson json{{"file", entry.file.string()},
                     {"target", entry.target},
                     {"state", stateWords[static_cast<std::size_t>(entry.state)]}};
    if (entry.state == JobState::failed) json["error"] = entry.error;
    if (entry.state != JobState::done) return json;
    json["width"] = entry.size.width;
    json["height"] = entry.size.height;
    json["bytes"] = entry.bytes;
    json["sha256"] = entry.sha256;
    if (!entry.cleanSha256.empty()) json["clean_sha256"] = entry.cleanSha256;
    json["kept_outside"] = entry.keptOutside;
    if (entry.keptOutside) {
        json["blocks"] = entry.blocks;
        json["blocks_changed"] = entry.changed;
    }
    json["at"] = entry.at;
    json["twin"] = entry.twin;
    json["mark_rect"] = {entry.mark.left, entry.mark.top, entry.mark.width(), entry.mark.height()};
    json["verdict"] = verdictWords[static_cast<std::size_t>(entry.verdict)];
    json["shown"] = entry.shown;
    json["says"] = entry.says;
    json["notes"] = entry.notes;
    return json;
}

struct RunRecord::State {
    Path folder, journal;
    OrderedJson head;
    std::string stampName;
    int part = 0;
    std::map<std::string, RunEntry> known;  // by target
    std::optional<Path> receipt;            // of a run that was the same and came to its end
    std::vector<RunEntry> inReceipt;
    std::set<std::string> begun;
    std::mutex mutex;
    int file = -1;
    ~State() {
        if (file >= 0) ::close(file);
    }
};

RunRecord::RunRecord() : state_(std::make_unique<State>()) {}
RunRecord::RunRecord(RunRecord&&) noexcept = default;
RunRecord::~RunRecord() = default;

Result<void> RunRecord::takeUp(const Path& journal, const OrderedJson& head) {
    std::ifstream in(journal);
    std::string line;
    const auto broken = [&] {
        return fail(Code::unwritable,
                    fmt::format("{} is no journal of a stamp run.", journal.string()),
                    "Move it away, or choose another folder.");
    };
    if (!std::getline(in, line)) return {};  // killed before it had begun
    const auto first = parseJson(viewOf(line), journal.filename().string());
    if (!first || !first->is_object()) return broken();
    if (*first != Json::parse(head.dump()))
        return fail(Code::unwritable,
                    fmt::format("The run that was left unfinished in {} is one of another stamp, "
                                "or with other options.",
                                state_->folder.string()),
                    "Give the same, or remove its journal.");
    while (std::getline(in, line)) {
        const auto json = parseJson(viewOf(line), "the journal");
        if (!json || !json->is_object()) break;  // the line that it was killed in
        try {
            if (json->contains("begins")) state_->begun.insert((*json)["begins"]);
            if (json->contains("ended")) {
                RunEntry entry = entryFrom((*json)["ended"]);
                // What could not be written may be somebody else's file, and what was written and
                // is another one now was changed by somebody: neither is replaced.
                state_->begun.erase(entry.target);
                state_->known[entry.target] = std::move(entry);
            }
        } catch (const Json::exception&) {
            return broken();
        }
    }
    return {};
}

// A run may be killed between its receipt and its own end, and a list of jobs be given twice.
void RunRecord::lookForReceipt() {
    State& state = *state_;
    const auto newest = newestReceipt(state.folder, state.part);
    if (!newest) return;
    const auto bytes = readFile(*newest);
    if (!bytes) return;
    auto json = parseJson(*bytes, newest->string());
    if (!json || !json->is_object()) return;
    json->erase("photos");
    if (*json != Json::parse(state.head.dump())) return;
    auto receipt = readReceipt(*newest);
    if (!receipt) return;
    for (const RunEntry& entry : receipt->entries)
        if (entry.state == JobState::done) state.known.try_emplace(entry.target, entry);
    state.receipt = *newest;
    state.inReceipt = std::move(receipt->entries);
}

Result<RunRecord> RunRecord::opened(const Stamp& stamp, const RunAsked& asked, std::size_t) {
    RunRecord record;
    State& state = *record.state_;
    state.folder = asked.out;
    state.part = asked.part;
    state.stampName = stamp.name;
    state.head = headOf(stamp, asked);
    state.journal =
        asked.out / (asked.part > 0 ? fmt::format("{}{:06}.journal", partStem, asked.part)
                                    : std::string(runJournalName));
    std::error_code none;
    const bool left = fs::exists(state.journal, none);
    if (left && !asked.resume)
        return fail(Code::unwritable,
                    fmt::format("A run was left unfinished in {}.", asked.out.string()),
                    "Take it up again (--resume), or remove its journal.");
    if (left)
        if (auto good = record.takeUp(state.journal, state.head); !good)
            return passOn(good.error());
    if (asked.resume) record.lookForReceipt();
    // What was known is written again, whole or not at all: a run may be killed as often as it
    // likes, and one that forgot what it began would take its own files for somebody else's.
    std::string text = lineOf(state.head);
    for (const std::string& target : state.begun) text += lineOf({{"begins", target}});
    for (const auto& [target, entry] : state.known)
        if (entry.state == JobState::done) text += lineOf({{"ended", jsonOf(entry)}});
    const auto kept = writeFile(state.journal, viewOf(text), Replace::yes);
    if (kept) state.file = ::open(state.journal.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
    if (state.file < 0)
        return fail(Code::unwritable,
                    fmt::format("Nothing can be written into {}.", asked.out.string()),
                    "Choose another folder, or look at its rights and at the room on its disk.");
    return record;
}

Result<void> RunRecord::add(const OrderedJson& line) {
    const std::string text = lineOf(line);
    std::size_t at = 0;
    while (at < text.size()) {
        const ssize_t count = ::write(state_->file, text.data() + at, text.size() - at);
        if (count <= 0)
            return fail(Code::unwritable,
                        fmt::format("{} cannot be written.", state_->journal.string()),
                        "The disk may be full.");
        at += static_cast<std::size_t>(count);
    }
    ::fdatasync(state_->file);
    return {};
}

std::optional<RunEntry> RunRecord::known(const std::string& target, const Path& file) const {
    const auto at = state_->known.find(target);
    if (at == state_->known.end() || at->second.state != JobState::done ||
        at->second.file != file || hashOf(state_->folder / target) != at->second.sha256)
        return {};
    RunEntry entry = at->second;
    entry.before = true;
    return entry;
}

bool RunRecord::wasBegun(const std::string& target) const {
    return state_->begun.contains(target);
}

Result<void> RunRecord::begins(const std::string& target) {
    const std::lock_guard lock(state_->mutex);
    return add({{"begins", target}});
}

Result<void> RunRecord::ended(const RunEntry& entry) {
    const std::lock_guard lock(state_->mutex);
    return add({{"ended", jsonOf(entry)}});
}

Result<void> RunRecord::close(RunOutcome& outcome) {
    const State& state = *state_;
    std::error_code none;
    const auto same = [](const RunEntry& a, const RunEntry& b) { return jsonOf(a) == jsonOf(b); };
    if (state.receipt && std::ranges::equal(outcome.entries, state.inReceipt, same)) {
        outcome.receipt = *state.receipt;
        if (state.part == 0) {
            const std::string name = state.receipt->filename().string();
            outcome.report = state.folder / (stemOfReceipt(name) + ".html");
        }
        fs::remove(state.journal, none);
        return {};
    }
    const bool part = state.part > 0;
    const std::string stem =
        part ? fmt::format("{}{:06}", partStem, state.part) : freeStem(state.folder);
    if (auto good = writeReceipt(state.folder, stem, state.stampName, state.head, outcome, !part);
        !good)
        return good;
    fs::remove(state.journal, none);
    return {};
}

Result<void> writeReceipt(const Path& folder, const std::string& stem, const std::string& stampName,
                          const OrderedJson& head, RunOutcome& outcome, bool withPage) {
    OrderedJson json = head;
    json["photos"] = OrderedJson::array();
    for (const RunEntry& entry : outcome.entries) {
        json["photos"].push_back(jsonOf(entry));
        if (withPage) continue;
        json["photos"].back()["before"] = base64(entry.beforePicture);
        json["photos"].back()["after"] = base64(entry.afterPicture);
    }
    const std::string text = written(json);
    outcome.receipt = folder / (stem + receiptEnding);
    std::string page;
    std::vector<FileToWrite> files{{outcome.receipt, viewOf(text)}};
    if (withPage) {
        page = pageOf(outcome, stampName);
        outcome.report = folder / (stem + ".html");
        files.push_back({outcome.report, viewOf(page)});
    }
    return writeFiles(files, withPage ? Replace::no : Replace::yes);
}

Result<RunReceipt> readReceipt(const Path& file) {
    const auto bytes = readFile(file);
    if (!bytes) return passOn(bytes.error());
    const auto json = parseJson(*bytes, file.string());
    if (!json) return passOn(json.error());
    try {
        RunReceipt receipt;
        receipt.out = json->at("out").get<std::string>();
        receipt.clean = json->value("clean", "");
        receipt.stampName = json->at("stamp").value("name", "");
        for (const Json& photo : json->at("photos")) receipt.entries.push_back(entryFrom(photo));
        return receipt;
    } catch (const Json::exception&) {
        return fail(Code::unreadable,
                    fmt::format("{} is no receipt of a stamp run.", file.string()));
    }
}

namespace {

Bytes fromBase64(const std::string& text) {
    gsize size = 0;
    const std::unique_ptr<guchar, decltype(&g_free)> bytes(g_base64_decode(text.c_str(), &size),
                                                           &g_free);
    return Bytes(bytes.get(), bytes.get() + size);
}

}  // namespace

Result<RunOutcome> mergedParts(const std::vector<Path>& folders, const Path& into) {
    std::vector<Path> parts;
    for (const Path& folder : folders) {
        std::error_code error;
        for (auto at = fs::directory_iterator(folder, error);
             !error && at != fs::directory_iterator(); at.increment(error)) {
            const std::string name = at->path().filename().string();
            if (name.starts_with(partStem) && name.ends_with(receiptEnding))
                parts.push_back(at->path());
        }
        if (error)
            return fail(Code::unreadable,
                        fmt::format("The folder {} cannot be read.", folder.string()));
    }
    if (parts.empty())
        return fail(Code::unreadable, "There are no parts of a stamp run in what was named.");
    std::sort(parts.begin(), parts.end(),
              [](const Path& a, const Path& b) { return a.filename() < b.filename(); });
    RunOutcome outcome;
    OrderedJson head;
    std::string stampName;
    for (const Path& part : parts) {
        const auto receipt = readReceipt(part);
        if (!receipt) return passOn(receipt.error());
        stampName = receipt->stampName;
        const auto bytes = readFile(part);
        if (!bytes) return passOn(bytes.error());
        const OrderedJson json = OrderedJson::parse(bytes->begin(), bytes->end());
        if (head.is_null()) head = json;
        for (std::size_t i = 0; i < receipt->entries.size(); ++i) {
            outcome.entries.push_back(receipt->entries[i]);
            RunEntry& entry = outcome.entries.back();
            if (outcome.entries.size() > 400) continue;
            entry.beforePicture = fromBase64(json["photos"][i].value("before", ""));
            entry.afterPicture = fromBase64(json["photos"][i].value("after", ""));
        }
    }
    head.erase("photos");
    head["name"] = "{name}";  // each part had its own
    const Path& first = into.empty() ? folders.front() : into;
    std::error_code made;
    fs::create_directories(first, made);
    if (auto good = writeReceipt(first, freeStem(first), stampName, head, outcome, true); !good)
        return passOn(good.error());
    std::error_code none;
    for (const Path& part : parts) fs::remove(part, none);
    return outcome;
}

Result<Undone> undoneRun(const Path& file) {
    const auto receipt = readReceipt(file);
    if (!receipt) return passOn(receipt.error());
    Undone undone;
    std::error_code none;
    // The folder may have been moved with its receipt.
    const Path folder = file.parent_path();
    const auto take = [&](const Path& path, const std::string& hash) {
        if (hash.empty() || !fs::exists(path, none)) return;
        if (hashOf(path) != hash) {
            undone.changed.push_back(path.string());
            return;
        }
        if (fs::remove(path, none)) undone.removed.push_back(path.string());
    };
    for (const RunEntry& entry : receipt->entries) {
        if (entry.state != JobState::done || entry.target.empty() ||
            Path(entry.target).filename() != Path(entry.target))
            continue;
        take(folder / entry.target, entry.sha256);
        if (!receipt->clean.empty()) take(receipt->clean / entry.target, entry.cleanSha256);
    }
    if (!undone.changed.empty()) return undone;
    const std::string stem = stemOfReceipt(file.filename().string());
    fs::remove(folder / (stem + ".html"), none);
    fs::remove(file, none);
    return undone;
}

}  // namespace zl
