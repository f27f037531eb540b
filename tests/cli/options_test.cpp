// SPDX-License-Identifier: GPL-3.0-or-later
// Every option of every command: the help, the manual and what is accepted say the same; what makes
// no sense is refused and writes nothing.
#include <regex>
#include <set>

#include "zledge.h"

namespace zl {
namespace {

using test::zledge;

const std::vector<std::string> commands{"briefs", "check",   "render",   "crop", "cut",    "edges",
                                        "resize", "release", "rehearse", "map",  "report", "finish",
                                        "letter", "over",    "fit",      "demo", "video",  "still",
                                        "stamp",  "burn",    "legible"};

std::set<std::string> optionsIn(const std::string& text) {
    std::set<std::string> found;
    static const std::regex option("--[a-z][a-z-]*");
    for (std::sregex_iterator it(text.begin(), text.end(), option), end; it != end; ++it)
        found.insert(it->str());
    return found;
}

// The manual, without the marks of its typesetting.
std::string manual() {
    std::string text =
        test::textOf(test::good(readFile(Path(test::sourceFolder()) / "docs/zledge.1")));
    text = std::regex_replace(text, std::regex("\\\\-"), "-");
    return std::regex_replace(text, std::regex("\\\\f[A-Z]"), "");
}

TEST(Options, TheManualHasEveryOneAndNoOther) {
    const test::Folder folder;
    const std::set<std::string> told = optionsIn(manual());
    std::set<std::string> taken;
    for (const std::string& command : commands) {
        const auto help = zledge(folder, command + " --help");
        ASSERT_EQ(help.status, 0) << command;
        const std::set<std::string> own = optionsIn(help.out);
        for (const std::string& option : own) {
            taken.insert(option);
            if (option == "--help") continue;
            EXPECT_TRUE(told.contains(option))
                << command << ' ' << option << " is not in the manual";
        }
        EXPECT_TRUE(own.contains("--json")) << command;
    }
    taken.insert("--version");
    for (const std::string& option : told)
        EXPECT_TRUE(taken.contains(option)) << option << " is in the manual and nowhere else";
}

TEST(Options, EveryCommandOfTheProgramIsInTheManual) {
    const test::Folder folder;
    const std::string help = zledge(folder, "--help").out, text = manual();
    const std::size_t list =
        help.find("ubcommands:");  // the parser's own heading, in capitals or not
    ASSERT_NE(list, std::string::npos);
    static const std::regex line("\n  ([a-z]+) ");
    std::set<std::string> listed;
    const std::string after = help.substr(list);
    for (std::sregex_iterator it(after.begin(), after.end(), line), end; it != end; ++it)
        listed.insert((*it)[1]);
    EXPECT_EQ(listed, std::set<std::string>(commands.begin(), commands.end()));
    for (const std::string& command : listed)
        EXPECT_NE(text.find("\n.B " + command), text.find("\n.BI " + command)) << command;
}

// Bad words for each kind of value: exit 2 or, for a limit that cannot be met, 1; one sentence;
// nothing on the disk but what was there.
TEST(Options, WhatMakesNoSenseIsRefusedAndWritesNothing) {
    const test::Folder folder;
    test::put(folder, "in.png", test::png(test::textured({64, 48})));
    const std::vector<std::string> bad{
        "crop in.png --out out.png",
        "crop in.png --aspect 16 --out out.png",
        "crop in.png --aspect 0:9 --out out.png",
        "crop in.png --aspect nan:9 --out out.png",
        "crop in.png --aspect 16:9 --focus 2,2 --out out.png",
        "crop in.png --aspect 16:9 --size 30x30 --out out.png",
        "crop in.png --aspect 16:9 --quality 0 --out out.jpg",
        "crop in.png --aspect 16:9 --quality 101 --out out.jpg",
        "crop in.png --aspect 16:9 --out out.txt",
        "crop in.png --rect 1,2,3 --out out.png",
        "crop in.png --rect 1,2,-3,4 --out out.png",
        "resize in.png --size 0x10 --out out.png",
        "resize in.png --size 10 --out out.png",
        "resize in.png --size 999999x999999 --out out.png",
        "resize in.png --out out.png",
        "resize in.png --size 10x10 --fit squash --out out.png",
        "resize in.png --size 10x10 --fit pad --pad-colour puce --out out.png",
        "resize in.png --brief nowhere --out out.png",
        "fit in.png --brief nowhere --out out.jpg",
        "fit in.png --limit -5 --out out.jpg",
        "fit in.png --limit 1e3 --out out.jpg",
        "fit in.png --limit 100000 --format bmp --out out.bmp",
        "fit in.png --limit 100000 --matte reddish --out out.jpg",
        "cut in.png --out out.png",
        "cut in.png --key purple --out out.png",
        "cut in.png --key auto --tolerance 101 --out out.png",
        "cut in.png --key auto --reach far --out out.png",
        "cut in.png --circle 1,2 --out out.png",
        "cut in.png --circle 10,10,0 --out out.png",
        "cut in.png --round -4 --out out.png",
        "cut in.png --round 4 --feather -1 --out out.png",
        "cut in.png --round 4 --trim many --out out.png",
        "cut in.png --round 4 --out out.jpg",
        "finish in.png --out out.png",
        "finish in.png --outline 4 --out out.png",
        "finish in.png --outline 4,black,red --out out.png",
        "finish in.png --outline -4,#000000 --out out.png",
        "finish in.png --shadow 1,2,3 --out out.png",
        "finish in.png --shadow 1,2,3,7 --out out.png",
        "finish in.png --glow 5 --out out.png",
        "finish in.png --bevel 4,9 --out out.png",
        "letter --out out.png",
        "letter --text A --size 0 --out out.png",
        "letter --text A --size 1000000 --out out.png",
        "letter --text A --align sideways --out out.png",
        "letter --text A --colour reddish --out out.png",
        "letter --text A --font 'No such family anywhere' --font-file in.png --out out.png",
        "over in.png in.png --at middle-ish --out out.png",
        "over in.png in.png --opacity 2 --out out.png",
        "over in.png in.png --width 0 --out out.png",
        "over in.png in.png --rotate 400 --out out.png",
        "over in.png in.png --inset 4 --out out.png",
        "check in.png",
        "check in.png --brief nowhere",
        "check in.png --brief video-thumbnail --mend polish --out out.png",
        "check in.png --brief video-thumbnail --mend all",
        "rehearse in.png --brief nowhere --out out",
        "rehearse in.png --brief corner-mark --show sometimes --out out",
        "rehearse in.png --brief corner-mark --show from:-1 --out out",
        "rehearse in.png --brief corner-mark --show from:900 --length 14:05 --out out",
        "rehearse in.png --brief corner-mark --length never --out out",
    };
    for (const std::string& words : bad) {
        const auto ran = zledge(folder, words);
        EXPECT_EQ(ran.status, 2) << words << '\n' << ran.err;
        EXPECT_FALSE(ran.err.empty()) << words;
        EXPECT_TRUE(ran.out.empty()) << words << '\n' << ran.out;
        EXPECT_LT(std::count(ran.err.begin(), ran.err.end(), '\n'), 4) << words << '\n' << ran.err;
    }
    std::vector<std::string> left;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        if (const std::string name = entry.path().filename().string(); name.front() != '.')
            left.push_back(name);
    EXPECT_EQ(left, (std::vector<std::string>{"in.png"}));
}

// The same with an option given twice, an unknown one, and values that begin with a dash.
TEST(Options, AreTakenByTheLetterAndNegativeNumbersAreNumbers) {
    const test::Folder folder;
    test::put(folder, "in.png", test::png(test::textured({64, 48})));
    EXPECT_EQ(zledge(folder, "finish in.png --shadow -3,-4,2,0.5 --out out.png").status, 0);
    EXPECT_EQ(zledge(folder, "finish in.png --shadow=-3,-4,2,0.5 --out out2.png").status, 0);
    EXPECT_EQ(test::good(readFile(folder / "out.png")), test::good(readFile(folder / "out2.png")));
    EXPECT_EQ(zledge(folder, "finish in.png --Shadow 1,1,1,1 --out out3.png").status, 2);
    for (const char* spelling : {"--colour", "--color"})
        EXPECT_EQ(zledge(folder, std::string("letter --text A --replace --out a.png ") + spelling +
                                     " '#FF0000'")
                      .status,
                  0)
            << spelling;
    // Two outlines are two outlines.
    ASSERT_EQ(zledge(folder, "finish in.png --outline 3,#FF0000 --out one.png").status, 0);
    ASSERT_EQ(zledge(folder, "finish in.png --outline 3,#FF0000 --outline 5,#0000FF --out two.png")
                  .status,
              0);
    const auto size = [&](const char* name) {
        return test::good(readFacts(test::good(readFile(folder / name)), name)).size;
    };
    EXPECT_EQ(size("two.png").width - size("one.png").width, 10);
}

TEST(Options, WrongWordsAreToldInWholeSentences) {
    const test::Folder folder;
    const std::pair<const char*, const char*> told[] = {
        {"", "The command line does not say what to do. See: zledge --help"},
        {"checks x.png", "There is no command \"checks\". Did you mean check?"},
        {"check", "The file is missing. See: zledge check --help"},
        {"crop x.png", "--out is missing. See: zledge crop --help"},
        {"check x.png --brief", "--brief needs a value. See: zledge check --help"},
        {"check x.png --brief a --brief b", "--brief is given more than once."},
        {"check x.png --breif a", "check has no option --breif. Did you mean --brief?"},
        {"demo a --out b", "\"a\" is one word too many for demo. See: zledge demo --help"},
        {"crop x.png --out y.jpg --quality 300", "--quality: \"300\" is no number from 1 to 100."},
        {"crop x.png --out y.jpg --quality few", "--quality: \"few\" is no number from 1 to 100."},
        {"over a.png b.png --out c.png --opacity nan", "\"nan\" is no number from 0 to 1."},
        {"resize x.png --size 5x5 --out y.png --fit whole",
         "--fit: \"whole\" is none of cover, contain, pad, place."},
        {"demo --out x --replace=maybe", "--replace cannot be \"maybe\"."}};
    for (const auto& [words, sentence] : told) {
        const std::string line = words, command = line.substr(0, line.find(' '));
        const auto plain = zledge(folder, line),
                   json = zledge(folder, command + " --json" + line.substr(command.size()));
        EXPECT_EQ(plain.status, 2) << words;
        EXPECT_TRUE(plain.err.starts_with("zledge: ")) << plain.err;
        EXPECT_NE(plain.err.find(sentence), std::string::npos) << words << ": " << plain.err;
        EXPECT_EQ(plain.out, "") << words;
        EXPECT_EQ(json.status, 2) << words;
        ASSERT_NE(json.out, "") << words;
        const Json error = json.json();
        EXPECT_EQ(error["exit"], 2) << words;
        const std::string both = error["error"]["what"].get<std::string>() + ' ' +
                                 error["error"]["hint"].get<std::string>();
        EXPECT_NE(both.find(sentence), std::string::npos) << words << ": " << both;
    }
}

}  // namespace
}  // namespace zl
