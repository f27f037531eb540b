// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>

#include "core/support/demo.h"
#include "support/support.h"

namespace {
// A file system on which a file cannot have two names, as on a memory card.
bool oneNameOnly = false;
}  // namespace

// Stands before the C library's own.
extern "C" int link(const char* from, const char* to) noexcept {
    if (!oneNameOnly) return linkat(AT_FDCWD, from, AT_FDCWD, to, 0);
    errno = EPERM;
    return -1;
}

namespace zl {
namespace {

using test::good;
using test::namesIn;

TEST(WriteFiles, AllOrNoneAndWhatStoodThereStands) {
    const test::Folder folder;
    const Bytes one = test::bytesOf("one"), two = test::bytesOf("two"), old = test::bytesOf("old");
    ASSERT_TRUE(writeFile(folder / "b", old, Replace::no));
    std::filesystem::create_directory(folder / "c");  // nothing can take its name
    const std::vector<FileToWrite> set{
        {folder / "a", one}, {folder / "b", two}, {folder / "c", one}};
    const auto refused = writeFiles(set, Replace::yes);
    ASSERT_FALSE(refused);
    EXPECT_NE(refused.error().what.find("it is a folder"), std::string::npos);
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"b", "c"}));
    EXPECT_EQ(good(readFile(folder / "b")), old);

    EXPECT_FALSE(writeFiles(std::span(set).first(2), Replace::no)) << "b stands there";
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"b", "c"}));

    ASSERT_TRUE(writeFiles(std::span(set).first(2), Replace::yes));
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"a", "b", "c"}));
    EXPECT_EQ(good(readFile(folder / "b")), two);
    EXPECT_FALSE(writeFiles(std::vector<FileToWrite>{{folder / "no" / "x", one}}, Replace::no));
}

TEST(WriteFiles, WhatStoodThereIsCopiedWhereAFileCannotHaveTwoNames) {
    const test::Folder folder;
    const Bytes one = test::bytesOf("one"), two = test::bytesOf("two"), old = test::bytesOf("old");
    ASSERT_TRUE(writeFile(folder / "a", old, Replace::no));
    std::filesystem::create_directory(folder / "b");  // nothing can take its name
    const std::vector<FileToWrite> set{{folder / "a", one}, {folder / "b", two}};
    oneNameOnly = true;
    const auto refused = writeFiles(set, Replace::yes);
    const auto done = writeFiles(std::span(set).first(1), Replace::yes);
    oneNameOnly = false;
    ASSERT_FALSE(refused);
    ASSERT_TRUE(done);
    EXPECT_EQ(namesIn(folder.path()), (std::set<std::string>{"a", "b"}));
    EXPECT_EQ(good(readFile(folder / "a")), one);
}

TEST(WriteFiles, WhatWasCopiedComesBackWhenALaterNameCannotBeHad) {
    const test::Folder folder;
    const Bytes one = test::bytesOf("one"), old = test::bytesOf("old");
    ASSERT_TRUE(writeFile(folder / "a", old, Replace::no));
    std::filesystem::create_directory(folder / "b");
    oneNameOnly = true;
    const auto refused = writeFiles(
        std::vector<FileToWrite>{{folder / "a", one}, {folder / "b", one}}, Replace::yes);
    oneNameOnly = false;
    ASSERT_FALSE(refused);
    EXPECT_EQ(good(readFile(folder / "a")), old);
}

}  // namespace
}  // namespace zl
