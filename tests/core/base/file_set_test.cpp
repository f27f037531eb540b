// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/file.h"
#include "core/support/demo.h"
#include "support/support.h"

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

}  // namespace
}  // namespace zl
