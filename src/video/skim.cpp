// SPDX-License-Identifier: GPL-3.0-or-later
#include "skim.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <string_view>

namespace zl::video {
namespace {

// What is read in one go and is larger than FFmpeg's buffer goes past it: a picture, of which only
// the head is wanted (a Matroska block begins with its time).
constexpr int buffer = 4096;

}  // namespace

int Skim::read(void* self, std::uint8_t* to, int most) {
    Skim& me = *static_cast<Skim*>(self);
    const auto count = static_cast<int>(std::min<std::int64_t>(most, me.size_ - me.at_));
    if (count <= 0) return AVERROR_EOF;
    const int wanted = me.skims_ ? std::min(count, buffer) : count;
    for (int done = 0; done < wanted;) {
        const ssize_t n =
            ::pread(me.file_, to + done, static_cast<std::size_t>(wanted - done), me.at_ + done);
        if (n <= 0) return AVERROR(EIO);
        done += static_cast<int>(n);
    }
    me.at_ += count;
    return count;
}

std::int64_t Skim::seek(void* self, std::int64_t to, int whence) {
    Skim& me = *static_cast<Skim*>(self);
    if ((whence & AVSEEK_SIZE) != 0) return me.size_;
    const int from = whence & ~AVSEEK_FORCE;
    const std::int64_t at = from == SEEK_SET   ? to
                            : from == SEEK_CUR ? me.at_ + to
                            : from == SEEK_END ? me.size_ + to
                                               : -1;
    if (at < 0) return AVERROR(EINVAL);
    return me.at_ = at;
}

std::unique_ptr<Skim> Skim::of(const Path& file, const AVInputFormat& kind) {
    const std::string_view name = kind.name;
    if (!name.starts_with("mov,") && !name.starts_with("matroska,")) return nullptr;
    std::unique_ptr<Skim> made(new Skim);
    struct stat found {};
    made->file_ = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
    if (made->file_ < 0 || ::fstat(made->file_, &found) != 0 || !S_ISREG(found.st_mode))
        return nullptr;
    made->size_ = found.st_size;
    auto* room = static_cast<std::uint8_t*>(av_malloc(buffer));
    made->io_ =
        room ? avio_alloc_context(room, buffer, 0, made.get(), &Skim::read, nullptr, &Skim::seek)
             : nullptr;
    if (!made->io_) throw std::bad_alloc();
    made->format_ = openedFormat(file, {}, made->io_);
    if (!made->format_) return nullptr;
    // Nobody looks into pictures that were not read, and what the container does not tell is not
    // made up.
    made->format_->flags |= AVFMT_FLAG_NOPARSE | AVFMT_FLAG_NOFILLIN;
    made->format_->flags &= ~AVFMT_FLAG_GENPTS;
    made->skims_ = true;
    return made;
}

Skim::~Skim() {
    format_.reset();
    if (io_) av_freep(&io_->buffer);
    avio_context_free(&io_);
    if (file_ >= 0) ::close(file_);
}

}  // namespace zl::video
