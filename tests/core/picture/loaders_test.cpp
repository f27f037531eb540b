// SPDX-License-Identifier: GPL-3.0-or-later
// Good bytes are taken, and the same bytes mangled, cut and stretched are taken or refused, never
// worse.
#include <random>

#include "encode/encode.h"
#include "fuzz/loaders.h"
#include "store/kit_json.h"
#include "support/clips.h"
#include "support/support.h"

namespace zl {
namespace {

using test::good;

std::vector<Bytes> seedsOf(const std::string& loader) {
    const auto bytes = [](std::string_view text) { return Bytes(text.begin(), text.end()); };
    if (loader == "picture") {
        std::vector<Bytes> all;
        const Straight8 picture = test::textured({41, 23});
        for (const Content content : {Content::png, Content::jpeg, Content::gif, Content::webp})
            all.push_back(good(encode(picture, {content, 80, Chroma::half, Effort::quick})));
        all.push_back(
            bytes("<svg xmlns='http://www.w3.org/2000/svg' width='20' height='10'><rect width='9' "
                  "height='9'/></svg>"));
        return all;
    }
    if (loader == "kit")
        return {good(packKit(test::withPicture(test::kitWith("video-thumbnail", {64, 36}),
                                               test::textured({32, 18}), {0, 0, 64, 36})))};
    if (loader == "kit-text") {
        Kit kit = test::withPicture(test::kitWith("video-thumbnail", {64, 36}),
                                    test::textured({32, 18}), {0, 0, 64, 36});
        kit = test::withLetters(kit, "Words", 20, {1, 2});
        return {bytes(jsonOf(kit).dump())};
    }
    if (loader == "stamp") return {bytes(jsonOf(exampleStamp()).dump())};
    if (loader == "scan") {
        Encoding how{Content::jpeg, 85, Chroma::half};
        how.effort = Effort::quick;
        return {good(encode(test::textured({64, 48}), how))};
    }
    if (loader == "brief")
        return {good(readFile(dataFolder().value() / "briefs/corner-mark.json"))};
    if (loader == "font") {
        for (const auto& file : std::filesystem::directory_iterator(dataFolder().value() / "fonts"))
            if (const std::string ending = endingOf(file.path());
                ending == ".ttf" || ending == ".otf")
                return {good(readFile(file.path()))};
        return {};
    }
    if (loader == "video" || loader == "still" || loader == "strip") {
        const test::Folder folder;
        constexpr PixelSize size{48, 32};
        const Path file = test::clipOf(folder / "a.mp4", size, 12, [&](int n) {
            return test::painted(size, [n](int x, int y) {
                return packed(5 * x & 255, 7 * y & 255, 20 * n & 255, 255);
            });
        });
        if (loader != "strip") return {good(readFile(file))};
        Video video = good(Video::open(file));
        good(Strip::make(video, folder.path(), "id"));
        return {good(readFile(folder / "id.strip"))};
    }
    return {bytes(loader == "field" ? "1280*(2+3)/4-7" : "#12aBcD80")};
}

TEST(Loaders, TakeGoodBytesAndReturnFromAnyOthers) {
    std::mt19937 random(11);
    const auto pick = [&](std::size_t below) {
        return std::uniform_int_distribution<std::size_t>(0, below - 1)(random);
    };
    for (const test::Loader& loader : test::loaders())
        for (const Bytes& seed : seedsOf(loader.name)) {
            ASSERT_TRUE(loader.feed(seed)) << loader.name;
            EXPECT_FALSE(loader.feed({})) << loader.name << " takes nothing for something";
            const int rounds =
                loader.name == "font" ? 12 : 60;  // a font that is taken stays in memory
            for (int round = 0; round < rounds; ++round) {
                Bytes mangled = seed;
                switch (round % 3) {
                    case 0:
                        mangled.resize(pick(mangled.size()));
                        break;
                    case 1:
                        for (int i = 0; i < 4; ++i)
                            mangled[pick(mangled.size())] = static_cast<std::uint8_t>(random());
                        break;
                    default:
                        mangled.insert(
                            mangled.begin() + static_cast<std::ptrdiff_t>(pick(mangled.size())), 40,
                            static_cast<std::uint8_t>(random()));
                }
                loader.feed(mangled);
            }
            EXPECT_TRUE(loader.feed(seed)) << loader.name << " is as it was";
        }
}

}  // namespace
}  // namespace zl
