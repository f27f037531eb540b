// SPDX-License-Identifier: GPL-3.0-or-later
// Bad input: one clear sentence, the right exit status, every file as it was, memory bounded.
#include <sys/stat.h>
#include <unistd.h>

#include "support/demo_files.h"
#include "zledge.h"

namespace zl {
namespace {

using test::put;
using test::zledge;

void expectOneSentence(const test::Ran& ran, int status, const std::string& about) {
    EXPECT_EQ(ran.status, status) << about << ": " << ran.err;
    EXPECT_EQ(std::count(ran.err.begin(), ran.err.end(), '\n'), 1) << about << ": " << ran.err;
    EXPECT_TRUE(ran.out.empty()) << about;
}

TEST(Hostile, PicturesThatCannotBeRead) {
    const test::Folder folder;
    const Bytes whole = test::png(test::textured({300, 200}));
    put(folder, "empty.png", {});
    put(folder, "cut.png", Bytes(whole.begin(), whole.begin() + 400));
    Bytes garbled = whole;
    for (std::size_t i = 50; i < garbled.size(); i += 3)
        garbled[i] = static_cast<std::uint8_t>(garbled[i] + 91);
    put(folder, "garbled.png", garbled);
    put(folder, "words.png", test::bytesOf("these are words"));
    std::filesystem::create_directory(folder / "folder.png");
    for (const std::string file : {"empty.png", "cut.png", "garbled.png", "words.png", "folder.png",
                                   "missing.png", "/dev/zero"})
        for (const std::string& command :
             std::vector<std::string>{"check " + file + " --brief video-thumbnail",
                                      "crop " + file + " --aspect 16:9 --out out.png",
                                      "fit " + file + " --limit 1000 --out out.jpg"})
            expectOneSentence(zledge(folder, command), 3, command);
    EXPECT_FALSE(std::filesystem::exists(folder / "out.png"));
    put(folder, "misnamed.jpg", whole);
    EXPECT_EQ(zledge(folder, "check misnamed.jpg --brief free-frame").status, 0)
        << "a wrong ending is a finding, no error";
    put(folder, "one.png", test::png(test::textured({1, 1})));
    EXPECT_EQ(zledge(folder, "crop one.png --aspect 1:1 --out one-more.png").status, 0);
}

// A header that claims 40,000 x 40,000 px (6.4 GB of pixels): refused before a pixel is held. The
// limit on the address space would end the program if it tried.
TEST(Hostile, AHeaderBombTakesNoMemory) {
    const test::Folder folder;
    ASSERT_EQ(std::system(
                  ("'" + test::referencePython() +
                   "' -c \"import zlib,struct,sys\n"
                   "c=lambda k,d: struct.pack('>I',len(d))+k+d+struct.pack('>I',zlib.crc32(k+d))\n"
                   "open(sys.argv[1],'wb').write(b'\\x89PNG\\r\\n\\x1a\\n'+c(b'IHDR',struct.pack('>"
                   "IIBBBBB',40000,40000,8,6,0,0,0))"
                   "+c(b'IDAT',zlib.compress(bytes(10**7)))+c(b'IEND',b''))\" '" +
                   (folder / "bomb.png").string() + "'")
                      .c_str()),
              0);
    const auto ran = zledge(folder, "check bomb.png --brief video-thumbnail");
    expectOneSentence(ran, 3, "bomb");
    EXPECT_NE(ran.err.find("100 million"), std::string::npos);
}

TEST(Hostile, KitsThatCannotBeOpened) {
    const test::Folder folder;
    test::putDemo(folder, "d");
    const Bytes kit = test::good(readFile(folder / "d/mossgate-signals.zlkit"));
    put(folder, "cut.zlkit",
        Bytes(kit.begin(), kit.begin() + static_cast<std::ptrdiff_t>(kit.size() / 2)));
    put(folder, "empty.zlkit", {});
    put(folder, "words.zlkit", test::bytesOf("no zip at all"));
    Bytes flipped = kit;
    for (std::size_t i = 2000; i < 3000; ++i) flipped[i] = static_cast<std::uint8_t>(~flipped[i]);
    put(folder, "flipped.zlkit", flipped);
    for (const char* name :
         {"cut.zlkit", "empty.zlkit", "words.zlkit", "flipped.zlkit", "missing.zlkit", "d"}) {
        expectOneSentence(zledge(folder, std::string("check ") + name), 3, name);
        expectOneSentence(
            zledge(folder, std::string("render ") + name + " --piece thumbnail --out o.png"), 3,
            name);
    }
}

TEST(Hostile, OutputsThatCannotBeWritten) {
    const test::Folder folder;
    put(folder, "in.png", test::png(test::textured({64, 36})));
    put(folder, "there.png", test::bytesOf("mine"));
    std::filesystem::create_directory(folder / "taken.png");
    for (const char* out : {"there.png", "no/such/folder/x.png", "taken.png", "/proc/x.png"})
        expectOneSentence(zledge(folder, std::string("crop in.png --aspect 1:1 --out ") + out), 4,
                          out);
    expectOneSentence(zledge(folder, "crop in.png --aspect 1:1 --out ./in.png --replace"), 4,
                      "the input by another name");
    std::filesystem::create_hard_link(folder / "in.png", folder / "link.png");
    expectOneSentence(zledge(folder, "crop in.png --aspect 1:1 --out link.png --replace"), 4,
                      "the input by a link");
    EXPECT_EQ(test::textOf(test::good(readFile(folder / "there.png"))), "mine");
    // A disk that is full, by a limit on file sizes: the old file stays, and no part of a new one.
    put(folder, "noise.png", test::png(test::noisy({200, 200})));
    const auto before = std::distance(std::filesystem::directory_iterator(folder.path()), {});
    const std::string command =
        "cd '" + folder.path().string() + "' && (trap '' XFSZ; ulimit -f 8; '" +
        test::zledgeProgram() +
        "' crop noise.png --aspect 1:1 --out there.png --replace) 2>/dev/null";
    const int status = std::system(command.c_str());
    EXPECT_EQ(WEXITSTATUS(status), 4);
    EXPECT_EQ(test::textOf(test::good(readFile(folder / "there.png"))), "mine");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), before)
        << "nothing is left behind";
    if (::geteuid() != 0) {
        ::chmod((folder / "in.png").c_str(), 0);
        expectOneSentence(zledge(folder, "check in.png --brief free-frame"), 3, "no permission");
    }
}

TEST(Hostile, AStopLeavesNoHalfFile) {
    const test::Folder folder;
    put(folder, "noise.png", test::png(test::noisy({2600, 2000})));
    const std::string command = "cd '" + folder.path().string() + "' && { timeout -s INT 0.6 '" +
                                test::zledgeProgram() +
                                "' fit noise.png --limit 900000 --out f.jpg >/dev/null 2>&1; }";
    ASSERT_NE(std::system(command.c_str()), -1);
    for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        EXPECT_EQ(entry.path().filename(), "noise.png");
}

}  // namespace
}  // namespace zl
