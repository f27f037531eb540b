// SPDX-License-Identifier: GPL-3.0-or-later
#include <rapidcheck.h>
#include <sys/resource.h>
#include <csignal>

#include "base/arithmetic.h"
#include "base/bytes.h"
#include "base/json.h"
#include "support/support.h"

namespace zl {
namespace {

using test::Folder;

TEST(Arithmetic, WorksOutWhatIsTyped) {
    EXPECT_DOUBLE_EQ(*evaluate("1280*2"), 2560);
    EXPECT_DOUBLE_EQ(*evaluate("720/3+4"), 244);
    EXPECT_DOUBLE_EQ(*evaluate(" ( 10 - 4 ) * -1.5 "), -9);
    EXPECT_DOUBLE_EQ(*evaluate("2-3-4"), -5);
    EXPECT_DOUBLE_EQ(*evaluate("--4"), 4);
    EXPECT_DOUBLE_EQ(*evaluate(".5"), 0.5);
}

TEST(Arithmetic, RefusesWhatIsNoSum) {
    for (const char* text : {"", " ", "1+", "two", "1//2", "(1", "1)", "1e5", "nan", "inf", "0x10",
                             "1,5", "5/0", "5/(2-2)"})
        EXPECT_FALSE(evaluate(text)) << text;
    EXPECT_FALSE(evaluate(std::string(150, '(')));
    EXPECT_FALSE(evaluate(std::string(100'000, '9')));
    EXPECT_NE(evaluate("5/0").error().what.find("divided by 0"), std::string::npos);
}

TEST(Arithmetic, AgreesWithTheProcessorOnAnySum) {
    EXPECT_TRUE(rc::check([](int a, int b, int c) {
        const auto text = std::to_string(a) + "+" + std::to_string(b) + "*" + std::to_string(c);
        RC_ASSERT(*evaluate(text) ==
                  static_cast<double>(a) + static_cast<double>(b) * static_cast<double>(c));
    }));
}

TEST(Bytes, Sha256MatchesThePublishedExample) {
    // FIPS 180-4's companion examples: "abc" and the empty message.
    EXPECT_EQ(sha256(test::bytesOf("abc")),
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    EXPECT_EQ(sha256({}), "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855");
}

TEST(Bytes, GroupsByThousands) {
    EXPECT_EQ(grouped(0), "0");
    EXPECT_EQ(grouped(999), "999");
    EXPECT_EQ(grouped(1118204), "1,118,204");
    EXPECT_EQ(grouped(-12345), "-12,345");
}

TEST(File, AppearsWholeAndIsNotReplacedUnasked) {
    const Folder folder;
    const Path file = folder / "a.txt";
    ASSERT_TRUE(writeFile(file, test::bytesOf("one"), Replace::no));
    const auto again = writeFile(file, test::bytesOf("two"), Replace::no);
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().code, Code::unwritable);
    EXPECT_EQ(test::textOf(*readFile(file)), "one");
    ASSERT_TRUE(writeFile(file, test::bytesOf("three"), Replace::yes));
    EXPECT_EQ(test::textOf(*readFile(file)), "three");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1)
        << "no part file is left";
}

TEST(File, ADiskThatIsFullLeavesTheOldFile) {
    const Folder folder;
    const Path file = folder / "a.bin";
    ASSERT_TRUE(writeFile(file, test::bytesOf("old"), Replace::no));
    // The same path as a full disk: write() fails midway. The limit holds for this process, so it
    // is taken back at once.
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    const auto handler = std::signal(SIGXFSZ, SIG_IGN);
    rlimit tight = before;
    tight.rlim_cur = 4096;
    setrlimit(RLIMIT_FSIZE, &tight);
    const auto written = writeFile(file, Bytes(100'000), Replace::yes);
    setrlimit(RLIMIT_FSIZE, &before);
    std::signal(SIGXFSZ, handler);
    ASSERT_FALSE(written);
    EXPECT_EQ(written.error().code, Code::unwritable);
    EXPECT_EQ(test::textOf(*readFile(file)), "old");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1);
}

TEST(File, SaysWhyItCannotBeRead) {
    const Folder folder;
    EXPECT_NE(readFile(folder / "missing").error().what.find("no such file"), std::string::npos);
    EXPECT_NE(readFile(folder.path()).error().what.find("it is a folder"), std::string::npos);
    EXPECT_EQ(readFile("/dev/zero").error().code, Code::unreadable);
    ASSERT_TRUE(writeFile(folder / "big", Bytes(1000), Replace::no));
    EXPECT_NE(readFile(folder / "big", 999).error().what.find("1,000 bytes"), std::string::npos);
    EXPECT_EQ(writeFile(folder / "no/such/folder/x", {}, Replace::no).error().code,
              Code::unwritable);
}

TEST(JsonSchema, NamesTheFieldAndTheReason) {
    const Json schema =
        Json::parse(R"({"type":"object","required":["a"],"additionalProperties":false,
        "properties":{"a":{"type":"array","maxItems":2,
                            "items":{"type":"integer","minimum":1,"maximum":9}},
                      "b":{"type":"string","pattern":"^[a-z]+$","minLength":1,"maxLength":5},
                       "c":{"enum":["x","y"]},"d":{"type":["integer","null"]}}})");
    const auto says = [&](const char* text) {
        const auto result = checkAgainst(schema, Json::parse(text), "f.json");
        return result ? std::string("good") : result.error().what;
    };
    EXPECT_EQ(says(R"({"a":[1,9],"b":"abc","c":"y","d":null})"), "good");
    EXPECT_NE(says(R"({})").find("\"a\" is missing"), std::string::npos);
    EXPECT_NE(says(R"({"a":[1,12]})").find("a[1]: 12 is above 9"), std::string::npos);
    EXPECT_NE(says(R"({"a":[0]})").find("a[0]: 0 is below 1"), std::string::npos);
    EXPECT_NE(says(R"({"a":[1,2,3]})").find("too many"), std::string::npos);
    EXPECT_NE(says(R"({"a":["1"]})").find("integer is asked for"), std::string::npos);
    EXPECT_NE(says(R"({"a":[],"b":"A"})").find("does not fit"), std::string::npos);
    EXPECT_NE(says(R"({"a":[],"b":""})").find("too short"), std::string::npos);
    EXPECT_NE(says(R"({"a":[],"b":"abcdef"})").find("too long"), std::string::npos);
    EXPECT_NE(says(R"({"a":[],"c":"z"})").find("not one of"), std::string::npos);
    EXPECT_NE(says(R"({"a":[],"e":1})").find("\"e\" is not known"), std::string::npos);
    EXPECT_NE(
        checkAgainst(Json::parse(R"({"oneOf":[]})"), 1, "f").error().what.find("not understood"),
        std::string::npos);
}

TEST(JsonText, BadTextIsPlacedAndDepthIsBounded) {
    EXPECT_NE(parseJson(test::bytesOf("{\"a\":\n 1,}"), "f.json").error().what.find("line 2"),
              std::string::npos);
    EXPECT_FALSE(parseJson({}, "f.json"));
    EXPECT_NE(parseJson(test::bytesOf(std::string(100'000, '[')), "f.json")
                  .error()
                  .what.find("nested too deeply"),
              std::string::npos);
    EXPECT_FALSE(parseJson(test::bytesOf("\"\xff\xfe\""), "f.json"));
}

}  // namespace
}  // namespace zl
