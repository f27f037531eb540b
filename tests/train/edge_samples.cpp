// SPDX-License-Identifier: GPL-3.0-or-later
// What the network for edges in JPEGs is given of drawn scenes, and the alpha it should say: each
// scene is laid on some grounds, saved and looked at as the key does. Called by
// scripts/edge_net/train.sh with the folder of the scenes and the file to write: 32-bit floats, a
// row of the network's inputs and the alpha for each sample.
#include <cmath>
#include <filesystem>
#include <fstream>
#include <random>

#include "cut/edge_net.h"
#include "cut/unmix.h"
#include "encode/encode.h"
#include "picture/decode.h"
#include "support/support.h"

namespace zl {
namespace {

constexpr int margin = 32, grounds = 2, most = 1400;  // px; of a scene; samples of a picture

using Dice = std::mt19937;
double roll(Dice& dice) {
    return std::uniform_real_distribution<>(0, 1)(dice);
}

std::array<int, 3> groundOf(Dice& dice) {
    constexpr std::array<std::array<int, 3>, 4> screens{
        {{0, 177, 64}, {0, 255, 0}, {0, 71, 187}, {20, 200, 80}}};
    const double which = roll(dice);
    if (which < 0.30) return {255, 255, 255};
    if (which < 0.36) return {0, 0, 0};
    if (which < 0.66) return screens[dice() % screens.size()];
    const auto code = [&] { return static_cast<int>(255 * roll(dice)); };
    if (which < 0.80) {
        const int grey = 30 + code() * 210 / 255;
        return {grey, grey, grey};
    }
    return {code(), code(), code()};
}

Straight8 laid(const Straight8& scene, const std::array<int, 3>& ground, double grain, Dice& dice) {
    std::normal_distribution<> noise(0, std::max(grain, 1e-9));
    return test::painted(
        {scene.width() + 2 * margin, scene.height() + 2 * margin}, [&](int x, int y) {
            const int u = x - margin, v = y - margin;
            const bool inside = u >= 0 && v >= 0 && u < scene.width() && v < scene.height();
            const std::uint32_t p = inside ? scene.row(v)[u] : 0;
            const double a = alphaOf(p) / 255.0;
            const auto mixed = [&](int ink, int c) {
                const double code = ink * a + ground[static_cast<std::size_t>(c)] * (1 - a);
                return static_cast<int>(
                    std::lround(std::clamp(code + (grain > 0 ? noise(dice) : 0), 0.0, 255.0)));
            };
            return packed(mixed(redOf(p), 0), mixed(greenOf(p), 1), mixed(blueOf(p), 2), 255);
        });
}

// A shadow that the regions know is no ground that the network is shown.
bool nearShadow(const Regions& regions, Spot spot) {
    bool near = false;
    for (int y = spot.y - edge_net::reach; y <= spot.y + edge_net::reach; ++y)
        for (int x = spot.x - edge_net::reach; x <= spot.x + edge_net::reach; ++x)
            near |= x >= 0 && y >= 0 && x < regions.size().width && y < regions.size().height &&
                    regions.row(y)[x] == Region::shadow;
    return near;
}

void write(const Straight8& scene, Dice& dice, std::ofstream& out) {
    constexpr std::array qualities{60, 75, 80, 85, 85, 85, 90, 95};
    const auto ground = groundOf(dice);
    const Straight8 plain = laid(scene, ground, roll(dice) < 0.15 ? 0.5 + 2 * roll(dice) : 0, dice);
    const Bytes file = test::good(encode(
        plain, {Content::jpeg, qualities[dice() % qualities.size()], Chroma::half, Effort::quick}));
    const auto picture = test::good(decode(file, "scene.jpg")).pixels;
    const KeyCut key;
    const KeyPlan plan = keyPlanOf(*picture, key);
    const Straight8 level = plan.ground ? levelled(*picture, *plan.ground) : picture->clone();
    const Regions regions = regionsOf(level, key, plan);
    std::vector<EdgePixel> partly, others;
    const auto alphaAt = [&](Spot s) {
        const int u = s.x - margin, v = s.y - margin;
        return u >= 0 && v >= 0 && u < scene.width() && v < scene.height()
                   ? alphaOf(scene.row(v)[u])
                   : 0;
    };
    for (const EdgePixel& pixel : edgePixels(level, regions, plan))
        if (!nearShadow(regions, pixel.spot))
            (alphaAt(pixel.spot) % 255 != 0 ? partly : others).push_back(pixel);
    const EdgeNet net(level, regions);
    for (auto* spots : {&partly, &others}) {
        std::shuffle(spots->begin(), spots->end(), dice);
        spots->resize(
            std::min<std::size_t>(spots->size(), spots == &partly ? most * 3 / 5 : most * 2 / 5));
        for (const auto& [spot, told] : *spots) {
            const auto seen = net.seen(spot.x, spot.y, plan.background, told);
            const float alpha = static_cast<float>(alphaAt(spot)) / 255;
            out.write(reinterpret_cast<const char*>(seen.data()), sizeof seen);
            out.write(reinterpret_cast<const char*>(&alpha), sizeof alpha);
        }
    }
}

}  // namespace
}  // namespace zl

int main(int count, char** words) {
    if (count != 3) return 2;
    std::vector<std::filesystem::path> scenes;
    for (const auto& entry : std::filesystem::directory_iterator(words[1]))
        scenes.push_back(entry.path());
    std::sort(scenes.begin(), scenes.end());
    std::ofstream out(words[2], std::ios::binary);
    zl::Dice dice(1);
    for (const auto& path : scenes) {
        const auto bytes = zl::test::good(zl::readFile(path));
        const auto scene = zl::test::good(zl::decode(bytes, path.filename())).pixels;
        for (int i = 0; i < zl::grounds; ++i) zl::write(*scene, dice, out);
    }
    return out ? 0 : 1;
}
