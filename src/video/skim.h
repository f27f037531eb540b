// SPDX-License-Identifier: GPL-3.0-or-later
// A file read for its time stamps only: of what is large, the first bytes. A film of tens of
// gigabytes is known in moments, where its container tells time stamps outside the pictures.
#pragma once

#include "kinds.h"

namespace zl::video {

class Skim {
  public:
    // Nothing where the file is of a kind whose pictures have to be read for it.
    static std::unique_ptr<Skim> of(const Path& file, const AVInputFormat& kind);
    ~Skim();
    Skim(const Skim&) = delete;
    Skim& operator=(const Skim&) = delete;

    AVFormatContext& format() { return *format_; }

  private:
    Skim() = default;
    static int read(void* self, std::uint8_t* to, int most);
    static std::int64_t seek(void* self, std::int64_t to, int whence);

    int file_ = -1;
    std::int64_t size_ = 0, at_ = 0;
    bool skims_ = false;  // its header is read wholly
    AVIOContext* io_ = nullptr;
    Format format_;
};

}  // namespace zl::video
