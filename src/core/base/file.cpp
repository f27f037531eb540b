// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/file.h"

#include <fcntl.h>
#include <fmt/core.h>
#include <glib.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <cstring>

namespace zl {
namespace {

class Descriptor {
  public:
    explicit Descriptor(int fd) : fd_(fd) {}
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;
    ~Descriptor() {
        if (fd_ >= 0) ::close(fd_);
    }
    int get() const { return fd_; }
    bool open() const { return fd_ >= 0; }

  private:
    int fd_;
};

std::string reason(int error) {
    switch (error) {
        case ENOENT:
            return "there is no such file or folder";
        case EACCES:
        case EPERM:
            return "permission is missing";
        case EISDIR:
            return "it is a folder";
        case ENOTDIR:
            return "a part of its path is not a folder";
        case ENOSPC:
        case EDQUOT:
            return "the disk is full";
        case EROFS:
            return "the disk is read-only";
        case EEXIST:
            return "a file of that name stands there already";
        case EFBIG:
            return "it would be larger than is allowed";
        case ENAMETOOLONG:
            return "the name is too long";
        default:
            return std::strerror(error);
    }
}

tl::unexpected<Error> unreadable(const Path& path, const std::string& why, const char* hint) {
    return fail(Code::unreadable, fmt::format("{} cannot be read: {}.", path.string(), why), hint);
}

tl::unexpected<Error> unwritable(const Path& path, int error) {
    const char* hint = error == EEXIST   ? "Choose another name, or ask for it to be replaced."
                       : error == ENOSPC ? "Free some room or choose another folder."
                                         : "Choose another folder.";
    return fail(Code::unwritable,
                fmt::format("{} cannot be written: {}.", path.string(), reason(error)), hint);
}

// Returns 0 or the error number.
int writeAll(int fd, ByteView bytes) {
    while (!bytes.empty()) {
        const ssize_t n = ::write(fd, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return n < 0 ? errno : EIO;
        bytes = bytes.subspan(static_cast<std::size_t>(n));
    }
    return 0;
}

Path besideName(const Path& path) {
    static std::atomic<unsigned> serial{0};
    return path.parent_path() / fmt::format(".{}.{}.{}.part",
                                            path.filename().string().substr(0, 80), ::getpid(),
                                            ++serial);
}

// Gives the written bytes their name. Returns 0 or the error number.
int giveName(const std::string& from, const Path& path, Replace replace) {
    if (replace == Replace::yes) return ::rename(from.c_str(), path.c_str()) == 0 ? 0 : errno;
    if (::renameat2(AT_FDCWD, from.c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE) == 0)
        return 0;
    if (errno != EINVAL && errno != ENOSYS) return errno;
    return ::link(from.c_str(), path.c_str()) == 0 ? (::unlink(from.c_str()), 0) : errno;
}

void syncFolder(const Path& path) {
    const Path folder = path.has_parent_path() ? path.parent_path() : Path(".");
    const Descriptor fd(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (fd.open()) ::fsync(fd.get());
}

}  // namespace

Result<Bytes> readFile(const Path& path, std::size_t limit) {
    const Descriptor fd(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (!fd.open()) return unreadable(path, reason(errno), "Check the name and the permissions.");
    struct stat facts {};
    if (::fstat(fd.get(), &facts) != 0) return unreadable(path, reason(errno), "");
    if (S_ISDIR(facts.st_mode)) return unreadable(path, "it is a folder", "Name a file.");
    if (!S_ISREG(facts.st_mode)) return unreadable(path, "it is not a plain file", "Name a file.");
    const auto size = static_cast<std::size_t>(facts.st_size);
    if (size > limit)
        return unreadable(
            path,
            fmt::format("it has {} bytes, {} are allowed", grouped(static_cast<long long>(size)),
                        grouped(static_cast<long long>(limit))),
            "Bring a smaller file.");
    Bytes bytes(size);
    std::size_t at = 0;
    while (at < size) {
        const ssize_t n = ::read(fd.get(), bytes.data() + at, size - at);
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return unreadable(path, reason(errno), "");
        if (n == 0) break;
        at += static_cast<std::size_t>(n);
    }
    bytes.resize(at);
    return bytes;
}

Result<std::string> sha256OfFile(const Path& path) {
    const Descriptor fd(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
    if (!fd.open()) return unreadable(path, reason(errno), "Check the name and the permissions.");
    const std::unique_ptr<GChecksum, decltype(&g_checksum_free)> sum(
        g_checksum_new(G_CHECKSUM_SHA256), &g_checksum_free);
    std::vector<std::uint8_t> room(1 << 20);
    for (;;) {
        const ssize_t n = ::read(fd.get(), room.data(), room.size());
        if (n < 0 && errno == EINTR) continue;
        if (n < 0) return unreadable(path, reason(errno), "");
        if (n == 0) break;
        g_checksum_update(sum.get(), room.data(), n);
    }
    return std::string(g_checksum_get_string(sum.get()));
}

Result<NewFile> NewFile::begin(const Path& target, Replace replace) {
    std::error_code ignored;
    if (std::filesystem::is_directory(target, ignored)) return unwritable(target, EISDIR);
    if (replace == Replace::no &&
        std::filesystem::exists(std::filesystem::symlink_status(target, ignored)))
        return unwritable(target, EEXIST);
    // A file without a name vanishes by itself when the process is killed.
    const Path folder = target.has_parent_path() ? target.parent_path() : Path(".");
    Path part;
    int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0666);
    if (file < 0) {
        part = besideName(target);
        file = ::open(part.c_str(), O_CREAT | O_EXCL | O_RDWR | O_CLOEXEC, 0666);
    }
    if (file < 0) return unwritable(target, errno);
    return NewFile(target, replace, file, std::move(part));
}

NewFile::NewFile(NewFile&& other) noexcept
    : target_(std::move(other.target_)),
      replace_(other.replace_),
      file_(std::exchange(other.file_, -1)),
      part_(std::exchange(other.part_, Path())) {}

NewFile::~NewFile() {
    if (file_ >= 0) ::close(file_);
    if (!part_.empty()) ::unlink(part_.c_str());
}

Path NewFile::meanwhile() const {
    return part_.empty() ? Path(fmt::format("/proc/self/fd/{}", file_)) : part_;
}

long long NewFile::size() const {
    struct stat facts {};
    return ::fstat(file_, &facts) == 0 ? static_cast<long long>(facts.st_size) : 0;
}

Result<void> NewFile::write(ByteView bytes) {
    if (const int error = writeAll(file_, bytes); error != 0) return unwritable(target_, error);
    return {};
}

Result<void> NewFile::keep() {
    if (::fsync(file_) != 0) return unwritable(target_, errno);
    if (part_.empty()) {
        const bool straight = replace_ == Replace::no;
        const Path name = straight ? target_ : besideName(target_);
        if (::linkat(AT_FDCWD, meanwhile().c_str(), AT_FDCWD, name.c_str(), AT_SYMLINK_FOLLOW) != 0)
            return unwritable(target_, errno);
        if (!straight) part_ = name;
    }
    if (!part_.empty()) {
        if (const int error = giveName(part_.string(), target_, replace_); error != 0)
            return unwritable(target_, error);
        part_.clear();
    }
    syncFolder(target_);
    return {};
}

Result<void> writeFile(const Path& path, ByteView bytes, Replace replace) {
    auto file = NewFile::begin(path, replace);
    if (!file) return passOn(file.error());
    if (auto done = file->write(bytes); !done) return done;
    return file->keep();
}

namespace {

// Files that are written beside their names until all of them are; what is not kept goes again.
class Staged {
  public:
    ~Staged() {
        for (const One& one : all_) {
            ::unlink(one.part.c_str());
            if (!one.before.empty()) ::unlink(one.before.c_str());
        }
    }
    Result<void> add(const FileToWrite& file) {
        One one{file.path, besideName(file.path), {}};
        errno = 0;
        if (auto done = writeFile(one.part, file.bytes, Replace::no); !done)
            return errno != 0 ? unwritable(file.path, errno) : passOn(done.error());
        all_.push_back(std::move(one));
        return {};
    }
    Result<void> nameAll(Replace replace) {
        for (std::size_t i = 0; i < all_.size(); ++i) {
            One& one = all_[i];
            std::error_code none, lost;
            if (replace == Replace::yes && std::filesystem::is_regular_file(one.path, none)) {
                one.before = besideName(one.path);
                // Where a file cannot have two names it is copied; what cannot be kept is not
                // replaced.
                if (::link(one.path.c_str(), one.before.c_str()) != 0)
                    std::filesystem::copy_file(one.path, one.before, lost);
            }
            const int error = lost ? lost.value()
                              : std::filesystem::is_directory(one.path, none)
                                  ? EISDIR
                                  : giveName(one.part.string(), one.path, replace);
            if (error == 0) continue;
            for (std::size_t k = 0; k < i; ++k) takeBack(all_[k]);
            return unwritable(one.path, error);
        }
        if (!all_.empty()) syncFolder(all_.front().path);
        return {};
    }

  private:
    struct One {
        Path path, part, before;  // before: what stood there, by another name; empty: nothing
    };
    static void takeBack(const One& one) {
        if (one.before.empty())
            ::unlink(one.path.c_str());
        else
            static_cast<void>(::rename(one.before.c_str(), one.path.c_str()));
    }
    std::vector<One> all_;
};

}  // namespace

Result<void> writeFiles(std::span<const FileToWrite> files, Replace replace) {
    Staged staged;
    for (const FileToWrite& file : files)
        if (auto done = staged.add(file); !done) return done;
    return staged.nameAll(replace);
}

bool sameFile(const Path& a, const Path& b) {
    std::error_code error;
    return std::filesystem::equivalent(a, b, error) && !error;
}

std::string stemOf(const Path& path) {
    return path.stem().string();
}

std::string endingOf(const Path& path) {
    std::string ending = path.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return std::tolower(c); });
    return ending;
}

}  // namespace zl
