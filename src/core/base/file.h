// SPDX-License-Identifier: GPL-3.0-or-later
// Reading and writing of whole files. An input is bounded before it is read; an output appears
// whole or not at all: it is written to a nameless file in the same folder, synced, and then given
// its name.
#pragma once

#include <filesystem>
#include <span>

#include "base/bytes.h"
#include "base/result.h"

namespace zl {

using Path = std::filesystem::path;

inline constexpr std::size_t largestInput = 1'000'000'000;  // bytes; ours

// Only regular files, of at most `limit` bytes. Errors are Code::unreadable and name the file.
[[nodiscard]] Result<Bytes> readFile(const Path& path, std::size_t limit = largestInput);

// SHA-256 of a file of any size, 64 lower-case hexadecimal digits.
[[nodiscard]] Result<std::string> sha256OfFile(const Path& path);

enum class Replace { no, yes };

// Writes beside, syncs, renames. With Replace::no an existing file is an error, decided at the
// moment of naming, so that nothing is ever lost in between. Missing folders are not made. Errors
// are Code::unwritable; the old file stays.
[[nodiscard]] Result<void> writeFile(const Path& path, ByteView bytes, Replace replace);

// A file that is written bit by bit, by whoever takes a name and not bytes. Until it is kept it has
// no name of its own, so that nothing is left of it when it is given up or the process is killed.
class NewFile {
  public:
    // Code::unwritable, as writeFile.
    [[nodiscard]] static Result<NewFile> begin(const Path& target, Replace replace);
    NewFile(NewFile&& other) noexcept;
    NewFile& operator=(NewFile&&) = delete;
    ~NewFile();

    // Where this process opens it, to write and to read.
    Path meanwhile() const;
    // All of it in one piece.
    [[nodiscard]] Result<void> write(ByteView bytes);
    // Syncs it and gives it its name; what stood there is replaced only then.
    [[nodiscard]] Result<void> keep();
    // Bytes that were written.
    long long size() const;

  private:
    NewFile(Path target, Replace replace, int file, Path part)
        : target_(std::move(target)), replace_(replace), file_(file), part_(std::move(part)) {}
    Path target_;
    Replace replace_;
    int file_;
    Path part_;  // its name while it is written; empty: it has none
};

// Several files as one: all get their names, or none does and what stood there stands as before. A
// program that is killed between two names may leave some of each, every one of them whole.
struct FileToWrite {
    Path path;
    ByteView bytes;
};
[[nodiscard]] Result<void> writeFiles(std::span<const FileToWrite> files, Replace replace);

// Whether both names lead to the same file that exists.
bool sameFile(const Path& a, const Path& b);

// The name's last part without its ending, and the ending in lower case with its dot ("" when there
// is none).
std::string stemOf(const Path& path);
std::string endingOf(const Path& path);

}  // namespace zl
