// SPDX-License-Identifier: GPL-3.0-or-later
#include "film/strip.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <glib.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <type_traits>

#include "encode/encode.h"
#include "picture/decode.h"

namespace zl {
namespace {

constexpr char mark[8] = {'Z', 'L', 'S', 'T', 'R', 'I', 'P', '3'};
constexpr long long mostEntries = 100'000, mostPicture = 2'000'000;

// Plain values one after the other, as this machine lays them out: the cache stays on it.
class Writer {
  public:
    template <class T>
    void put(const T& value) {
        static_assert(std::is_trivially_copyable_v<T>);
        const auto* from = reinterpret_cast<const std::uint8_t*>(&value);
        out.insert(out.end(), from, from + sizeof(T));
    }
    Bytes out;
};

class Reader {
  public:
    explicit Reader(ByteView bytes) : bytes_(bytes) {}
    template <class T>
    bool get(T& value) {
        static_assert(std::is_trivially_copyable_v<T>);
        if (bytes_.size() - at_ < sizeof(T)) return false;
        std::memcpy(&value, bytes_.data() + at_, sizeof(T));
        at_ += sizeof(T);
        return true;
    }

  private:
    ByteView bytes_;
    std::size_t at_ = 0;
};

bool writeAt(int file, long long at, ByteView bytes) {
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t n = ::pwrite(file, bytes.data() + done, bytes.size() - done,
                                   at + static_cast<long long>(done));
        if (n <= 0) return false;
        done += static_cast<std::size_t>(n);
    }
    return true;
}

std::optional<Bytes> readAt(int file, long long at, long long count) {
    Bytes bytes(static_cast<std::size_t>(count));
    for (std::size_t done = 0; done < bytes.size();) {
        const ssize_t n = ::pread(file, bytes.data() + done, bytes.size() - done,
                                  at + static_cast<long long>(done));
        if (n <= 0) return {};
        done += static_cast<std::size_t>(n);
    }
    return bytes;
}

// At the end of a file: where the index begins, how long it is, and the mark.
struct Foot {
    long long index = 0, bytes = 0;
    char name[8] = {};
};

Path fileOf(const Path& folder, const std::string& identity) {
    return folder / (identity + ".strip");
}

// The oldest go until the others have room.
void makeRoom(const Path& folder, long long mostBytes) {
    namespace fs = std::filesystem;
    struct Kept {
        Path path;
        fs::file_time_type used;
        long long bytes;
    };
    std::vector<Kept> all;
    std::error_code none;
    long long sum = 0;
    for (const auto& entry : fs::directory_iterator(folder, none)) {
        if (entry.path().extension() != ".strip" || !entry.is_regular_file(none)) continue;
        all.push_back({entry.path(), entry.last_write_time(none),
                       static_cast<long long>(entry.file_size(none))});
        sum += all.back().bytes;
    }
    std::sort(all.begin(), all.end(), [](const Kept& a, const Kept& b) { return a.used < b.used; });
    for (const Kept& one : all) {
        if (sum <= mostBytes) break;
        if (fs::remove(one.path, none)) sum -= one.bytes;
    }
}

tl::unexpected<Error> unkept() {
    return fail(Code::unwritable, "The video's small pictures cannot be kept.",
                "Look whether the disk has room.");
}

}  // namespace

Path stripFolder() {
    return Path(g_get_user_cache_dir()) / "zinc-ledge" / "strips";
}

namespace {

std::string knownBy(const Path& video, bool changeCounts) {
    struct stat found {};
    const int file = ::open(video.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (file < 0) return {};
    Writer known;
    if (::fstat(file, &found) == 0 && S_ISREG(found.st_mode)) {
        constexpr long long part = 1'000'000;
        const long long size = found.st_size;
        known.put(size);
        if (changeCounts) {
            known.put(static_cast<long long>(found.st_mtim.tv_sec));
            known.put(static_cast<long long>(found.st_mtim.tv_nsec));
        }
        for (const long long from : {0ll, std::max(0ll, size - part)})
            if (const auto bytes = readAt(file, from, std::min(part, size - from)))
                known.out.insert(known.out.end(), bytes->begin(), bytes->end());
    }
    ::close(file);
    return known.out.empty() ? std::string() : sha256(known.out).substr(0, 32);
}

}  // namespace

std::string identityOf(const Path& video) {
    return knownBy(video, true);
}

std::string contentOf(const Path& video) {
    return knownBy(video, false);
}

Strip::~Strip() {
    ::close(file_);
}

std::size_t Strip::size() const {
    const Lock lock(mutex_);
    return entries_.size();
}

std::optional<double> Strip::nearestTime(double seconds) const {
    const Lock lock(mutex_);
    if (entries_.empty()) return {};
    const auto next =
        std::lower_bound(entries_.begin(), entries_.end(), seconds,
                         [](const Entry& e, double t) { return e.glimpse.glance.time < t; });
    if (next == entries_.begin()) return next->glimpse.glance.time;
    const auto before = std::prev(next);
    if (next == entries_.end()) return before->glimpse.glance.time;
    return seconds - before->glimpse.glance.time <= next->glimpse.glance.time - seconds
               ? before->glimpse.glance.time
               : next->glimpse.glance.time;
}

std::optional<Strip::Picture> Strip::nearest(double seconds) const {
    const auto time = nearestTime(seconds);
    if (!time) return {};
    Entry entry;
    {
        const Lock lock(mutex_);
        entry =
            *std::lower_bound(entries_.begin(), entries_.end(), *time,
                              [](const Entry& e, double t) { return e.glimpse.glance.time < t; });
    }
    const auto bytes = readAt(file_, entry.offset, entry.bytes);
    if (!bytes) return {};
    const auto picture = decode(*bytes, "a small picture of the video");
    if (!picture) return {};
    return Picture{picture->pixels->clone(), entry.glimpse.glance.number,
                   entry.glimpse.glance.time};
}

std::optional<LookedThrough> Strip::looked() const {
    const Lock lock(mutex_);
    if (!whole_) return {};
    LookedThrough out;
    for (const Entry& entry : entries_) out.glimpses.push_back(entry.glimpse);
    out.cuts = cuts_;
    return out;
}

Result<void> Strip::add(const Glimpse& glimpse, const Straight8& picture) {
    constexpr int fine = 80;
    const auto bytes = isOpaque(picture)
                           ? encode(picture, {Content::jpeg, fine, Chroma::half, Effort::quick})
                           : encode(picture, {Content::png, 0, Chroma::full, Effort::quick});
    if (!bytes) return passOn(bytes.error());
    if (!writeAt(file_, end_, *bytes)) return unkept();
    const auto count = static_cast<long long>(bytes->size());
    const Lock lock(mutex_);
    entries_.push_back({glimpse, end_, count});
    end_ += count;
    return {};
}

Bytes Strip::indexBytes() const {
    Writer out;
    out.put(static_cast<long long>(entries_.size()));
    out.put(static_cast<long long>(cuts_.size()));
    for (const Entry& entry : entries_) out.put(entry);
    for (const HardCut& cut : cuts_) out.put(cut);
    return std::move(out.out);
}

Result<void> Strip::finish(std::vector<HardCut> cuts, const Path& name) {
    const Lock lock(mutex_);
    cuts_ = std::move(cuts);
    whole_ = true;
    const Bytes index = indexBytes();
    Foot foot{end_, static_cast<long long>(index.size()), {}};
    std::memcpy(foot.name, mark, sizeof mark);
    Writer last;
    last.put(foot);
    if (!writeAt(file_, end_, index) || !writeAt(file_, end_ + foot.bytes, last.out))
        return unkept();
    // Without a name until it is whole; another window may have kept the same meanwhile.
    const std::string from = fmt::format("/proc/self/fd/{}", file_);
    if (::linkat(AT_FDCWD, from.c_str(), AT_FDCWD, name.c_str(), AT_SYMLINK_FOLLOW) != 0 &&
        errno != EEXIST)
        return unkept();
    return {};
}

bool Strip::readIndex() {
    struct stat found {};
    if (::fstat(file_, &found) != 0 || found.st_size < static_cast<off_t>(sizeof(Foot)))
        return false;
    const long long size = found.st_size;
    const auto footBytes = readAt(file_, size - static_cast<long long>(sizeof(Foot)), sizeof(Foot));
    Foot foot;
    if (!footBytes || !Reader(*footBytes).get(foot) ||
        std::memcmp(foot.name, mark, sizeof mark) != 0 || foot.index < 0 || foot.bytes < 0 ||
        foot.index + foot.bytes + static_cast<long long>(sizeof(Foot)) != size)
        return false;
    const auto index = readAt(file_, foot.index, foot.bytes);
    if (!index) return false;
    Reader reader(*index);
    long long entries = 0, cuts = 0;
    if (!reader.get(entries) || !reader.get(cuts) || entries < 0 || cuts < 0 ||
        entries > mostEntries || cuts > 100 * mostEntries)
        return false;
    const Lock lock(mutex_);
    for (long long i = 0; i < entries; ++i) {
        Entry entry;
        if (!reader.get(entry) || entry.offset < 0 || entry.bytes <= 0 ||
            entry.bytes > mostPicture || entry.offset + entry.bytes > foot.index ||
            !std::isfinite(entry.glimpse.glance.time) ||
            (!entries_.empty() && entry.glimpse.glance.time < entries_.back().glimpse.glance.time))
            return false;
        entries_.push_back(entry);
    }
    for (long long i = 0; i < cuts; ++i) {
        HardCut cut;
        if (!reader.get(cut) || !std::isfinite(cut.time)) return false;
        cuts_.push_back(cut);
    }
    end_ = foot.index;
    whole_ = true;
    return true;
}

std::shared_ptr<Strip> Strip::kept(const Path& folder, const std::string& identity) {
    if (identity.empty()) return nullptr;
    const Path name = fileOf(folder, identity);
    const int file = ::open(name.c_str(), O_RDONLY | O_CLOEXEC | O_NOFOLLOW);
    if (file < 0) return nullptr;
    std::shared_ptr<Strip> strip(new Strip(file));
    std::error_code none;
    if (!strip->readIndex()) {
        std::filesystem::remove(name, none);
        return nullptr;
    }
    // What was used last goes last.
    std::filesystem::last_write_time(name, std::filesystem::file_time_type::clock::now(), none);
    return strip;
}

Result<std::shared_ptr<Strip>> Strip::make(
    Video& video, const Path& folder, const std::string& identity,
    const std::function<void(const std::shared_ptr<Strip>&)>& begun,
    const std::function<void(double part)>& grew, const std::stop_token& stop,
    long long mostBytes) {
    std::error_code none;
    std::filesystem::create_directories(folder, none);
    int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    // Where files cannot be nameless, or the folder cannot be written, it lasts as long as it is
    // looked at.
    const bool lasts = file >= 0 && !identity.empty();
    if (file < 0) file = ::memfd_create("strip", MFD_CLOEXEC);
    if (file < 0) return unkept();
    std::shared_ptr<Strip> strip(new Strip(file));
    if (begun) begun(strip);
    std::optional<Error> broken;
    auto looked = lookThrough(video, pictureWidth, stop, grew,
                              [&](const Glimpse& glimpse, const Straight8& picture) {
                                  if (picture.empty()) return true;
                                  if (auto done = strip->add(glimpse, picture); !done)
                                      broken = done.error();
                                  return !broken;
                              });
    if (broken) return passOn(*broken);
    if (!looked) return passOn(looked.error());
    if (!lasts) {
        const Lock lock(strip->mutex_);
        strip->cuts_ = std::move(looked->cuts);
        strip->whole_ = true;
        return strip;
    }
    if (auto done = strip->finish(std::move(looked->cuts), fileOf(folder, identity)); !done)
        return passOn(done.error());
    makeRoom(folder, mostBytes);
    return strip;
}

}  // namespace zl
